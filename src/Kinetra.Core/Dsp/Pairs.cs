using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;

namespace Kinetra.Core.Dsp;

/// <summary>
/// Frames as pairs of 64-bit values, left and right: one instruction computes both. Of mono sound the right one is 0.
/// </summary>
static class Pairs
{
    /// <summary>Reads frames. An empty right side: mono.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static void Load(ReadOnlySpan<float> left, ReadOnlySpan<float> right, Span<Vector128<double>> pairs)
    {
        var n = 0;
        if (right.IsEmpty)
        {
            for (; n < left.Length; n++)
            {
                pairs[n] = Vector128.CreateScalar((double)left[n]);
            }

            return;
        }

        // Four frames at once: l l l l, r r r r → l r l r l r l r.
        ref var from = ref MemoryMarshal.GetReference(left);
        ref var other = ref MemoryMarshal.GetReference(right);
        ref var to = ref Unsafe.As<Vector128<double>, double>(ref MemoryMarshal.GetReference(pairs));
        for (; n <= left.Length - 4; n += 4)
        {
            var both = Vector256.Create(Vector128.LoadUnsafe(ref from, (nuint)n), Vector128.LoadUnsafe(ref other, (nuint)n));
            var turned = Vector256.Shuffle(both, Vector256.Create(0, 4, 1, 5, 2, 6, 3, 7));
            var (low, high) = Vector256.Widen(turned);
            low.StoreUnsafe(ref to, (nuint)(2 * n));
            high.StoreUnsafe(ref to, (nuint)((2 * n) + 4));
        }

        for (; n < left.Length; n++)
        {
            pairs[n] = Vector128.Create(left[n], (double)right[n]);
        }
    }

    /// <summary>Writes frames. An empty right side: mono.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static void Store(ReadOnlySpan<Vector128<double>> pairs, Span<float> left, Span<float> right)
    {
        var n = 0;
        if (!right.IsEmpty)
        {
            ref var from = ref Unsafe.As<Vector128<double>, double>(ref MemoryMarshal.GetReference(pairs));
            ref var to = ref MemoryMarshal.GetReference(left);
            ref var other = ref MemoryMarshal.GetReference(right);
            for (; n <= left.Length - 4; n += 4)
            {
                var narrowed = Vector256.Narrow(Vector256.LoadUnsafe(ref from, (nuint)(2 * n)), Vector256.LoadUnsafe(ref from, (nuint)((2 * n) + 4)));
                var turned = Vector256.Shuffle(narrowed, Vector256.Create(0, 2, 4, 6, 1, 3, 5, 7));
                turned.GetLower().StoreUnsafe(ref to, (nuint)n);
                turned.GetUpper().StoreUnsafe(ref other, (nuint)n);
            }
        }

        for (var m = n; m < left.Length; m++)
        {
            left[m] = (float)pairs[m].GetElement(0);
        }

        for (var m = n; m < right.Length; m++)
        {
            right[m] = (float)pairs[m].GetElement(1);
        }
    }
}

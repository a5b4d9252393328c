using System.Runtime.CompilerServices;
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
        if (right.IsEmpty)
        {
            for (var n = 0; n < left.Length; n++)
            {
                pairs[n] = Vector128.CreateScalar((double)left[n]);
            }

            return;
        }

        for (var n = 0; n < left.Length; n++)
        {
            pairs[n] = Vector128.Create(left[n], (double)right[n]);
        }
    }

    /// <summary>Writes frames. An empty right side: mono.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static void Store(ReadOnlySpan<Vector128<double>> pairs, Span<float> left, Span<float> right)
    {
        for (var n = 0; n < left.Length; n++)
        {
            left[n] = (float)pairs[n].GetElement(0);
        }

        for (var n = 0; n < right.Length; n++)
        {
            right[n] = (float)pairs[n].GetElement(1);
        }
    }
}

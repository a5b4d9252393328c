using System.Numerics.Tensors;
using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;

namespace Kinetra.Core.Dsp;

/// <summary>
/// Recursions in which each value needs the one before it, computed many at once: what lies 1, 2, 4 … values back is taken
/// together in as many steps (W. D. Hillis, G. L. Steele, "Data parallel algorithms", Comm. ACM 29 (12), 1986), and what was
/// there before the vector is added last. Beside each stands its plain form.
/// </summary>
static class Recursions
{
    private const int Count = Lanes.Count;

    /// <summary><c>v = max(x[n], v · memory)</c>, in place: rises at once, falls slowly.</summary>
    /// <param name="values">0 or more.</param>
    /// <param name="last">The last value before; then that of these.</param>
    /// <param name="memory">0 … 1.</param>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static void FallingPeak(Span<float> values, ref double last, double memory)
    {
        Span<double> powers = stackalloc double[Count];
        for (var i = 0; i < Count; i++)
        {
            powers[i] = Math.Pow(memory, i + 1);
        }

        var wide = values.Length / Count * Count;
        ref var first = ref MemoryMarshal.GetReference(values);
        var (one, two, four) = (Vector512.Create(memory), Vector512.Create(powers[1]), Vector512.Create(powers[3]));
        var decay = Vector512.Create<double>(powers);
        var carried = Vector512.Create(last);
        for (var n = 0; n < wide; n += Count)
        {
            var v = Lanes.Widen(Vector256.LoadUnsafe(ref first, (nuint)n));

            // Lanes that nothing comes from get 0, which no peak is below.
            v = Vector512.MaxNative(v, one * Vector512.Shuffle(v, Vector512.Create(-1L, 0, 1, 2, 3, 4, 5, 6)));
            v = Vector512.MaxNative(v, two * Vector512.Shuffle(v, Vector512.Create(-1L, -1, 0, 1, 2, 3, 4, 5)));
            v = Vector512.MaxNative(v, four * Vector512.Shuffle(v, Vector512.Create(-1L, -1, -1, -1, 0, 1, 2, 3)));
            v = Vector512.MaxNative(v, carried * decay);
            carried = Vector512.Shuffle(v, Vector512.Create(7L));
            Lanes.Narrow(v).StoreUnsafe(ref first, (nuint)n);
        }

        last = carried.GetElement(0);
        FallingPeakPlain(values[wide..], ref last, memory);
    }

    /// <summary>The plain form.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static void FallingPeakPlain(Span<float> values, ref double last, double memory)
    {
        var value = last;
        foreach (ref var x in values)
        {
            value = Math.Max(x, value * memory);
            x = (float)value;
        }

        last = value;
    }

    /// <summary><c>sum += x[n] − left[n]</c>, times a share, in place: the sum that a window slides over.</summary>
    /// <param name="values">What comes into the window; then the shares.</param>
    /// <param name="leaving">What leaves it, as many.</param>
    /// <param name="sum">The sum before; then after them.</param>
    /// <param name="share">What each sum is multiplied by.</param>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static void SlidingSum(Span<float> values, ReadOnlySpan<float> leaving, ref double sum, double share)
    {
        var wide = values.Length / Count * Count;
        ref var first = ref MemoryMarshal.GetReference(values);
        ref var other = ref MemoryMarshal.GetReference(leaving[..values.Length]);
        var carried = Vector512.Create(sum);
        for (var n = 0; n < wide; n += Count)
        {
            var v = Lanes.Widen(Vector256.LoadUnsafe(ref first, (nuint)n)) - Lanes.Widen(Vector256.LoadUnsafe(ref other, (nuint)n));
            v += Vector512.Shuffle(v, Vector512.Create(-1L, 0, 1, 2, 3, 4, 5, 6));
            v += Vector512.Shuffle(v, Vector512.Create(-1L, -1, 0, 1, 2, 3, 4, 5));
            v += Vector512.Shuffle(v, Vector512.Create(-1L, -1, -1, -1, 0, 1, 2, 3));
            v += carried;
            carried = Vector512.Shuffle(v, Vector512.Create(7L));
            v *= share;
            Lanes.Narrow(v).StoreUnsafe(ref first, (nuint)n);
        }

        sum = carried.GetElement(0);
        SlidingSumPlain(values[wide..], leaving[wide..values.Length], ref sum, share);
    }

    /// <summary>The plain form.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static void SlidingSumPlain(Span<float> values, ReadOnlySpan<float> leaving, ref double sum, double share)
    {
        var total = sum;
        for (var n = 0; n < values.Length; n++)
        {
            total += (double)values[n] - leaving[n];
            values[n] = (float)(total * share);
        }

        sum = total;
    }

    /// <summary>
    /// The smooth branching detector, <c>y = x[n] + m · (y − x[n])</c> with the attack's memory where x rises above y, else the
    /// release's: in place. Of the two the one with the longer memory lies nearer to where it was, so that the larger or the
    /// smaller of both is always the right one, and no branch is needed.
    /// Source: D. Giannoulis, M. Massberg, J. Reiss, JAES 60 (6), 2012, equation 17.
    /// </summary>
    /// <param name="values">What is wanted; then what is reached.</param>
    /// <param name="last">What was reached before; then after them.</param>
    /// <param name="attack">Its memory, 0 … 1.</param>
    /// <param name="release">Its memory, 0 … 1.</param>
    /// <returns>The largest of them, 0 or more.</returns>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static double Branching(Span<float> values, ref double last, double attack, double release)
    {
        // Conversions stand apart from the recursion: within it they would be part of what each value waits for.
        Span<double> reached = stackalloc double[values.Length];
        TensorPrimitives.ConvertTruncating<float, double>(values, reached);
        var y = last;
        double most = 0;
        var (newOfAttack, newOfRelease) = (1 - attack, 1 - release);
        if (attack <= release)
        {
            foreach (ref var x in reached)
            {
                y = double.MaxNative(Math.FusedMultiplyAdd(attack, y, newOfAttack * x), Math.FusedMultiplyAdd(release, y, newOfRelease * x));
                most = double.MaxNative(most, y);
                x = y;
            }
        }
        else
        {
            foreach (ref var x in reached)
            {
                y = double.MinNative(Math.FusedMultiplyAdd(attack, y, newOfAttack * x), Math.FusedMultiplyAdd(release, y, newOfRelease * x));
                most = double.MaxNative(most, y);
                x = y;
            }
        }

        last = y;
        TensorPrimitives.ConvertTruncating<double, float>(reached, values);
        return most;
    }

    /// <summary>The largest magnitude; NaN is not looked for.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static float LargestMagnitude(ReadOnlySpan<float> values)
    {
        var n = 0;
        var most = Vector512<float>.Zero;
        ref var first = ref MemoryMarshal.GetReference(values);
        for (; n <= values.Length - Vector512<float>.Count; n += Vector512<float>.Count)
        {
            most = Vector512.MaxNative(most, Vector512.Abs(Vector512.LoadUnsafe(ref first, (nuint)n)));
        }

        var eight = Vector256.MaxNative(most.GetLower(), most.GetUpper());
        var four = Vector128.MaxNative(eight.GetLower(), eight.GetUpper());
        var largest = MathF.Max(MathF.Max(four.GetElement(0), four.GetElement(1)), MathF.Max(four.GetElement(2), four.GetElement(3)));
        for (; n < values.Length; n++)
        {
            largest = MathF.Max(largest, MathF.Abs(values[n]));
        }

        return largest;
    }
}

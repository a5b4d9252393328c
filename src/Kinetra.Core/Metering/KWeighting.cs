using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;
using Kinetra.Core.Dsp;
using Kinetra.Core.Engine;

namespace Kinetra.Core.Metering;

/// <summary>
/// K-weighting of one channel at 48 kHz: the spherical-head shelf, then the low-frequency roll-off.
/// Source: ITU-R BS.1770-5, Annex 1, tables 1 and 2 (coefficients as printed there).
/// </summary>
public struct KWeighting
{
    internal static readonly BiquadCoefficients Shelf = new(
        1.53512485958697, -2.69169618940638, 1.19839281085285, -1.69065929318241, 0.73248077421585);

    internal static readonly BiquadCoefficients RollOff = new(1, -2, 1, -1.99004745483398, 0.99007225036621);

    private Biquad _shelf;
    private Biquad _rollOff;

    /// <summary>Filters the next samples and returns the sum of the squares of what comes out.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public double SumOfSquares(ReadOnlySpan<float> samples)
    {
        // Local copies keep the state in registers.
        var shelf = _shelf;
        var rollOff = _rollOff;
        double sum = 0;
        foreach (var sample in samples)
        {
            var y = rollOff.Next(RollOff, shelf.Next(Shelf, sample));
            sum += y * y;
        }

        shelf.Flush();
        rollOff.Flush();
        _shelf = shelf;
        _rollOff = rollOff;
        return sum;
    }
}

/// <summary>The same of left and right at once; where right is empty, of mono sound.</summary>
sealed class StereoKWeighting
{
    private readonly SectionBank _sections = new(2);
    private readonly Vector128<double>[] _frames = new Vector128<double>[AudioFormat.BlockFrames];

    /// <summary>Its filter and the filter's state.</summary>
    public SectionBank Sections => _sections;

    public StereoKWeighting() => _sections.Set([KWeighting.Shelf, KWeighting.RollOff]);

    /// <summary>Filters the next frames, and gives the sums of the squares of what comes out.</summary>
    public KEnergy Energy(ReadOnlySpan<float> left, ReadOnlySpan<float> right)
    {
        double leftSum = 0, rightSum = 0;
        for (var at = 0; at < left.Length; at += _frames.Length)
        {
            var part = Math.Min(_frames.Length, left.Length - at);
            var energy = OfBlock(left.Slice(at, part), right.IsEmpty ? right : right.Slice(at, part));
            (leftSum, rightSum) = (leftSum + energy.Left, rightSum + energy.Right);
        }

        return new KEnergy(leftSum, rightSum);
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private KEnergy OfBlock(ReadOnlySpan<float> left, ReadOnlySpan<float> right)
    {
        var frames = _frames.AsSpan(0, left.Length);
        Pairs.Load(left, right, frames);
        _sections.Process(frames);
        ref var values = ref Unsafe.As<Vector128<double>, double>(ref MemoryMarshal.GetReference(frames));
        Vector512<double> even = default, odd = default;
        var n = 0;
        for (; n <= frames.Length - 8; n += 8)
        {
            var (one, two) = (Vector512.LoadUnsafe(ref values, (nuint)(2 * n)), Vector512.LoadUnsafe(ref values, (nuint)((2 * n) + 8)));
            even += one * one;
            odd += two * two;
        }

        var half = (even + odd).GetLower() + (even + odd).GetUpper();
        var sum = half.GetLower() + half.GetUpper();
        for (; n < frames.Length; n++)
        {
            sum += frames[n] * frames[n];
        }

        return new KEnergy(sum.GetElement(0), sum.GetElement(1));
    }
}

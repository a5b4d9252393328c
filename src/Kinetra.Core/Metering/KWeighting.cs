using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;
using Kinetra.Core.Dsp;
using Kinetra.Core.Signal;

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
    public double SumOfSquares(ReadOnlySpan<float> samples) => SumOfSquares(samples, Shelf, RollOff);

    /// <summary>
    /// The two sections at another rate than 48 kHz: the analogue filters that the printed ones come from, by the bilinear transform.
    /// Source: B. De Man, "Evaluation of implementations of the EBU R128 loudness measurement", AES 145, 2018.
    /// </summary>
    /// <param name="rate">Hz.</param>
    public static (BiquadCoefficients Shelf, BiquadCoefficients RollOff) At(double rate)
    {
        if (rate == AudioFormat.SampleRate)
        {
            return (Shelf, RollOff);
        }

        var (high, low) = (Math.Tan(Math.PI * Math.Min(1_681.974450955533, 0.49 * rate) / rate), Math.Tan(Math.PI * 38.13547087602444 / rate));
        var (gain, middle) = (Math.Pow(10, 3.999843853973347 / 20), Math.Pow(10, 3.999843853973347 * 0.4996667741545416 / 20));
        const double highQ = 0.7071752369554196, lowQ = 0.5003270373238773;
        return (
            BiquadCoefficients.Normalise(
                gain + (middle * high / highQ) + (high * high), 2 * ((high * high) - gain), gain - (middle * high / highQ) + (high * high),
                1 + (high / highQ) + (high * high), 2 * ((high * high) - 1), 1 - (high / highQ) + (high * high)),
            BiquadCoefficients.Normalise(1, -2, 1, 1 + (low / lowQ) + (low * low), 2 * ((low * low) - 1), 1 - (low / lowQ) + (low * low)) with { B0 = 1, B1 = -2, B2 = 1 });
    }

    /// <summary>The same with other sections, those of another rate.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    internal double SumOfSquares(ReadOnlySpan<float> samples, in BiquadCoefficients shelfDesign, in BiquadCoefficients rollOffDesign)
    {
        // Local copies keep the state in registers.
        var shelf = _shelf;
        var rollOff = _rollOff;
        double sum = 0;
        foreach (var sample in samples)
        {
            var y = rollOff.Next(rollOffDesign, shelf.Next(shelfDesign, sample));
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

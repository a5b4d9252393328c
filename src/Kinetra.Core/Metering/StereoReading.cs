namespace Kinetra.Core.Metering;

/// <summary>
/// How left and right of a sound belong together, and where its middle lies, over the last half second (each sample counts less by 1/e after <see cref="Seconds"/>). One thread.
/// </summary>
public sealed class StereoReading
{
    /// <summary>After so long a sample counts 1/e, seconds.</summary>
    public const double Seconds = 0.5;

    // An offset stays; what is over after this is none.
    private const double OffsetSeconds = 1;

    // Two signals that are softer than −100 dBFS say nothing of one another.
    private const double Silent = 1e-10;

    private double _left;
    private double _right;
    private double _both;
    private (double First, double Second) _leftMean;
    private (double First, double Second) _rightMean;

    /// <summary>−1 (one is the other upside down) … 0 (nothing in common) … 1 (the same); not a number where one of both is silent.</summary>
    public double Correlation => _left > Silent && _right > Silent ? Math.Clamp(_both / Math.Sqrt(_left * _right), -1, 1) : double.NaN;

    /// <summary>How much there is at the sides against the middle, (L − R) over (L + R), dB: −∞ is mono; not a number where all is silent.</summary>
    public double SidesOverMiddle
    {
        get
        {
            var (sides, middle) = (_left + _right - (2 * _both), _left + _right + (2 * _both));
            return Math.Max(sides, middle) <= Silent ? double.NaN : 10 * Math.Log10(Math.Max(0, sides) / Math.Max(middle, 1e-30));
        }
    }

    /// <summary>By how much the waves of left lie beside zero, dBFS.</summary>
    public double OffsetLeft => 20 * Math.Log10(Math.Abs(_leftMean.Second));

    /// <summary>The same of right.</summary>
    public double OffsetRight => 20 * Math.Log10(Math.Abs(_rightMean.Second));

    /// <summary>Takes in samples at 48 kHz. Both as long; of a mono sound the same twice.</summary>
    public void Take(ReadOnlySpan<float> left, ReadOnlySpan<float> right)
    {
        const double Fresh = 1 / (Seconds * Signal.AudioFormat.SampleRate);
        for (var n = 0; n < left.Length; n++)
        {
            double l = left[n], r = right[n];
            _left += Fresh * ((l * l) - _left);
            _right += Fresh * ((r * r) - _right);
            _both += Fresh * ((l * r) - _both);
            Mean(ref _leftMean, l);
            Mean(ref _rightMean, r);
        }
    }

    // Two averages one after the other: one alone would take the bass for an offset.
    private static void Mean(ref (double First, double Second) mean, double sample)
    {
        const double Fresh = 1 / (OffsetSeconds * Signal.AudioFormat.SampleRate);
        mean.First += Fresh * (sample - mean.First);
        mean.Second += Fresh * (mean.First - mean.Second);
    }
}

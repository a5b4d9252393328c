using System.Collections.Immutable;
using Kinetra.Core.Dsp;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Metering;

/// <summary>
/// The spectrum of a mono or stereo signal at 48 kHz, as it is drawn: the power in a band of a sixth of an octave around each of 241 frequencies, a
/// twenty-fourth of an octave apart, in dBFS after AES17 (a full-scale sine reads 0 at its frequency). At low frequencies a band is no narrower than five bins, so that all of a
/// sine is in it. Von Hann window of 8192 samples (171 ms, bins of 5.9 Hz); of two channels, the mean of their powers. Powers are averaged over
/// time with a time constant of 150 ms. Not safe for several threads.
/// Source of the window's constants: F. J. Harris, Proc. IEEE 66 (1), 1978.
/// </summary>
public sealed class SpectrumAnalyser
{
    /// <summary>Samples of the window.</summary>
    public const int Length = 8_192;

    /// <summary>How many frequencies.</summary>
    public const int Points = 241;

    /// <summary>After so long 63 % of a change is shown, seconds.</summary>
    public const double Averaging = 0.15;

    /// <summary>What is quieter reads so, dBFS.</summary>
    public const double Floor = -160;

    private const double Bin = (double)AudioFormat.SampleRate / Length;
    private const double LeastBins = 5;

    /// <summary>The frequencies, Hz: 20 Hz and up, 24 for each octave.</summary>
    public static readonly ImmutableArray<double> Frequencies = [.. Enumerable.Range(0, Points).Select(i => 20 * Math.Pow(2, i / 24.0))];

    // Of a sine's power in all bins to its mean square: Σw², by which its bins' squares are divided.
    private static readonly float[] Window = [.. Enumerable.Range(0, Length).Select(n => (float)(0.5 - (0.5 * Math.Cos(2 * Math.PI * n / Length))))];
    private static readonly double Energy = Window.Sum(w => (double)w * w);

    // Where each band begins and ends, in bins.
    private static readonly ImmutableArray<(double From, double To)> Bands = [.. Frequencies.Select(BandOf)];

    private readonly FourierTransform _transform = new(Length);
    private readonly float[] _re = new float[Length];
    private readonly float[] _im = new float[Length];
    private readonly double[] _sums = new double[(Length / 2) + 2];
    private readonly double[] _powers = new double[Points];
    private bool _isEmpty = true;

    /// <summary>Takes the newest window.</summary>
    /// <param name="left">The last <see cref="Length"/> samples of left, or of the only channel.</param>
    /// <param name="right">The same of right; empty: mono.</param>
    /// <param name="elapsed">Seconds since the window before; it ends the averaging of what is older.</param>
    public void Take(ReadOnlySpan<float> left, ReadOnlySpan<float> right, double elapsed)
    {
        // Left as the real part, right as the imaginary one: both spectra come of one transform, and here the sum of their powers is enough.
        for (var n = 0; n < Length; n++)
        {
            _re[n] = left[n] * Window[n];
            _im[n] = right.IsEmpty ? 0 : right[n] * Window[n];
        }

        _transform.Forward(_re, _im);
        var scale = 1 / (Energy * Length * (right.IsEmpty ? 1 : 2));

        // Twice: AES17 reads a full-scale sine as 0.
        Accumulate(2 * scale);
        var keeps = _isEmpty ? 0 : Math.Exp(-elapsed / Averaging);
        for (var i = 0; i < Points; i++)
        {
            _powers[i] = (keeps * _powers[i]) + ((1 - keeps) * (UpTo(Bands[i].To) - UpTo(Bands[i].From)));
        }

        _isEmpty = false;
    }

    /// <summary>dBFS at each of <see cref="Frequencies"/>.</summary>
    public void CopyTo(Span<float> decibels)
    {
        for (var i = 0; i < Points; i++)
        {
            decibels[i] = (float)Math.Max(Floor, 10 * Math.Log10(_powers[i] + 1e-20));
        }
    }

    /// <summary>Forgets all it has heard.</summary>
    public void Reset() => _isEmpty = true;

    // The power up to each bin's lower edge. Of both halves: a real signal has its power in both, and two in one transform have it shared between them.
    private void Accumulate(double scale)
    {
        var sum = 0.0;
        for (var k = 0; k <= Length / 2; k++)
        {
            _sums[k] = sum;
            var mirror = (Length - k) & (Length - 1);
            var power = Square(k) + (mirror == k ? 0 : Square(mirror));
            sum += power * scale;
        }

        _sums[^1] = sum;

        double Square(int k) => ((double)_re[k] * _re[k]) + ((double)_im[k] * _im[k]);
    }

    // Within a bin, evenly.
    private double UpTo(double bin)
    {
        var at = Math.Clamp(bin + 0.5, 0, (Length / 2) + 1);
        var whole = Math.Min((int)at, Length / 2);
        return _sums[whole] + ((at - whole) * (_sums[whole + 1] - _sums[whole]));
    }

    private static (double From, double To) BandOf(double frequency)
    {
        var half = Math.Max(LeastBins / 2, frequency / Bin * (Math.Pow(2, 1.0 / 12) - Math.Pow(2, -1.0 / 12)) / 2);
        return ((frequency / Bin) - half, (frequency / Bin) + half);
    }
}

using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests;

/// <summary>Test signals and plain measurements, straight from their definitions.</summary>
static class Signals
{
    public const int Rate = AudioFormat.SampleRate;

    public static float[] Sine(double hertz, double amplitude, int frames, double rate = Rate, double phase = 0)
    {
        var samples = new float[frames];
        for (var n = 0; n < frames; n++)
        {
            samples[n] = (float)(amplitude * Math.Sin((2 * Math.PI * hertz * n / rate) + phase));
        }

        return samples;
    }

    public static float[] Noise(int seed, int frames, double amplitude = 0.25)
    {
        var random = new Random(seed);
        var samples = new float[frames];
        for (var n = 0; n < frames; n++)
        {
            samples[n] = (float)(amplitude * ((2 * random.NextDouble()) - 1));
        }

        return samples;
    }

    public static double Db(double factor) => 20 * Math.Log10(factor);

    public static double FromDb(double decibels) => Math.Pow(10, decibels / 20);

    /// <summary>
    /// Loudest RMS in dBFS above a frequency in any 512 frames from one frame to another: an eighth-order Butterworth high
    /// pass in 64 bit over the whole signal; a full-scale sine reads 0.
    /// </summary>
    public static double RmsAbove(double hertz, float[] samples, int from, int to)
    {
        double[] qualities = [0.50979558, 0.60134489, 0.89997622, 2.5629154];
        var values = new double[samples.Length];
        for (var n = 0; n < values.Length; n++)
        {
            values[n] = samples[n];
        }

        foreach (var q in qualities)
        {
            var c = Kinetra.Core.Dsp.BiquadCoefficients.HighPass(hertz, q, Rate);
            var filter = new Kinetra.Core.Dsp.Biquad();
            for (var n = 0; n < values.Length; n++)
            {
                values[n] = filter.Next(c, values[n]);
            }
        }

        return Enumerable.Range(0, ((to - from) / 512) + 1)
            .Max(w => 10 * Math.Log10(2 * values.Skip(from + (w * 512)).Take(512).Average(v => v * v)));
    }

    /// <summary>
    /// What is there beside a sine, dB against the sine: all power up to 20 kHz but for the sine's neighbourhood, by a
    /// discrete Fourier transform under a window whose side lobes lie below −180 dB.
    /// </summary>
    public static double DistortionAndNoise(ReadOnlySpan<float> samples, double hertz, double neighbourhood)
    {
        var spectrum = new System.Numerics.Complex[samples.Length];
        for (var n = 0; n < samples.Length; n++)
        {
            // Source: H.-H. Albrecht, "A family of cosine-sum windows for high-resolution measurements", ICASSP 2001.
            double[] terms = [0.27105140069342, -0.43329793923448, 0.21812299954311, -0.06592544638803, 0.01081174209837, -0.00077658482522, 0.00001388721735];
            double window = 0;
            for (var k = 0; k < terms.Length; k++)
            {
                window += terms[k] * Math.Cos(2 * Math.PI * k * n / samples.Length);
            }

            spectrum[n] = samples[n] * window;
        }

        MathNet.Numerics.IntegralTransforms.Fourier.Forward(spectrum, MathNet.Numerics.IntegralTransforms.FourierOptions.NoScaling);
        double sine = 0, rest = 0;
        for (var bin = 8; bin <= 20_000L * samples.Length / Rate; bin++)
        {
            var power = Math.Pow(spectrum[bin].Magnitude, 2);
            if (Math.Abs(((double)bin * Rate / samples.Length) - hertz) <= hertz * neighbourhood)
            {
                sine += power;
            }
            else
            {
                rest += power;
            }
        }

        return 10 * Math.Log10(rest / sine);
    }
}

/// <summary>An inlet that plays what it is given, then silence.</summary>
sealed class ArrayInlet(float[] left, float[]? right = null, bool beginsWithSource = true) : IInlet
{
    private int _position;

    public int Channels => right is null ? 1 : 2;

    public bool BeginsWithSource => beginsWithSource;

    public void Read(long frame, Span<float> leftOut, Span<float> rightOut)
    {
        Copy(left, leftOut);
        if (right is not null)
        {
            Copy(right, rightOut);
        }

        _position += leftOut.Length;
    }

    public void Restart() => _position = 0;

    private void Copy(float[] from, Span<float> to)
    {
        to.Clear();
        if (_position < from.Length)
        {
            from.AsSpan(_position, Math.Min(to.Length, from.Length - _position)).CopyTo(to);
        }
    }
}

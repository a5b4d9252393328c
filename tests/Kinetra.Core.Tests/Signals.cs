using Kinetra.Core.Engine;

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
}

/// <summary>A feed that plays what it is given, then silence.</summary>
sealed class ArrayFeed(float[] left, float[]? right = null, bool beginsWithSource = true) : ISourceFeed
{
    private int _position;

    public int Channels => right is null ? 1 : 2;

    public bool BeginsWithSource => beginsWithSource;

    public void Read(Span<float> leftOut, Span<float> rightOut)
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

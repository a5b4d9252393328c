using Kinetra.Core.Dsp;

namespace Kinetra.Core.Tests.Voice;

/// <summary>
/// A voice of our own making: pulses of a wandering pitch through resonances that change with each syllable, hisses for s, pauses between words; its mean spectrum is made that of average
/// speech, from the published table. And ways to spoil it.
/// </summary>
sealed class MadeVoice
{
    public const int Rate = Signals.Rate;

    // Byrne et al. 1994, Table II, combined, from 63 Hz in thirds of an octave. Typed anew here: the judge has its own.
    private static readonly double[] Average =
        [38.6, 43.5, 54.4, 57.7, 56.8, 60.2, 60.3, 59.0, 62.1, 62.1, 60.5, 56.8, 53.7, 53.0, 52.0, 48.7, 48.1, 46.8, 45.6, 44.5, 44.3, 43.7, 43.4, 41.3, 40.7];

    private readonly bool[] _isSharp;

    private MadeVoice(float[] samples, bool[] isSharp) => (Samples, _isSharp) = (samples, isSharp);

    public float[] Samples { get; }

    /// <summary>A speaker of a pitch, at −24 dBFS RMS while speaking.</summary>
    public static MadeVoice Of(int seed, double pitch, int seconds = 10)
    {
        var random = new Random(seed);
        var voiced = new double[seconds * Rate];
        var isSharp = new bool[voiced.Length];
        var phase = 0.0;
        for (var at = 0; at < voiced.Length;)
        {
            var (syllables, loud) = (3 + random.Next(4), 0.0);
            for (var s = 0; s < syllables && at < voiced.Length; s++)
            {
                var isHiss = s % 3 == 1;
                var length = (int)(Rate * (isHiss ? 0.07 + (0.05 * random.NextDouble()) : 0.14 + (0.12 * random.NextDouble())));
                loud = 0.55 + (0.45 * random.NextDouble());
                var tone = pitch * (0.85 + (0.4 * random.NextDouble()));
                var formants = new[] { 300 + (500 * random.NextDouble()), 900 + (1_300 * random.NextDouble()), 2_300 + (700 * random.NextDouble()), 3_300.0 }
                    .Select(f => BiquadCoefficients.BandPass(f, 5, Rate)).ToArray();
                var filters = new Biquad[formants.Length];
                for (var n = 0; n < length && at + n < voiced.Length; n++)
                {
                    var shape = Math.Pow(Math.Sin(Math.PI * n / length), 0.5) * loud;
                    phase += tone / Rate;
                    var pulse = 0.0;
                    if (phase >= 1)
                    {
                        phase -= 1;
                        pulse = 1;
                    }

                    var noise = (random.NextDouble() * 2) - 1;
                    var x = isHiss ? noise * 0.5 : pulse + (noise * 0.01);
                    var y = x * 0.3;
                    for (var f = 0; f < formants.Length && !isHiss; f++)
                    {
                        y += filters[f].Next(formants[f], x) * 3;
                    }

                    voiced[at + n] = y * shape;
                    isSharp[at + n] = isHiss;
                }

                at += length;
            }

            at += (int)(Rate * (0.15 + (0.35 * random.NextDouble())));
        }

        // Hisses are high; twice through the table, since the one pass moves what the other measures.
        var samples = voiced.Select((x, n) => (float)x).ToArray();
        var high = new Biquad();
        var cut = BiquadCoefficients.HighPass(4_000, 0.7, Rate);
        for (var n = 0; n < samples.Length; n++)
        {
            var hiss = high.Next(cut, isSharp[n] ? samples[n] : 0);
            samples[n] = isSharp[n] ? (float)hiss : samples[n];
        }

        for (var pass = 0; pass < 3; pass++)
        {
            samples = Shaped(samples, Thirds(samples).Select((level, i) => Average[i] - level).ToArray());
        }

        var spoken = samples.Where(x => Math.Abs(x) > 1e-3f).ToArray();
        var gain = Signals.FromDb(-24 - 3.01) / Math.Sqrt(spoken.Average(x => (double)x * x));
        return new([.. samples.Select(x => (float)(x * gain))], isSharp);
    }

    /// <summary>A room of pink noise, RMS dBFS (AES17).</summary>
    public static float[] Room(int seed, double level, int frames)
    {
        var random = new Random(seed);
        var state = new double[3];
        var noise = new float[frames];
        for (var n = 0; n < frames; n++)
        {
            var white = (random.NextDouble() * 2) - 1;
            state[0] = (0.99765 * state[0]) + (white * 0.0990460);
            state[1] = (0.96300 * state[1]) + (white * 0.2965164);
            state[2] = (0.57000 * state[2]) + (white * 1.0526913);
            noise[n] = (float)(state[0] + state[1] + state[2] + (white * 0.1848));
        }

        var gain = (float)(Signals.FromDb(level - 3.01) / Math.Sqrt(noise.Average(x => (double)x * x)));
        return [.. noise.Select(x => x * gain)];
    }

    /// <summary>With its sharp sounds louder by so many dB.</summary>
    public float[] Sharper(double decibels) => [.. Samples.Select((x, n) => _isSharp[n] ? x * (float)Signals.FromDb(decibels) : x)];

    /// <summary>Turned by a peak.</summary>
    public static float[] Peaked(float[] samples, double hertz, double q, double decibels)
    {
        var more = (float)(Signals.FromDb(decibels) - 1);
        return [.. Through(samples, BiquadCoefficients.BandPass(hertz, q, Rate)).Zip(samples, (band, x) => x + (more * band))];
    }

    /// <summary>Less below a frequency.</summary>
    public static float[] Thinner(float[] samples, double hertz) => Through(samples, BiquadCoefficients.HighPass(hertz, 0.7, Rate));

    /// <summary>Less above a frequency.</summary>
    public static float[] Duller(float[] samples, double hertz) => Through(samples, BiquadCoefficients.LowPass(hertz, 0.6, Rate));

    /// <summary>In a room that sounds on.</summary>
    public static float[] Distant(float[] samples, int seed, double seconds, double overDirect)
    {
        // Six combs of prime lengths, and the same gain after so many seconds in all.
        var wet = new double[samples.Length];
        foreach (var length in new[] { 1_423, 1_867, 2_131, 2_539, 2_957, 3_511 })
        {
            var ring = new double[length];
            var feedback = Math.Pow(10, -3.0 * length / Rate / seconds);
            for (var n = 0; n < samples.Length; n++)
            {
                var old = ring[n % length];
                wet[n] += old;
                ring[n % length] = samples[n] + (feedback * old * ((seed + length) % 2 == 0 ? 1 : -1));
            }
        }

        var gain = Signals.FromDb(overDirect) * Math.Sqrt(samples.Average(x => (double)x * x) / wet.Average(x => x * x));
        return [.. samples.Select((x, n) => (float)(x + (gain * wet[n])))];
    }

    /// <summary>With thumps on some of its words.</summary>
    public static float[] Thumped(float[] samples, double amplitude)
    {
        var thumped = (float[])samples.Clone();
        for (var at = Rate / 2; at + 6_000 < samples.Length; at += Rate)
        {
            for (var n = 0; n < 6_000; n++)
            {
                thumped[at + n] += (float)(amplitude * Math.Sin(2 * Math.PI * 40 * n / Rate) * Math.Sin(Math.PI * n / 6_000));
            }
        }

        return thumped;
    }

    /// <summary>Hum of the mains: its first multiples, each softer.</summary>
    public static float[] Hum(int mains, double level, int frames)
    {
        var hum = new double[frames];
        foreach (var (n, gain) in new[] { (1, 0.0), (2, -3), (3, -6), (5, -12) })
        {
            for (var i = 0; i < frames; i++)
            {
                hum[i] += Signals.FromDb(level + gain) * Math.Sin((2 * Math.PI * mains * n * i / Rate) + n);
            }
        }

        return [.. hum.Select(x => (float)x)];
    }

    /// <summary>Rumble: noise below 50 Hz, RMS dBFS.</summary>
    public static float[] Rumble(int seed, double level, int frames)
    {
        var low = BiquadCoefficients.LowPass(45, 0.7, Rate);
        var noise = Through(Through(Signals.Noise(seed, frames), low), low);
        var gain = (float)(Signals.FromDb(level - 3.01) / Math.Sqrt(noise.Average(x => (double)x * x)));
        return [.. noise.Select(x => x * gain)];
    }

    public static float[] Sum(params float[][] sounds) => [.. Enumerable.Range(0, sounds.Min(s => s.Length)).Select(n => sounds.Sum(s => s[n]))];

    private static float[] Through(float[] samples, BiquadCoefficients c)
    {
        var filter = new Biquad();
        return [.. samples.Select(x => (float)filter.Next(c, x))];
    }

    // Levels in thirds from 63 Hz, by one transform over all of it.
    private static double[] Thirds(float[] samples)
    {
        var (re, im) = Transformed(samples);
        var width = (double)Rate / re.Length;
        return [.. Average.Select((_, i) =>
        {
            var middle = 1_000 * Math.Pow(2, (i - 12) / 3.0);
            var (from, to) = ((int)(middle * Math.Pow(2, -1 / 6.0) / width), (int)(middle * Math.Pow(2, 1 / 6.0) / width));
            var power = 1e-12;
            for (var k = from; k < to; k++)
            {
                power += ((double)re[k] * re[k]) + ((double)im[k] * im[k]);
            }

            return 10 * Math.Log10(power);
        })];
    }

    private static float[] Shaped(float[] samples, double[] decibels)
    {
        var (re, im) = Transformed(samples);
        var mean = decibels.Skip(5).Take(15).Average();
        var width = (double)Rate / re.Length;
        for (var k = 0; k <= re.Length / 2; k++)
        {
            var place = Math.Clamp(12 + (3 * Math.Log2(Math.Max(k * width, 1) / 1_000)), 0, decibels.Length - 1.001);
            var (low, part) = ((int)place, place - (int)place);
            var gain = (float)Signals.FromDb(((1 - part) * decibels[low]) + (part * decibels[low + 1]) - mean - (k * width < 50 ? 40 : 0));
            (re[k], im[k]) = (re[k] * gain, im[k] * gain);
            if (k > 0 && k < re.Length / 2)
            {
                (re[^k], im[^k]) = (re[k], -im[k]);
            }
        }

        new FourierTransform(re.Length).Back(re, im);
        return re[..samples.Length];
    }

    private static (float[] Re, float[] Im) Transformed(float[] samples)
    {
        var length = (int)System.Numerics.BitOperations.RoundUpToPowerOf2((uint)samples.Length);
        var (re, im) = (new float[length], new float[length]);
        samples.CopyTo(re, 0);
        new FourierTransform(length).Forward(re, im);
        return (re, im);
    }
}

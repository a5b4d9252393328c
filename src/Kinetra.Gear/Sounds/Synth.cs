using System.Runtime.CompilerServices;
using Kinetra.Core.Dsp;
using Kinetra.Core.Signal;

namespace Kinetra.Gear.Sounds;

/// <summary>
/// Random numbers that are the same on every machine and in every version: SplitMix64
/// (G. L. Steele, D. Lea, C. H. Flood, "Fast splittable pseudorandom number generators", 2014).
/// </summary>
sealed class Seeded(ulong seed)
{
    private ulong _state = seed;

    /// <summary>0 up to, not including, 1.</summary>
    public double Next()
    {
        _state += 0x9E3779B97F4A7C15;
        var z = _state;
        z = (z ^ (z >> 30)) * 0xBF58476D1CE4E5B9;
        z = (z ^ (z >> 27)) * 0x94D049BB133111EB;
        return ((z ^ (z >> 31)) >> 11) * (1.0 / (1UL << 53));
    }

    /// <summary>From one value to another.</summary>
    public double Between(double low, double high) => low + ((high - low) * Next());

    /// <summary>White noise, −1 … 1.</summary>
    public double White() => (2 * Next()) - 1;
}

/// <summary>
/// A sine without a call of the sine function for each sample: a vector that turns, and may shrink. Exact to 1e-9 over minutes.
/// </summary>
/// <param name="cyclesPerFrame">Frequency divided by the rate.</param>
/// <param name="phase">Radians at the first frame.</param>
/// <param name="decayPerFrame">Factor from one frame to the next.</param>
struct Phasor(double cyclesPerFrame, double phase = 0, double decayPerFrame = 1)
{
    private readonly double _turnRe = decayPerFrame * Math.Cos(2 * Math.PI * cyclesPerFrame);
    private readonly double _turnIm = decayPerFrame * Math.Sin(2 * Math.PI * cyclesPerFrame);
    private double _re = Math.Cos(phase);
    private double _im = Math.Sin(phase);

    /// <summary>The sine now; then one frame on.</summary>
    public double Next()
    {
        var sine = _im;
        (_re, _im) = ((_re * _turnRe) - (_im * _turnIm), (_re * _turnIm) + (_im * _turnRe));
        return sine;
    }
}

/// <summary>
/// What the generators are made of. All at the engine's rate, all in memory, none of it in real time. The inner loops are
/// compiled at their best at once, since the program starts with them.
/// </summary>
static class Synth
{
    public const int Rate = AudioFormat.SampleRate;

    public static int Frames(double seconds) => (int)(seconds * Rate);

    /// <summary>
    /// Makes a loop without a seam: what runs past the end fades out over the beginning, which fades in, at equal power.
    /// </summary>
    /// <param name="samples">More than <paramref name="frames"/>; the rest is the overlap.</param>
    /// <param name="frames">Length of the loop.</param>
    public static float[] Seamless(double[] samples, int frames)
    {
        var loop = new float[frames];
        var overlap = samples.Length - frames;
        for (var n = 0; n < frames; n++)
        {
            if (n < overlap)
            {
                var angle = Math.PI / 2 * (n + 0.5) / overlap;
                loop[n] = (float)((samples[n] * Math.Sin(angle)) + (samples[frames + n] * Math.Cos(angle)));
            }
            else
            {
                loop[n] = (float)samples[n];
            }
        }

        return loop;
    }

    /// <summary>Adds a sound to a loop; what reaches past the end goes on at the beginning.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static void AddWrapped(float[] loop, int at, ReadOnlySpan<float> sound, double gain)
    {
        var place = at % loop.Length;
        foreach (var sample in sound)
        {
            loop[place] += (float)(sample * gain);
            place = place + 1 == loop.Length ? 0 : place + 1;
        }
    }

    /// <summary>Noise through filters one after the other, a fresh filter state for each call.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static double[] Noise(Seeded random, int frames, params BiquadCoefficients[] filters)
    {
        var samples = new double[frames];
        var states = new Biquad[filters.Length];
        for (var n = -Rate / 10; n < frames; n++)
        {
            var x = random.White();
            for (var f = 0; f < filters.Length; f++)
            {
                x = states[f].Next(filters[f], x);
            }

            if (n >= 0)
            {
                samples[n] = x;
            }
        }

        return samples;
    }

    /// <summary>Runs a loop through filters, twice round, so that the seam is filtered too.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static void Filter(float[] loop, params BiquadCoefficients[] filters)
    {
        foreach (var filter in filters)
        {
            var state = default(Biquad);
            foreach (var sample in loop)
            {
                state.Next(filter, sample);
            }

            for (var n = 0; n < loop.Length; n++)
            {
                loop[n] = (float)state.Next(filter, loop[n]);
            }
        }
    }

    /// <summary>A slow random curve from 0 to 1 that goes on as it began after <paramref name="period"/> frames.</summary>
    /// <param name="random">Where its sines begin.</param>
    /// <param name="frames">How long it is.</param>
    /// <param name="period">Frames after which it repeats.</param>
    /// <param name="cycles">How often each of its sines turns in a period.</param>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static double[] Swell(Seeded random, int frames, int period, params int[] cycles)
    {
        var curve = new double[frames];
        foreach (var count in cycles)
        {
            var sine = new Phasor((double)count / period, random.Between(0, 2 * Math.PI));
            for (var n = 0; n < frames; n++)
            {
                curve[n] += 0.5 * sine.Next() / cycles.Length;
            }
        }

        for (var n = 0; n < frames; n++)
        {
            curve[n] += 0.5;
        }

        return curve;
    }

    /// <summary>A struck thing: decaying partials.</summary>
    /// <param name="seconds">How long it is.</param>
    /// <param name="partials">Hz, amplitude, seconds to fall by 60 dB.</param>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static float[] Struck(double seconds, params (double Hertz, double Amplitude, double Decay)[] partials)
    {
        var sound = new float[Frames(seconds)];
        foreach (var (hertz, amplitude, decay) in partials)
        {
            var partial = new Phasor(hertz / Rate, 0, Math.Pow(10, -3 / (decay * Rate)));
            for (var n = 0; n < sound.Length; n++)
            {
                var attack = Math.Min(1, n / (0.002 * Rate));
                sound[n] += (float)(amplitude * attack * partial.Next());
            }
        }

        FadeOut(sound, 0.02);
        return sound;
    }

    /// <summary>A burst of filtered noise that rises and falls.</summary>
    public static float[] Burst(Seeded random, double seconds, double attack, params BiquadCoefficients[] filters)
    {
        var noise = Noise(random, Frames(seconds), filters);
        var sound = new float[noise.Length];
        var fall = Math.Pow(10, -3 / (Math.Max(seconds - attack, 1e-3) * Rate));
        double shape = 1;
        for (var n = 0; n < sound.Length; n++)
        {
            var t = (double)n / Rate;
            shape = t < attack ? t / attack : shape * fall;
            sound[n] = (float)(noise[n] * shape);
        }

        FadeOut(sound, Math.Min(0.02, seconds / 4));
        return sound;
    }

    /// <summary>Brings a sound to an RMS level.</summary>
    /// <param name="rms">Wanted RMS over all samples, dB of a square wave of full scale.</param>
    /// <param name="channels">Channels that are scaled together.</param>
    public static void Level(double rms, params float[][] channels)
    {
        var power = channels.Average(c => c.Average(x => (double)x * x));
        var gain = Math.Pow(10, rms / 20) / Math.Sqrt(power);
        foreach (var channel in channels)
        {
            for (var n = 0; n < channel.Length; n++)
            {
                channel[n] = (float)(channel[n] * gain);
            }
        }
    }

    private static void FadeOut(float[] sound, double seconds)
    {
        var frames = Math.Min(Frames(seconds), sound.Length);
        for (var n = 0; n < frames; n++)
        {
            sound[^(n + 1)] *= (float)n / frames;
        }
    }
}

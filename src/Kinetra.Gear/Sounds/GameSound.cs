using Kinetra.Core.Engine;
using static Kinetra.Core.Dsp.BiquadCoefficients;

namespace Kinetra.Gear.Sounds;

/// <summary>Skerry Keeper, a game that does not exist: wind, a boat's engine, things that happen; and beside them radio chatter.</summary>
static class GameSound
{
    public static SoundBuffer Make(ulong seed)
    {
        var frames = Synth.Frames(52);
        var left = Side(new Seeded(seed), frames);
        var right = Side(new Seeded(seed + 1), frames);
        AddEngine(left, right, new Seeded(seed + 2));
        AddEvents(left, right, new Seeded(seed + 3));
        Synth.Level(-27, left, right);
        return new SoundBuffer(left, right);
    }

    /// <summary>The voices on its radio.</summary>
    public static SoundBuffer Radio(ulong seed)
    {
        var random = new Seeded(seed);
        var radio = new float[Synth.Frames(52)];
        var speech = VoiceSound.Speech("chatter");
        Synth.Filter(speech, HighPass(420, 0.9, Synth.Rate), LowPass(2700, 0.9, Synth.Rate));
        Synth.Level(-27, speech);
        var squelch = Synth.Burst(random, 0.16, 0.01, BandPass(1800, 0.7, Synth.Rate));
        var quiet = Synth.Frames(1);
        for (var n = 0; n < speech.Length; n++)
        {
            quiet = Math.Abs(speech[n]) < 0.004 ? quiet + 1 : 0;
            if (quiet == Synth.Frames(0.6))
            {
                Synth.AddWrapped(radio, Synth.Frames(((double)n / Synth.Rate) + 3.5) % radio.Length, squelch, 0.16);
            }
        }

        Synth.AddWrapped(radio, Synth.Frames(4), speech, 0.5);
        return new SoundBuffer(radio, null);
    }

    private static float[] Side(Seeded random, int frames)
    {
        var all = frames + Synth.Frames(2);
        var low = Synth.Noise(random, all, BandPass(240, 0.7, Synth.Rate));
        var high = Synth.Noise(random, all, BandPass(900, 3, Synth.Rate));
        var gust = Synth.Swell(random, all, frames, 5, 8, 13);
        var samples = new double[all];
        for (var n = 0; n < all; n++)
        {
            var g = gust[n];
            samples[n] = (0.10 * (0.4 + g) * low[n]) + (0.16 * g * g * high[n]);
        }

        return Synth.Seamless(samples, frames);
    }

    private static void AddEngine(float[] left, float[] right, Seeded random)
    {
        // Whole numbers of cycles and of throttle turns, so that the loop closes.
        var cycles = Math.Round(31.0 * left.Length / Synth.Rate);
        var throttle = Synth.Swell(random, left.Length, left.Length, 2, 3);
        for (var harmonic = 1; harmonic <= 14; harmonic++)
        {
            var tone = new Phasor(harmonic * cycles / left.Length, harmonic * harmonic);
            var level = 0.035 / (harmonic + 1);
            for (var n = 0; n < left.Length; n++)
            {
                var engine = (float)(level * (0.35 + throttle[n]) * tone.Next());
                left[n] += engine;
                right[n] += 0.8f * engine;
            }
        }
    }

    private static void AddEvents(float[] left, float[] right, Seeded random)
    {
        var buoy = Synth.Struck(3.5, (523, 0.5, 2.8), (1250, 0.3, 1.9), (1671, 0.2, 1.4), (2790, 0.1, 0.8));
        var creak = Synth.Burst(random, 0.5, 0.2, BandPass(340, 9, Synth.Rate));
        for (var at = 0.8; at < 51; at += random.Between(2.6, 4.6))
        {
            Place(left, right, at, buoy, 0.14, random.Between(0.2, 0.9));
        }

        for (var at = 2.0; at < 50; at += random.Between(5, 9))
        {
            Place(left, right, at, creak, 0.9, random.Between(0, 1));
        }

        for (var at = 9.0; at < 50; at += random.Between(13, 17))
        {
            var breaker = Synth.Burst(random, 3.2, 0.5, LowPass(1400, 0.6, Synth.Rate));
            Place(left, right, at, breaker, 0.42, random.Between(0.3, 0.7));
        }
    }

    private static void Place(float[] left, float[] right, double second, float[] sound, double gain, double pan)
    {
        var at = Synth.Frames(second) % left.Length;
        Synth.AddWrapped(left, at, sound, gain * Math.Cos(pan * Math.PI / 2));
        Synth.AddWrapped(right, at, sound, gain * Math.Sin(pan * Math.PI / 2));
    }
}

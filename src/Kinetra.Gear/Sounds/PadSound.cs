using static Kinetra.Core.Dsp.BiquadCoefficients;

namespace Kinetra.Gear.Sounds;

/// <summary>Short sounds for the demo's pads, one channel each, from silence to silence.</summary>
static class PadSound
{
    /// <summary>The lighthouse's horn: low pipes that take a moment to speak.</summary>
    public static float[] Foghorn()
    {
        var sound = new float[Synth.Frames(4.2)];
        foreach (var (harmonic, amplitude) in new[] { (1, 1.0), (2, 0.8), (3, 0.5), (4, 0.42), (5, 0.2), (7, 0.12) })
        {
            var low = new Phasor(harmonic * 92.0 / Synth.Rate);
            var beside = new Phasor(harmonic * 92.7 / Synth.Rate, 1.1);
            for (var n = 0; n < sound.Length; n++)
            {
                sound[n] += (float)(amplitude * (low.Next() + (0.5 * beside.Next())));
            }
        }

        return Shaped(sound, 0.28, 1.1, -14);
    }

    /// <summary>A ship's bell, struck twice.</summary>
    public static float[] Bell()
    {
        var sound = new float[Synth.Frames(3.4)];
        var struck = Synth.Struck(2.9, (698, 1, 2.4), (1405, 0.6, 1.6), (1872, 0.35, 1.1), (2790, 0.2, 0.6), (4120, 0.1, 0.3));
        Synth.AddWrapped(sound, Synth.Frames(0.01), struck, 1);
        Synth.AddWrapped(sound, Synth.Frames(0.45), struck.AsSpan(0, Synth.Frames(2.9)), 0.8);
        return Shaped(sound, 0.005, 0.3, -20);
    }

    /// <summary>Three gulls.</summary>
    public static float[] Gulls()
    {
        var random = new Seeded(311);
        var sound = new float[Synth.Frames(3.6)];
        foreach (var (at, hertz, length) in new[] { (0.05, 1500.0, 0.5), (0.62, 1620, 0.36), (1.05, 1560, 0.36), (1.7, 1180, 0.62), (2.5, 1400, 0.3), (2.85, 1380, 0.5) })
        {
            var call = new float[Synth.Frames(length)];
            double phase = 0;
            for (var n = 0; n < call.Length; n++)
            {
                var part = (double)n / call.Length;
                phase += 2 * Math.PI * hertz * (1 + (0.35 * Math.Sin(Math.PI * Math.Sqrt(part)))) / Synth.Rate;
                call[n] = (float)(Math.Sin(Math.PI * part) * (Math.Sin(phase) + (0.5 * Math.Sin(2 * phase)) + (0.25 * Math.Sin(3 * phase)) + (0.08 * random.White())));
            }

            Synth.AddWrapped(sound, Synth.Frames(at), call, 0.5);
        }

        return Shaped(sound, 0.01, 0.1, -24);
    }

    /// <summary>A wooden shutter that falls to.</summary>
    public static float[] Shutter()
    {
        var random = new Seeded(523);
        var sound = new float[Synth.Frames(0.7)];
        foreach (var (at, gain) in new[] { (0.02, 1.0), (0.11, 0.5), (0.16, 0.3), (0.3, 0.12) })
        {
            Synth.AddWrapped(sound, Synth.Frames(at), Synth.Burst(random, 0.22, 0.001, BandPass(340, 1.2, Synth.Rate)), 3 * gain);
            Synth.AddWrapped(sound, Synth.Frames(at), Synth.Burst(random, 0.05, 0.0005, BandPass(2100, 0.8, Synth.Rate)), gain);
        }

        return Shaped(sound, 0.001, 0.1, -22);
    }

    /// <summary>A rope that takes the strain: a creak of many small slips.</summary>
    public static float[] Rope()
    {
        var random = new Seeded(733);
        var sound = new float[Synth.Frames(2.3)];
        for (var at = 0.03; at < 1.9; at += random.Between(0.009, 0.02) * (1 + (0.6 * Math.Sin(at * 2.2))))
        {
            Synth.AddWrapped(sound, Synth.Frames(at), Synth.Burst(random, 0.03, 0.0004, BandPass(420 + (260 * Math.Sin(at * 1.7)), 6, Synth.Rate)), 0.4 + (0.6 * random.Next()));
        }

        return Shaped(sound, 0.01, 0.25, -26);
    }

    /// <summary>Rain on a window: a hiss of fine drops, and single ones that run into the pane. Goes round without a seam.</summary>
    public static float[] Rain()
    {
        var random = new Seeded(941);
        var frames = Synth.Frames(9);
        var hiss = Synth.Noise(random, frames + Synth.Frames(1), HighPass(1800, 0.6, Synth.Rate), LowPass(9000, 0.6, Synth.Rate));
        var swell = Synth.Swell(random, hiss.Length, frames, 2, 3, 5);
        for (var n = 0; n < hiss.Length; n++)
        {
            hiss[n] *= 0.3 + (0.25 * swell[n]);
        }

        var sound = Synth.Seamless(hiss, frames);
        for (var drop = 0; drop < 260; drop++)
        {
            Synth.AddWrapped(sound, (int)random.Between(0, frames), Synth.Struck(0.03, (random.Between(1800, 5200), Math.Pow(random.Next(), 2), 0.02)), 0.5);
        }

        Synth.Level(-30, sound);
        return sound;
    }

    private static float[] Shaped(float[] sound, double rise, double fall, double rms)
    {
        var (up, down) = (Synth.Frames(rise), Synth.Frames(fall));
        for (var n = 0; n < sound.Length; n++)
        {
            var shape = Math.Min(1, (double)n / up) * Math.Min(1, (double)(sound.Length - 1 - n) / down);
            sound[n] *= (float)Math.Sin(Math.PI / 2 * shape);
        }

        Synth.Level(rms, sound);
        return sound;
    }
}

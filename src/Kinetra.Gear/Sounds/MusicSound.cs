using Kinetra.Core.Engine;
using static Kinetra.Core.Dsp.BiquadCoefficients;

namespace Kinetra.Gear.Sounds;

/// <summary>What the Record shelf plays: sixteen bars of a quiet tune with a beat, made from a seed.</summary>
static class MusicSound
{
    private const double Tempo = 92;
    private const int Bars = 16;

    // Semitones from A: four chords, a bass note and three above it each.
    private static readonly int[][] Chords = [[0, 3, 7, 10], [-4, 0, 3, 7], [3, 7, 10, 14], [-2, 2, 5, 9]];
    private static readonly int[] Scale = [0, 2, 3, 5, 7, 10, 12, 15];

    public static SoundBuffer Make(ulong seed)
    {
        var random = new Seeded(seed);
        var beat = 60 / Tempo;
        var left = new float[Synth.Frames(Bars * 4 * beat)];
        var right = new float[left.Length];
        for (var bar = 0; bar < Bars; bar++)
        {
            var chord = Chords[bar % Chords.Length];
            var start = bar * 4 * beat;
            AddPad(left, right, start, chord, 4 * beat);
            foreach (var (at, length) in new[] { (0.0, 1.4), (1.5, 0.9), (2.5, 1.2) })
            {
                Place(left, right, start + (at * beat), Bass(Hertz(chord[0] - 24), length * beat), 0.5, 0.5);
            }

            AddBeat(left, right, start, beat, random);
            AddTune(left, right, start, beat, random, bar);
        }

        Synth.Level(-22, left, right);
        return new SoundBuffer(left, right);
    }

    private static double Hertz(int semitones) => 220 * Math.Pow(2, semitones / 12.0);

    private static void AddPad(float[] left, float[] right, double start, int[] chord, double seconds)
    {
        for (var i = 0; i < chord.Length; i++)
        {
            var tone = new float[Synth.Frames(seconds + 0.8)];
            var low = new Phasor(Hertz(chord[i]) / Synth.Rate);
            var high = new Phasor(2.003 * Hertz(chord[i]) / Synth.Rate);
            for (var n = 0; n < tone.Length; n++)
            {
                var t = (double)n / Synth.Rate;
                var shape = Math.Min(1, t / 0.5) * Math.Min(1, (seconds + 0.8 - t) / 0.8);
                tone[n] = (float)(shape * (low.Next() + (0.3 * high.Next())));
            }

            Place(left, right, start, tone, 0.055, (i + 1) / 5.0);
        }
    }

    private static float[] Bass(double hertz, double seconds) => Synth.Struck(
        seconds, (hertz, 0.8, seconds * 1.6), (hertz * 2, 0.35, seconds), (hertz * 3, 0.12, seconds * 0.6));

    private static void AddBeat(float[] left, float[] right, double start, double beat, Seeded random)
    {
        foreach (var at in new[] { 0.0, 2.0, 2.75 })
        {
            Place(left, right, start + (at * beat), Synth.Struck(0.3, (52, 1, 0.35), (88, 0.5, 0.1)), 0.55, 0.5);
        }

        foreach (var at in new[] { 1.0, 3.0 })
        {
            Place(left, right, start + (at * beat), Synth.Burst(random, 0.16, 0.002, BandPass(1700, 0.7, Synth.Rate)), 0.5, 0.45);
        }

        for (var eighth = 0; eighth < 8; eighth++)
        {
            var hat = Synth.Burst(random, 0.05, 0.001, HighPass(7000, 0.8, Synth.Rate));
            Place(left, right, start + (eighth * beat / 2), hat, eighth % 2 == 0 ? 0.16 : 0.09, 0.6);
        }
    }

    private static void AddTune(float[] left, float[] right, double start, double beat, Seeded random, int bar)
    {
        for (var step = 0; step < 8; step++)
        {
            if (random.Next() > 0.55 || bar % 4 == 3)
            {
                continue;
            }

            var hertz = Hertz(Scale[(int)random.Between(0, Scale.Length)] + 12);
            var pluck = Synth.Struck(1.6, (hertz, 0.5, 1.1), (hertz * 2, 0.22, 0.7), (hertz * 3.01, 0.1, 0.4), (hertz * 5.4, 0.04, 0.15));
            Place(left, right, start + (step * beat / 2), pluck, random.Between(0.2, 0.34), random.Between(0.25, 0.75));
        }
    }

    private static void Place(float[] left, float[] right, double second, float[] sound, double gain, double pan)
    {
        var at = Synth.Frames(second) % left.Length;
        Synth.AddWrapped(left, at, sound, gain * Math.Cos(pan * Math.PI / 2));
        Synth.AddWrapped(right, at, sound, gain * Math.Sin(pan * Math.PI / 2));
    }
}

using Kinetra.Core.Engine;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Voice;

/// <summary>What is found in somebody who calls, of whom no silence is asked: their own pauses are the room.</summary>
/// <param name="Voice">As of any voice; its room is what lies between the words.</param>
/// <param name="HasPauses">False: they spoke without any, and nothing is known of the room.</param>
/// <param name="Reach">Up to where the line carries anything, Hz.</param>
public sealed record CallerReport(VoiceReport Voice, bool HasPauses, double Reach)
{
    private const int Step = ShortTimeSpectra.Step;

    // Below this a line is silent, dBFS.
    private const double Unheard = -100;
    private const int Splice = AudioFormat.SampleRate / 200;

    /// <summary>Measures a stretch in which somebody talks.</summary>
    /// <param name="talk">At least 8 s.</param>
    /// <exception cref="ArgumentException">It is too short.</exception>
    public static CallerReport Of(SoundBuffer talk)
    {
        ArgumentNullException.ThrowIfNull(talk);
        if (talk.Frames < 8 * AudioFormat.SampleRate)
        {
            throw new ArgumentException("8 s at the least.", nameof(talk));
        }

        var spectra = new ShortTimeSpectra(talk);
        var levels = Enumerable.Range(0, spectra.Count).Select(i => 10 * Math.Log10(spectra.Power(i, 20, 20_000))).ToArray();
        var sorted = levels.Select(l => Math.Max(l, Unheard)).Order().ToArray();
        var (soft, loud) = (sorted[sorted.Length / 20], sorted[9 * sorted.Length / 10]);
        var pauses = Pauses(talk.Left, levels, Math.Min(loud - 10, soft + 6));
        var voice = VoiceReport.Of(new SoundBuffer(pauses ?? new float[3 * AudioFormat.SampleRate], null), talk);
        return new(voice, pauses is not null, ReachOf(spectra, levels, loud));
    }

    // Runs of three quiet windows and more, without the first and the last, one after the other with short fades, until there are 3 s; again and again where there is less.
    private static float[]? Pauses(float[] samples, double[] levels, double below)
    {
        var found = new List<float>();
        for (var i = 0; i < levels.Length;)
        {
            var run = 0;
            while (i + run < levels.Length && levels[i + run] < below)
            {
                run++;
            }

            if (run >= 5)
            {
                var (from, until) = ((i + 2) * Step, (i + run - 1) * Step);
                for (var n = from; n < until; n++)
                {
                    found.Add(samples[n] * MathF.Min(1, MathF.Min(n - from, until - n) / (float)Splice));
                }
            }

            i += run + 1;
        }

        if (found.Count < AudioFormat.SampleRate / 2)
        {
            return null;
        }

        var silence = new float[3 * AudioFormat.SampleRate];
        for (var n = 0; n < silence.Length; n++)
        {
            silence[n] = found[n % found.Count];
        }

        return silence;
    }

    // The highest band of an octave's sixth that stands less than 45 dB below the loudest one.
    private static double ReachOf(ShortTimeSpectra spectra, double[] levels, double loud)
    {
        var words = Enumerable.Range(0, levels.Length).Where(i => levels[i] >= loud - 15).ToArray();
        if (words.Length == 0)
        {
            return 20_000;
        }

        var bands = Enumerable.Range(0, 26).Select(i => 1_000 * Math.Pow(2, i / 6.0)).ToArray();
        var powers = bands.Select(b => words.Average(i => spectra.Power(i, b, b * Math.Pow(2, 1 / 6.0)))).ToArray();
        var most = words.Average(i => spectra.Power(i, 200, 1_000)) / 14;
        var last = Array.FindLastIndex(powers, p => p > most * Math.Pow(10, -4.5));
        return last < 0 ? 1_000 : bands[last] * Math.Pow(2, 1 / 6.0);
    }
}

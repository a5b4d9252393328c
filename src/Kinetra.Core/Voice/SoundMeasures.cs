using Kinetra.Core.Engine;
using Kinetra.Core.Metering;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Voice;

/// <summary>What is measured of a stretch of speech, to be set beside another. What cannot be measured, since nothing sounds, is not a number.</summary>
/// <param name="Loudness">Programme loudness, LUFS (ITU-R BS.1770-5).</param>
/// <param name="Range">How far soft and loud are apart, LU: the 10th to the 95th percentile of the momentary loudness (400 ms) within 20 LU of its mean. Percentiles and gate after EBU
/// Tech 3342; momentary, since a loop is too short for windows of 3 s.</param>
/// <param name="Floor">What is left where nobody speaks, dBFS (RMS, AES17): the 5th percentile of windows of 43 ms.</param>
/// <param name="Peak">Highest true peak, dBTP.</param>
/// <param name="Sibilance">How loud the sharp sounds are, dB: the 95th percentile of 5–10 kHz over the mean of 300 Hz – 3 kHz, both while somebody speaks.</param>
/// <param name="Tilt">How bright it is, dB for each octave: the slope of the mean spectrum in thirds of an octave from 125 Hz to 8 kHz, while somebody speaks.</param>
public sealed record SoundMeasures(double Loudness, double Range, double Floor, double Peak, double Sibilance, double Tilt)
{
    // Windows that are not further below the loud ones count as speech.
    private const double SpeechRange = 25;
    private const double FirstThird = 125;
    private const int Thirds = 19;

    /// <summary>Measures a sound.</summary>
    public static SoundMeasures Of(SoundBuffer sound) => Of(sound, new ShortTimeSpectra(sound));

    /// <summary>Measures a sound of which the spectra are there already.</summary>
    public static SoundMeasures Of(SoundBuffer sound, ShortTimeSpectra spectra)
    {
        ArgumentNullException.ThrowIfNull(sound);
        ArgumentNullException.ThrowIfNull(spectra);
        var (loudness, range, peak) = Meter(sound);
        var levels = Enumerable.Range(0, spectra.Count).Select(i => Decibels(spectra.Power(i, 20, 20_000))).ToArray();
        var sorted = levels.Order().ToArray();
        var speech = Enumerable.Range(0, levels.Length).Where(i => levels[i] >= At(sorted, 0.95) - SpeechRange && double.IsFinite(levels[i])).ToArray();
        return new(loudness, range, At(sorted, 0.05), peak, SibilanceOf(spectra, speech), TiltOf(spectra, speech));
    }

    private static (double Loudness, double Range, double Peak) Meter(SoundBuffer sound)
    {
        var (level, programme, peaks) = (new LevelMeter(sound.Channels), new ProgrammeLoudness(), new TruePeakMeter(sound.Channels));
        var momentary = new List<double>();
        for (var at = 0; at + Hop.Frames <= sound.Frames; at += Hop.Frames)
        {
            // In blocks, of which some are shorter: a hop is no whole number of them.
            for (var within = 0; within < Hop.Frames; within += AudioFormat.BlockFrames)
            {
                var count = Math.Min(AudioFormat.BlockFrames, Hop.Frames - within);
                var left = sound.Left.AsSpan(at + within, count);
                var right = sound.Right is null ? default : sound.Right.AsSpan(at + within, count);
                level.Add(left, right);
                peaks.Add(left, right);
            }

            level.CloseHop();
            peaks.CloseHop();
            programme.CloseHop(level.Momentary, level.ShortTerm);

            // The first windows are not full yet.
            if (at / Hop.Frames >= Hop.Momentary - 1 && level.Momentary > -70)
            {
                momentary.Add(level.Momentary);
            }
        }

        if (momentary.Count == 0)
        {
            return (double.NaN, double.NaN, peaks.Most);
        }

        var gate = Decibels(momentary.Average(m => Math.Pow(10, m / 10))) - 20;
        var gated = momentary.Where(m => m >= gate).Order().ToArray();
        return (programme.Integrated, At(gated, 0.95) - At(gated, 0.10), peaks.Most);
    }

    private static double SibilanceOf(ShortTimeSpectra spectra, int[] speech)
    {
        if (speech.Length == 0)
        {
            return double.NaN;
        }

        var sharp = speech.Select(i => spectra.Power(i, 5_000, 10_000)).Order().ToArray();
        return Decibels(At(sharp, 0.95)) - Decibels(speech.Average(i => spectra.Power(i, 300, 3_000)));
    }

    private static double TiltOf(ShortTimeSpectra spectra, int[] speech)
    {
        var points = Enumerable.Range(0, Thirds).Select(n =>
        {
            var middle = FirstThird * Math.Pow(2, n / 3.0);
            var power = speech.Length == 0 ? 0 : speech.Average(i => spectra.Power(i, middle * Math.Pow(2, -1 / 6.0), middle * Math.Pow(2, 1 / 6.0)));
            return (Octave: n / 3.0, Level: Decibels(power));
        }).ToArray();
        if (points.Any(p => !double.IsFinite(p.Level)))
        {
            return double.NaN;
        }

        var (middleOctave, middleLevel) = (points.Average(p => p.Octave), points.Average(p => p.Level));
        return points.Sum(p => (p.Octave - middleOctave) * (p.Level - middleLevel)) / points.Sum(p => (p.Octave - middleOctave) * (p.Octave - middleOctave));
    }

    private static double Decibels(double power) => 10 * Math.Log10(power);

    private static double At(double[] sorted, double share) => sorted.Length == 0 ? double.NaN : sorted[(int)Math.Round(share * (sorted.Length - 1))];
}

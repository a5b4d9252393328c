using Kinetra.Core.Engine;
using Kinetra.Core.Metering;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Voice;

/// <summary>What is found in a bed (music, a game, a room) and in the speech over it, in the same stretch: as the bed goes into its chain, and as the speech leaves its ones, or by how much more a mix turns it up.</summary>
/// <param name="Bed">Loudness of the bed, LUFS; not finite: there is none.</param>
/// <param name="Speech">Loudness of the speech while it lasts, LUFS; not finite: nobody spoke.</param>
/// <param name="Under">By how much the bed lies under the words, LU: while somebody speaks.</param>
/// <param name="SoftTop">The softest words: the 10th percentile of the highest samples of stretches of 20 ms while somebody speaks, dB.</param>
/// <param name="RoomTop">Between words: the 95th percentile of the same, dB; −∞ where there is silence, or no pause.</param>
/// <param name="Pause">Nine of ten pauses between words are no longer, s; 0: there are none.</param>
/// <param name="FlatTops">Runs of samples of the bed at the same top: clipping.</param>
public sealed record BedReport(double Bed, double Speech, double Under, double SoftTop, double RoomTop, double Pause, int FlatTops)
{
    private const int Hop = AudioFormat.SampleRate / 50;

    // What is farther below the loud words is no word; what lasts longer is no pause between words.
    private const double WordsWithin = 25, LongestPause = 1.2;
    private const double Offset = -0.691;

    /// <summary>Measures both.</summary>
    /// <param name="bed">The bed, at least 5 s.</param>
    /// <param name="speech">What lies over it, as long: how loud it is over the bed by what is heard, when somebody speaks by what is listened to.</param>
    /// <exception cref="ArgumentException">It is too short, or they are not as long as one another.</exception>
    public static BedReport Of(SoundBuffer bed, SoundBeside speech)
    {
        ArgumentNullException.ThrowIfNull(bed);
        ArgumentNullException.ThrowIfNull(speech);
        if (bed.Frames < 5 * AudioFormat.SampleRate || speech.Key.Frames != bed.Frames || speech.Heard.Frames != bed.Frames)
        {
            throw new ArgumentException("Both are as long as one another, 5 s at the least.", nameof(bed));
        }

        var (under, over, tops) = (Energies(bed), Energies(speech.Heard), Tops(speech.Key));
        var levels = Energies(speech.Key).Select(e => 10 * Math.Log10(e)).ToArray();
        var loud = At(levels.Where(double.IsFinite).Order().ToArray(), 0.95);
        var isWord = levels.Select(l => l >= loud - WordsWithin && l > -60).ToArray();
        var words = Enumerable.Range(0, levels.Length).Where(i => isWord[i]).ToArray();
        var gaps = Enumerable.Range(0, levels.Length).Except(words).ToArray();
        var pauses = PausesOf(isWord);
        return new(
            Loudness(under.Where(e => e > 1e-6)),
            Loudness(words.Select(i => over[i])),
            Loudness(words.Select(i => over[i])) - Loudness(words.Select(i => under[i])),
            At([.. words.Select(i => tops[i]).Order()], 0.10),
            At([.. gaps.Select(i => tops[i]).Order()], 0.95),
            pauses.Length == 0 ? 0 : At(pauses, 0.9),
            VoiceReport.FlatTopsOf(bed));
    }

    private static double[] PausesOf(bool[] isWord)
    {
        var pauses = new List<double>();
        for (int i = Array.IndexOf(isWord, true), begin = -1; i >= 0 && i < isWord.Length; i++)
        {
            if (!isWord[i])
            {
                begin = begin < 0 ? i : begin;
            }
            else if (begin >= 0)
            {
                pauses.Add((i - begin) * (double)Hop / AudioFormat.SampleRate);
                begin = -1;
            }
        }

        return [.. pauses.Where(p => p <= LongestPause).Order()];
    }

    // K-weighted, of both channels together, mean of each hop.
    private static double[] Energies(SoundBuffer sound)
    {
        var energies = new double[sound.Frames / Hop];
        foreach (var channel in new[] { sound.Left, sound.Right ?? sound.Left })
        {
            var filter = new KWeighting();
            for (var i = 0; i < energies.Length; i++)
            {
                energies[i] += filter.SumOfSquares(channel.AsSpan(i * Hop, Hop)) / Hop;
            }
        }

        return energies;
    }

    private static double[] Tops(SoundBuffer sound) =>
        [.. Enumerable.Range(0, sound.Frames / Hop).Select(i => 20 * Math.Log10(new[] { sound.Left, sound.Right ?? sound.Left }.Max(c => c.AsSpan(i * Hop, Hop).ToArray().Max(Math.Abs))))];

    private static double Loudness(IEnumerable<double> energies) => energies.ToArray() is { Length: > 0 } all ? Offset + (10 * Math.Log10(all.Average())) : double.NegativeInfinity;

    private static double At(double[] sorted, double share) => sorted.Length == 0 ? double.NegativeInfinity : sorted[(int)Math.Round(share * (sorted.Length - 1))];
}

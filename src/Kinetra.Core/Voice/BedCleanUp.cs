using System.Collections.Immutable;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Voice;

/// <summary>
/// A proposal for a bed under speech. Source of how far under: M. Torcoli, A. Freke-Morin, J. Paulus, C. Simon, B. Shirley, “Preferred levels for background ducking to produce
/// esthetically pleasing audio for TV with clear speech”, J. Audio Eng. Soc. 67 (12), 2019: ten units of loudness at the least.
/// </summary>
public static class BedCleanUp
{
    /// <summary>So far under the words it should lie at the least, LU; and where it does not, so far it is brought.</summary>
    public const double Least = 10, Wanted = 12;

    /// <summary>By itself it is at most so much louder than the speech, and at most so much quieter, LU.</summary>
    public const double LouderBy = 3, QuieterBy = 26;

    /// <summary>What it is brought to, where it was farther below, LU.</summary>
    public const double BroughtTo = 18;

    private const double Release = 600, Attack = 60, LeastHold = 150, MostHold = 1_000, LeastDepth = 3, MostDepth = 24;
    private const double Between = 6;

    /// <summary>What is proposed.</summary>
    /// <param name="report">What was found.</param>
    /// <param name="speakers">The points of those who speak.</param>
    public static CleanUp For(BedReport report, ImmutableArray<Point> speakers)
    {
        ArgumentNullException.ThrowIfNull(report);
        var steps = ImmutableArray.CreateBuilder<CleanUpStep>();
        var not = ImmutableArray.CreateBuilder<Unmendable>();
        if (Silent(report) is { } silent)
        {
            return new([], [silent]);
        }

        var gain = GainOf(report);
        if (gain != 0)
        {
            steps.Add(new(
                VoiceFault.Level,
                gain < 0
                    ? $"By itself the bed is {CleanUp.Db(report.Bed - report.Speech)} LU louder than the speech: in every pause it would jump out. {CleanUp.Db(gain)} dB brings both level."
                    : $"By itself the bed is {CleanUp.Db(report.Speech - report.Bed)} LU quieter than the speech: nobody hears it. +{CleanUp.Db(gain)} dB brings it to {CleanUp.Db(BroughtTo)} LU below.",
                Trim: gain));
        }

        var under = report.Under - gain;
        if (under < Least)
        {
            var depth = Math.Clamp(Math.Round(Wanted - under), LeastDepth, MostDepth);
            var hold = Math.Round(Math.Clamp(report.Pause * 1_300, LeastHold, MostHold) / 10) * 10;
            var threshold = ThresholdOf(report);
            steps.Add(new(
                VoiceFault.Covers,
                $"Under the words the bed lies only {CleanUp.Db(under)} LU lower; from {CleanUp.Db(Least)} on, words are understood without effort. Duck {CleanUp.Db(depth)} dB under speech, back in {CleanUp.Db(Release)} ms. "
                    + $"It waits {CleanUp.Db(hold)} ms first: pauses between words last up to {CleanUp.Db(report.Pause * 1_000)} ms.",
                Processor.Of(Ducker.Type, ("depth", depth), ("threshold", threshold), ("attack", Attack), ("hold", hold), ("release", Release)) with { Keys = speakers }));
            if (report.SoftTop - report.RoomTop < Between)
            {
                not.Add(new(VoiceFault.Noise, $"Between words, the microphones hear {CleanUp.Db(report.RoomTop)} dB, and the softest words are {CleanUp.Db(report.SoftTop)}: what lies between keeps the bed down too. Leave out microphones that nobody speaks into, or clean up the voices first."));
            }
        }

        if (report.FlatTops >= CleanUp.FlatTopsFrom)
        {
            not.Add(new(VoiceFault.Clipped, $"The bed's tops are cut off, {report.FlatTops} times: turn it down where it is played. No processor brings them back."));
        }

        return new(steps.ToImmutable(), not.ToImmutable());
    }

    /// <summary>All that was looked at; nothing where one of both was silent.</summary>
    public static ImmutableArray<VoiceMeasure> Measures(BedReport report)
    {
        ArgumentNullException.ThrowIfNull(report);
        return Silent(report) is not null
            ? []
            :
            [
                new(VoiceFault.Level, $"by itself {CleanUp.Db(Math.Abs(report.Bed - report.Speech))} LU {(report.Bed > report.Speech ? "louder" : "quieter")} than the speech", GainOf(report) == 0),
                new(VoiceFault.Covers, $"{CleanUp.Db(report.Under)} LU under the words", report.Under - GainOf(report) >= Least),
                new(VoiceFault.Noise, double.IsFinite(report.RoomTop) ? $"{CleanUp.Db(report.SoftTop - report.RoomTop)} dB between the softest words and the pauses" : "silence between words", report.SoftTop - report.RoomTop >= Between),
                new(VoiceFault.Clipped, report.FlatTops < CleanUp.FlatTopsFrom ? "no tops cut off" : $"{report.FlatTops} tops cut off", report.FlatTops < CleanUp.FlatTopsFrom),
            ];
    }

    private static Unmendable? Silent(BedReport report) =>
        !double.IsFinite(report.Bed) ? new(VoiceFault.Level, "Nothing was heard of the bed. Let it play, speak over it, and look again.")
        : !double.IsFinite(report.Speech) ? new(VoiceFault.Level, "Nobody spoke. Speak over the bed for ten seconds, and look again.")
        : null;

    private static double GainOf(BedReport report) =>
        report.Bed > report.Speech + LouderBy ? Math.Round(report.Speech - report.Bed, 1)
        : report.Bed < report.Speech - QuieterBy ? Math.Round(Math.Min(24, report.Speech - BroughtTo - report.Bed), 1)
        : 0;

    // Between the pauses and the softest words; where there is silence between them, well below the words.
    private static double ThresholdOf(BedReport report) =>
        Math.Round(Math.Clamp(report.RoomTop > report.SoftTop - 24 ? Math.Min(report.SoftTop - 1, (report.RoomTop + report.SoftTop) / 2) : report.SoftTop - 12, -70, -10));
}

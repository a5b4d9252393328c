using System.Collections.Immutable;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;

namespace Kinetra.Core.Voice;

/// <summary>A proposal for somebody who calls: as loud as those in the room, whatever the line brought.</summary>
public static class CallerCleanUp
{
    /// <summary>So near to the loudness that is wanted it is left as it is, LU.</summary>
    public const double Near = 3;

    /// <summary>A line that carries no more than this is a telephone's, Hz.</summary>
    public const double NarrowLine = 4_200;

    private const double Most = 24, Ceiling = -3;

    /// <summary>What is proposed.</summary>
    /// <param name="report">What was found.</param>
    /// <param name="wanted">How loud it is to be, LUFS: as those whom it talks with.</param>
    public static CleanUp For(CallerReport report, double wanted)
    {
        ArgumentNullException.ThrowIfNull(report);
        var voice = report.Voice;
        if (!double.IsFinite(voice.Loudness))
        {
            return new([], [new(VoiceFault.Level, "Nothing was heard of the caller. Let them talk for ten seconds, and look again.")]);
        }

        var gain = GainOf(voice, wanted);
        var steps = ImmutableArray.CreateBuilder<CleanUpStep>();
        if (gain != 0)
        {
            steps.Add(new(
                VoiceFault.Level,
                $"The caller comes at {CleanUp.Db(voice.Loudness)} LUFS, those they talk with are at {CleanUp.Db(wanted)}: {(gain > 0 ? $"+{CleanUp.Db(gain)}" : CleanUp.Db(gain))} dB brings them there.",
                Processor.Of(Utility.Type, ("gain", gain))));
        }

        // The level is done: what follows is as for any voice that is that loud. What a line leaves out is no fault of the voice.
        var level = voice with
        {
            Loudness = -22,
            Peak = -6,
            Dull = report.Reach < NarrowLine ? 0 : voice.Dull,
            Thin = report.Reach < NarrowLine ? 0 : voice.Thin,
            Stirring = 0,
            Decay = double.NaN,
            Floor = voice.Floor + gain,
            Speech = voice.Speech + gain,
            RoomTop = voice.RoomTop + gain,
            SoftTop = voice.SoftTop + gain,
        };
        var rest = CleanUp.For(level);
        steps.AddRange(rest.Steps);
        if (voice.Peak + gain > Ceiling)
        {
            steps.Add(new(
                VoiceFault.Sudden,
                $"Their loudest moments would reach {(voice.Peak + gain > 0 ? "+" : "")}{CleanUp.Db(voice.Peak + gain)} dBTP: a limiter holds {CleanUp.Db(Ceiling)}.",
                Processor.Of(Limiter.Type, ("ceiling", Ceiling))));
        }

        var not = rest.Unmendable.ToBuilder();
        if (gain > 0 && WantedGain(voice, wanted) > Most)
        {
            not.Insert(0, new(VoiceFault.Level, $"{CleanUp.Db(WantedGain(voice, wanted))} dB are missing, and more than {CleanUp.Db(Most)} only makes the line's noise loud: ask them to come closer, or to turn their microphone up."));
        }

        if (report.Reach < NarrowLine)
        {
            not.Add(new(VoiceFault.Dull, $"The line carries nothing above {CleanUp.Db(report.Reach / 100)}00 Hz. No processor brings that back: call over another line."));
        }

        return new(steps.ToImmutable(), not.ToImmutable());
    }

    /// <summary>All that was looked at; nothing where nobody was heard.</summary>
    public static ImmutableArray<VoiceMeasure> Measures(CallerReport report, double wanted)
    {
        ArgumentNullException.ThrowIfNull(report);
        var voice = report.Voice;
        if (!double.IsFinite(voice.Loudness))
        {
            return [];
        }

        var isNarrow = report.Reach < NarrowLine;
        return
        [
            new(VoiceFault.Level, $"{CleanUp.Db(voice.Loudness)} LUFS, wanted {CleanUp.Db(wanted)}", GainOf(voice, wanted) == 0),
            new(VoiceFault.Sudden, $"peaks {CleanUp.Db(voice.Peak + GainOf(voice, wanted))} dBTP then", voice.Peak + GainOf(voice, wanted) <= Ceiling),
            .. CleanUp.Measures(voice with { Stirring = 0 }).Where(m => m.Fault is not (VoiceFault.Level or VoiceFault.Distant)).Select(m => m switch
            {
                { Fault: VoiceFault.Noise or VoiceFault.Hum or VoiceFault.Rumble } when !report.HasPauses => m with { Words = "no pause: not measured", IsInOrder = true },
                { Fault: VoiceFault.Dull } => m with { Words = isNarrow ? $"nothing above {CleanUp.Db(report.Reach / 100)}00 Hz" : m.Words, IsInOrder = !isNarrow && m.IsInOrder },
                { Fault: VoiceFault.Thin } when isNarrow => m with { Words = "the line leaves it out", IsInOrder = true },
                _ => m,
            }),
        ];
    }

    private static double WantedGain(VoiceReport voice, double wanted) => wanted - voice.Loudness;

    private static double GainOf(VoiceReport voice, double wanted) => Math.Abs(WantedGain(voice, wanted)) <= Near ? 0 : Math.Round(Math.Clamp(WantedGain(voice, wanted), -Most, Most), 1);
}

using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json.Serialization;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Voice;

/// <summary>What may be wrong with a voice, with a bed under it or with somebody who calls.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<VoiceFault>))]
public enum VoiceFault
{
    /// <summary>It comes in too soft, or too loud.</summary>
    Level,

    /// <summary>Its tops are cut off, before any gain.</summary>
    Clipped,

    /// <summary>The room is loud.</summary>
    Noise,

    /// <summary>The mains hum.</summary>
    Hum,

    /// <summary>Rumble below the voice.</summary>
    Rumble,

    /// <summary>Breath thumps on p and b.</summary>
    Plosives,

    /// <summary>S is sharp.</summary>
    Sibilance,

    /// <summary>Too much between 200 and 400 Hz.</summary>
    Muddy,

    /// <summary>Too much around 1 kHz.</summary>
    Nasal,

    /// <summary>Too little below 250 Hz.</summary>
    Thin,

    /// <summary>Too little above 3 kHz.</summary>
    Dull,

    /// <summary>Soft and loud are far apart.</summary>
    Uneven,

    /// <summary>The room is heard as much as the voice.</summary>
    Distant,

    /// <summary>A bed lies too little under the words.</summary>
    Covers,

    /// <summary>Single moments are much too loud.</summary>
    Sudden,
}

/// <summary>One step that is proposed: a processor, or another trim.</summary>
/// <param name="Fault">Against what.</param>
/// <param name="Reason">Why, in plain words with its numbers.</param>
/// <param name="Processor">What is to stand in the chain; null: it is the trim.</param>
/// <param name="Trim">By how much more the trim is to be, dB; null: it is a processor.</param>
public sealed record CleanUpStep(VoiceFault Fault, string Reason, Processor? Processor = null, double? Trim = null);

/// <summary>What no processor mends.</summary>
/// <param name="Fault">What it is.</param>
/// <param name="Words">What would help instead.</param>
public sealed record Unmendable(VoiceFault Fault, string Words);

/// <summary>One thing that was looked at.</summary>
/// <param name="Fault">What could be wrong.</param>
/// <param name="Words">What was found, with its number.</param>
/// <param name="IsInOrder">Whether nothing is wrong with it.</param>
public sealed record VoiceMeasure(VoiceFault Fault, string Words, bool IsInOrder);

/// <summary>A proposal for a voice: natural rather than spectacular.</summary>
/// <param name="Steps">In the chain's order; each can be refused.</param>
/// <param name="Unmendable">What no processor mends.</param>
public sealed record CleanUp(ImmutableArray<CleanUpStep> Steps, ImmutableArray<Unmendable> Unmendable)
{
    /// <summary>From these values on, something is told.</summary>
    public const double NoisyOver = 38, HumOver = -80, RumbleOver = 6, PlosivesOver = 2, SibilanceOver = -8, MuddyOver = 4, NasalOver = 5, ThinOver = 6, DullOver = 6, UnevenOver = 13, DecayOver = 0.45, StirringOver = 15;

    /// <summary>A gate needs so much between the room and the softest word, dB.</summary>
    public const double GateNeeds = 8;

    internal const int FlatTopsFrom = 3;
    private const double Hysteresis = 4;
    private const double LowestLoudness = -30, HighestLoudness = -14, WantedLoudness = -22, HighestPeak = -6;

    /// <summary>All that was looked at in a voice; nothing where nobody was heard.</summary>
    public static ImmutableArray<VoiceMeasure> Measures(VoiceReport report)
    {
        ArgumentNullException.ThrowIfNull(report);
        if (!double.IsFinite(report.Loudness))
        {
            return [];
        }

        return
        [
            new(VoiceFault.Level, $"{Db(report.Loudness)} LUFS, peaks {Db(report.Peak)} dBTP", IsLevelInOrder(report)),
            new(VoiceFault.Clipped, report.FlatTops < FlatTopsFrom ? "no tops cut off" : $"{report.FlatTops} tops cut off", report.FlatTops < FlatTopsFrom),
            new(VoiceFault.Noise, $"{Db(report.Floor)} dBFS, {Db(report.OverRoom)} dB under the speech", report.OverRoom > NoisyOver && report.Stirring <= StirringOver),
            new(VoiceFault.Hum, report.Hum is { } hum ? $"{hum.Base} Hz, {Db(hum.Level)} dBFS" : "none", HumOf(report) is null),
            new(VoiceFault.Rumble, $"{Signed(report.Rumble)} dB against the rest of the silence", report.Rumble <= RumbleOver),
            new(VoiceFault.Plosives, $"{Db(report.Plosives)} thumps in ten seconds", report.Plosives <= PlosivesOver),
            new(VoiceFault.Sibilance, $"{Signed(report.Sibilance)} dB against the voice", report.Sibilance <= SibilanceOver),
            new(VoiceFault.Thin, $"{Signed(-report.Thin)} dB below 250 Hz", report.Thin <= ThinOver),
            new(VoiceFault.Muddy, $"{Signed(report.Muddy)} dB at 200 to 400 Hz", report.Muddy <= MuddyOver),
            new(VoiceFault.Nasal, $"{Signed(report.Nasal)} dB at 800 to 1250 Hz", report.Nasal <= NasalOver),
            new(VoiceFault.Dull, $"{Signed(-report.Dull)} dB above 3 kHz", report.Dull <= DullOver),
            new(VoiceFault.Uneven, $"{Db(report.Range)} LU between soft and loud", report.Range <= UnevenOver),
            new(VoiceFault.Distant, double.IsNaN(report.Decay) ? "no word ended freely: not measured" : $"the room sounds on for {Seconds(report.Decay)} s", !(report.Decay > DecayOver)),
        ];
    }

    /// <summary>What is proposed for a voice.</summary>
    public static CleanUp For(VoiceReport report)
    {
        ArgumentNullException.ThrowIfNull(report);
        var steps = ImmutableArray.CreateBuilder<CleanUpStep>();
        var not = ImmutableArray.CreateBuilder<Unmendable>();
        if (!double.IsFinite(report.Loudness))
        {
            return new([], [new(VoiceFault.Level, "Nothing was heard of you. Is it the right microphone, and is it on?")]);
        }

        if (report.Stirring > StirringOver)
        {
            not.Add(new(VoiceFault.Noise, $"The silence was not silent: some of it stands {Db(report.Stirring)} dB over the rest, so what the room is like is not sure. Once more, and say nothing for four seconds."));
        }

        var gain = TrimOf(report, steps);
        if (report.FlatTops >= FlatTopsFrom)
        {
            not.Add(new(VoiceFault.Clipped, $"The tops are cut off before they get here, {report.FlatTops} times: turn the microphone's or the interface's own gain down. No processor brings them back."));
        }

        if (HumOf(report) is { } hum)
        {
            steps.Add(new(
                VoiceFault.Hum,
                $"The mains hum at {hum.Base} Hz and its multiples up to {hum.Base * hum.Multiples} Hz, {Db(hum.Level)} dBFS together: narrow notches take it out. Better still, another cable or socket.",
                Processor.Of(Utility.Type, ("hum", hum.Base == 50 ? 1 : 2), ("harmonics", Math.Clamp(hum.Multiples, 1, Utility.MaxHarmonics)))));
        }

        LowCutOf(report, steps);
        GateOf(report, gain, steps, not);
        if (report.Sibilance > SibilanceOver)
        {
            steps.Add(new(
                VoiceFault.Sibilance,
                $"S and sh stand {Db(report.Sibilance)} dB over the voice; up to {Db(SibilanceOver)} dB they are in order. The de-esser takes up to {Db(Math.Clamp(report.Sibilance - SibilanceOver + 2, 3, 10))} dB of them.",
                Processor.Of(DeEsser.Type, ("threshold", 2), ("range", Math.Round(Math.Clamp(report.Sibilance - SibilanceOver + 2, 3, 10), 1)))));
        }

        EqualiserOf(report, steps);
        if (report.Range > UnevenOver)
        {
            var threshold = Math.Round(Math.Clamp(report.Speech + gain - 2, -50, -12));
            steps.Add(new(
                VoiceFault.Uneven,
                $"Soft and loud are {Db(report.Range)} LU apart; a listener wants about {Db(UnevenOver)}. The compressor brings the loud ones down by a third above {Db(threshold)} dB.",
                Processor.Of(Compressor.Type, ("threshold", threshold), ("ratio", 2.5), ("knee", 12), ("attack", 5), ("release", 150), ("makeUp", 3))));
        }

        if (report.Decay > DecayOver)
        {
            not.Add(new(VoiceFault.Distant, $"The room sounds on for {Seconds(report.Decay)} s after a word: come closer, or hang something soft behind you. No processor takes a room away."));
        }

        return new(steps.ToImmutable(), not.ToImmutable());
    }

    private static bool IsLevelInOrder(VoiceReport report) => report.Loudness is >= LowestLoudness and <= HighestLoudness && report.Peak <= -1;

    private static MainsHum? HumOf(VoiceReport report) => report.Hum is { } hum && hum.Level > HumOver ? hum : null;

    private static double TrimOf(VoiceReport report, ImmutableArray<CleanUpStep>.Builder steps)
    {
        if (IsLevelInOrder(report))
        {
            return 0;
        }

        var gain = Math.Round(Math.Clamp(Math.Min(WantedLoudness - report.Loudness, HighestPeak - report.Peak), -40, 40), 1);
        if (Math.Abs(gain) < 1)
        {
            return 0;
        }

        steps.Add(new(
            VoiceFault.Level,
            $"The voice comes in at {Db(report.Loudness)} LUFS with peaks of {Db(report.Peak)} dBTP: {(gain > 0 ? "too soft" : "too loud")}. A trim of {(gain > 0 ? "+" : "−")}{Db(Math.Abs(gain))} dB more brings it to about {Db(report.Loudness + gain)} LUFS.",
            Trim: gain));
        return gain;
    }

    private static void LowCutOf(VoiceReport report, ImmutableArray<CleanUpStep>.Builder steps)
    {
        if (report.Plosives > PlosivesOver)
        {
            steps.Add(new(VoiceFault.Plosives, $"Breath thumps {Db(report.Plosives)} times in ten seconds: a steeper low cut at 100 Hz. Speak past the microphone, not into it.", Processor.Of(Cuts.LowCut, ("frequency", 100), ("slope", 2))));
        }
        else if (report.Rumble > RumbleOver)
        {
            steps.Add(new(VoiceFault.Rumble, $"Below 70 Hz the silence is {Db(report.Rumble)} dB louder than above: steps, a desk, a fan. A low cut at 80 Hz takes that away, and nothing of the voice.", Processor.Of(Cuts.LowCut, ("frequency", 80), ("slope", 1))));
        }
    }

    private static void GateOf(VoiceReport report, double gain, ImmutableArray<CleanUpStep>.Builder steps, ImmutableArray<Unmendable>.Builder not)
    {
        // Of a silence in which somebody spoke, the room is not known.
        if (report.OverRoom > NoisyOver || report.Stirring > StirringOver)
        {
            return;
        }

        var between = report.SoftTop - report.RoomTop;
        if (between < GateNeeds)
        {
            not.Add(new(VoiceFault.Noise, $"Come closer: speech is only {Db(report.OverRoom)} dB over the room, and the softest words only {Db(between)}. A gate would cut words off."));
            return;
        }

        // Nearer to the room than to the softest word: a word that is cut off is worse than a breath that is not. It must shut below the room's own tops, too.
        var threshold = Math.Round(Math.Clamp(report.RoomTop + gain + Math.Max(Hysteresis + 1.5, between * 0.5), -80, 0));
        steps.Add(new(
            VoiceFault.Noise,
            $"Room noise {Db(report.Floor + gain)} dBFS with tops of {Db(report.RoomTop + gain)}, softest word {Db(report.SoftTop + gain)}: the gate opens at {Db(threshold)}, and lowers what is below by 14 dB.",
            Processor.Of(Gate.Type, ("threshold", threshold), ("hysteresis", Hysteresis), ("range", 14), ("ratio", 4), ("attack", 2), ("hold", 180), ("release", 250), ("lookAhead", 4), ("keyLowCut", 150))));
    }

    private static void EqualiserOf(VoiceReport report, ImmutableArray<CleanUpStep>.Builder steps)
    {
        var values = new List<(string Key, double Value)>();
        var reasons = new List<string>();
        VoiceFault? first = null;
        if (report.Thin > ThinOver)
        {
            Add(VoiceFault.Thin, $"{Db(report.Thin)} dB are missing below 250 Hz", ("frequency1", 200), ("gain1", Gain(report.Thin)));
        }

        if (report.Muddy > MuddyOver)
        {
            Add(VoiceFault.Muddy, $"200 to 400 Hz stand {Db(report.Muddy)} dB above usual speech", ("frequency2", 290), ("gain2", -Gain(report.Muddy)), ("q2", 1));
        }

        if (report.Nasal > NasalOver)
        {
            Add(VoiceFault.Nasal, $"800 to 1250 Hz stand {Db(report.Nasal)} dB above usual speech", ("frequency3", 1_000), ("gain3", -Gain(report.Nasal)), ("q3", 1.2));
        }

        if (report.Dull > DullOver && report.OverRoom > 25)
        {
            Add(VoiceFault.Dull, $"{Db(report.Dull)} dB are missing above 3 kHz", ("frequency4", 4_500), ("gain4", Gain(report.Dull)));
        }

        if (first is { } fault)
        {
            steps.Add(new(fault, $"{string.Join("; ", reasons)} (average speech spectrum, Byrne 1994). The equaliser goes half of the way, and no farther than 5 dB.", Processor.Of(Equaliser.Type, [.. values])));
        }

        void Add(VoiceFault fault, string reason, params (string Key, double Value)[] more)
        {
            first ??= fault;
            reasons.Add(reason);
            values.AddRange(more);
        }

        static double Gain(double off) => Math.Round(Math.Clamp(off / 2, 1, 5), 1);
    }

    private static string Seconds(double value) => value.ToString("0.0", CultureInfo.InvariantCulture);

    private static string Signed(double value) => Math.Round(value) is > 0 and var above ? $"+{Db(above)}" : Db(value);

    internal static string Db(double value) => Math.Round(value).ToString("0", CultureInfo.InvariantCulture).Replace('-', '−');
}

using System.Collections.Immutable;
using System.Globalization;
using Kinetra.Core.Findings;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Promises;

/// <summary>
/// How promises stand by what was really heard, whatever the routing says. Pure. Where a source was silent, or others were so loud that it could have
/// been missed, that is not known, and never kept.
/// </summary>
public static class ByHearing
{
    /// <summary>Nothing that is louder than this, dB against the source, may have been missed where a promise counts as kept.</summary>
    public const double EnoughFloor = -40;

    /// <summary>The same for what another source carries of it: a voice at the same microphone hides more.</summary>
    public const double EnoughFloorCarried = -18;

    /// <summary>
    /// Voices are alike for moments: what one source picks up of another has to be heard so often, as late each time.
    /// </summary>
    public const int SureOfPickedUp = 2;

    /// <summary>A note that comes again is alike for moments: a second time has to be heard so often, as far behind the first each time.</summary>
    public const int SureOfTwice = 2;

    /// <summary>How a promise stands.</summary>
    /// <param name="promise">A promise of the show.</param>
    /// <param name="s">The show and the computer, for names and for whose ears are where.</param>
    /// <param name="heard">What was heard since anything last changed.</param>
    public static Verdict Of(Promise promise, Situation s, Heard heard)
    {
        ArgumentNullException.ThrowIfNull(promise);
        ArgumentNullException.ThrowIfNull(s);
        ArgumentNullException.ThrowIfNull(heard);
        if (ListenersOf(promise, s).FirstOrDefault(heard.Deaf.Contains) is { } deaf)
        {
            return Verdict.NotKnown($"{s.NameOf(deaf)} has more than two channels, and is not listened to.");
        }

        return promise switch
        {
            Reaches p => Reached(p, s, heard),
            NeverReaches p => Never(p.Source, [p.Listener], s, heard),
            HeardOnce p => Once(p, s, heard),
            NeverHearsHimself p => ByRouting.EarsOf(s.Rig.Find(p.Source)!, s) is { IsEmpty: false } ears
                ? Never(p.Source, ears, s, heard)
                : Verdict.NotKnown("Nobody can listen there."),
            SpeechOverBed p => Over(p, heard),
            LoudnessInRange p => Loud(p, heard),
            TruePeakUnder p => Peak(p, heard),
            OwnTrack p => Alone(p, s, heard),
            InStep p => Step(p, s, heard),
            DefaultStays => Verdict.NotKnown("There is nothing to hear of it."),
            StaysOnAir => Verdict.NotKnown("What its listeners get is heard back on the screen On air."),
            _ => throw new ArgumentOutOfRangeException(nameof(promise)),
        };
    }

    /// <summary>Where has to be listened to for a promise: listeners' last points.</summary>
    public static ImmutableArray<Point> ListenersOf(Promise promise, Situation s)
    {
        ArgumentNullException.ThrowIfNull(s);
        return promise switch
        {
            Reaches or NeverReaches or HeardOnce => [promise.At!],
            NeverHearsHimself p => ByRouting.EarsOf(s.Rig.Find(p.Source)!, s),
            OwnTrack p => [new SourcePoint(p.Source)],
            _ => [],
        };
    }

    /// <summary>
    /// The sources that came to a promise's listeners and may have picked up in the air, or passed back, what must not come there: they have to be listened to too.
    /// </summary>
    public static ImmutableArray<Point> CarriersOf(Promise promise, Situation s, Heard heard)
    {
        ArgumentNullException.ThrowIfNull(s);
        ArgumentNullException.ThrowIfNull(heard);
        return promise is NeverReaches or NeverHearsHimself
            ? [.. ListenersOf(promise, s).SelectMany(l => heard.Points.GetValueOrDefault(l)?.Sources ?? ImmutableDictionary<SourceId, HeardSource>.Empty)
                .Where(h => h.Key != promise.About && !h.Value.Arrivals.IsEmpty && MayCarry(s.Rig.Find(h.Key)))
                .Select(h => new SourcePoint(h.Key)).Distinct()]
            : [];
    }

    private static bool MayCarry(Source? source) => source is { Input: DeviceInput or BrowserInput } or { Kind: SourceKind.Call or SourceKind.Chat };

    private static Verdict Reached(Reaches p, Situation s, Heard heard) => At(p.Listener, p.Source, heard) switch
    {
        null => Listening(),
        { Sounds: false } => Silent(p.Source, s),
        { Arrivals: [var first, ..] } => Verdict.Kept($"It was heard, {Level(first.GainDecibels)} it leaves its chain, {Situation.Milliseconds(first.DelayMilliseconds)} late."),
        { FloorDecibels: <= EnoughFloor } found => new(PromiseState.Broken, $"It sounds, and nothing of it came, down to {Decibels(found.FloorDecibels)}.", [p.Listener, new SourcePoint(p.Source)], []),
        var found => Verdict.NotKnown($"Other sounds are so loud that it could only have been heard from {Decibels(found.FloorDecibels)} on."),
    };

    private static Verdict Never(SourceId source, ImmutableArray<Point> listeners, Situation s, Heard heard)
    {
        var (floor, carriedFloor) = (double.NegativeInfinity, double.NegativeInfinity);
        var carriers = new List<string>();
        foreach (var listener in listeners)
        {
            switch (At(listener, source, heard))
            {
                case null:
                    return Listening();
                case { Sounds: false }:
                    return Silent(source, s);
                case { Arrivals: [var first, ..] }:
                    return new(PromiseState.Broken, $"It was heard at {s.NameOf(listener)}, {Level(first.GainDecibels)} it leaves its chain, {Situation.Milliseconds(first.DelayMilliseconds)} late.", [listener, new SourcePoint(source)], []);
                case var clear:
                    floor = Math.Max(floor, clear.FloorDecibels);
                    break;
            }

            foreach (var (other, came) in heard.Points[listener].Sources)
            {
                if (other == source || came.Arrivals is not [var way, ..] || !MayCarry(s.Rig.Find(other)))
                {
                    continue;
                }

                if (At(new SourcePoint(other), source, heard) is not { } carried)
                {
                    return Listening();
                }

                if (carried is { Arrivals: [_, ..], Times: < SureOfPickedUp })
                {
                    return Verdict.NotKnown($"It may have been heard through {s.Rig.Find(other)!.Name}: that is listened to once more.");
                }

                if (carried.Arrivals is [var picked, ..])
                {
                    return new(
                        PromiseState.Broken,
                        $"It was heard at {s.NameOf(listener)} through {s.Rig.Find(other)!.Name}, which picks it up, {Level(picked.GainDecibels + way.GainDecibels)} it leaves its chain.",
                        [listener, new SourcePoint(other), new SourcePoint(source)],
                        []);
                }

                carriers.Add(s.Rig.Find(other)!.Name);
                carriedFloor = Math.Max(carriedFloor, carried.FloorDecibels + Math.Min(0, way.GainDecibels));
            }
        }

        var words = $"Nothing of it was heard, down to {Decibels(floor)}{(carriers.Count == 0 ? "" : $"; in what {Situation.Listed([.. carriers.Distinct()])} {(carriers.Distinct().Count() == 1 ? "picks" : "pick")} up, down to {Decibels(carriedFloor)}")}";
        return floor <= EnoughFloor && carriedFloor <= EnoughFloorCarried ? Verdict.Kept($"{words}.") : Verdict.NotKnown($"{words}: other sounds are too loud to tell more.");
    }

    private static Verdict Once(HeardOnce p, Situation s, Heard heard)
    {
        if (heard.Points.GetValueOrDefault(p.Listener) is not { } at)
        {
            return Listening();
        }

        var asked = at.Sources.Where(h => p.Source is null || h.Key == p.Source).ToList();
        foreach (var (source, found) in asked)
        {
            if (found is { Arrivals: [var first, var second, ..], TimesAgain: >= SureOfTwice })
            {
                return new(
                    PromiseState.Broken,
                    $"{s.Rig.Find(source)?.Name} was heard twice, {Situation.Milliseconds(second.DelayMilliseconds - first.DelayMilliseconds)} apart, the second time {Situation.Decibels(first.GainDecibels - second.GainDecibels)} softer.",
                    [p.Listener, new SourcePoint(source)],
                    []);
            }
        }

        if (asked.FirstOrDefault(h => h.Value.Arrivals.Length > 1) is { Value: not null } maybe)
        {
            return Verdict.NotKnown($"{s.Rig.Find(maybe.Key)?.Name} may have been heard twice: that is listened to once more.");
        }

        var once = asked.Count(h => h.Value.Arrivals.Length == 1);
        return once == 0
            ? Verdict.NotKnown("Nothing of it sounded there.")
            : Verdict.Kept($"{(p.Source is null ? $"{once} {(once == 1 ? "source was" : "sources were")} heard" : "It was heard")} once, nothing a second time within {Hearing.SecondWithin:0} dB.");
    }

    private static Verdict Over(SpeechOverBed p, Heard heard) => !heard.Balances.TryGetValue(p.Id, out var over)
        ? Verdict.NotKnown("Speech and what lies under it have not sounded at the same time for long enough.")
        : over >= p.AtLeast
            ? Verdict.Kept($"It was {Signed(over)} LU over it.")
            : new(PromiseState.Broken, $"It was {Signed(over)} LU over it: {Plain(p.AtLeast - over)} LU too little.", [new MixPoint(p.Mix)], []);

    private static Verdict Loud(LoudnessInRange p, Heard heard) => heard.Mixes.GetValueOrDefault(p.Mix)?.Loudness is not { } loudness
        ? Verdict.NotKnown("It has not sounded for long enough.")
        : loudness < p.From
            ? new(PromiseState.Broken, $"It was {Signed(loudness)} LUFS: {Plain(p.From - loudness)} LU too soft.", [new MixPoint(p.Mix)], [])
            : loudness > p.To
                ? new(PromiseState.Broken, $"It was {Signed(loudness)} LUFS: {Plain(loudness - p.To)} LU too loud.", [new MixPoint(p.Mix)], [])
                : Verdict.Kept($"It was {Signed(loudness)} LUFS.");

    private static Verdict Peak(TruePeakUnder p, Heard heard) => heard.Mixes.GetValueOrDefault(p.Mix)?.TruePeak is not { } peak
        ? Verdict.NotKnown("It has not sounded.")
        : peak > p.Ceiling
            ? new(PromiseState.Broken, $"It reached {Signed(peak)} dBTP.", [new MixPoint(p.Mix)], [])
            : Verdict.Kept($"The highest was {Signed(peak)} dBTP.");

    private static Verdict Alone(OwnTrack p, Situation s, Heard heard)
    {
        if (heard.Points.GetValueOrDefault(new SourcePoint(p.Source)) is not { } at)
        {
            return Listening();
        }

        foreach (var (other, found) in at.Sources)
        {
            if (found is { Arrivals: [var first, ..], Times: >= SureOfPickedUp })
            {
                return new(PromiseState.Broken, $"{s.Rig.Find(other)?.Name} was heard on it, {Level(first.GainDecibels)} it leaves its chain.", [new SourcePoint(p.Source), new SourcePoint(other)], []);
            }
        }

        if (at.Sources.FirstOrDefault(h => !h.Value.Arrivals.IsEmpty) is { Value: not null } maybe)
        {
            return Verdict.NotKnown($"{s.Rig.Find(maybe.Key)?.Name} may have been heard on it: that is listened to once more.");
        }

        var told = at.Sources.Where(h => h.Value.Sounds).ToList();
        var floor = told.Count == 0 ? 0 : told.Max(h => h.Value.FloorDecibels);
        return told.Count == 0
            ? Verdict.NotKnown("No other source sounds.")
            : floor <= EnoughFloorCarried
                ? Verdict.Kept($"Nothing of {told.Count} other {(told.Count == 1 ? "source" : "sources")} was heard on it, down to {Decibels(floor)}.")
                : Verdict.NotKnown($"Nothing of others was heard on it, but only down to {Decibels(floor)}.");
    }

    private static Verdict Step(InStep p, Situation s, Heard heard)
    {
        if (!heard.Delays.TryGetValue(p.Id, out var late))
        {
            return Verdict.NotKnown($"{s.Rig.Find(p.Source)!.Name} has not been heard there yet.");
        }

        var off = late - p.Picture;
        return Math.Abs(off) <= p.Within
            ? Verdict.Kept($"It came {Situation.Milliseconds(late)} late.")
            : new(PromiseState.Broken, $"It came {Situation.Milliseconds(late)} late: {Situation.Milliseconds(off)} {(off > 0 ? "too late" : "too early")}.", [new SourcePoint(p.Source), p.Listener], []);
    }

    private static HeardSource? At(Point point, SourceId source, Heard heard) => heard.Points.GetValueOrDefault(point)?.Sources.GetValueOrDefault(source);

    private static Verdict Listening() => Verdict.NotKnown($"It is being listened to: that takes {Hearing.WindowSeconds + (Hearing.LatestMilliseconds / 1_000):0} seconds of sound and its turn.");

    private static Verdict Silent(SourceId source, Situation s) => Verdict.NotKnown($"{s.Rig.Find(source)?.Name} does not sound.");

    private static string Level(double decibels) => Math.Abs(decibels) < 0.5 ? "as loud as" : $"{Situation.Decibels(decibels)} {(decibels > 0 ? "louder than" : "softer than")}";

    private static string Decibels(double decibels) => $"{(decibels < 0 ? '−' : '+')}{Math.Min(90, Math.Abs(decibels)).ToString("0", CultureInfo.InvariantCulture)} dB";

    private static string Plain(double value) => value.ToString("0.0", CultureInfo.InvariantCulture);

    private static string Signed(double value) => Plain(value).Replace('-', '−');
}

using System.Collections.Immutable;
using Kinetra.Core.Editing;
using Kinetra.Core.Findings;
using Kinetra.Core.Gear;
using Kinetra.Core.Rigs;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Promises;

/// <summary>
/// How promises stand by the routing alone: whether what they speak of can happen. Pure. Nothing here listens; what sounds is another question
/// (<see cref="Hearing"/>).
/// </summary>
public static class ByRouting
{
    /// <summary>How a promise of the show stands.</summary>
    /// <param name="promise">A promise that the rules allow.</param>
    /// <param name="s">The show and the computer as they are wired.</param>
    public static Verdict Of(Promise promise, Situation s)
    {
        ArgumentNullException.ThrowIfNull(promise);
        ArgumentNullException.ThrowIfNull(s);
        return promise switch
        {
            { At: { } at } when s.Routed.Wiring.ChannelsOf(at) == 0 => Verdict.NotKnown($"{s.NameOf(at)} is not there now."),
            Reaches p => Reached(p, s),
            NeverReaches p => Never(s.Rig.Find(p.Source)!, [p.Listener], s, himself: false),
            HeardOnce p => Once(p, s),
            NeverHearsHimself p => Himself(s.Rig.Find(p.Source)!, s),
            SpeechOverBed p => Over(p, s),
            LoudnessInRange p => Loud(p.Mix, s),
            TruePeakUnder p => Peak(p, s),
            OwnTrack p => Alone(s.Rig.Find(p.Source)!, s),
            InStep p => Step(p, s),
            DefaultStays p => Default(p, s),
            StaysOnAir p => OnAir(p, s),
            _ => throw new ArgumentOutOfRangeException(nameof(promise)),
        };
    }

    /// <summary>Where a source's own sound must not come back to: who is there hears it.</summary>
    public static ImmutableArray<Point> EarsOf(Source source, Situation s)
    {
        ArgumentNullException.ThrowIfNull(source);
        ArgumentNullException.ThrowIfNull(s);
        return source switch
        {
            { Input: AppInput input, Kind: not SourceKind.Microphone } => [.. (s.Gear.Find(input.App)?.Ports ?? []).Where(p => p.Side == Side.In).Select(p => new AppPoint(input.App, p.Id))],
            { Kind: SourceKind.Call or SourceKind.Chat } => Mixes(MixPurpose.Guest),
            _ => Mixes(MixPurpose.MyEars),
        };

        ImmutableArray<Point> Mixes(MixPurpose purpose) => [.. s.Rig.Mixes.Where(m => m.Purpose == purpose).Select(m => new MixPoint(m.Id))];
    }

    /// <summary>True for a voice, as promises about speech mean it.</summary>
    public static bool IsSpeech(Source source) => source is { Kind: SourceKind.Microphone or SourceKind.Call };

    /// <summary>True for what lies under speech.</summary>
    public static bool IsBed(Source source) => source is { Kind: SourceKind.Music or SourceKind.Game or SourceKind.App or SourceKind.CatchAll or SourceKind.File or SourceKind.Instrument };

    private static Verdict Reached(Reaches p, Situation s)
    {
        var trace = Trace.Of(s, p.Source, p.Listener);
        Point[] places = [p.Listener, new SourcePoint(p.Source)];
        return trace switch
        {
            { Ways: [var first, ..] } => Verdict.Kept($"It comes {(trace.Count > 1 ? $"by {trace.Count} ways" : "by one way")}, {Level(first.GainDecibels)} from where it comes in, {Situation.Milliseconds(Milliseconds(first.DelayFrames))} late.", places),
            { IsAway: true } => Verdict.NotKnown(trace.Sentence, places),
            _ => new(PromiseState.Broken, trace.Sentence, [.. places], trace.Open is { } open ? [open] : []),
        };
    }

    private static Verdict Never(Source source, ImmutableArray<Point> listeners, Situation s, bool himself)
    {
        var from = Beginnings.Of(source, s);
        foreach (var listener in listeners)
        {
            if (s.Passage.Between(from, listener) is not { } links)
            {
                continue;
            }

            // By the strongest way, where it does not come round a loop only.
            var strongest = s.Spread.Arrivals.Where(a => a.Listener == listener && from.Contains(a.Origin)).OrderByDescending(a => a.GainDecibels).Select(a => (Arrival?)a).FirstOrDefault();
            var way = (strongest is { } arrival ? s.Spread.WayTo(arrival.Origin, listener) : null) ?? new SoundPath(links, double.NaN, 0);
            var through = s.Through(way, new Origin(way.Links[0].From, 0)).Where(n => n != source.Name).ToList();
            var level = double.IsNaN(way.GainDecibels) ? ", round a loop" : $", {Level(strongest!.Value.GainDecibels)}";
            var by = through.Count == 0 ? "" : $" through {string.Join(", ", through)}";
            return new(
                PromiseState.Broken,
                himself ? $"{source.Name} comes back to {s.NameOf(listener)}{by}{level}." : $"{source.Name} reaches {s.NameOf(listener)}{by}{level}.",
                [listener, new SourcePoint(source.Id)],
                Cuts.Along(way, s));
        }

        return Verdict.Kept(
            himself ? $"No way leads back to {Situation.Listed([.. listeners.Select(s.NameOf)])}." : $"No way leads there.", [.. listeners, new SourcePoint(source.Id)]);
    }

    private static Verdict Himself(Source source, Situation s) => EarsOf(source, s) is { IsEmpty: false } ears
        ? Never(source, ears, s, himself: true)
        : Verdict.NotKnown($"Nothing here is known to be what {source.Name} hears.", new SourcePoint(source.Id));

    private static Verdict Once(HeardOnce p, Situation s)
    {
        var twice = s.Spread.Arrivals.Where(a => a.Listener == p.Listener && a.Twice).Select(a => s.SourceOf(a.Origin)?.Id).ToHashSet();
        var told = s.Findings.FirstOrDefault(f => f.Kind is FindingKind.Twice or FindingKind.RawBeside
            && f.Places.OfType<SourcePoint>().Any(o => (p.Source is null || o.Id == p.Source) && twice.Contains(o.Id)));
        if (told is not null)
        {
            return new(PromiseState.Broken, told.Sentence, [p.Listener, .. told.Places.Where(o => o != p.Listener)], told.Fixes);
        }

        return p.Source is { } source && !s.Passage.Into(p.Listener).Overlaps(Beginnings.Of(s.Rig.Find(source)!, s))
            ? Verdict.NotKnown("It is not heard there at all.", p.Listener, new SourcePoint(source))
            : Verdict.Kept("Nothing comes by a second way.", p.Listener);
    }

    private static Verdict Over(SpeechOverBed p, Situation s)
    {
        var (speech, bed) = (Heard(p.Speech, IsSpeech), Heard(p.Bed, IsBed));
        return (speech, bed) switch
        {
            (false, true) => new(PromiseState.Broken, $"No speech is heard in {s.NameOf(new MixPoint(p.Mix))}, and what should lie under it is.", [new MixPoint(p.Mix)], []),
            (true, true) => Verdict.NotKnown("Both are in the mix: how loud they are, only the sound tells.", new MixPoint(p.Mix)),
            _ => Verdict.NotKnown("Nothing lies under speech there.", new MixPoint(p.Mix)),
        };

        bool Heard(SourceId? only, Func<Source, bool> kind) =>
            s.Rig.Find(p.Mix)!.Sends.Any(d => d.Factor != 0 && (only is null ? kind(s.Rig.Find(d.Source)!) : d.Source == only));
    }

    private static Verdict Loud(MixId mix, Situation s) => s.Rig.Find(mix) is { } found && (found.Gain.Linear == 0 || found.Sends.All(d => d.Factor == 0))
        ? new(PromiseState.Broken, $"Nothing is heard in {found.Name}.", [new MixPoint(mix)], [])
        : Verdict.NotKnown("How loud it is, only the sound tells.", new MixPoint(mix));

    private static Verdict Peak(TruePeakUnder p, Situation s)
    {
        var last = s.Rig.Find(p.Mix)!.Chain.LastOrDefault(c => !c.Bypassed);
        var ceiling = last is { Type: "limiter" } ? last.Values.GetValueOrDefault("ceiling", Processors.Limiter.Type.Parameters.First(x => x.Key == "ceiling").Default) : (double?)null;

        // What a limiter lets through at most above its ceiling, by its own promise.
        return ceiling is { } at && at + 0.1 <= p.Ceiling
            ? Verdict.Kept($"A limiter ends its chain, with its ceiling at {Signed(at)} dBTP.", new MixPoint(p.Mix))
            : Verdict.NotKnown(ceiling is null ? "No limiter ends its chain: only the sound tells." : $"The ceiling of its limiter is at {Signed(ceiling.Value)} dBTP: only the sound tells.", new MixPoint(p.Mix));
    }

    private static Verdict Alone(Source source, Situation s)
    {
        var point = new SourcePoint(source.Id);
        if (!s.Rig.Tracks.IsEmpty && !s.Rig.Tracks.Any(t => t.Armed && t.Takes is SourcePoint takes && takes.Id == source.Id))
        {
            return new(PromiseState.Broken, "No track that is planned and armed takes it.", [point], []);
        }

        var recorded = s.Rig.Tracks.IsEmpty ? "A take records every source on a track of its own" : "A track of its own is planned for it";
        if (source.Input is not (DeviceInput or AppInput { Port: not null }))
        {
            return Verdict.Kept($"{recorded}.", point);
        }

        var own = Beginnings.Of(source, s).ToHashSet();
        var others = s.Passage.Into(point).Where(o => !own.Contains(o) && s.Spread.Origins.Contains(o)).Select(s.NameOf).Distinct().Order(StringComparer.Ordinal).ToList();
        return others.Count == 0
            ? Verdict.Kept($"{recorded}, and nothing else comes onto it.", point)
            : new(PromiseState.Broken, $"{Situation.Listed(others)} {(others.Count == 1 ? "comes" : "come")} onto its track too: {Way()}.", [point], []);

        string Way()
        {
            var from = s.Spread.Origins.Where(o => !own.Contains(o) && s.NameOf(o) == others[0]);
            var links = s.Passage.Between(from, point)!.Value;
            var through = links.Skip(1).Select(l => s.NameOf(l.From)).Distinct().Where(n => n != source.Name && n != others[0]).ToList();
            return through.Count == 0 ? "straight" : $"through {string.Join(", ", through)}";
        }
    }

    private static Verdict Step(InStep p, Situation s)
    {
        var trace = Trace.Of(s, p.Source, p.Listener);
        Point[] places = [new SourcePoint(p.Source), p.Listener];
        if (trace.Ways is not [var way, ..])
        {
            return Verdict.NotKnown(trace.Sentence, places);
        }

        var (late, delayed) = (Milliseconds(way.DelayFrames), s.Rig.Find(p.Source)!.SyncDelay);
        var off = late - p.Picture;
        var words = $"The sound comes {Situation.Milliseconds(late)} late, the picture {Situation.Milliseconds(p.Picture)}";
        if (Math.Abs(off) <= p.Within)
        {
            return Verdict.Kept($"{words}.", places);
        }

        var mended = Math.Round(delayed - off, 1);
        return new(
            PromiseState.Broken,
            $"{words}: it is {Situation.Milliseconds(off)} {(off > 0 ? "too late" : "too early")}.",
            [.. places],
            mended is >= 0 and <= RigLimits.SyncDelay ? [new Fix($"Hold {s.Rig.Find(p.Source)!.Name} back by {Situation.Milliseconds(mended)}", new SetSource(p.Source, SyncDelay: mended))] : []);
    }

    private static Verdict Default(DefaultStays p, Situation s)
    {
        var now = s.Gear.DefaultOf(p.Role);
        return now == p.End
            ? Verdict.Kept("It is.", p.End)
            : s.Routed.Wiring.ChannelsOf(p.End) == 0
                ? new(PromiseState.Broken, $"{s.NameOf(p.End)} is not there now.", [p.End], [])
                : new(PromiseState.Broken, $"It is {(now is null ? "nothing" : s.NameOf(now))} now.", [p.End], [new Fix($"Make {s.NameOf(p.End)} the default again", Computer: new SetDefault(p.Role, p.End))]);
    }

    private static Verdict OnAir(StaysOnAir p, Situation s)
    {
        Point[] places = s.Rig.Streams.FirstOrDefault(x => x.Id == p.Stream) is { } stream ? [new MixPoint(stream.Mix)] : [];
        return s.Away.FirstOrDefault(a => a.Stream == p.Stream) is { } away
            ? new(PromiseState.Broken, $"It is not on air: {away.Why}", [.. places], [])
            : s.OnAir.Contains(p.Stream)
                ? Verdict.Kept("It is on air: the server takes what is sent.", places)
                : Verdict.NotKnown("Nobody has started it.", places);
    }

    private static double Milliseconds(int frames) => frames * 1_000.0 / AudioFormat.SampleRate;

    private static string Level(double decibels) => Math.Abs(decibels) < 0.05 ? "as loud as it comes" : $"{Situation.Decibels(decibels)} {(decibels > 0 ? "up" : "down")}";

    private static string Signed(double value) => value.ToString("0.0", System.Globalization.CultureInfo.InvariantCulture).Replace('-', '−');
}

using System.Collections.Immutable;
using Kinetra.Core.Editing;
using Kinetra.Core.Rigs;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Findings;

/// <summary>One stretch of a way, within one thing or from one to the next.</summary>
/// <param name="To">Where it leads.</param>
/// <param name="Name">What that is called.</param>
/// <param name="What">What happens on it, in a word or two.</param>
/// <param name="GainDecibels">What the sound gains on it, dB at 1 kHz.</param>
/// <param name="DelayFrames">By how much later it is after it, frames.</param>
/// <param name="Cut">What ends it, or null where nobody can.</param>
public sealed record Hop(Point To, string Name, string What, double GainDecibels, int DelayFrames, Fix? Cut);

/// <summary>One way of a sound to a listener.</summary>
/// <param name="Hops">Stretch by stretch.</param>
/// <param name="GainDecibels">What it gains from end to end, dB: of the power of all channels together.</param>
/// <param name="DelayFrames">How late it is there, frames.</param>
public sealed record TracedWay(ImmutableArray<Hop> Hops, double GainDecibels, int DelayFrames);

/// <summary>The answer to "why do I hear this here?", and to "why not?".</summary>
/// <param name="What">What a person calls the sound.</param>
/// <param name="Listener">What a person calls the listener.</param>
/// <param name="Ways">Every way by which it comes, the strongest first; at most <see cref="Reach.MostPaths"/>.</param>
/// <param name="Count">How many ways there are, listed or not.</param>
/// <param name="Sentence">The same in words.</param>
/// <param name="Open">Where nothing comes: the fewest changes that would let it be heard; null: it comes, or no change of the show would do.</param>
public sealed record Trace(string What, string Listener, ImmutableArray<TracedWay> Ways, double Count, string Sentence, Fix? Open)
{
    /// <summary>True where what the source comes from is not there now.</summary>
    public bool IsAway { get; init; }

    /// <summary>Traces a source to a listener.</summary>
    /// <param name="s">The situation.</param>
    /// <param name="source">A source of the show.</param>
    /// <param name="listener">A point of the wiring.</param>
    /// <exception cref="ArgumentException">There is no such source, or no such point.</exception>
    public static Trace Of(Situation s, SourceId source, Point listener)
    {
        ArgumentNullException.ThrowIfNull(s);
        ArgumentNullException.ThrowIfNull(listener);
        var wiring = s.Routed.Wiring;
        if (s.Rig.Find(source) is not { } found || wiring.ChannelsOf(listener) == 0)
        {
            throw new ArgumentException($"There is no way to look for from {source} to {listener}.", nameof(listener));
        }

        var (what, where) = (found.Name, s.NameOf(listener));
        if (s.IsAway(found))
        {
            return new(what, where, [], 0, $"{where} does not hear {what}: what it comes from is not there now.", null) { IsAway = true };
        }

        var (from, channels) = BeginningOf(found, s);
        var arrivals = Reach.Of(s.Routed, from, channels).At(listener);
        ImmutableArray<TracedWay> ways = [.. arrivals.Paths.Select(p => new TracedWay(HopsOf(p, s), p.GainDecibels, p.DelayFrames))];
        if (!ways.IsEmpty)
        {
            var late = ways[0].DelayFrames == 0 ? "at once" : $"{Situation.Milliseconds(ways[0].DelayFrames * 1_000.0 / AudioFormat.SampleRate)} late";
            return new(what, where, ways, arrivals.Count, arrivals.Count > 1 ? $"{what} reaches {where} by {arrivals.Count} ways." : $"{what} reaches {where} by one way, {late}.", null);
        }

        var (because, open) = WhyNot(s, found, from, channels, listener);
        return new(what, where, [], 0, $"{where} does not hear {what}{because}", open);
    }

    // Where a source's sound begins, so that other ways of the same are seen too; where it gathers several, at itself.
    private static (Point From, int[]? Channels) BeginningOf(Source source, Situation s)
    {
        var wiring = s.Routed.Wiring;
        switch (source.Input)
        {
            case DeviceInput input when wiring.ChannelsOf(new DevicePoint(input.Device, Side.In)) is var channels and <= Reach.MostChannels && input.Left < channels && (input.Right ?? 0) < channels:
                return (new DevicePoint(input.Device, Side.In), input.Right is { } right ? [input.Left, right] : [input.Left]);
            case AppInput { Port: { } port } input when wiring.ChannelsOf(new AppPoint(input.App, port)) is > 0 and <= Reach.MostChannels:
                return (new AppPoint(input.App, port), null);
            default:
                return (new SourcePoint(source.Id, Tap.Raw), null);
        }
    }

    private static ImmutableArray<Hop> HopsOf(SoundPath way, Situation s)
    {
        var hops = ImmutableArray.CreateBuilder<Hop>();
        var (level, frames) = (0.0, 0);
        for (var i = 0; i < way.Links.Length; i++)
        {
            // What this sound gains on it, and not what any would: so that all together are what it gains from end to end.
            var (link, gain, delay) = (way.Links[i], way.After[i].GainDecibels - level, way.After[i].DelayFrames - frames);
            (level, frames) = way.After[i];
            var (what, within) = WordsOf(link);
            var cut = Cuts.Of(link, s);
            if (within && Math.Abs(gain) < 0.005 && delay == 0 && cut is null)
            {
                continue;
            }

            hops.Add(new Hop(link.To, s.NameOf(link.To), what, gain, delay, cut));
        }

        return hops.ToImmutable();
    }

    // True for what is inside of one thing: not worth a line where it does nothing.
    private static (string What, bool Within) WordsOf(Link link) => link switch
    {
        { Via: SendPoint } => ("send", false),
        { Via: DestinationPoint } => ("destination", false),
        { From: SourcePoint, To: SourcePoint { Tap: Tap.BeforeChain } } => ("trim", true),
        { From: SourcePoint, To: SourcePoint } => ("chain", true),
        { From: MixPoint, To: MixPoint { Tap: Tap.BeforeChain } } => ("level of the mix", true),
        { From: MixPoint, To: MixPoint } => ("chain", true),
        { To: SourcePoint } => ("takes it in", false),
        { To: CablePoint, Realm: Realm.Engine } => ("plays into it", false),
        { From: AppPoint, To: AppPoint } => ("passes it on", false),
        { To: AppPoint } => ("hears it", false),
        { From: DevicePoint { Side: Side.In } input, To: DevicePoint { Side: Side.Out } output } when input.Id == output.Id => ("direct monitoring", false),
        { From: DevicePoint { Side: Side.Out }, To: DevicePoint { Side: Side.In } } => ("through the air", false),
        _ => ("plays there", false),
    };

    // Of all ways that there would be if nothing were shut, the one with the fewest that are: what is shut on it, the first said first.
    private static (string Because, Fix? Open) WhyNot(Situation s, Source source, Point from, int[]? channels, Point listener)
    {
        var wiring = s.Routed.Wiring;
        var (best, via) = (new Dictionary<(Point, int), int>(), new Dictionary<(Point, int), (Link Link, int Channel)>());
        var open = new PriorityQueue<(Point, int), int>();
        foreach (var channel in channels ?? Enumerable.Range(0, wiring.ChannelsOf(from)))
        {
            best[(from, channel)] = 0;
            open.Enqueue((from, channel), 0);
        }

        (Point At, int Channel)? end = null;
        while (end is null && open.TryDequeue(out var at, out var cost))
        {
            var (point, channel) = at;
            if (point == listener)
            {
                end = at;
            }

            foreach (var link in cost > best[at] ? [] : wiring.Links.Where(l => l.From == point && l.Use == LinkUse.Sound && (l.Factor != 0 || Opened(l, s) is not null)))
            {
                var next = cost + (link.Factor == 0 ? 1 : 0);
                foreach (var cell in link.Map.Cells.Where(c => c.From == channel && c.Gain != 0 && (!best.TryGetValue((link.To, c.To), out var known) || next < known)))
                {
                    (best[(link.To, cell.To)], via[(link.To, cell.To)]) = (next, (link, channel));
                    open.Enqueue((link.To, cell.To), next);
                }
            }
        }

        if (end is null)
        {
            return ($": nothing leads from {source.Name} to it. Play it, or a mix that it is in, into a cable that it hears, or send it there.", null);
        }

        var shut = new List<(Link Link, RigCommand Command, string Why)>();
        for (var at = end.Value; via.TryGetValue(at, out var step); at = (step.Link.From, step.Channel))
        {
            if (step.Link is { Factor: 0 } link && Opened(link, s) is { } opened)
            {
                shut.Insert(0, (link, opened.Command, opened.Why));
            }
        }

        return shut.Count == 0
            ? (": it would come there only once round a loop.", null)
            : ($", because {string.Join(", and ", shut.Select(x => x.Why))}.", new Fix($"Let {s.NameOf(listener)} hear {source.Name}", shut.Count == 1 ? shut[0].Command : new Several([.. shut.Select(x => x.Command)])));
    }

    private static (RigCommand Command, string Why)? Opened(Link link, Situation s)
    {
        var isOff = link.Gain == 0;
        switch (link)
        {
            case { Via: SendPoint send } when s.Rig.Find(send.Mix, send.Source) is { } sent:
                var (name, mix) = (s.Rig.NameOf(new SourcePoint(send.Source)), s.Rig.NameOf(new MixPoint(send.Mix)));
                return (
                    new SetSend(send.Mix, send.Source, Gain: isOff ? Gain.Unity : null, Heard: sent.Heard ? null : true, Muted: sent.Muted ? false : null),
                    !sent.Heard ? $"{name} waits in the dock of {mix}" : sent.Muted ? $"{name} is muted in {mix}" : $"{name} is at nothing in {mix}");
            case { Via: DestinationPoint to } when s.Rig.Find(to.Mix)?.Find(to.Id) is { } destination && link.State != LinkState.Held:
                return (new SetDestination(to.Mix, to.Id, Gain: isOff ? Gain.Unity : null, On: destination.On ? null : true), $"{s.Rig.NameOf(new MixPoint(to.Mix))} is not given to {s.NameOf(link.To)} now");
            case { To: CablePoint cable, Realm: Realm.Engine } when link.State != LinkState.Held:
                return (new SetCableFeed(cable.Id, link.From, Gain: isOff ? Gain.Unity : null, On: link.State == LinkState.Muted ? true : null), $"{s.NameOf(link.From)} does not play into {s.NameOf(cable)} now");
            case { From: MixPoint { Tap: Tap.Raw } mixed } when isOff:
                return (new SetMix(mixed.Id, Gain: Gain.Unity), $"{s.NameOf(mixed)} is at nothing");
            case { From: SourcePoint { Tap: Tap.Raw } trimmed } when isOff:
                return (new SetSource(trimmed.Id, Trim: Gain.Unity), $"{s.NameOf(trimmed)} is trimmed to nothing");
            default:
                return null;
        }
    }
}

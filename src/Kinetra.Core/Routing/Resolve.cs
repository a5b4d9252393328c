using System.Collections.Immutable;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Routing;

/// <summary>The one step from what is wished and what is there to what is wired. Pure.</summary>
public static class Resolve
{
    /// <summary>The wiring of a rig whose ids are known.</summary>
    public static Wiring Of(Rig rig, Computer computer)
    {
        ArgumentNullException.ThrowIfNull(rig);
        ArgumentNullException.ThrowIfNull(computer);
        var points = ImmutableArray.CreateBuilder<Point>();
        var channels = ImmutableArray.CreateBuilder<int>();
        foreach (var cable in rig.Cables)
        {
            Add(new CablePoint(cable.Id), cable.Channels);
        }

        var given = new Dictionary<SourceId, int>(rig.Sources.Length);
        foreach (var source in rig.Sources)
        {
            var count = given[source.Id] = ChannelsOf(source, computer);
            Add(new SourcePoint(source.Id, Tap.Raw), count);
            Add(new SourcePoint(source.Id, Tap.BeforeChain), count);
            Add(new SourcePoint(source.Id), count);
        }

        foreach (var mix in rig.Mixes)
        {
            Add(new MixPoint(mix.Id, Tap.Raw), 2);
            Add(new MixPoint(mix.Id, Tap.BeforeChain), 2);
            Add(new MixPoint(mix.Id), 2);
        }

        var cables = rig.Cables.ToDictionary(c => c.Id);
        var links = ImmutableArray.CreateBuilder<Link>();
        foreach (var source in rig.Sources)
        {
            AddSource(links, source, given[source.Id], cables);
        }

        foreach (var mix in rig.Mixes)
        {
            AddMix(links, mix, given);
        }

        foreach (var cable in rig.Cables)
        {
            AddFeeds(links, cable, cables, given);
        }

        return new Wiring(rig, points.ToImmutable(), channels.ToImmutable(), links.ToImmutable());

        void Add(Point point, int count)
        {
            points.Add(point);
            channels.Add(count);
        }
    }

    /// <summary>How many channels a source has.</summary>
    public static int ChannelsOf(Source source, Computer computer)
    {
        ArgumentNullException.ThrowIfNull(source);
        ArgumentNullException.ThrowIfNull(computer);
        return source.Input switch
        {
            CableInput cable => cable.Right is null ? 1 : 2,
            _ when computer.Channels.TryGetValue(source.Id, out var known) => known,
            BrowserInput browser => browser.Right is null ? 1 : 2,
            _ => 2,
        };
    }

    private static void AddSource(ImmutableArray<Link>.Builder links, Source source, int channels, Dictionary<CableId, Cable> cables)
    {
        var (raw, clean, given) = (new SourcePoint(source.Id, Tap.Raw), new SourcePoint(source.Id, Tap.BeforeChain), new SourcePoint(source.Id));
        if (source.Input is CableInput input && cables.TryGetValue(input.Cable, out var cable))
        {
            links.Add(new Link(new CablePoint(cable.Id), raw)
            {
                Map = input.Right is { } right ? ChannelMap.Pick(cable.Channels, input.Left, right) : ChannelMap.Pick(cable.Channels, input.Left),
                Delays = new(Buffer: cable.BufferFrames),
                Breaking = Breaking.Hold,
                LoopAllowed = input.LoopAllowed,
            });
        }

        AddStrip(links, raw, clean, given, channels, source.Trim.Linear, source.Chain);
    }

    private static void AddMix(ImmutableArray<Link>.Builder links, Mix mix, Dictionary<SourceId, int> channels)
    {
        var sum = new MixPoint(mix.Id, Tap.Raw);
        AddStrip(links, sum, new MixPoint(mix.Id, Tap.BeforeChain), new MixPoint(mix.Id), 2, mix.Gain.Linear, mix.Chain);
        foreach (var send in mix.Sends)
        {
            // What cannot be heard need not be there in time.
            var breaking = send.Heard ? Breaking.Never : Breaking.Late;
            ImmutableArray<Processor> chain = send.Ducker is null ? [] : [send.Ducker];
            links.Add(new Link(new SourcePoint(send.Source, send.Tap), sum)
            {
                Via = new SendPoint(mix.Id, send.Source),
                Map = ChannelMap.Pan(channels[send.Source], send.Pan),
                Gain = send.Gain.Linear,
                State = StateOf(send),
                Chain = chain,
                Delays = DelaysOf(chain),
                Breaking = breaking,
            });
            AddKeys(links, chain, sum, breaking);
        }
    }

    /// <summary>Whether a listener hears a send now.</summary>
    public static LinkState StateOf(Send send)
    {
        ArgumentNullException.ThrowIfNull(send);
        return send.Heard ? send.Muted ? LinkState.Muted : LinkState.On : LinkState.Docked;
    }

    private static void AddFeeds(ImmutableArray<Link>.Builder links, Cable cable, Dictionary<CableId, Cable> cables, Dictionary<SourceId, int> channels)
    {
        foreach (var feed in cable.Feeds)
        {
            var other = feed.From is CablePoint point ? cables[point.Id] : null;
            var from = feed.From switch { SourcePoint source => channels[source.Id], _ => other?.Channels ?? 2 };
            links.Add(new Link(feed.From, new CablePoint(cable.Id))
            {
                Map = other is null
                    ? ChannelMap.Into(from, cable.Channels, feed.Into.Left, feed.Into.Right)
                    : ChannelMap.Onward(from, cable.Channels, feed.Into.Left),
                Gain = feed.Gain.Linear,
                State = feed.On ? LinkState.On : LinkState.Muted,
                Delays = new(Buffer: other?.BufferFrames ?? 0),
                Breaking = other is null ? Breaking.Never : Breaking.Hold,
                LoopAllowed = feed.LoopAllowed,
            });
        }
    }

    // Of a source and of a mix alike: as it comes in, after trim or gain, after the chain.
    private static void AddStrip(
        ImmutableArray<Link>.Builder links, Point raw, Point clean, Point given, int channels, double gain, ImmutableArray<Processor> chain)
    {
        var straight = ChannelMap.Straight(channels);
        links.Add(new Link(raw, clean) { Map = straight, Gain = gain });
        links.Add(new Link(clean, given) { Map = straight, Chain = chain, Delays = DelaysOf(chain) });
        AddKeys(links, chain, given, Breaking.Never);
    }

    private static void AddKeys(ImmutableArray<Link>.Builder links, ImmutableArray<Processor> chain, Point at, Breaking breaking)
    {
        foreach (var key in chain.SelectMany(p => p.Keys))
        {
            links.Add(new Link(key, at, LinkUse.Key) { Map = ChannelMap.Straight(2), Breaking = breaking });
        }
    }

    private static LinkDelays DelaysOf(ImmutableArray<Processor> chain)
    {
        var (ahead, set) = (0, 0);
        foreach (var processor in chain)
        {
            if (ProcessorTypes.Find(processor.Type) is { } type)
            {
                var values = processor.ValuesOf(type);
                ahead += type.LatencyOf(values);
                set += processor.Bypassed ? 0 : type.DelayOf(values);
            }
        }

        return new(ahead, set);
    }
}

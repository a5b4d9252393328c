using System.Collections.Immutable;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Routing;

/// <summary>The one step from what is wished and what is there to what is wired. Pure.</summary>
public static class Resolve
{
    /// <summary>The wiring of a rig whose ids are known.</summary>
    /// <param name="rig">The rig.</param>
    /// <param name="computer">What is there.</param>
    /// <param name="before">The wiring of a rig that this one came from: what has not changed is taken over. Null: all is made anew.</param>
    public static Wiring Of(Rig rig, Computer computer, Wiring? before = null)
    {
        ArgumentNullException.ThrowIfNull(rig);
        ArgumentNullException.ThrowIfNull(computer);
        var ground = Ground.Of(rig, computer, before?.Shape.Ground);
        var known = ground == before?.Shape.Ground ? before.Parts : [];
        var parts = ImmutableArray.CreateBuilder<Part>(known.Length);
        var points = ground.Points;
        for (var s = 0; s < rig.Sources.Length; s++)
        {
            var (source, place) = (rig.Sources[s], ground.PlaceOfSource(s));
            if (!Stays(source, points[place]))
            {
                parts.Add(new Part(source, points[place], LinksOf(ground, source, place)));
            }
        }

        for (var m = 0; m < rig.Mixes.Length; m++)
        {
            // Its sends are parts of their own: of the mix itself, only its strip hangs on the object.
            var (mix, place) = (rig.Mixes[m], ground.PlaceOfMix(m));
            if (!Stays(mix, points[place]))
            {
                parts.Add(new Part(mix, points[place], StripOf(ground, place, mix.Gain.Linear, mix.Chain)));
            }

            foreach (var send in mix.Sends)
            {
                if (!Stays(send, points[place]))
                {
                    parts.Add(new Part(send, points[place], LinksOf(ground, send, mix.Id, points[place])));
                }
            }
        }

        for (var c = 0; c < rig.Cables.Length; c++)
        {
            var (cable, to) = (rig.Cables[c], points[c]);
            if (!Stays(cable, to))
            {
                parts.Add(new Part(cable, to, FeedsOf(ground, cable, to)));
            }
        }

        return new Wiring(rig, ground, parts.ToImmutable(), before);

        bool Stays(object of, Point to)
        {
            if (parts.Count >= known.Length || !ReferenceEquals(known[parts.Count].Of, of) || known[parts.Count].To != to)
            {
                return false;
            }

            parts.Add(known[parts.Count]);
            return true;
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

    private static ImmutableArray<Link> LinksOf(Ground ground, Source source, int place)
    {
        var strip = StripOf(ground, place, source.Trim.Linear, source.Chain);
        return source.Input is CableInput input && ground.Cable(input.Cable) is { } cable
            ?
            [
                new Link(new CablePoint(input.Cable), ground.Points[place])
                {
                    Map = input.Right is { } right ? ChannelMap.Pick(cable.Channels, input.Left, right) : ChannelMap.Pick(cable.Channels, input.Left),
                    Delays = new(Buffer: cable.Buffer),
                    Breaking = Breaking.Hold,
                    LoopAllowed = input.LoopAllowed,
                },
                .. strip,
            ]
            : strip;
    }

    private static ImmutableArray<Link> LinksOf(Ground ground, Send send, MixId mix, Point sum)
    {
        // What cannot be heard need not be there in time.
        var breaking = send.Heard ? Breaking.Never : Breaking.Late;
        var source = ground.PlaceOf(send.From);
        ImmutableArray<Processor> chain = send.Ducker is null ? [] : [send.Ducker];
        return
        [
            new Link(ground.Points[source], sum)
            {
                Via = new SendPoint(mix, send.Source),
                Map = ChannelMap.Pan(ground.Channels[source], send.Pan),
                Gain = send.Gain.Linear,
                State = StateOf(send),
                Chain = chain,
                Delays = DelaysOf(chain),
                Breaking = breaking,
            },
            .. KeysOf(chain, sum, breaking),
        ];
    }

    /// <summary>Whether a listener hears a send now.</summary>
    public static LinkState StateOf(Send send)
    {
        ArgumentNullException.ThrowIfNull(send);
        return send.Heard ? send.Muted ? LinkState.Muted : LinkState.On : LinkState.Docked;
    }

    private static ImmutableArray<Link> FeedsOf(Ground ground, Cable cable, Point to) =>
    [
        .. cable.Feeds.Select(feed =>
        {
            var from = ground.Channels[ground.PlaceOf(feed.From)];
            var other = feed.From is CablePoint point ? ground.Cable(point.Id) : null;
            return new Link(feed.From, to)
            {
                Map = other is null
                    ? ChannelMap.Into(from, cable.Channels, feed.Into.Left, feed.Into.Right)
                    : ChannelMap.Onward(from, cable.Channels, feed.Into.Left),
                Gain = feed.Gain.Linear,
                State = feed.On ? LinkState.On : LinkState.Muted,
                Delays = new(Buffer: other?.Buffer ?? 0),
                Breaking = other is null ? Breaking.Never : Breaking.Hold,
                LoopAllowed = feed.LoopAllowed,
            };
        }),
    ];

    // Of a source and of a mix alike: as it comes in, after trim or gain, after the chain.
    private static ImmutableArray<Link> StripOf(Ground ground, int place, double gain, ImmutableArray<Processor> chain)
    {
        var (raw, clean, given) = (ground.Points[place], ground.Points[place + 1], ground.Points[place + 2]);
        var straight = ChannelMap.Straight(ground.Channels[place]);
        return
        [
            new Link(raw, clean) { Map = straight, Gain = gain },
            new Link(clean, given) { Map = straight, Chain = chain, Delays = DelaysOf(chain) },
            .. KeysOf(chain, given, Breaking.Never),
        ];
    }

    private static IEnumerable<Link> KeysOf(ImmutableArray<Processor> chain, Point at, Breaking breaking) =>
        chain.IsEmpty ? [] : chain.SelectMany(p => p.Keys).Select(key => new Link(key, at, LinkUse.Key) { Map = ChannelMap.Straight(2), Breaking = breaking });

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

using System.Collections.Immutable;
using Kinetra.Core.Gear;
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

        foreach (var mix in rig.Mixes)
        {
            foreach (var destination in mix.Destinations)
            {
                var to = destination.End.Point;
                if (ground.PlaceOf(to) >= 0 && !Stays(destination, to))
                {
                    parts.Add(new Part(destination, to, LinksOf(ground, destination, mix.Id, to)));
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

        var gear = GearLinks.KeyOf(ground, computer.Gear, rig);
        if (before?.Parts is [.., { Of: GearKey old } last] && old.Equals(gear))
        {
            parts.Add(last);
        }
        else
        {
            parts.Add(new Part(gear, null, GearLinks.Of(gear)));
        }

        return new Wiring(rig, computer.Gear, ground, parts.ToImmutable(), before);

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
        return source.Fold ? 1 : source.Input switch
        {
            CableInput cable => cable.Right is null ? 1 : 2,
            DeviceInput device => device.Right is null ? 1 : 2,
            AppInput { Port: { } port } app => Math.Min(2, computer.Gear.Find(app.App)?.Find(port)?.Channels ?? 2),
            AppInput or EverythingElseInput => 2,
            _ when computer.Channels.TryGetValue(source.Id, out var known) => known,
            BrowserInput browser => browser.Right is null ? 1 : 2,
            _ => 2,
        };
    }

    private static ImmutableArray<Link> LinksOf(Ground ground, Source source, int place)
    {
        var strip = StripOf(ground, place, source.Trim.Linear, source.Way, source.Inverted);
        var (point, left, right) = source.Input switch
        {
            CableInput cable => ((Point)new CablePoint(cable.Cable), cable.Left, cable.Right),
            DeviceInput device => (new DevicePoint(device.Device, Side.In), device.Left, device.Right),
            _ => (ground.Points[place], 0, null),
        };
        var channels = ground.ChannelsOf(point);
        if (!source.Input.IsLinked || point == ground.Points[place] || left >= channels || right >= channels)
        {
            return strip;
        }

        var picked = right is { } other ? ChannelMap.Pick(channels, left, other) : ChannelMap.Pick(channels, left);
        return
        [
            new Link(point, ground.Points[place])
            {
                Map = source.Fold && right is not null ? picked.Then(ChannelMap.Into(2, 1, 0, null)) : picked,
                Delays = new(Buffer: point is CablePoint from ? ground.Cable(from.Id)!.Value.Buffer : 0),
                Breaking = Breaking.Hold,
                LoopAllowed = source.Input.MayLoop,
            },
            .. strip,
        ];
    }

    private static ImmutableArray<Link> LinksOf(Ground ground, Destination destination, MixId mix, Point to)
    {
        var channels = ground.ChannelsOf(to);
        return destination.Into.Left >= channels
            ? []
            :
            [
                new Link(new MixPoint(mix), to)
                {
                    Via = new DestinationPoint(mix, destination.Id),
                    // Where there is no channel for right, as on a device with one, left takes both: half of a mix would be lost.
                    Map = ChannelMap.Into(2, channels, destination.Into.Left, destination.Into.Right < channels ? destination.Into.Right : null),
                    Gain = destination.Gain.Linear,
                    State = destination.On ? LinkState.On : LinkState.Muted,
                    Breaking = Breaking.Hold,
                    LoopAllowed = destination.LoopAllowed,
                },
            ];
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
    private static ImmutableArray<Link> StripOf(Ground ground, int place, double gain, ImmutableArray<Processor> chain, bool inverted = false)
    {
        var (raw, clean, given) = (ground.Points[place], ground.Points[place + 1], ground.Points[place + 2]);
        var straight = ChannelMap.Straight(ground.Channels[place]);
        return
        [
            new Link(raw, clean) { Map = inverted ? straight.Times(-1) : straight, Gain = gain },
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

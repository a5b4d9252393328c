using System.Collections.Immutable;
using System.Globalization;
using Kinetra.Core.Findings;
using Kinetra.Core.Gear;
using Kinetra.Core.Rigs;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Maps;

/// <summary>Follows the links of a situation from starts by mixes to ends.</summary>
sealed class Survey
{
    private readonly Situation _s;
    private readonly Rig _rig;
    private readonly ILookup<Point, Link> _onward;
    private readonly List<Start> _starts = [];
    private readonly List<End> _ends = [];
    private readonly Dictionary<Point, int> _endOf = [];
    private readonly Dictionary<SourceId, int> _startOf = [];
    private readonly Dictionary<MixId, int> _mixOf = [];
    private readonly Dictionary<Point, int> _otherStarts = [];
    private readonly List<Branch> _branches = [];
    private readonly Dictionary<Point, double> _latest;

    public Survey(Situation s)
    {
        (_s, _rig) = (s, s.Routed.Wiring.Rig);
        _onward = s.Routed.Wiring.Links.Where(l => l.Use == LinkUse.Sound).ToLookup(l => l.From);
        _latest = s.Spread.Arrivals.GroupBy(a => a.Listener).ToDictionary(a => a.Key, a => a.Max(x => x.DelayFrames) * 1000.0 / AudioFormat.SampleRate);
    }

    public Diagram Diagram()
    {
        foreach (var source in _rig.Sources)
        {
            _startOf[source.Id] = _starts.Count;
            _starts.Add(StartOf(source));
        }

        var mixes = ImmutableArray.CreateBuilder<Meet>();
        foreach (var mix in _rig.Mixes)
        {
            _mixOf[mix.Id] = mixes.Count;
            mixes.Add(new Meet(mix.Id, mix.Name, TicksOf(new MixPoint(mix.Id), mix.Chain), [.. _rig.Sources.Where(o => mix.Sends.Any(x => x.Source == o.Id && !x.Heard)).Select(o => _startOf[o.Id])]));
        }

        foreach (var link in _s.Routed.Wiring.Links.Where(l => l is { Via: SendPoint, Use: LinkUse.Sound, State: not LinkState.Docked }))
        {
            var send = (SendPoint)link.Via!;
            _branches.Add(new Branch(_startOf[send.Source], _mixOf[send.Mix], -1, link.From, -1, 1, StateOf(link.State), []));
        }

        var onwards = ImmutableArray.CreateBuilder<Onward>();
        foreach (var mix in _rig.Mixes)
        {
            foreach (var way in EndsFrom(new MixPoint(mix.Id), LinkState.On, 1))
            {
                onwards.Add(new Onward(_mixOf[mix.Id], way.End, way.Gain, StateOf(way.State), way.Cables));
            }
        }

        AddDirect();
        return new(
            [.. _starts],
            mixes.ToImmutable(),
            [.. _ends],
            [.. _branches.DistinctBy(b => (b.Start, b.Mix, b.End)).OrderBy(b => b.Mix < 0).ThenBy(b => b.Mix).ThenBy(b => b.End).ThenBy(b => b.Start)],
            onwards.ToImmutable(),
            Twins(),
            Rings());
    }

    private Start StartOf(Source source)
    {
        var from = source.Input switch
        {
            DeviceInput input => _s.Gear.Find(input.Device) is { } device
                ? $"{device.Name}, {(input.Right is { } right ? $"{NameOf(device, input.Left)} and {NameOf(device, right)}" : NameOf(device, input.Left))}"
                : "a device that is not known",
            AppInput input => _s.Gear.Find(input.App) is { } app ? input.Port is { } port && app.Ports.Count(p => p.Side == Side.Out) > 1 && app.Find(port) is { } found ? $"{app.Name}, {found.Name}" : app.Name : "a program that is not known",
            CableInput input => _rig.Find(input.Cable) is { } cable ? PlayersOf(cable) is { Count: > 0 } players ? $"{Situation.Listed(players)}, by {cable.Name}" : cable.Name : "a cable that is gone",
            EverythingElseInput => "everything else that plays",
            BrowserInput input => input.Label,
            SoundFileInput => "a sound file",
            PadsInput => "pads",
            _ => "",
        };
        return new Start(source.Id, new SourcePoint(source.Id), source.Name, from, TicksOf(new SourcePoint(source.Id), source.Chain));
    }

    private static string NameOf(Device device, int channel) => channel < device.Inputs.Length ? $"input {device.Inputs[channel].Name}" : $"input {channel + 1}";

    // What plays into a cable, nearest first.
    private List<string> PlayersOf(Cable cable) =>
        [.. _s.Routed.Wiring.Links.Where(l => l.To == new CablePoint(cable.Id) && l.Use == LinkUse.Sound && l.Factor != 0).Select(l => _s.NameOf(l.From)).Distinct().Take(4)];

    private ImmutableArray<Tick> TicksOf(Point point, ImmutableArray<Processor> chain)
    {
        var works = chain.Count(p => !p.Bypassed);
        if (works == 0)
        {
            return [];
        }

        var delay = _s.Routed.Wiring.Links.Where(l => l.To == point && l.Use == LinkUse.Sound).Select(l => l.Delays.LookAhead + l.Delays.Set).DefaultIfEmpty().Max();
        return [new Tick($"chain of {works}", delay == 0 ? "" : string.Create(CultureInfo.InvariantCulture, $"+{delay * 1000.0 / AudioFormat.SampleRate:0.#} ms"))];
    }

    private static TrackState StateOf(LinkState state) => state switch { LinkState.On => TrackState.On, LinkState.Held => TrackState.Held, _ => TrackState.Muted };

    // How something comes to an end, through cables.
    private readonly record struct Way(int End, LinkState State, double Gain, ImmutableArray<string> Cables);

    // From a mix, or from a cable, through cables as far as it goes: each cable once, by the fewest others; where sound flows first, since however
    // many ways there are through cables, one to each end is drawn.
    private List<Way> EndsFrom(Point from, LinkState state, double gain)
    {
        var found = new List<Way>();
        var (passed, ended) = (new HashSet<Point> { from }, new HashSet<int>());
        var flowing = new Queue<(Point At, Way Way)>();
        var still = new Queue<(Link Link, Way Way)>();
        flowing.Enqueue((from, new(-1, state, gain, [])));
        while (flowing.Count > 0 || still.Count > 0)
        {
            if (!flowing.TryDequeue(out var next))
            {
                var (link, way) = still.Dequeue();
                Step(link, way);
                continue;
            }

            var onward = _onward[next.At].Where(l => l.Via is not SendPoint && l.To is CablePoint or AppPoint or DevicePoint { Side: Side.Out } or SourcePoint { Tap: Tap.Raw }).ToList();
            if (onward.Count == 0 && next.At is CablePoint open)
            {
                // Its own name is told at the end.
                Add(EndAt(open, isOpen: true), next.Way with { Cables = next.Way.Cables.IsEmpty ? [] : next.Way.Cables[..^1] });
            }

            foreach (var link in onward)
            {
                var so = next.Way.State == LinkState.On ? link.State : next.Way.State;
                var way = next.Way with { State = so, Gain = next.Way.Gain * link.Gain };
                if (link.State == LinkState.On)
                {
                    Step(link, way);
                }
                else
                {
                    still.Enqueue((link, way));
                }
            }
        }

        return found;

        void Step(Link link, Way way)
        {
            if (link.To is not CablePoint cable)
            {
                Add(EndAt(link.To, isOpen: false), way);
            }
            else if (passed.Add(cable))
            {
                flowing.Enqueue((cable, way with { Cables = way.Cables.Add(_s.NameOf(cable)) }));
            }
        }

        void Add(int end, Way way)
        {
            if (ended.Add(end))
            {
                found.Add(way with { End = end });
            }
        }
    }

    private int EndAt(Point point, bool isOpen)
    {
        if (!_endOf.TryGetValue(point, out var end))
        {
            _endOf[point] = end = _ends.Count;
            _ends.Add(new End(point, point is SourcePoint source ? $"the desk, as {_s.NameOf(new SourcePoint(source.Id))}" : _s.NameInFull(point), isOpen, _latest.TryGetValue(point, out var latest) ? latest : null));
        }

        return end;
    }

    // What reaches somebody past all mixes: sources that play into cables, programs that play to devices and cables, microphones that programs take, direct monitoring.
    private void AddDirect()
    {
        foreach (var source in _rig.Sources)
        {
            foreach (var tap in new[] { Tap.Raw, Tap.BeforeChain, Tap.AfterChain })
            {
                foreach (var link in _onward[new SourcePoint(source.Id, tap)].Where(l => l.To is CablePoint))
                {
                    AddDirect(_startOf[source.Id], link);
                }
            }
        }

        if (!UsesComputer())
        {
            return;
        }

        foreach (var app in _s.Gear.Apps.Where(a => a.IsRunning && Spread.HasOwnSound(a)))
        {
            foreach (var port in app.Ports.Where(p => p.Side == Side.Out))
            {
                var point = new AppPoint(app.Id, port.Id);
                foreach (var link in _onward[point].Where(l => l.To is CablePoint or DevicePoint && l.State == LinkState.On))
                {
                    // Into a cable that only sources take: those begin there.
                    if (link.To is CablePoint cable && _onward[cable].Any() && _onward[cable].All(l => l.To is SourcePoint))
                    {
                        continue;
                    }

                    AddDirect(OwnerOf(new Origin(point, 0), point), link);
                }
            }
        }

        foreach (var device in _s.Gear.Devices)
        {
            var point = new DevicePoint(device.Id, Side.In);
            foreach (var link in _onward[point].Where(l => l.To is AppPoint or DevicePoint { Side: Side.Out } && l.State == LinkState.On))
            {
                foreach (var channel in link.Map.Cells.Where(c => c.Gain != 0).Select(c => c.From).Distinct().Where(c => c < device.Inputs.Length && device.Inputs[c].Plugged != Plugged.Nothing))
                {
                    AddDirect(OwnerOf(new Origin(point, channel), point), link, channel);
                }
            }
        }
    }

    // What else the computer does is no part of a show that takes nothing of it, gives nothing to it and wants nothing of it.
    private bool UsesComputer() =>
        _rig.Sources.Any(o => o.Input is DeviceInput or AppInput or EverythingElseInput)
        || _rig.Mixes.Any(m => m.Destinations.Any(x => x.End is DeviceOutput))
        || !_rig.Wishes.Roles.IsEmpty
        || !_rig.Wishes.Ports.IsEmpty
        || _rig.Cables.Any(c => _onward[new CablePoint(c.Id)].Any(l => l.To is AppPoint));

    private void AddDirect(int start, Link link, int channel = -1)
    {
        if (link.To is not CablePoint cable)
        {
            _branches.Add(new Branch(start, -1, EndAt(link.To, isOpen: false), link.From, channel, link.Gain, StateOf(link.State), []));
            return;
        }

        foreach (var way in EndsFrom(cable, link.State, link.Gain))
        {
            _branches.Add(new Branch(start, -1, way.End, link.From, channel, way.Gain, StateOf(way.State), _ends[way.End].Point == cable ? [] : [_s.NameOf(cable), .. way.Cables]));
        }
    }

    // The source that takes it; or a start of its own.
    private int OwnerOf(Origin origin, Point point)
    {
        if (_s.SourceOf(origin) is { } source)
        {
            return _startOf[source.Id];
        }

        if (!_otherStarts.TryGetValue(point, out var start))
        {
            _otherStarts[point] = start = _starts.Count;
            _starts.Add(new Start(null, point, _s.NameInFull(point), "past the desk", []));
        }

        return start;
    }

    // The loudest for each two ways that meet.
    private ImmutableArray<Twin> Twins()
    {
        var twins = new Dictionary<(Point At, int One, int Other), Twin>();
        foreach (var meeting in _s.Spread.Meetings)
        {
            for (var w = 1; w < meeting.Ways.Length; w++)
            {
                var two = new SoundDouble(meeting.Ways[0], meeting.Ways[w]);
                if (two.LevelDecibels < Doubles.NotBelow || PlaceOf(meeting.At) is not { } at)
                {
                    continue;
                }

                var (one, other) = (TrackOf(two.Louder, meeting.Origin), TrackOf(two.Other, meeting.Origin));
                if (one is not { } a || other is not { } b || a == b)
                {
                    continue;
                }

                var key = (at, at is MixPoint ? a.Start : a.Mix, at is MixPoint ? b.Start : b.Mix);
                if (!twins.TryGetValue(key, out var known) || known.LevelDecibels < two.LevelDecibels)
                {
                    twins[key] = new Twin(at, a.Start, at is MixPoint ? -1 : a.Mix, b.Start, at is MixPoint ? -1 : b.Mix, Math.Abs(two.DelayMilliseconds), two.LevelDecibels);
                }
            }
        }

        return [.. twins.Values.OrderBy(t => t.At.ToString(), StringComparer.Ordinal).ThenBy(t => t.One).ThenBy(t => t.Other).ThenBy(t => t.OneMix)];
    }

    // Where on the map two ways meet: in a mix, at an end; in a cable, at the first end that it leads to.
    private Point? PlaceOf(Point at) => at switch
    {
        MixPoint mix => new MixPoint(mix.Id),
        CablePoint cable => _endOf.ContainsKey(cable) ? cable : EndsFrom(cable, LinkState.On, 1) is [var first, ..] ? _ends[first.End].Point : null,
        _ => _endOf.ContainsKey(at) ? at : null,
    };

    // The start and the mix by which a way comes.
    private (int Start, int Mix)? TrackOf(SoundPath way, Origin origin)
    {
        var (start, mix) = (-1, -1);
        foreach (var link in way.Links)
        {
            if (link.Via is SendPoint send)
            {
                (start, mix) = (_startOf[send.Source], _mixOf[send.Mix]);
            }
            else if (link.From is SourcePoint source && mix < 0)
            {
                start = _startOf[source.Id];
            }
        }

        if (start < 0)
        {
            start = _s.SourceOf(origin) is { } owner ? _startOf[owner.Id] : _otherStarts.GetValueOrDefault(origin.Point, -1);
        }

        return start < 0 ? null : (start, mix);
    }

    private ImmutableArray<Ring> Rings()
    {
        var rings = ImmutableArray.CreateBuilder<Ring>();
        foreach (var loop in _s.Routed.Loops.All)
        {
            var at = loop.Points.OfType<MixPoint>().Select(p => (Point)new MixPoint(p.Id)).FirstOrDefault()
                ?? loop.Points.FirstOrDefault(_endOf.ContainsKey)
                ?? loop.Points.OfType<SourcePoint>().Select(p => (Point)new SourcePoint(p.Id)).FirstOrDefault();
            if (at is not null)
            {
                rings.Add(new Ring(at, loop.GainDecibels, !loop.Held.IsEmpty, loop.Names));
            }
        }

        return rings.ToImmutable();
    }
}

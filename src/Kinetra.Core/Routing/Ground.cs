using System.Collections.Immutable;
using Kinetra.Core.Gear;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Routing;

/// <summary>
/// All points that there are, by their places: first the cables, then of each source, then of each mix, what is raw, before and after its
/// chain; then the computer's devices and programs. Kept for as long as none comes or goes.
/// </summary>
sealed class Ground
{
    /// <summary>How many points a source or a mix has: its taps.</summary>
    public const int TapsEach = 3;

    private readonly (SourceId Id, int Channels)[] _sources;
    private readonly (CableId Id, int Channels, int Buffer)[] _cables;
    private readonly MixId[] _mixes;
    private readonly (Point Point, int Channels)[] _ports;
    private readonly Dictionary<CableId, int> _cableIndices = [];
    private readonly Dictionary<Point, int> _places = [];

    private Ground((SourceId Id, int Channels)[] sources, (Point Point, int Channels)[] ports, Rig rig)
    {
        (_sources, _ports) = (sources, ports);
        _cables = [.. rig.Cables.Select(c => (c.Id, c.Channels, c.BufferFrames))];
        _mixes = [.. rig.Mixes.Select(m => m.Id)];
        var points = ImmutableArray.CreateBuilder<Point>();
        var channels = ImmutableArray.CreateBuilder<int>();
        foreach (var (id, count, _) in _cables)
        {
            _cableIndices.Add(id, _cableIndices.Count);
            Add(new CablePoint(id), count);
        }

        foreach (var (id, count) in _sources)
        {
            Add(new SourcePoint(id, Tap.Raw), count);
            Add(new SourcePoint(id, Tap.BeforeChain), count);
            Add(new SourcePoint(id), count);
        }

        foreach (var id in _mixes)
        {
            Add(new MixPoint(id, Tap.Raw), 2);
            Add(new MixPoint(id, Tap.BeforeChain), 2);
            Add(new MixPoint(id), 2);
        }

        foreach (var (point, count) in _ports)
        {
            Add(point, count);
        }

        (Points, Channels) = (points.ToImmutable(), channels.ToImmutable());

        void Add(Point point, int count)
        {
            _places.Add(point, points.Count);
            points.Add(point);
            channels.Add(count);
        }
    }

    /// <summary>All points, each once.</summary>
    public ImmutableArray<Point> Points { get; }

    /// <summary>How many channels each point has.</summary>
    public ImmutableArray<int> Channels { get; }

    /// <summary>The ground of a rig: the one before, where it is the same.</summary>
    public static Ground Of(Rig rig, Computer computer, Ground? before)
    {
        var sources = new (SourceId Id, int Channels)[rig.Sources.Length];
        for (var s = 0; s < sources.Length; s++)
        {
            sources[s] = (rig.Sources[s].Id, Resolve.ChannelsOf(rig.Sources[s], computer));
        }

        var ports = PortsOf(rig, computer.Gear);
        return before is not null && before.IsOf(rig) && sources.AsSpan().SequenceEqual(before._sources) && ports.AsSpan().SequenceEqual(before._ports)
            ? before
            : new Ground(sources, ports, rig);
    }

    /// <summary>How many channels a point has; 0 where it is not there.</summary>
    public int ChannelsOf(Point point) => PlaceOf(point) is >= 0 and var place ? Channels[place] : 0;

    /// <summary>How many cables there are.</summary>
    public int CableCount => _cables.Length;

    /// <summary>The place of the computer's first point.</summary>
    public int FirstPort => PlaceOfMix(_mixes.Length);

    /// <summary>The place of a point, or −1.</summary>
    public int PlaceOf(Point point) => _places.GetValueOrDefault(point, -1);

    /// <summary>The place of the source at that index, raw; the other taps follow.</summary>
    public int PlaceOfSource(int index) => _cables.Length + (index * TapsEach);

    /// <summary>The place of the mix at that index, raw; the other taps follow.</summary>
    public int PlaceOfMix(int index) => PlaceOfSource(_sources.Length) + (index * TapsEach);

    /// <summary>What stands at a place: a cable (tap left open), a source or a mix, which of them in the rig's order, and at which tap, raw first.</summary>
    public (PointKind Kind, int Index, int Tap) At(int place)
    {
        var (strip, tap) = Math.DivRem(place - _cables.Length, TapsEach);
        return place < _cables.Length ? (PointKind.Cable, place, 0)
            : place >= FirstPort ? (PointKind.Port, place - FirstPort, 0)
            : strip < _sources.Length ? (PointKind.Source, strip, tap)
            : (PointKind.Mix, strip - _sources.Length, tap);
    }

    /// <summary>How many channels a cable has and how long it buffers, frames; null where there is none of that id.</summary>
    public (int Channels, int Buffer)? Cable(CableId id) =>
        _cableIndices.TryGetValue(id, out var index) ? (_cables[index].Channels, _cables[index].Buffer) : null;

    // What the computer has, and what the show plays to that the computer does not have: a browser's outputs.
    private static (Point Point, int Channels)[] PortsOf(Rig rig, GearState gear)
    {
        var ports = new List<(Point Point, int Channels)>();
        foreach (var device in gear.Devices)
        {
            if (device.Inputs.Length > 0)
            {
                ports.Add((new DevicePoint(device.Id, Side.In), device.Inputs.Length));
            }

            if (device.Outputs > 0)
            {
                ports.Add((new DevicePoint(device.Id, Side.Out), device.Outputs));
            }
        }

        foreach (var app in gear.Apps)
        {
            foreach (var port in app.Ports)
            {
                ports.Add((new AppPoint(app.Id, port.Id), port.Channels));
            }
        }

        foreach (var mix in rig.Mixes)
        {
            foreach (var destination in mix.Destinations)
            {
                if (destination.End is BrowserOutput && !ports.Exists(p => p.Point == destination.End.Point))
                {
                    ports.Add((destination.End.Point, 2));
                }
            }
        }

        return [.. ports];
    }

    private bool IsOf(Rig rig)
    {
        if (rig.Cables.Length != _cables.Length || rig.Mixes.Length != _mixes.Length)
        {
            return false;
        }

        for (var c = 0; c < _cables.Length; c++)
        {
            if ((rig.Cables[c].Id, rig.Cables[c].Channels, rig.Cables[c].BufferFrames) != _cables[c])
            {
                return false;
            }
        }

        for (var m = 0; m < _mixes.Length; m++)
        {
            if (rig.Mixes[m].Id != _mixes[m])
            {
                return false;
            }
        }

        return true;
    }
}

/// <summary>What a point is a point of.</summary>
enum PointKind
{
    /// <summary>A source.</summary>
    Source,

    /// <summary>A mix.</summary>
    Mix,

    /// <summary>A cable.</summary>
    Cable,

    /// <summary>A device or a program of the computer.</summary>
    Port,
}

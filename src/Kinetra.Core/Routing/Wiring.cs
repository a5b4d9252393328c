using System.Collections.Immutable;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Routing;

/// <summary>What is there, as far as a show needs it: for each source whose sound comes from outside, how many channels it gives.</summary>
/// <param name="Channels">1 or 2 by the source's id; one that is missing gives 2.</param>
public sealed record Computer(IReadOnlyDictionary<SourceId, int> Channels)
{
    /// <summary>Nothing is known.</summary>
    public static readonly Computer Unknown = new(ImmutableDictionary<SourceId, int>.Empty);
}

/// <summary>
/// A show and a computer resolved: all points that there are, and all links between them. Nothing else knows how a rig is wired.
/// </summary>
public sealed class Wiring
{
    private readonly Dictionary<Point, int> _places;

    internal Wiring(Rig rig, ImmutableArray<Point> points, ImmutableArray<int> channels, ImmutableArray<Link> links)
    {
        (Rig, Points, Channels, Links) = (rig, points, channels, links);
        _places = new Dictionary<Point, int>(points.Length);
        for (var i = 0; i < points.Length; i++)
        {
            _places.Add(points[i], i);
        }

        Ends = [.. links.Select(l => (_places[l.From], _places[l.To]))];
    }

    /// <summary>The rig that it came from.</summary>
    public Rig Rig { get; }

    /// <summary>All points, each once.</summary>
    public ImmutableArray<Point> Points { get; }

    /// <summary>How many channels each point has.</summary>
    public ImmutableArray<int> Channels { get; }

    /// <summary>All links.</summary>
    public ImmutableArray<Link> Links { get; }

    /// <summary>For each link, the places in <see cref="Points"/> that it leads from and to.</summary>
    internal ImmutableArray<(int From, int To)> Ends { get; }

    /// <summary>How many channels a point has; 0 where it is not there.</summary>
    public int ChannelsOf(Point point) => _places.TryGetValue(point, out var place) ? Channels[place] : 0;

    /// <summary>The place of a point in <see cref="Points"/>, or −1.</summary>
    internal int PlaceOf(Point point) => _places.GetValueOrDefault(point, -1);
}

using System.Collections.Immutable;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Routing;

/// <summary>What is joined to what in a wiring, however loud it is: while none of that changes, what follows from it is worked out once.</summary>
sealed class Shape
{
    private readonly ImmutableArray<Link> _links;
    private readonly int[] _into;
    private readonly int[] _intoStart;
    private readonly Lazy<RunOrder?> _order;
    private readonly Lazy<Dictionary<(Point From, Point To), int>> _indices;

    private Shape(Ground ground, ImmutableArray<Link> links)
    {
        (Ground, _links) = (ground, links);
        var ends = ImmutableArray.CreateBuilder<(int From, int To)>(links.Length);
        foreach (var link in links)
        {
            ends.Add((ground.PlaceOf(link.From), ground.PlaceOf(link.To)));
        }

        Ends = ends.ToImmutable();
        _into = [.. Enumerable.Range(0, links.Length).OrderBy(i => Ends[i].To)];
        _intoStart = new int[ground.Points.Length + 1];
        foreach (var (_, to) in Ends)
        {
            _intoStart[to + 1]++;
        }

        for (var p = 0; p < ground.Points.Length; p++)
        {
            _intoStart[p + 1] += _intoStart[p];
        }

        _order = new(() => RunOrder.Of(this));
        _indices = new(() =>
        {
            var indices = new Dictionary<(Point From, Point To), int>(_links.Length);
            for (var i = 0; i < _links.Length; i++)
            {
                if (_links[i].Use == LinkUse.Sound)
                {
                    indices.TryAdd(_links[i].Identity, i);
                }
            }

            return indices;
        });
    }

    /// <summary>The points.</summary>
    public Ground Ground { get; }

    /// <summary>For each link, the places of the points that it leads from and to.</summary>
    public ImmutableArray<(int From, int To)> Ends { get; }

    /// <summary>In which order it is computed, or null where there is none.</summary>
    public RunOrder? Order => _order.Value;

    /// <summary>How many links there are.</summary>
    public int Count => _links.Length;

    /// <summary>The shape of a wiring: the one before, where it is the same.</summary>
    public static Shape Of(Ground ground, ImmutableArray<Link> links, Shape? before) =>
        before is not null && before.Ground == ground && before.IsOf(links) ? before : new Shape(ground, links);

    /// <summary>What may be done to a link where sound goes round.</summary>
    public Breaking BreakingOf(int link) => _links[link].Breaking;

    /// <summary>The links that come to a point, in their order, keys too.</summary>
    public ReadOnlySpan<int> Into(int place) => _into.AsSpan(_intoStart[place].._intoStart[place + 1]);

    /// <summary>The place of a sounding link by what it stays the same by, or −1.</summary>
    public int Find((Point From, Point To) identity) => _indices.Value.GetValueOrDefault(identity, -1);

    private bool IsOf(ImmutableArray<Link> links)
    {
        if (links.Length != _links.Length)
        {
            return false;
        }

        for (var i = 0; i < links.Length; i++)
        {
            var (one, other) = (links[i], _links[i]);
            if (!ReferenceEquals(one, other)
                && !(one.Use == other.Use && one.Breaking == other.Breaking && one.From == other.From && one.To == other.To && one.Via == other.Via))
            {
                return false;
            }
        }

        return true;
    }
}

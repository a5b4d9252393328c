using System.Collections.Immutable;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Routing;

/// <summary>
/// Whether anything at all of a sound can come from one place to another: however softly, and round loops too, which <see cref="Reach"/> and
/// <see cref="Spread"/> cut open. Channel by channel, over the links that sound flows along now. Any thread.
/// </summary>
public sealed class Passage
{
    private readonly Dictionary<Point, List<Link>> _onward = [];
    private readonly Dictionary<Point, List<Link>> _back = [];

    /// <summary>Of a show and a computer as they are wired, with what is held held.</summary>
    public Passage(Routed routed)
    {
        ArgumentNullException.ThrowIfNull(routed);
        foreach (var link in routed.Wiring.Links)
        {
            if (link.Use == LinkUse.Sound && link.Factor != 0)
            {
                Add(_onward, link.From, link);
                Add(_back, link.To, link);
            }
        }
    }

    /// <summary>The shortest way from any of some channels to a point, or null where there is none.</summary>
    /// <param name="from">Where the sound begins.</param>
    /// <param name="to">The listener's last point.</param>
    public ImmutableArray<Link>? Between(IEnumerable<Origin> from, Point to)
    {
        ArgumentNullException.ThrowIfNull(from);
        ArgumentNullException.ThrowIfNull(to);
        var via = new Dictionary<Origin, (Origin Before, Link? Link)>();
        var open = new Queue<Origin>();
        foreach (var origin in from)
        {
            if (via.TryAdd(origin, (origin, null)))
            {
                open.Enqueue(origin);
            }
        }

        while (open.TryDequeue(out var at))
        {
            foreach (var link in _onward.GetValueOrDefault(at.Point) ?? [])
            {
                foreach (var channel in Over(link, at.Channel, forward: true))
                {
                    var next = new Origin(link.To, channel);
                    if (via.TryAdd(next, (at, link)) && link.To == to)
                    {
                        return Walked(via, next);
                    }

                    if (via[next] == (at, link))
                    {
                        open.Enqueue(next);
                    }
                }
            }
        }

        return null;
    }

    /// <summary>All channels of all points of which anything comes to a point, itself not among them.</summary>
    public ImmutableHashSet<Origin> Into(Point to)
    {
        ArgumentNullException.ThrowIfNull(to);
        var found = ImmutableHashSet.CreateBuilder<Origin>();
        var open = new Queue<Origin>();
        foreach (var link in _back.GetValueOrDefault(to) ?? [])
        {
            Enter(link, Enumerable.Range(0, link.Map.To));
        }

        while (open.TryDequeue(out var at))
        {
            foreach (var link in _back.GetValueOrDefault(at.Point) ?? [])
            {
                Enter(link, [at.Channel]);
            }
        }

        return found.ToImmutable();

        void Enter(Link link, IEnumerable<int> channels)
        {
            foreach (var channel in channels.SelectMany(c => Over(link, c, forward: false)))
            {
                var before = new Origin(link.From, channel);
                if (before.Point != to && found.Add(before))
                {
                    open.Enqueue(before);
                }
            }
        }
    }

    // Where a channel goes over a link, or where it comes from.
    private static IEnumerable<int> Over(Link link, int channel, bool forward)
    {
        var crosses = link is { Chain.IsEmpty: false, Map.From: 2 } && ChainGain.Steady(link).Cross != 0;
        foreach (var cell in link.Map.Cells)
        {
            if (cell.Gain == 0)
            {
                continue;
            }

            var (from, to) = (cell.From, cell.To);
            if ((forward ? from : to) == channel)
            {
                yield return forward ? to : from;
            }

            if (crosses && (forward ? 1 - from : to) == channel)
            {
                yield return forward ? to : 1 - from;
            }
        }
    }

    private static ImmutableArray<Link> Walked(Dictionary<Origin, (Origin Before, Link? Link)> via, Origin end)
    {
        var links = new List<Link>();
        for (var (at, link) = via[end]; link is not null; (at, link) = via[at])
        {
            links.Add(link);
        }

        links.Reverse();
        return [.. links];
    }

    private static void Add(Dictionary<Point, List<Link>> lists, Point point, Link link)
    {
        if (!lists.TryGetValue(point, out var list))
        {
            lists[point] = list = [];
        }

        list.Add(link);
    }
}

using Kinetra.Core.Processors;

namespace Kinetra.Core.Routing;

/// <summary>One way from a channel to a channel.</summary>
/// <param name="From">The channel that it leaves.</param>
/// <param name="To">The channel that it comes to.</param>
/// <param name="Link">The link of the wiring that it is part of.</param>
/// <param name="Factor">By what it is multiplied, the chain apart.</param>
/// <param name="Crosses">True where it goes from one side of the link's chain to the other.</param>
readonly record struct ChannelWay(int From, int To, int Link, double Factor, bool Crosses);

/// <summary>A strongly connected part of the channels.</summary>
/// <param name="Points">The points whose channels belong to it, as places in the wiring.</param>
/// <param name="Links">The links whose ways belong to it, as places in the wiring.</param>
/// <param name="Ways">Its ways.</param>
/// <param name="Channels">Its channels, each after all that it needs within the block.</param>
sealed record Circle(HashSet<int> Points, HashSet<int> Links, ChannelWay[] Ways, int[] Channels);

/// <summary>A wiring channel by channel: what every point has of them is a node, and every cell of every link is a way.</summary>
sealed class ChannelGraph
{
    private readonly int[] _first;
    private readonly int[] _rank;
    private readonly List<ChannelWay> _ways = [];

    public ChannelGraph(Wiring wiring, RunOrder order)
    {
        (Wiring, Order) = (wiring, order);
        _first = new int[wiring.Points.Length + 1];
        for (var p = 0; p < wiring.Points.Length; p++)
        {
            _first[p + 1] = _first[p] + wiring.Channels[p];
        }

        _rank = new int[wiring.Points.Length];
        for (var i = 0; i < order.Places.Length; i++)
        {
            _rank[order.Places[i]] = i;
        }

        for (var i = 0; i < wiring.Links.Length; i++)
        {
            if (wiring.Links[i].Use == LinkUse.Sound && !order.IsCut(i))
            {
                AddWays(i);
            }
        }
    }

    public Wiring Wiring { get; }

    public RunOrder Order { get; }

    /// <summary>All strongly connected parts of more than one channel.</summary>
    /// <param name="flowing">True: only of ways that sound flows along now. False: as if everything sounded.</param>
    /// <param name="without">Links that are left out, as places in the wiring.</param>
    public List<Circle> Circles(bool flowing, HashSet<int>? without = null)
    {
        var ways = _ways.Where(w => (!flowing || Wiring.Links[w.Link].Factor * w.Factor > 0) && without?.Contains(w.Link) != true).ToArray();
        var parts = Parts(ways);
        return
        [
            .. ways.Where(w => parts[w.From] == parts[w.To]).GroupBy(w => parts[w.From]).OrderBy(g => g.Key).Select(g =>
            {
                var own = g.ToArray();
                var channels = own.Select(w => w.From).Distinct().OrderBy(c => _rank[PointOf(c)]).ToArray();
                return new Circle([.. channels.Select(PointOf)], [.. own.Select(w => w.Link)], own, channels);
            }),
        ];
    }

    /// <summary>The place in the wiring of the point that a channel belongs to.</summary>
    public int PointOf(int channel)
    {
        var at = Array.BinarySearch(_first, channel);
        if (at < 0)
        {
            return ~at - 1;
        }

        // A point without channels begins where the next one does.
        while (_first[at + 1] == channel)
        {
            at++;
        }

        return at;
    }

    private void AddWays(int index)
    {
        var link = Wiring.Links[index];
        var (from, to) = Wiring.Ends[index];
        var crosses = link.Map.From == 2 && link.Chain.Any(p => !p.Bypassed && ProcessorTypes.Find(p.Type) is { } type && type.CrossGain(new ProcessorSettings(2, p.ValuesOf(type))) > 0);
        foreach (var cell in link.Map.Cells)
        {
            if (cell.Gain == 0)
            {
                continue;
            }

            _ways.Add(new ChannelWay(_first[from] + cell.From, _first[to] + cell.To, index, Math.Abs(cell.Gain), false));
            if (crosses)
            {
                _ways.Add(new ChannelWay(_first[from] + 1 - cell.From, _first[to] + cell.To, index, Math.Abs(cell.Gain), true));
            }
        }
    }

    // Tarjan 1972, without recursion. Which part each channel belongs to.
    private int[] Parts(ChannelWay[] ways)
    {
        var count = _first[^1];
        var starts = new int[count + 1];
        foreach (var way in ways)
        {
            starts[way.From + 1]++;
        }

        for (var c = 0; c < count; c++)
        {
            starts[c + 1] += starts[c];
        }

        var targets = new int[ways.Length];
        var filled = starts[..count];
        foreach (var way in ways)
        {
            targets[filled[way.From]++] = way.To;
        }

        var (index, low, part, next) = (new int[count], new int[count], new int[count], starts[..count]);
        Array.Fill(part, -1);
        var (open, path, seen, parts) = (new Stack<int>(), new Stack<int>(), 0, 0);
        for (var root = 0; root < count; root++)
        {
            if (index[root] != 0)
            {
                continue;
            }

            path.Push(root);
            while (path.TryPeek(out var at))
            {
                if (index[at] == 0)
                {
                    index[at] = low[at] = ++seen;
                    open.Push(at);
                }

                var deeper = false;
                while (next[at] < starts[at + 1])
                {
                    var to = targets[next[at]];
                    if (index[to] == 0)
                    {
                        path.Push(to);
                        deeper = true;
                        break;
                    }

                    if (part[to] < 0)
                    {
                        low[at] = Math.Min(low[at], low[to]);
                    }

                    next[at]++;
                }

                if (deeper)
                {
                    continue;
                }

                path.Pop();
                if (low[at] == index[at])
                {
                    int popped;
                    do
                    {
                        popped = open.Pop();
                        part[popped] = parts;
                    }
                    while (popped != at);
                    parts++;
                }
            }
        }

        return part;
    }
}

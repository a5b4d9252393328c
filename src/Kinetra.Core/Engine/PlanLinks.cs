using Kinetra.Core.Routing;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Engine;

/// <summary>The links of a plan: their nodes, found by what they join, and how late and how loud they are now.</summary>
sealed class PlanLinks
{
    private readonly Outlet[] _outlets;
    private readonly LinkRoom _room;
    private readonly Dictionary<LinkNode, Setting> _settings = new(ReferenceEqualityComparer.Instance);
    private readonly Wiring _wiring;

    /// <summary>For each link of the wiring its node; null where the engine does not compute it here.</summary>
    private readonly LinkNode?[] _nodes;

    /// <summary>Makes or takes over the node of every link that the engine computes between nodes.</summary>
    /// <param name="routed">What is to run.</param>
    /// <param name="outlets">What each point gives.</param>
    /// <param name="chains">The chains of the links that are points themselves: sends.</param>
    /// <param name="begins">Whether a link that is new is there from its first frame on; else it fades in.</param>
    /// <param name="previous">The links before, of which those are taken over whose ends stay; null: none.</param>
    /// <param name="stays">Whether a point is given by the same node as before.</param>
    public PlanLinks(
        Routed routed,
        IReadOnlyDictionary<Point, Outlet> outlets,
        PlanChains chains,
        Func<Link, bool> begins,
        PlanLinks? previous,
        Func<Point, bool> stays)
    {
        _outlets = [.. outlets.Values];
        _room = previous?._room ?? new LinkRoom();
        _wiring = routed.Wiring;
        _nodes = new LinkNode?[_wiring.Links.Length];
        _settings.EnsureCapacity(_nodes.Length);
        var (points, ends) = (_wiring.Points, _wiring.Ends);
        var stay = new bool[points.Length];
        var given = new Outlet?[points.Length];
        for (var p = 0; p < points.Length; p++)
        {
            (stay[p], given[p]) = (previous is not null && stays(points[p]), outlets.GetValueOrDefault(points[p]));
        }

        for (var i = 0; i < _nodes.Length; i++)
        {
            var link = _wiring.Links[i];
            if (link.Use != LinkUse.Sound || !IsComputedHere(link))
            {
                continue;
            }

            var late = routed.Order.IsLate(i) || routed.Order.IsCut(i);
            var own = link.Delays.Buffer + link.Delays.Device;
            var delay = routed.Alignment.WaitOf(i) + (late ? Math.Max(own, AudioFormat.BlockFrames) : own);
            var from = given[ends[i].From]!;
            if (delay > 0)
            {
                from.MakeRoom();
            }

            var index = stay[ends[i].From] && stay[ends[i].To] ? previous!.IndexOf(i, this) : -1;
            var old = index < 0 ? null : previous!._nodes[index];
            var before = old is null ? null : previous!._settings[old];
            var chain = link.Chain.IsEmpty ? null : chains.At(link.Via!);
            if (before is not null && ReferenceEquals(link, previous!._wiring.Links[index]) && before.IsOf(from, delay, late, chain))
            {
                _nodes[i] = old;
                _settings.Add(old!, before);
                continue;
            }

            var (cells, units) = CellsOf(link, before, before is null && begins(link));
            var node = old ?? new LinkNode(link.Via ?? link.To, _room, cells, from, delay, isMetered: link.Via is SendPoint);
            _nodes[i] = node;
            _settings.Add(node, new Setting(cells, units, link.Factor, from, delay, late, chain));
        }
    }

    /// <summary>The links that come to a point, in the wiring's order.</summary>
    public LinkNode[] Into(Point point)
    {
        var place = _wiring.PlaceOf(point);
        var into = new List<LinkNode>();
        if (place >= 0)
        {
            foreach (var link in _wiring.Shape.Into(place))
            {
                if (_nodes[link] is { } node)
                {
                    into.Add(node);
                }
            }
        }

        return [.. into];
    }

    /// <summary>The node of the link at a place of the wiring, or null.</summary>
    public LinkNode? At(int link) => _nodes[link];

    /// <summary>The node of a link, or null.</summary>
    public LinkNode? Find((Point From, Point To) link) => _wiring.Shape.Find(link) is >= 0 and var index ? _nodes[index] : null;

    /// <summary>What sets a link to other factors, cell by cell; null where it has others than the map.</summary>
    public LevelChange? Level((Point From, Point To) link, ChannelMap map, double factor)
    {
        if (Find(link) is not { } node)
        {
            return null;
        }

        var cells = _settings[node].Cells;
        var units = new double[cells.Length];
        for (var i = 0; i < cells.Length; i++)
        {
            units[i] = UnitOf(map, cells[i].From, cells[i].To);
        }

        foreach (var cell in map.Cells)
        {
            if (!Array.Exists(cells, c => c.From == cell.From && c.To == cell.To))
            {
                return null;
            }
        }

        return new LevelChange.OfLink(cells, units, factor);
    }

    /// <summary>Engine thread, before it is this plan's turn: what it reads later is kept from now on. True once all of that is there.</summary>
    public bool Arm(long frame)
    {
        var isThere = true;
        foreach (var (_, setting) in _settings)
        {
            if (setting.Delay > 0)
            {
                setting.From.Need(frame);
                isThere &= setting.From.HasKept(frame, Math.Min(setting.Delay, Outlet.MaxDelay));
            }
        }

        return isThere;
    }

    /// <summary>Engine thread: sets how late and how loud all is to what this plan wants.</summary>
    public void Activate(long frame)
    {
        foreach (var outlet in _outlets)
        {
            outlet.Release(frame);
        }

        foreach (var (node, setting) in _settings)
        {
            if (setting.Delay > 0)
            {
                setting.From.Need(frame);
            }

            node.SetReading(setting.From, setting.Delay);
            node.Take(setting.Cells, setting.Chain);
            for (var i = 0; i < setting.Cells.Length; i++)
            {
                setting.Cells[i].Set(setting.Units[i], setting.Factor);
            }
        }
    }

    /// <summary>
    /// Engine thread: fades out what the next plan no longer has, or reads a block later, which cannot be read in this one's time any
    /// more and comes out of silence. True once all of that is silent.
    /// </summary>
    public bool Retire(PlanLinks next)
    {
        var silent = true;
        foreach (var (node, setting) in _settings)
        {
            var stays = next._settings.TryGetValue(node, out var then);
            if (!stays || (then!.IsLate && !setting.IsLate))
            {
                foreach (var cell in setting.Cells)
                {
                    cell.Set(0, 0);
                }

                silent &= node.IsSilent;
            }
        }

        return silent;
    }

    // Where another plan's link stood in this one; of two wirings of one shape, in the same place.
    private int IndexOf(int link, PlanLinks other) =>
        _wiring.Shape == other._wiring.Shape ? link : _wiring.Shape.Find(other._wiring.Links[link].Identity);

    // What leads from a source's or a mix's one tap to the next is its node's own.
    private static bool IsComputedHere(Link link) => link.To is CablePoint or DevicePoint or AppPoint or SourcePoint { Tap: Tap.Raw } or MixPoint { Tap: Tap.Raw };

    // Cells that the link had and has no more fade out.
    private static (LinkCell[] Cells, double[] Units) CellsOf(Link link, Setting? before, bool begins)
    {
        ReadOnlySpan<LinkCell> old = before?.Cells;
        ReadOnlySpan<Cell> map = link.Map.Cells.AsSpan();
        var gone = 0;
        foreach (var cell in old)
        {
            gone += Has(map, cell) ? 0 : 1;
        }

        var (cells, units) = (new LinkCell[map.Length + gone], new double[map.Length + gone]);
        for (var i = 0; i < map.Length; i++)
        {
            units[i] = map[i].Gain;
            cells[i] = Find(old, map[i].From, map[i].To) ?? new LinkCell(map[i].From, map[i].To, begins ? (float)(map[i].Gain * link.Factor) : 0);
        }

        foreach (var cell in old)
        {
            if (!Has(map, cell))
            {
                cells[^gone--] = cell;
            }
        }

        return (cells, units);
    }

    private static bool Has(ReadOnlySpan<Cell> map, LinkCell cell)
    {
        foreach (var one in map)
        {
            if (one.From == cell.From && one.To == cell.To)
            {
                return true;
            }
        }

        return false;
    }

    private static LinkCell? Find(ReadOnlySpan<LinkCell> cells, int from, int to)
    {
        foreach (var cell in cells)
        {
            if (cell.From == from && cell.To == to)
            {
                return cell;
            }
        }

        return null;
    }

    private static double UnitOf(ChannelMap map, int from, int to)
    {
        foreach (var cell in map.Cells)
        {
            if (cell.From == from && cell.To == to)
            {
                return cell.Gain;
            }
        }

        return 0;
    }

    private sealed record Setting(LinkCell[] Cells, double[] Units, double Factor, Outlet From, int Delay, bool IsLate, ChainRun? Chain)
    {
        /// <summary>True where it reads and processes just so.</summary>
        public bool IsOf(Outlet from, int delay, bool isLate, ChainRun? chain) =>
            From == from && Delay == delay && IsLate == isLate && Chain == chain;
    }
}

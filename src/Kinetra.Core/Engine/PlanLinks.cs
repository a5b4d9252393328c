using Kinetra.Core.Routing;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Engine;

/// <summary>The links of a plan: their nodes, found by what they join, and how late and how loud they are now.</summary>
sealed class PlanLinks
{
    private readonly Outlet[] _outlets;
    private readonly LinkRoom _room;
    private readonly Dictionary<LinkNode, Setting> _settings = new(ReferenceEqualityComparer.Instance);
    private readonly Dictionary<(Point From, Point To), LinkNode> _nodes = [];

    /// <summary>The links that come to each point, in the wiring's order.</summary>
    private readonly Dictionary<Point, List<LinkNode>> _into = [];

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
        IReadOnlyDictionary<Point, ChainRun> chains,
        Func<Link, bool> begins,
        PlanLinks? previous,
        Func<Point, bool> stays)
    {
        _outlets = [.. outlets.Values];
        _room = previous?._room ?? new LinkRoom();
        for (var i = 0; i < routed.Wiring.Links.Length; i++)
        {
            var link = routed.Wiring.Links[i];
            if (link.Use != LinkUse.Sound || link.Realm != Realm.Engine || !IsComputedHere(link))
            {
                continue;
            }

            var late = routed.Order.IsLate[i] || routed.Order.IsCut[i];
            var delay = routed.Alignment.WaitOf(i) + (late ? Math.Max(link.Delays.Buffer, AudioFormat.BlockFrames) : link.Delays.Buffer);
            var from = outlets[link.From];
            var old = stays(link.From) && stays(link.To) ? previous?._nodes.GetValueOrDefault(link.Identity) : null;
            var before = old is null ? null : previous!._settings[old];
            var (cells, targets) = CellsOf(link, before, before is null && begins(link));
            var node = old ?? new LinkNode(link.Via ?? link.To, _room, cells, from, delay, link.Via is not null);
            _nodes[link.Identity] = node;
            _settings[node] = new Setting(cells, targets, from, delay, late, link.Via is null ? null : chains.GetValueOrDefault(link.Via));
            if (!_into.TryGetValue(link.To, out var into))
            {
                _into[link.To] = into = [];
            }

            into.Add(node);
        }
    }

    /// <summary>The links that come to a point, in the wiring's order.</summary>
    public LinkNode[] Into(Point point) => _into.TryGetValue(point, out var links) ? [.. links] : [];

    /// <summary>The node of a link, or null.</summary>
    public LinkNode? Find((Point From, Point To) link) => _nodes.GetValueOrDefault(link);

    /// <summary>What sets a link to other factors, cell by cell; null where it has others than the map.</summary>
    public LevelChange? Level((Point From, Point To) link, ChannelMap map, double factor)
    {
        if (_nodes.GetValueOrDefault(link) is not { } node)
        {
            return null;
        }

        var cells = _settings[node].Cells;
        var targets = new float[cells.Length];
        for (var i = 0; i < cells.Length; i++)
        {
            targets[i] = TargetOf(map, cells[i].From, cells[i].To, factor);
        }

        foreach (var cell in map.Cells)
        {
            if (!Array.Exists(cells, c => c.From == cell.From && c.To == cell.To))
            {
                return null;
            }
        }

        return new LevelChange.OfLink(cells, targets);
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
                setting.Cells[i].Target = setting.Targets[i];
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
                    cell.Target = 0;
                }

                silent &= node.IsSilent;
            }
        }

        return silent;
    }

    // What leads from a source's or a mix's one tap to the next is its node's own.
    private static bool IsComputedHere(Link link) => link.To is CablePoint or SourcePoint { Tap: Tap.Raw } or MixPoint { Tap: Tap.Raw };

    // Cells that the link had and has no more fade out.
    private static (LinkCell[] Cells, float[] Targets) CellsOf(Link link, Setting? before, bool begins)
    {
        var cells = new List<LinkCell>(link.Map.Cells.Length);
        var targets = new List<float>(link.Map.Cells.Length);
        foreach (var cell in link.Map.Cells)
        {
            var target = (float)(cell.Gain * link.Factor);
            cells.Add(Find(before?.Cells, cell.From, cell.To) ?? new LinkCell(cell.From, cell.To, begins ? target : 0));
            targets.Add(target);
        }

        for (var i = 0; i < before?.Cells.Length; i++)
        {
            if (Find(cells, before.Cells[i].From, before.Cells[i].To) is null)
            {
                cells.Add(before.Cells[i]);
                targets.Add(0);
            }
        }

        return ([.. cells], [.. targets]);
    }

    private static LinkCell? Find(IEnumerable<LinkCell>? cells, int from, int to)
    {
        foreach (var cell in cells ?? [])
        {
            if (cell.From == from && cell.To == to)
            {
                return cell;
            }
        }

        return null;
    }

    private static float TargetOf(ChannelMap map, int from, int to, double factor)
    {
        foreach (var cell in map.Cells)
        {
            if (cell.From == from && cell.To == to)
            {
                return (float)(cell.Gain * factor);
            }
        }

        return 0;
    }

    private sealed record Setting(LinkCell[] Cells, float[] Targets, Outlet From, int Delay, bool IsLate, ChainRun? Chain);
}

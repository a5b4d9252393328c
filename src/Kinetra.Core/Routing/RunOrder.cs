using System.Collections.Immutable;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;

namespace Kinetra.Core.Routing;

/// <summary>
/// In which order the nodes of a rig are computed, so that each comes after all that it needs. Where sound or keys go round in a
/// circle through a cable, one link that leaves a cable is taken one block late; of several, the one that stands last in the
/// rig. A circle without a cable has no order: there a processor listens to what it makes itself.
/// </summary>
public sealed class RunOrder
{
    private RunOrder(ImmutableArray<SoundNode> nodes, ImmutableArray<ImmutableArray<SoundNode>> waves, ImmutableHashSet<SoundLink> late) =>
        (Nodes, Waves, Late) = (nodes, waves, late);

    /// <summary>The nodes in their order.</summary>
    public ImmutableArray<SoundNode> Nodes { get; }

    /// <summary>The same nodes in as few waves as can be: those of a wave are of one stage, and need nothing of one another.</summary>
    public ImmutableArray<ImmutableArray<SoundNode>> Waves { get; }

    /// <summary>The links that close a circle: what they give is what was there a block ago.</summary>
    public ImmutableHashSet<SoundLink> Late { get; }

    /// <summary>The order, or null where there is none (<see cref="FindLoop"/> says why).</summary>
    public static RunOrder? Of(SoundGraph graph)
    {
        ArgumentNullException.ThrowIfNull(graph);
        var needs = graph.Nodes.ToDictionary(n => n, _ => new List<SoundNode>());
        foreach (var link in graph.Links.Where(l => IsFirm(l)))
        {
            needs[link.To].Add(link.From);
        }

        if (Sorted(graph, needs) is not { } order)
        {
            return null;
        }

        var late = ImmutableHashSet.CreateBuilder<SoundLink>(ReferenceEqualityComparer.Instance as IEqualityComparer<SoundLink>);
        var places = Places(order);
        foreach (var link in graph.Links.Where(l => !IsFirm(l)).OrderBy(l => l.Kind))
        {
            // What stands in this order already needs no look around.
            if (places[link.From] >= places[link.To] && Reaches(needs, link.From, link.To))
            {
                if (link.Kind == LinkKind.Sound)
                {
                    late.Add(link);
                }

                continue;
            }

            needs[link.To].Add(link.From);
            if (places[link.From] >= places[link.To])
            {
                places = Places(order = Sorted(graph, needs)!.Value);
            }
        }

        return new RunOrder(order, WavesOf(graph, needs), late.ToImmutable());
    }

    /// <summary>What is wrong where a key has no order, or null.</summary>
    public static RigProblem? FindLoop(SoundGraph graph)
    {
        ArgumentNullException.ThrowIfNull(graph);
        if (Of(graph) is not null)
        {
            return null;
        }

        var needs = graph.Nodes.ToDictionary(n => n, _ => new List<SoundNode>());
        foreach (var link in graph.Links.Where(l => IsFirm(l)))
        {
            needs[link.To].Add(link.From);
        }

        foreach (var (place, chain) in graph.Rig.Chains)
        {
            foreach (var (processor, key) in chain.SelectMany(p => p.Keys.Select(k => (p, k))))
            {
                var owner = graph.Nodes.First(n => place switch
                {
                    { Mix: { } mix } => n.Stage == (place.Source is null ? Stage.MixOut : Stage.MixSum) && graph.Rig.Mixes[n.Index].Id == mix,
                    _ => n.Stage == Stage.SourceOut && graph.Rig.Sources[n.Index].Id == place.Source,
                });
                var heard = graph.Heard(key);
                if (heard == owner || Reaches(needs, heard, owner))
                {
                    var name = place is { Source: { } source, Mix: not null } ? $"{graph.Rig.Find(source)!.Name} in {graph.NameOf(owner)}" : graph.NameOf(owner);
                    return new RigProblem(
                        "keys",
                        $"{ProcessorTypes.Find(processor.Type)?.Name} on {name} would listen to {graph.NameOf(heard)}, in which it sounds itself: a loop.",
                        "a key that does not hear this sound");
                }
            }
        }

        return new RigProblem("keys", "The keys make a loop.", "keys that do not hear the sound that they act on");
    }

    // What must hold within the block.
    private static bool IsFirm(SoundLink link) => !link.LeavesCable && link.Kind != LinkKind.Docked;

    private static Dictionary<SoundNode, int> Places(ImmutableArray<SoundNode> order) =>
        order.Select((node, place) => (node, place)).ToDictionary(p => p.node, p => p.place);

    // True where the node needs the other one, by whatever way.
    private static bool Reaches(Dictionary<SoundNode, List<SoundNode>> needs, SoundNode node, SoundNode other)
    {
        var seen = new HashSet<SoundNode>();
        var open = new Stack<SoundNode>([node]);
        while (open.TryPop(out var at))
        {
            if (at == other)
            {
                return true;
            }

            foreach (var next in needs[at].Where(seen.Add))
            {
                open.Push(next);
            }
        }

        return false;
    }

    // Always all that can be computed by now of the lowest stage.
    private static ImmutableArray<ImmutableArray<SoundNode>> WavesOf(SoundGraph graph, Dictionary<SoundNode, List<SoundNode>> needs)
    {
        var waves = ImmutableArray.CreateBuilder<ImmutableArray<SoundNode>>();
        var done = new HashSet<SoundNode>();
        var left = graph.Nodes.ToList();
        while (left.Count > 0)
        {
            var ready = left.Where(n => needs[n].TrueForAll(done.Contains)).ToList();
            var stage = ready.Min(n => n.Stage);
            waves.Add([.. ready.Where(n => n.Stage == stage)]);
            done.UnionWith(waves[^1]);
            left.RemoveAll(done.Contains);
        }

        return waves.ToImmutable();
    }

    private static ImmutableArray<SoundNode>? Sorted(SoundGraph graph, Dictionary<SoundNode, List<SoundNode>> needs)
    {
        var order = ImmutableArray.CreateBuilder<SoundNode>(graph.Nodes.Length);
        var isDone = new Dictionary<SoundNode, bool>();
        return graph.Nodes.All(Visit) ? order.ToImmutable() : null;

        // False while it is being visited: to come by again is to have come round.
        bool Visit(SoundNode node)
        {
            if (isDone.TryGetValue(node, out var done))
            {
                return done;
            }

            isDone[node] = false;
            if (!needs[node].All(Visit))
            {
                return false;
            }

            isDone[node] = true;
            order.Add(node);
            return true;
        }
    }
}

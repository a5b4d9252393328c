using System.Collections.Immutable;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;

namespace Kinetra.Core.Routing;

/// <summary>
/// By how much look-ahead makes each node late, on the graph with its closing links cut, and how much each link waits so that all
/// that meets in a mix or a cable is as late as the slowest. Only processors' look-ahead counts: never the processor Delay,
/// cables' buffers or devices, which people set on purpose or want to see. All in frames at 48 kHz.
/// </summary>
public sealed class Alignment
{
    /// <summary>The longest that a link can wait, frames; what would need more stays early by the rest.</summary>
    public const int MostFrames = 32_000;

    private readonly Dictionary<SoundNode, int> _latencies = [];
    private readonly Dictionary<SoundLink, int> _waits = new(ReferenceEqualityComparer.Instance as IEqualityComparer<SoundLink>);

    private Alignment()
    {
    }

    /// <summary>Works it out.</summary>
    public static Alignment Of(SoundGraph graph, RunOrder order)
    {
        ArgumentNullException.ThrowIfNull(graph);
        ArgumentNullException.ThrowIfNull(order);
        var result = new Alignment();
        var arriving = graph.Links.Where(l => l.Kind == LinkKind.Sound && !order.Late.Contains(l)).ToLookup(l => l.To);
        foreach (var node in order.Nodes)
        {
            var links = arriving[node].ToArray();
            result._latencies[node] = links.Length == 0 ? 0 : links.Max(l => result.Arrival(l));
            foreach (var link in links)
            {
                result._waits[link] = Math.Min(result._latencies[node] - result.Arrival(link), MostFrames);
            }
        }

        return result;
    }

    /// <summary>By how much a node is late.</summary>
    public int LatencyOf(SoundNode node) => _latencies[node];

    /// <summary>How long a link waits for the slowest that comes to the same node; 0 for one that carries nothing or closes a circle.</summary>
    public int WaitOf(SoundLink link) => _waits.GetValueOrDefault(link);

    private int Arrival(SoundLink link) => _latencies[link.From] + LatencyOf(link.Chain);

    private static int LatencyOf(ImmutableArray<Processor> chain) => chain.Sum(p => ProcessorTypes.Find(p.Type) is { } type ? type.LatencyOf(p.ValuesOf(type)) : 0);
}

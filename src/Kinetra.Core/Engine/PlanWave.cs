using System.Collections.Immutable;
using Kinetra.Core.Metering;
using Kinetra.Core.Routing;

namespace Kinetra.Core.Engine;

/// <summary>Nodes of one stage that need nothing of one another: what is alike in them is computed side by side.</summary>
/// <param name="Stage">What they are.</param>
/// <param name="Nodes">Which, as places in the rig.</param>
/// <param name="Chains">The chains that lead to them.</param>
/// <param name="Meters">Of sources, after their chains: their meters, in the order of the nodes; of others null.</param>
sealed record PlanWave(Stage Stage, ImmutableArray<int> Nodes, ChainWave Chains, MeterWave? Meters)
{
    /// <summary>The waves of an order.</summary>
    public static ImmutableArray<PlanWave> Of(
        RunOrder order,
        ImmutableArray<SourceNode> sources,
        ImmutableArray<MixNode> mixes,
        ReadOnlySpan<ChainRun?> sourceChains,
        ReadOnlySpan<ChainRun?> mixChains)
    {
        var waves = ImmutableArray.CreateBuilder<PlanWave>(order.Waves.Length);
        foreach (var nodes in order.Waves)
        {
            waves.Add(Made(nodes, sourceChains, mixChains));
        }

        return waves.MoveToImmutable();

        PlanWave Made(ImmutableArray<SoundNode> nodes, ReadOnlySpan<ChainRun?> sourceChains, ReadOnlySpan<ChainRun?> mixChains)
        {
            var chains = ImmutableArray.CreateBuilder<ChainWork>();
            var meters = ImmutableArray.CreateBuilder<MeterWork>();
            foreach (var (stage, index) in nodes)
            {
                if (stage is not (Stage.SourceOut or Stage.MixOut))
                {
                    continue;
                }

                var (left, right) = stage == Stage.SourceOut ? sources[index].Block : mixes[index].Block;
                if ((stage == Stage.SourceOut ? sourceChains : mixChains)[index] is { } chain)
                {
                    chains.Add(new ChainWork(chain, left, right));
                }

                if (stage == Stage.SourceOut)
                {
                    meters.Add(new MeterWork(sources[index].Meter, left, right.Length > 0 ? right : left));
                }
            }

            return new PlanWave(
                nodes[0].Stage, [.. nodes.Select(n => n.Index)], new ChainWave(chains.ToImmutable()), meters.Count > 0 ? new MeterWave(meters.ToImmutable()) : null);
        }
    }
}

using System.Collections.Immutable;
using Kinetra.Core.Metering;
using Kinetra.Core.Routing;

namespace Kinetra.Core.Engine;

/// <summary>What is computed of a node.</summary>
enum Stage
{
    /// <summary>A source takes in what comes.</summary>
    SourceRaw,

    /// <summary>A source's trim.</summary>
    SourceTrim,

    /// <summary>A source after its chain.</summary>
    SourceOut,

    /// <summary>A mix is summed.</summary>
    MixSum,

    /// <summary>A mix's gain.</summary>
    MixGain,

    /// <summary>A mix after its chain.</summary>
    MixOut,

    /// <summary>A cable, or a point of the computer, is summed.</summary>
    Bus,
}

/// <summary>Nodes of one stage that need nothing of one another: what is alike in them is computed side by side.</summary>
/// <param name="Stage">What they are.</param>
/// <param name="Nodes">Which, as places in the plan's lists.</param>
/// <param name="Chains">The chains that lead to them.</param>
/// <param name="Meters">Of sources and mixes, after their chains: their meters, in the order of the nodes; of others null.</param>
sealed record PlanWave(Stage Stage, ImmutableArray<int> Nodes, ChainWave Chains, MeterWave? Meters)
{
    /// <summary>The waves of an order.</summary>
    public static ImmutableArray<PlanWave> Of(
        Routed routed,
        ImmutableArray<SourceNode> sources,
        ImmutableArray<MixNode> mixes,
        ImmutableArray<ChainRun?> sourceChains,
        ImmutableArray<ChainRun?> mixChains)
    {
        var ground = routed.Wiring.Shape.Ground;
        return [.. routed.Order.WavePlaces.Select(Made)];

        PlanWave Made(ImmutableArray<int> places)
        {
            var stage = StageOf(ground, places[0]);
            var nodes = new int[places.Length];
            var ran = ImmutableArray.CreateBuilder<ChainWork>();
            var meters = ImmutableArray.CreateBuilder<MeterWork>();
            for (var i = 0; i < nodes.Length; i++)
            {
                var index = nodes[i] = IndexOf(ground, places[i]);
                if (stage is not (Stage.SourceOut or Stage.MixOut))
                {
                    continue;
                }

                var (left, right) = stage == Stage.SourceOut ? sources[index].Block : mixes[index].Block;
                if ((stage == Stage.SourceOut ? sourceChains : mixChains)[index] is { } chain)
                {
                    ran.Add(new ChainWork(chain, left, right));
                }

                meters.Add(new MeterWork(stage == Stage.SourceOut ? sources[index].Meter : mixes[index].Meter, left, right.Length > 0 ? right : left));
            }

            return new PlanWave(stage, [.. nodes], new ChainWave(ran.ToImmutable()), meters.Count > 0 ? new MeterWave(meters.ToImmutable()) : null);
        }
    }

    private static Stage StageOf(Ground ground, int place) => ground.At(place) switch
    {
        (PointKind.Source, _, var tap) => Stage.SourceRaw + tap,
        (PointKind.Mix, _, var tap) => Stage.MixSum + tap,
        _ => Stage.Bus,
    };

    // The computer's points stand after the cables.
    private static int IndexOf(Ground ground, int place) => ground.At(place) switch
    {
        (PointKind.Port, var index, _) => ground.CableCount + index,
        (_, var index, _) => index,
    };
}

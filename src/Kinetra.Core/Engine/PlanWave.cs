using System.Collections.Immutable;
using Kinetra.Core.Metering;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;

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

    /// <summary>A cable is summed.</summary>
    Cable,
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
        RunOrder order,
        ImmutableArray<SourceNode> sources,
        ImmutableArray<MixNode> mixes,
        ImmutableArray<CableNode> cables,
        IReadOnlyDictionary<Point, ChainRun> chains)
    {
        var places = new Dictionary<Point, int>();
        for (var i = 0; i < sources.Length; i++)
        {
            places[new SourcePoint(sources[i].Id)] = i;
        }

        for (var i = 0; i < mixes.Length; i++)
        {
            places[new MixPoint(mixes[i].Id)] = i;
        }

        for (var i = 0; i < cables.Length; i++)
        {
            places[new CablePoint(cables[i].Id)] = i;
        }

        return [.. order.Waves.Select(Made)];

        PlanWave Made(ImmutableArray<Point> points)
        {
            var nodes = points.Select(p => (Point: p, Index: places[Whole(p)])).ToArray();
            var stage = StageOf(points[0]);
            var ran = ImmutableArray.CreateBuilder<ChainWork>();
            var meters = ImmutableArray.CreateBuilder<MeterWork>();
            foreach (var (point, index) in nodes)
            {
                if (stage is not (Stage.SourceOut or Stage.MixOut))
                {
                    break;
                }

                var (left, right) = stage == Stage.SourceOut ? sources[index].Block : mixes[index].Block;
                if (chains.TryGetValue(point, out var chain))
                {
                    ran.Add(new ChainWork(chain, left, right));
                }

                meters.Add(new MeterWork(stage == Stage.SourceOut ? sources[index].Meter : mixes[index].Meter, left, right.Length > 0 ? right : left));
            }

            return new PlanWave(
                stage, [.. nodes.Select(n => n.Index)], new ChainWave(ran.ToImmutable()), meters.Count > 0 ? new MeterWave(meters.ToImmutable()) : null);
        }
    }

    private static Point Whole(Point point) => point switch
    {
        SourcePoint source => source with { Tap = Tap.AfterChain },
        MixPoint mix => mix with { Tap = Tap.AfterChain },
        _ => point,
    };

    private static Stage StageOf(Point point) => point switch
    {
        SourcePoint { Tap: Tap.Raw } => Stage.SourceRaw,
        SourcePoint { Tap: Tap.BeforeChain } => Stage.SourceTrim,
        SourcePoint => Stage.SourceOut,
        MixPoint { Tap: Tap.Raw } => Stage.MixSum,
        MixPoint { Tap: Tap.BeforeChain } => Stage.MixGain,
        MixPoint => Stage.MixOut,
        _ => Stage.Cable,
    };
}

using System.Diagnostics;
using Kinetra.Core.Dsp;
using Kinetra.Core.Editing;
using Kinetra.Core.Engine;
using Kinetra.Core.Signal;

namespace Kinetra.Bench;

/// <summary>What a change costs: the plan that is built off the engine's thread, and the block that takes it.</summary>
static class Plans
{
    private const int Changes = 200;

    public static object[] Measure() => [Of(ReferenceRig.Sources, ReferenceRig.Mixes, true), Of(64, 16, false)];

    private static object Of(int sources, int mixes, bool chains)
    {
        var rig = ReferenceRig.Make(sources, mixes, chains);
        var inlets = ReferenceRig.Inlets(rig);
        var plan = EnginePlan.Build(rig, s => inlets[s.Id], null);
        var engine = new MixEngine(plan);
        var (builds, swaps, others) = (new List<double>(), new List<double>(), new List<double>());
        for (var c = 0; c < Changes; c++)
        {
            rig = ((CommandResult.Applied)new SetSend(rig.Mixes[c % mixes].Id, rig.Sources[c % sources].Id, new Gain(-c % 20)).Apply(rig)).Rig;
            var begun = Stopwatch.GetTimestamp();
            plan = EnginePlan.Build(rig, s => inlets[s.Id], plan);
            builds.Add(Stopwatch.GetElapsedTime(begun).TotalMilliseconds);
            engine.Post(plan);
            swaps.Add(Block());
            for (var b = 0; b < 8; b++)
            {
                others.Add(Block());
            }
        }

        return new
        {
            sources,
            mixes,
            chains,
            buildMilliseconds = Median(builds),
            swapMilliseconds = Median(swaps) - Median(others),
            blockMilliseconds = Median(others),
        };

        double Block()
        {
            var begun = Stopwatch.GetTimestamp();
            engine.ProcessBlock();
            return Stopwatch.GetElapsedTime(begun).TotalMilliseconds;
        }
    }

    private static double Median(List<double> values) => values.Order().ElementAt(values.Count / 2);
}

/// <summary>What the resampler costs, one channel.</summary>
static class Conversion
{
    public static object[] Measure() =>
    [
        .. new[] { (44_100, 48_000), (48_000, 44_100), (96_000, 48_000), (192_000, 48_000), (48_000, 192_000), (8_000, 48_000), (47_999, 48_000) }.Select(r =>
        {
            var noise = ReferenceRig.Sound(1, r.Item1 * 2).Left;
            var room = new float[new RateConverter(r.Item1, r.Item2).MostFrom(noise.Length)];
            var converter = new RateConverter(r.Item1, r.Item2);
            Warm.Up(() => converter.Process(noise, room));
            var begun = Stopwatch.GetTimestamp();
            var made = converter.Process(noise, room);
            var ns = Stopwatch.GetElapsedTime(begun).TotalNanoseconds / made;
            return (object)new { from = r.Item1, to = r.Item2, nsPerFrame = ns, shareOfOneCore = ns * r.Item2 / 1e9 };
        }),
    ];
}

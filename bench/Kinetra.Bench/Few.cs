using System.Diagnostics;
using Kinetra.Core.Engine;
using Kinetra.Core.Signal;

namespace Kinetra.Bench;

/// <summary>What few voices with the reference chains cost beside eight: rigs of several sizes, in turns, so that what disturbs one disturbs all.</summary>
static class Few
{
    private const int Rounds = 15;
    private const int Blocks = 150;
    private static readonly (int Sources, int Mixes)[] Sizes = [(1, 1), (2, 2), (4, 2), (8, 2), (8, 4)];

    public static object Measure()
    {
        var engines = Sizes.Select(size =>
        {
            var rig = ReferenceRig.Make(size.Sources, size.Mixes);
            var inlets = ReferenceRig.Inlets(rig);
            return new MixEngine(EnginePlan.Build(rig, s => inlets[s.Id], null));
        }).ToArray();
        var times = Sizes.Select(_ => new List<double>()).ToArray();
        foreach (var engine in engines)
        {
            Warm.Up(engine.ProcessBlock);
        }

        for (var round = 0; round < Rounds; round++)
        {
            for (var e = 0; e < engines.Length; e++)
            {
                var begun = Stopwatch.GetTimestamp();
                for (var b = 0; b < Blocks; b++)
                {
                    engines[e].ProcessBlock();
                }

                times[e].Add(Stopwatch.GetElapsedTime(begun).TotalNanoseconds / (Blocks * AudioFormat.BlockFrames));
            }
        }

        var medians = times.Select(t => t.Order().ElementAt(Rounds / 2)).ToArray();
        return new
        {
            rigs = Sizes.Select((s, i) => new { sources = s.Sources, mixes = s.Mixes, nsPerFrame = medians[i], shareOfLargest = times[i].Zip(times[^1], (a, b) => a / b).Order().ElementAt(Rounds / 2) }),
        };
    }
}

using System.Diagnostics;
using Kinetra.Core.Engine;
using Kinetra.Core.Signal;

namespace Kinetra.Bench;

/// <summary>What more sources and mixes cost, without chains: a frame's time, and that of one more send.</summary>
static class Growth
{
    private const int Blocks = 1_500;
    private static readonly int[] SourceCounts = [8, 16, 32, 64];
    private static readonly int[] MixCounts = [1, 4, 16];

    public static object[] Measure() =>
    [
        .. from sources in SourceCounts
           from mixes in MixCounts
           let ns = Cost(sources, mixes)
           select (object)new { sources, mixes, sends = sources * mixes, nsPerFrame = ns, shareOfOneCore = ns * AudioFormat.SampleRate / 1e9, nsPerFrameAndSend = ns / (sources * mixes) },
    ];

    public static double Cost(int sources, int mixes, bool chains = false)
    {
        var rig = ReferenceRig.Make(sources, mixes, chains);
        var inlets = ReferenceRig.Inlets(rig);
        var engine = new MixEngine(EnginePlan.Build(rig, s => inlets[s.Id], null));
        Warm.Up(engine.ProcessBlock);
        var rounds = new List<double>();
        for (var round = 0; round < 5; round++)
        {
            var begun = Stopwatch.GetTimestamp();
            for (var b = 0; b < Blocks / 5; b++)
            {
                engine.ProcessBlock();
            }

            rounds.Add(Stopwatch.GetElapsedTime(begun).TotalNanoseconds / (Blocks / 5 * AudioFormat.BlockFrames));
        }

        return rounds.Order().ElementAt(2);
    }
}

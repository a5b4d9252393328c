using System.Diagnostics;
using Kinetra.Core.Engine;
using Kinetra.Core.Signal;

namespace Kinetra.Bench;

/// <summary>The reference rig in real time, block by block at its deadlines: how long a block takes, and what is allocated.</summary>
static class Live
{
    private const int Seconds = 30;
    private const int MinutesOfBlocks = 10;
    public const double Period = (double)AudioFormat.BlockFrames / AudioFormat.SampleRate;

    /// <summary>Plays blocks at their deadlines.</summary>
    /// <param name="engine">Plays them.</param>
    /// <param name="times">What each took, seconds: as many are played as there is room for.</param>
    /// <returns>How many were ready only after the next should have begun.</returns>
    public static int Play(MixEngine engine, Span<double> times)
    {
        var late = 0;
        var started = Stopwatch.GetTimestamp();
        for (var b = 0; b < times.Length; b++)
        {
            var ahead = (b * Period) - Stopwatch.GetElapsedTime(started).TotalSeconds;
            if (ahead > 0)
            {
                Thread.Sleep(TimeSpan.FromSeconds(ahead));
            }

            var begun = Stopwatch.GetTimestamp();
            engine.ProcessBlock();
            times[b] = Stopwatch.GetElapsedTime(begun).TotalSeconds;
            late += Stopwatch.GetElapsedTime(started).TotalSeconds > (b + 1) * Period ? 1 : 0;
        }

        return late;
    }

    public static object Measure()
    {
        var rig = ReferenceRig.Make();
        var inlets = ReferenceRig.Inlets(rig);
        var engine = new MixEngine(EnginePlan.Build(rig, s => inlets[s.Id], null));
        var blocks = Seconds * AudioFormat.SampleRate / AudioFormat.BlockFrames;
        var times = new double[blocks];
        Warm.Up(engine.ProcessBlock);

        Play(engine, times);

        var before = GC.GetAllocatedBytesForCurrentThread();
        var fastBegun = Stopwatch.GetTimestamp();
        var many = MinutesOfBlocks * 60 * AudioFormat.SampleRate / AudioFormat.BlockFrames;
        for (var b = 0; b < many; b++)
        {
            engine.ProcessBlock();
        }

        var allocated = GC.GetAllocatedBytesForCurrentThread() - before;
        var fast = Stopwatch.GetElapsedTime(fastBegun).TotalSeconds / many;
        Array.Sort(times);
        double At(double share) => times[(int)(share * (blocks - 1))] / Period;
        return new
        {
            seconds = Seconds,
            shareOfOneCore = times.Average() / Period,
            shareOfOneCoreWithoutPauses = fast / Period,
            medianShareOfDeadline = At(0.5),
            percentile99ShareOfDeadline = At(0.99),
            percentile999ShareOfDeadline = At(0.999),
            longestShareOfDeadline = At(1),
            bytesAllocated = allocated,
            blocksForAllocation = many,
        };
    }
}

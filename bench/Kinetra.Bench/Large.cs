using System.Diagnostics;
using Kinetra.Core.Editing;
using Kinetra.Core.Engine;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;

namespace Kinetra.Bench;

/// <summary>The largest show: 64 voices with their chains, 16 limited mixes, 16 cables that mixes play into and sources record from.</summary>
static class Large
{
    private const int Blocks = 400;
    private static readonly int[] Counts = [8, 16, 32, 64];

    /// <summary>What a source costs of few and of many, chains, sends, cables and limiters together.</summary>
    public static object[] Measure()
    {
        var few = Cost(8);
        return
        [
            .. Counts.Select(sources =>
            {
                var ns = sources == 8 ? few : Cost(sources);
                return (object)new
                {
                    sources,
                    mixes = 16,
                    cables = 16,
                    nsPerFrame = ns,
                    shareOfOneCore = ns * AudioFormat.SampleRate / 1e9,
                    nsPerFrameAndSource = ns / sources,
                };
            }),
        ];
    }

    /// <summary>One step of a drag on the largest show, on the server's side of the engine: the rules, and what is sent to the engine.</summary>
    public static object Drag()
    {
        var rig = Rig(64);
        var inlets = ReferenceRig.Inlets(rig);
        var plan = EnginePlan.Build(rig, s => inlets[s.Id], null);
        var times = new List<double>();
        for (var step = 0; step < 4_000; step++)
        {
            var command = new SetSend(rig.Mixes[step % 16].Id, rig.Sources[step % 64].Id, new Gain(-step % 30));
            var begun = Stopwatch.GetTimestamp();
            Step(plan, rig, command);
            times.Add(Stopwatch.GetElapsedTime(begun).TotalMilliseconds);
        }

        var before = GC.GetAllocatedBytesForCurrentThread();
        for (var step = 0; step < 100; step++)
        {
            Step(plan, rig, new SetSend(rig.Mixes[step % 16].Id, rig.Sources[step % 64].Id, new Gain(-step % 30)));
        }

        var sorted = times.Skip(2_000).Order().ToArray();
        return new { medianMilliseconds = sorted[1_000], percentile99Milliseconds = sorted[1_980], bytes = (GC.GetAllocatedBytesForCurrentThread() - before) / 100 };
    }

    /// <summary>Many quiet loops: 60 ways that close circles over 16 cables, each mix playing into its cable.</summary>
    public static object Loops()
    {
        var rig = Rig(64);
        rig = rig with
        {
            Sources =
            [
                .. rig.Sources.Select((s, i) => i < 60
                    ? s with { Input = new CableInput(rig.Cables[i % 16].Id, 0, 1), Chain = [ReferenceRig.Bands() with { Id = ProcessorId.New() }] }
                    : s),
            ],
            Mixes = [.. rig.Mixes.Select(m => m with { Gain = new(-30) })],
            Cables = [.. rig.Cables.Select((c, i) => c with { Feeds = [new CableFeed { From = new MixPoint(rig.Mixes[i].Id), Gain = new(-20) }] })],
        };
        var inlets = ReferenceRig.Inlets(rig);
        var (builds, analyses, edits) = (new List<double>(), new List<double>(), new List<double>());
        EnginePlan? plan = null;
        for (var round = 0; round < 24; round++)
        {
            builds.Add(Timed(() => plan = EnginePlan.Build(rig, s => inlets[s.Id], plan)));
            analyses.Add(Timed(() => Routed.Of(rig, Computer.Unknown)));

            // A change within the loops: they are measured again.
            rig = rig with { Mixes = rig.Mixes.SetItem(round % 16, rig.Mixes[round % 16] with { Gain = new(-31 - (round * 0.1)) }) };
            edits.Add(Timed(() => plan = EnginePlan.Build(rig, s => inlets[s.Id], plan)));
        }

        return new
        {
            closing = plan!.Loops.Sum(l => l.Closing.Length),
            buildMilliseconds = Median(builds),
            analyseMilliseconds = Median(analyses),
            buildAndAnalyseMilliseconds = Median(edits),
        };
    }

    private static double Cost(int sources)
    {
        var rig = Rig(sources);
        var inlets = ReferenceRig.Inlets(rig);
        var engine = new MixEngine(EnginePlan.Build(rig, s => inlets[s.Id], null));
        Warm.Up(engine.ProcessBlock);
        return Enumerable.Range(0, 7).Select(_ => Timed(() =>
        {
            for (var b = 0; b < Blocks / 7; b++)
            {
                engine.ProcessBlock();
            }
        }) * 1e6 / (Blocks / 7 * AudioFormat.BlockFrames)).Order().ElementAt(3);
    }

    // Each mix and a source play into each cable.
    private static Rig Rig(int sources)
    {
        var rig = ReferenceRig.Make(sources, 16);
        return rig with
        {
            Cables =
            [
                .. Enumerable.Range(0, 16).Select(c => new Cable
                {
                    Id = new($"cable-{c}"),
                    Name = $"Cable {c}",
                    Feeds = [new CableFeed { From = new MixPoint(rig.Mixes[c].Id), Gain = new(-3) }, new CableFeed { From = new SourcePoint(rig.Sources[c % sources].Id, Tap.BeforeChain) }],
                }),
            ],
        };
    }

    private static void Step(EnginePlan plan, Rig rig, SetSend command)
    {
        var next = ((CommandResult.Applied)command.Apply(rig)).Rig;
        foreach (var edit in command.Levels!.Value)
        {
            _ = plan.Level(next, (edit.From, edit.To)) ?? throw new InvalidOperationException("It took a plan.");
        }
    }

    private static double Timed(Action work)
    {
        var begun = Stopwatch.GetTimestamp();
        work();
        return Stopwatch.GetElapsedTime(begun).TotalMilliseconds;
    }

    private static double Median(List<double> values) => values.Order().ElementAt(values.Count / 2);
}

using System.Globalization;
using Kinetra.Core.Engine;
using Kinetra.Core.Metering;
using Kinetra.Core.Signal;
using Kinetra.Core.Voice;

namespace Kinetra.Bench;

/// <summary>
/// The reference rig at its deadlines while somebody works on a voice, and while nobody does, in turns: two spectra, three processors looked at, the chain heard without one of them, and a loop
/// that goes round through eight variants. All of that is done beside the engine, as in the server.
/// </summary>
static class Watched
{
    private const int Turns = 8;
    private const int BlocksOfTurn = 4 * AudioFormat.SampleRate / AudioFormat.BlockFrames;
    private static readonly TimeSpan Pause = TimeSpan.FromMilliseconds(10);

    public static object Measure()
    {
        var rig = ReferenceRig.Make();
        var inlets = ReferenceRig.Inlets(rig);
        var engine = new MixEngine(EnginePlan.Build(rig, s => inlets[s.Id], null));
        Warm.Up(engine.ProcessBlock);
        var rounds = new[] { new List<double>(), [] };
        var late = new int[2];
        var stolen = new double[2];
        for (var turn = 0; turn < Turns; turn++)
        {
            var isWatched = turn % 2 == 1;
            using var end = new CancellationTokenSource();
            var worker = isWatched ? Task.Factory.StartNew(() => Work(engine, rig.Sources[0], end.Token), end.Token, TaskCreationOptions.LongRunning, TaskScheduler.Default) : Task.CompletedTask;
            var (times, before) = (new double[BlocksOfTurn], Stolen());

            // What is begun, and compiled, in the first second is not what is measured.
            Live.Play(engine, new double[BlocksOfTurn / 4]);
            late[turn % 2] += Live.Play(engine, times);
            stolen[turn % 2] += Stolen() - before;
            rounds[turn % 2].AddRange(times);
            end.Cancel();
            worker.Wait();
        }

        return new { alone = Told(0), watched = Told(1), ratioOfMeans = rounds[1].Average() / rounds[0].Average() };

        object Told(int which)
        {
            var times = rounds[which].Order().ToArray();
            double At(double share) => times[(int)(share * (times.Length - 1))] / Live.Period;
            return new
            {
                blocks = times.Length,
                late = late[which],
                meanShareOfDeadline = times.Average() / Live.Period,
                percentile99ShareOfDeadline = At(0.99),
                percentile999ShareOfDeadline = At(0.999),
                longestShareOfDeadline = At(1),
                secondsStolenByTheHost = stolen[which],
            };
        }
    }

    private static void Work(MixEngine engine, Kinetra.Core.Rigs.Source source, CancellationToken end)
    {
        var place = new SourcePoint(source.Id);
        using var before = engine.Hold(new SourcePoint(source.Id, Tap.BeforeChain));
        using var after = engine.Hold(place);
        using var audition = new Audition(engine, new AuditionWish(place, AuditionKind.Without, source.Chain[1].Id));
        var views = source.Chain.Skip(1).Take(3).Select(p => new DynamicsView(engine, p.Id)).ToArray();
        var loop = LoopSound.Closed(ReferenceRig.Sound(9, 10 * AudioFormat.SampleRate));
        var bench = new LoopBench(loop, [.. Enumerable.Range(0, LoopBench.MostVariants).Select(i => new BenchVariant(new SourceId(string.Create(CultureInfo.InvariantCulture, $"variant-{i}")), "Variant", source.Chain))]);
        using var ear = new BenchEar(bench);
        ear.Hear(new SourceId("variant-0"), 1);
        var (analysers, blocks) = (new[] { new SpectrumAnalyser(), new SpectrumAnalyser() }, new DynamicsBlock[256]);
        var (left, right) = (new float[SpectrumAnalyser.Length], new float[SpectrumAnalyser.Length]);
        for (var round = 0; !end.IsCancellationRequested; round++)
        {
            audition.CatchUp();
            ear.CatchUp(engine.Frame);
            foreach (var view in views)
            {
                view.Read(blocks);
            }

            // Forty pictures a second are more than anybody is sent.
            for (var i = 0; i < 2 && round % 3 == 0; i++)
            {
                var ring = (i == 0 ? before : after).Ring;
                var from = ring.End - SpectrumAnalyser.Length;
                if (ring.Beginning >= 0 && from >= ring.Beginning)
                {
                    ring.Read(ref from, left, right, out _);
                    analysers[i].Take(left, right, 3 * Pause.TotalSeconds);
                }
            }

            end.WaitHandle.WaitOne(Pause);
        }

        Array.ForEach(views, v => v.Dispose());
    }

    // Seconds of processor time that the host took away since the start; 0 where that is not told.
    private static double Stolen()
    {
        const int Steal = 8;
        const double Ticks = 100;
        try
        {
            var words = File.ReadLines("/proc/stat").First().Split(' ', StringSplitOptions.RemoveEmptyEntries);
            return words.Length > Steal ? double.Parse(words[Steal], CultureInfo.InvariantCulture) / Ticks : 0;
        }
        catch (IOException)
        {
            return 0;
        }
    }
}

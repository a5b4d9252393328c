using CsCheck;
using Kinetra.Core.Editing;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Engine;

public class ReferenceEngineTests
{
    private const int Blocks = 24;
    private const int Frames = Blocks * AudioFormat.BlockFrames;

    [Fact]
    public void Whatever_the_rig_the_engine_gives_what_the_plainest_engine_gives()
    {
        var withCables = 0;
        var withLoops = 0;
        var withHeld = 0;
        AnyRigs.Rig.Sample(
            rig =>
            {
                RigRules.Check(rig).ShouldBeEmpty();
                var sounds = rig.Sources.Select((s, i) => (s.Id.Value, Sound: i % 2 == 0 ? new[] { Signals.Noise(i, Frames, 0.2) } : [Signals.Noise(i, Frames, 0.2), Signals.Noise(i + 50, Frames, 0.2)])).ToArray();
                var bench = new Bench(rig, sounds.ToDictionary(s => s.Value, s => (IInlet)new ArrayInlet(s.Sound[0], s.Sound.Length == 2 ? s.Sound[1] : null))).Run(Blocks);
                var plain = new ReferenceEngine(rig, sounds.ToDictionary(s => s.Value, s => s.Sound.Select(c => c.Select(x => (double)x).ToArray()).ToArray()), Frames);
                withCables += rig.Sources.Any(s => s.Input is CableInput) ? 1 : 0;
                withLoops += bench.Engine.Plan.Loops.Length > 0 ? 1 : 0;
                withHeld += plain.Held > 0 ? 1 : 0;
                for (var m = 0; m < rig.Mixes.Length; m++)
                {
                    ShouldAgree(bench.Left(rig.Mixes[m].Id), plain.Mix(m)[0], plain);
                    ShouldAgree(bench.Right(rig.Mixes[m].Id), plain.Mix(m)[1], plain);
                }
            },
            iter: 150,
            print: rig => System.Text.Json.JsonSerializer.Serialize(rig, RigJson.Options),
            threads: 1);
        withCables.ShouldBeGreaterThan(15);
        withLoops.ShouldBeGreaterThan(1);
        withHeld.ShouldBeGreaterThan(0);
    }

    // Relative to what is there: an allowed loop may grow.
    private static void ShouldAgree(float[] heard, double[] ideal, ReferenceEngine plain)
    {
        double most = 0;
        for (var n = 0; n < plain.Length; n++)
        {
            most = Math.Max(most, Math.Abs(heard[n] - ideal[n]));
        }

        // In a loop that grows, so does what was rounded in its first rounds.
        Signals.Db(most / plain.Loudest).ShouldBeLessThan(plain.Loudest > 8 ? -100 : -115);
    }
}

using Kinetra.Core.Engine;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Engine;

public class LongTapTests
{
    private static readonly Point Ears = new MixPoint(Demo.Ears);

    [Fact]
    public void More_of_the_past_has_the_same_samples_and_begins_when_it_is_asked_for()
    {
        var engine = Begun();
        using var held = engine.HoldLong(Ears);
        held.Ring.Beginning.ShouldBe(-1);
        var begun = engine.Frame;
        Run(engine, 400_000);
        held.Ring.Beginning.ShouldBe(begun);
        var (usual, more) = (engine.RingOf(Ears)!, held.Ring);
        usual.IsLong.ShouldBeFalse();
        Read(more, engine.Frame - 100_000, 100_000).ShouldBe(Read(usual, engine.Frame - 100_000, 100_000));

        // What the usual one has no more: the sound of a period has come round by then.
        var (position, lost) = (begun + 256, 0L);
        var early = new float[48_000];
        more.Read(ref position, early, new float[48_000], out lost).ShouldBe(48_000);
        lost.ShouldBe(0);
        early.Max().ShouldBeGreaterThan(0.1f);
    }

    [Fact]
    public void Whoever_wants_as_much_as_there_is_shares_it_and_once_nobody_does_it_begins_anew()
    {
        var engine = Begun();
        using (var usual = engine.HoldLongest(Ears))
        {
            usual.Ring.IsLong.ShouldBeFalse();
        }

        var held = engine.HoldLong(Ears);
        Run(engine, 48_000);
        using var shared = engine.HoldLongest(Ears);
        shared.Ring.ShouldBeSameAs(held.Ring);
        held.Dispose();
        Run(engine, 48_000);
        (engine.Frame - shared.Ring.End).ShouldBe(0);
        shared.Dispose();
        Run(engine, 4_800);
        var anew = engine.Frame;
        using var again = engine.HoldLong(Ears);
        Run(engine, 4_800);
        again.Ring.Beginning.ShouldBe(anew);
        engine.RingOf(Ears)!.End.ShouldBe(engine.Frame);
    }

    private static MixEngine Begun()
    {
        var sound = new SoundBuffer(Signals.Sine(100, 0.4, 48_000), null);
        var engine = new MixEngine(EnginePlan.Build(Demo.Rig("a"), _ => new StandingInlet(sound), null));
        Run(engine, 4_800);
        return engine;
    }

    private static void Run(MixEngine engine, int frames)
    {
        for (var n = 0; n < frames; n += AudioFormat.BlockFrames)
        {
            engine.ProcessBlock();
        }
    }

    private static float[] Read(AudioRing ring, long from, int frames)
    {
        var (left, right) = (new float[frames], new float[frames]);
        ring.Read(ref from, left, right, out _).ShouldBe(frames);
        return left;
    }
}

using Kinetra.Core.Editing;
using Kinetra.Core.Engine;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Engine;

/// <summary>Hush and the opening of a show act wherever sound leaves: at mixes, and at cables.</summary>
public class WaysOutTests
{
    private const int Block = AudioFormat.BlockFrames;
    private static readonly CableId Wire = new("wire");

    [Theory]
    [InlineData("source/app")]
    [InlineData("source/app/before")]
    [InlineData("mix/viewers")]
    [InlineData("mix/viewers/before")]
    public void Under_hush_whatever_plays_into_a_cable_gives_it_silence(string point)
    {
        var bench = new Bench(With(Point.Parse(point)!), Inlets());
        using var cable = bench.Engine.Hold(new CablePoint(Wire));
        bench.Run(8);
        Last(bench.Engine, cable.Ring, Block).ShouldContain(x => x != 0);
        bench.Engine.Hushed = true;
        bench.Run(2);
        Last(bench.Engine, cable.Ring, Block).ShouldAllBe(x => x == 0);
        bench.Engine.Hushed = false;
        bench.Run(2);
        Last(bench.Engine, cable.Ring, Block).ShouldContain(x => x != 0);
    }

    [Fact]
    public void Hush_is_there_within_fifteen_milliseconds_whatever_waits_before_it()
    {
        var bench = new Bench(With(new MixPoint(Demo.Viewers)), Inlets());
        bench.Run(8);

        // A plan that must fade first, one that is not due for an hour, and a hush that was just let go.
        bench.Post(new RemoveSource(new("app")));
        bench.Post(new SetMix(Demo.Ears, Gain: new(-1)), notBefore: 3_600 * Signals.Rate);
        bench.Engine.Hushed = true;
        bench.Run(1).Engine.Hushed = false;
        bench.Run(1).Engine.Hushed = true;
        var wished = (int)bench.Engine.Frame;
        bench.Run(20);
        foreach (var mix in new[] { Demo.Ears, Demo.Viewers })
        {
            bench.Left(mix)[(wished + (15 * 48))..].ShouldAllBe(x => x == 0);
        }
    }

    [Fact]
    public void Hush_comes_and_goes_without_a_click()
    {
        var sine = Signals.Sine(100, 0.5, 4 * Signals.Rate);
        var bench = new Bench(Demo.Rig("app"), new() { ["app"] = new ArrayInlet(sine, sine) });
        for (var i = 0; i < 8; i++)
        {
            bench.Run(20).Engine.Hushed = i % 2 == 0;
        }

        var left = bench.Run(20).Left(Demo.Viewers);
        Signals.RmsAbove(5_000, left, 2_048, left.Length - 512).ShouldBeLessThan(-70);
    }

    [Fact]
    public void Opening_a_show_crossfades_into_a_cable_that_both_have()
    {
        var sound = new SoundBuffer(Signals.Sine(100, 0.4, 48_000), null);
        var rig = With(new SourcePoint(new("app")));
        var old = EnginePlan.Build(rig, _ => new StandingInlet(sound), null);
        var engine = new MixEngine(old);
        using var cable = engine.Hold(new CablePoint(Wire));
        Run(engine, 40);
        var silent = EnginePlan.Build(rig.Apply(new SetCableFeed(Wire, new SourcePoint(new("app")), On: false)), _ => new StandingInlet(sound), null);
        engine.PostOpening(silent, old, new Dictionary<MixId, MixId> { [Demo.Viewers] = Demo.Viewers, [Demo.Ears] = Demo.Ears });
        var opened = engine.Frame;
        Run(engine, (MixEngine.CrossfadeFrames / Block) + 10);
        var heard = new float[MixEngine.CrossfadeFrames + 2_048];
        var from = opened - 1_024;
        cable.Ring.Read(ref from, heard, new float[heard.Length], out _).ShouldBe(heard.Length);

        // A second of sine falls within half a second, never at once, and then there is nothing.
        Signals.RmsAbove(5_000, heard, 512, heard.Length - 512).ShouldBeLessThan(-80);
        heard[1_024..].Take(2_400).Max().ShouldBeGreaterThan(0.35f);
        heard[1_024..].Skip(12_000).Take(2_400).Max().ShouldBeInRange(0.1f, 0.3f);
        heard[^512..].ShouldAllBe(x => x == 0);
    }

    [Fact]
    public void Docking_a_send_in_a_loop_is_heard_as_no_click_and_moves_nothing_in_time()
    {
        var sine = Signals.Sine(100, 0.2, 6 * Signals.Rate);
        var rig = Demo.Rig("app")
            .Apply(new AddCable(new Cable { Id = Wire, Name = "Wire", Feeds = [new CableFeed { From = new MixPoint(Demo.Viewers), Gain = new(-9) }] }))
            .Apply(new AddSource(Demo.Source("recorder") with { Input = new CableInput(Wire, 0, 1) }))
            .Apply(new SetSend(Demo.Viewers, new("recorder"), Heard: true));
        var bench = new Bench(rig, new() { ["app"] = new ArrayInlet(sine, sine) });
        for (var i = 0; i < 6; i++)
        {
            bench.Run(60).Post(new SetSend(Demo.Viewers, new("recorder"), Heard: i % 2 == 1));
        }

        var left = bench.Run(60).Left(Demo.Viewers);
        Signals.RmsAbove(5_000, left, 4_096, left.Length - 512).ShouldBeLessThan(-80);
    }

    private static Rig With(Point from) =>
        Demo.Rig("app").Apply(new AddCable(new Cable { Id = Wire, Name = "Wire", Feeds = [new CableFeed { From = from }] }));

    private static Dictionary<string, IInlet> Inlets()
    {
        var noise = Signals.Noise(1, Signals.Rate);
        return new() { ["app"] = new StandingInlet(new SoundBuffer(noise, noise)) };
    }

    private static float[] Last(MixEngine engine, AudioRing ring, int frames)
    {
        var from = engine.Frame - frames;
        var left = new float[frames];
        ring.Read(ref from, left, new float[frames], out _).ShouldBe(frames);
        return left;
    }

    private static void Run(MixEngine engine, int blocks)
    {
        for (var b = 0; b < blocks; b++)
        {
            engine.ProcessBlock();
        }
    }
}

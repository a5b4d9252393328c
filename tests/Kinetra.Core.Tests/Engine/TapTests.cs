using Kinetra.Core.Editing;
using Kinetra.Core.Engine;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Engine;

/// <summary>A point that somebody holds stays theirs, whatever becomes of the show.</summary>
public class TapTests
{
    private static readonly SourceId App = new("app");

    [Fact]
    public void A_source_that_is_removed_and_brought_back_goes_on_on_the_same_ring_and_was_silent_meanwhile()
    {
        var noise = Signals.Noise(1, Signals.Rate);
        var bench = new Bench(Demo.Rig("app"), new() { ["app"] = new StandingInlet(new SoundBuffer(noise, noise)) });
        using var held = bench.Engine.Hold(new SourcePoint(App));
        bench.Run(10);
        var remove = new RemoveSource(App);
        var back = ((CommandResult.Applied)remove.Apply(bench.Rig)).Inverse;
        bench.Post(remove);
        bench.Run(20);
        bench.Post(back);
        bench.Run(20);
        bench.Engine.RingOf(new SourcePoint(App)).ShouldBe(held.Ring);
        var heard = Read(held.Ring, 0, 50 * AudioFormat.BlockFrames);
        heard[..2_560].ShouldBe(noise[..2_560]);
        heard[(16 * 256)..(29 * 256)].ShouldAllBe(x => x == 0);
        heard[(34 * 256)..].ShouldBe(noise[(34 * 256)..(50 * 256)]);
    }

    [Fact]
    public void Nobody_who_holds_a_point_hears_a_click_when_it_goes_or_comes()
    {
        var sine = new SoundBuffer(Signals.Sine(100, 0.5, Signals.Rate), null);
        var bench = new Bench(Demo.Rig("app", "other"), new() { ["app"] = new StandingInlet(sine), ["other"] = new StandingInlet(sine) });
        using var held = bench.Engine.Hold(new SourcePoint(App));
        using var mix = bench.Engine.Hold(new MixPoint(Demo.Ears));
        bench.Run(20);
        foreach (var command in new RigCommand[] { new RemoveSource(App), new RemoveMix(Demo.Ears) })
        {
            var inverse = ((CommandResult.Applied)command.Apply(bench.Rig)).Inverse;
            bench.Post(command);
            bench.Run(20);
            bench.Post(inverse);
            bench.Run(20);
        }

        foreach (var ring in new[] { held.Ring, mix.Ring })
        {
            var heard = Read(ring, 0, 100 * AudioFormat.BlockFrames);
            Signals.RmsAbove(5_000, heard, 2_048, heard.Length - 512).ShouldBeLessThan(-75);
        }
    }

    [Fact]
    public void Another_number_of_channels_is_no_end()
    {
        var noise = Signals.Noise(1, Signals.Rate);
        var inlets = new Dictionary<string, IInlet> { ["app"] = new StandingInlet(new SoundBuffer(noise, null)) };
        var bench = new Bench(Demo.Rig("app"), inlets);
        using var held = bench.Engine.Hold(new SourcePoint(App));
        bench.Run(10);
        bench.Add("app", new StandingInlet(new SoundBuffer(noise, noise)));
        bench.Post(new SetSend(Demo.Ears, App, new(-3)));
        bench.Run(20);
        Read(held.Ring, 0, 30 * AudioFormat.BlockFrames)[(20 * 256)..].ShouldBe(noise[(20 * 256)..(30 * 256)]);
    }

    [Fact]
    public void Another_feed_in_a_source_keeps_its_chain_its_meters_and_its_ring_and_is_heard_as_no_click()
    {
        var (one, two) = (new SoundBuffer(Signals.Sine(100, 0.3, Signals.Rate), null), new SoundBuffer(Signals.Sine(160, 0.3, Signals.Rate), null));
        var rig = Demo.Rig("app").Apply(new AddProcessor(new SourcePoint(App), Processor.Of(Compressor.Type, ("threshold", -30))));
        var bench = new Bench(rig, new() { ["app"] = new StandingInlet(one) });
        bench.Run(40);
        var (node, slot) = (bench.Engine.Plan.Sources[0], bench.Engine.Plan.Chains[0].Steps[0].Slot);
        bench.Add("app", new StandingInlet(two));
        bench.Post(new SetSend(Demo.Ears, App, new(-3)));
        bench.Run(40);
        bench.Engine.Plan.Sources[0].ShouldBe(node);
        bench.Engine.Plan.Chains[0].Steps[0].Slot.ShouldBe(slot);
        var left = bench.Left(Demo.Viewers);
        Signals.RmsAbove(5_000, left, 4_096, left.Length - 512).ShouldBeLessThan(-80);
    }

    [Fact]
    public void What_comes_in_can_be_held_as_it_is_before_the_trim()
    {
        var noise = Signals.Noise(1, 48_000, 0.5);
        var rig = Demo.Rig("app").Apply(new SetSource(App, Trim: new(-20)));
        var bench = new Bench(rig, new() { ["app"] = new ArrayInlet(noise, noise) });
        using var raw = bench.Engine.Hold(new SourcePoint(App, Tap.Raw));
        bench.Run(10);
        Read(raw.Ring, 0, 2_560).ShouldBe(noise[..2_560]);
    }

    [Fact]
    public void A_tap_knows_when_look_ahead_made_its_point_later()
    {
        var bench = new Bench(Demo.Rig("app"), new() { ["app"] = new ArrayInlet(new float[10]) });
        using var held = bench.Engine.Hold(new SourcePoint(App));
        bench.Run(10);
        bench.Post(new AddProcessor(new SourcePoint(App), Processor.Of(Gate.Type, ("range", 0), ("lookAhead", 5))), notBefore: 5_000);
        bench.Run(20);
        held.Tapped.LatencyAt(5_000).ShouldBe(0);
        held.Tapped.LatencyAt(6_000).ShouldBe(240);
        held.Tapped.ShiftAfter(1_000, 0).ShouldBe((5_120L, 240));
        held.Tapped.ShiftAfter(6_000, 240).ShouldBeNull();
    }

    [Fact]
    public void What_nobody_holds_and_no_show_has_is_forgotten()
    {
        var bench = new Bench(Demo.Rig("app"), new() { ["app"] = new ArrayInlet(new float[10]) });
        bench.Engine.Hold(new SourcePoint(App)).Dispose();
        bench.Post(new RemoveSource(App));
        bench.Run(10);
        bench.Post(new SetMix(Demo.Ears, Gain: new(-1)));
        bench.Engine.RingOf(new SourcePoint(App)).ShouldBeNull();
    }

    private static float[] Read(AudioRing ring, long from, int frames)
    {
        var left = new float[frames];
        ring.Read(ref from, left, new float[frames], out _).ShouldBe(frames);
        return left;
    }
}

using System.Collections.Immutable;
using Kinetra.Core.Editing;
using Kinetra.Core.Engine;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Engine;

public class CableTests
{
    private const int Second = Signals.Rate / AudioFormat.BlockFrames;
    private static readonly CableId Wire = new("wire");

    [Theory]
    [InlineData(0)]
    [InlineData(100)]
    [InlineData(256)]
    [InlineData(700)]
    public void A_source_records_what_is_played_into_its_cable_later_by_the_buffer(int buffer)
    {
        var noise = Signals.Noise(1, Signals.Rate);
        var rig = With(Demo.Rig("app"), new Cable { Id = Wire, Name = "Wire", BufferFrames = buffer, Feeds = [new CableFeed { From = new SourcePoint(new("app")) }] })
            .Apply(new SetSend(Demo.Viewers, new("app"), Heard: false))
            .Apply(new AddSource(Recorder(), Sends: Alone()));
        var heard = new Bench(rig, new() { ["app"] = new ArrayInlet(noise, noise) }).Run(Second / 4).Left(Demo.Viewers);
        heard[..buffer].ShouldAllBe(x => x == 0);
        heard[buffer..].ShouldBe(noise[..(heard.Length - buffer)]);
    }

    [Fact]
    public void Several_play_into_a_cable_each_on_its_channels_and_a_cable_plays_into_a_cable()
    {
        var (one, two) = (Signals.Noise(1, Signals.Rate), Signals.Noise(2, Signals.Rate));
        var far = new CableId("far");
        var rig = With(
            With(Demo.Rig("one", "two"), new Cable
            {
                Id = Wire,
                Name = "Wire",
                Channels = 4,
                Feeds =
                [
                    new CableFeed { From = new SourcePoint(new("one")), Into = new(2) },
                    new CableFeed { From = new SourcePoint(new("two")), Into = new(2), Gain = new(-6) },
                    new CableFeed { From = new MixPoint(Demo.Ears), On = false },
                ],
            }),
            new Cable { Id = far, Name = "Far", Channels = 16, Feeds = [new CableFeed { From = new CablePoint(Wire), Into = new(8) }] })
            .Apply(new SetSend(Demo.Viewers, new("one"), Heard: false)).Apply(new SetSend(Demo.Viewers, new("two"), Heard: false))
            .Apply(new AddSource(Recorder() with { Input = new CableInput(far, 10, 9) }, Sends: Alone()));
        var bench = new Bench(rig, new() { ["one"] = new ArrayInlet(one), ["two"] = new ArrayInlet(two) }).Run(20);
        var left = bench.Left(Demo.Viewers);

        // If the ears' feed were on, and they heard the recorder, sound would go round: so it is a block late from the first.
        left[..256].ShouldAllBe(x => x == 0);
        for (var n = 256; n < left.Length; n++)
        {
            ((double)left[n]).ShouldBe(one[n - 256] + (two[n - 256] * Signals.FromDb(-6)), 1e-6);
        }

        bench.Right(Demo.Viewers).ShouldAllBe(x => x == 0);
    }

    [Fact]
    public void A_loop_that_would_build_up_is_held_muted_until_it_is_allowed_and_then_comes_round_once_a_block()
    {
        var click = new float[Signals.Rate];
        click[0] = 1;
        var rig = Loop(gain: -3);
        var held = new Bench(rig, new() { ["app"] = new ArrayInlet(click, click) }).Run(8);
        held.Engine.Plan.Loops.Single().Held.Length.ShouldBe(1);
        Impulses(held).ShouldBe([(0, 1)]);
        var allowed = new Bench(
            rig.Apply(new SetSource(new("recorder"), Input: new CableInput(Wire, 0, 1, LoopAllowed: true))), new() { ["app"] = new ArrayInlet(click, click) }).Run(4);
        Impulses(allowed).Select(i => i.At).ShouldBe([0, 256, 512, 768]);
        allowed.Left(Demo.Viewers)[512].ShouldBe((float)Signals.FromDb(-6), 1e-6f);
    }

    [Fact]
    public void A_quiet_loop_is_reported_and_plays()
    {
        var click = new float[Signals.Rate];
        click[0] = 1;
        var quiet = new Bench(Loop(gain: -6.1), new() { ["app"] = new ArrayInlet(click, click) }).Run(3);
        quiet.Engine.Plan.Loops.Single().GainDecibels.ShouldBe(-6.1, 1e-6);
        quiet.Engine.Plan.Loops.Single().Held.ShouldBeEmpty();
        Impulses(quiet).Select(i => i.At).ShouldBe([0, 256, 512]);
    }

    [Fact]
    public void Plugging_closing_allowing_and_unplugging_cables_under_a_sine_is_heard_as_no_click_and_other_mixes_keep_every_bit()
    {
        var length = 10 * Signals.Rate;
        var sine = Signals.Sine(100, 0.1, length);
        var noise = Signals.Noise(1, length);
        Dictionary<string, IInlet> Feeds() => new() { ["app"] = new ArrayInlet(sine, sine), ["other"] = new ArrayInlet(noise) };
        var start = Demo.Rig("app", "other")
            .Apply(new SetSend(Demo.Viewers, new("other"), Heard: false))
            .Apply(new SetSend(Demo.Ears, new("app"), Heard: false))
            .Apply(new AddProcessor(new SourcePoint(new("other")), Processor.Of(Gate.Type, ("range", 0), ("lookAhead", 10))));
        var (bench, plain) = (new Bench(start, Feeds()), new Bench(start, Feeds()));
        var (far, fromViewers, fromApp, fromFar) = (new CableId("far"), new MixPoint(Demo.Viewers), new SourcePoint(new("app")), new CablePoint(new("far")));
        RigCommand[] commands =
        [
            new AddCable(new Cable { Id = Wire, Name = "Wire" }),
            new AddSource(Recorder(), Sends: Alone()),
            new AddCableFeed(Wire, new CableFeed { From = fromApp, Gain = new(-9) }),
            new SetCable(Wire, BufferFrames: 333),
            new SetCableFeed(Wire, fromApp, Gain: new(-12)),
            new AddCableFeed(Wire, new CableFeed { From = fromViewers, Gain = new(-9) }),
            new SetCableFeed(Wire, fromViewers, Gain: new(-4)),
            new SetSource(new("recorder"), Input: new CableInput(Wire, 0, 1, LoopAllowed: true)),
            new SetCable(Wire, BufferFrames: 0),
            new SetCableFeed(Wire, fromViewers, On: false),
            new RemoveCableFeed(Wire, fromViewers),
            new AddCable(new Cable { Id = far, Name = "Far", BufferFrames = 50, Feeds = [new CableFeed { From = fromApp }] }),
            new AddCableFeed(Wire, new CableFeed { From = fromFar, Into = new(0) }),
            new AddProcessor(new SourcePoint(new("app")), Processor.Of(Gate.Type, ("range", 0), ("lookAhead", 7))),
            new SetSend(Demo.Viewers, new("app"), Tap: Tap.BeforeChain),
            new SetCable(Wire, Channels: 4),
            new Several([new RemoveSource(new("recorder")), new RemoveCable(far), new RemoveCable(Wire)]),
        ];
        bench.Run(Second / 2);
        plain.Run(Second / 2);
        foreach (var command in commands)
        {
            bench.Post(command);
            bench.Run(Second / 3);
            plain.Run(Second / 3);
        }

        var left = bench.Left(Demo.Viewers);
        left.Max().ShouldBeLessThan(2);
        Signals.RmsAbove(5_000, left, Signals.Rate / 4, left.Length - 512).ShouldBeLessThan(-80);
        bench.Left(Demo.Ears).ShouldBe(plain.Left(Demo.Ears));
        bench.Right(Demo.Ears).ShouldBe(plain.Right(Demo.Ears));
    }

    [Fact]
    public void Under_hush_a_mix_gives_its_cable_silence_too()
    {
        var noise = Signals.Noise(1, Signals.Rate);
        foreach (var tap in new[] { Tap.AfterChain, Tap.BeforeChain })
        {
            var rig = With(Demo.Rig("app"), new Cable { Id = Wire, Name = "Wire", Feeds = [new CableFeed { From = new MixPoint(Demo.Ears, tap) }] })
                .Apply(new AddSource(Recorder(), Sends: Alone()));
            var bench = new Bench(rig, new() { ["app"] = new ArrayInlet(noise, noise) });
            bench.Run(8).Engine.Hushed = true;
            bench.Run(8);
            var heard = new float[AudioFormat.BlockFrames];
            var position = 15L * AudioFormat.BlockFrames;
            bench.Engine.RingOf(new SourcePoint(new("recorder")))!.Read(ref position, heard, heard, out _);
            heard.ShouldAllBe(x => x == 0);
        }
    }

    [Theory]
    [InlineData(0, 0)]
    [InlineData(100, 0)]
    [InlineData(700, 0)]
    [InlineData(700, 10)]
    public void A_round_takes_as_long_as_is_said_of_it_also_where_a_second_way_round_is_longer(int buffer, double further)
    {
        var pulse = new float[Signals.Rate];
        pulse[1000] = 1;
        var rig = Loop(gain: -12, buffer);
        if (further > 0)
        {
            rig = rig.Apply(new AddSource(Recorder() with { Id = new("slow"), Name = "Slow", SyncDelay = further }, Sends: ImmutableDictionary<string, Send>.Empty
                .Add(Demo.Viewers.Value, new Send { Source = new("slow"), Gain = new(-20) })
                .Add(Demo.Ears.Value, new Send { Source = new("slow"), Heard = false })));
        }

        var routed = Routed.Of(rig, Computer.Unknown);
        var round = LoopRound.FramesOf(routed, routed.Loops.All.ShouldHaveSingleItem());
        var heard = Impulses(new Bench(rig, new() { ["app"] = new ArrayInlet(pulse, pulse) }).Run(Second / 2));
        round.ShouldBe(Math.Max(buffer, AudioFormat.BlockFrames));
        (heard[1].At - heard[0].At).ShouldBe(round);
    }

    [Fact]
    public void A_running_engine_with_cables_allocates_nothing()
    {
        var noise = Signals.Noise(1, Signals.Rate);
        var bench = new Bench(Loop(gain: -12), new() { ["app"] = new StandingInlet(new SoundBuffer(noise, noise)) }).Run(Second);
        Allocations.Of(Second, _ => bench.Engine.ProcessBlock()).ShouldBe(0);
    }

    // What the recorder gives is heard by the viewers, and what they hear is played into its cable.
    private static Rig Loop(double gain, int buffer = 0) =>
        With(Demo.Rig("app"), new Cable { Id = Wire, Name = "Wire", BufferFrames = buffer, Feeds = [new CableFeed { From = new MixPoint(Demo.Viewers), Gain = new(gain) }] })
            .Apply(new AddSource(Recorder(), Sends: Alone()));

    private static (int At, float Value)[] Impulses(Bench bench) =>
        [.. bench.Left(Demo.Viewers).Select((x, n) => (n, x)).Where(p => Math.Abs(p.x) > 1e-6)];

    private static Source Recorder(bool allowed = false) =>
        Demo.Source("recorder") with { Input = new CableInput(Wire, 0, 1, allowed) };

    private static ImmutableDictionary<string, Send> Alone() => ImmutableDictionary<string, Send>.Empty
        .Add(Demo.Viewers.Value, new Send { Source = new("recorder") })
        .Add(Demo.Ears.Value, new Send { Source = new("recorder"), Heard = false });

    private static Rig With(Rig rig, Cable cable) => rig.Apply(new AddCable(cable));
}

using System.Collections.Immutable;
using Kinetra.Core.Editing;
using Kinetra.Core.Engine;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Engine;

public class ChainTests
{
    private const int Second = Signals.Rate / AudioFormat.BlockFrames;
    private static readonly Point OnA = new SourcePoint(new("a"));
    private static readonly Point OnViewers = new MixPoint(Demo.Viewers);

    [Fact]
    public void Adding_removing_moving_and_bypassing_processors_is_heard_as_no_click_and_other_mixes_keep_every_bit()
    {
        var sine = Signals.Sine(100, 0.25, 6 * Signals.Rate);
        var limiter = Processor.Of(Limiter.Type, ("lookAhead", 5));
        var cut = Processor.Of(Cuts.LowCut);
        var compressor = Processor.Of(Compressor.Type, ("threshold", -30), ("attack", 30), ("release", 500));
        var bench = new Bench(Rig(), new() { ["a"] = new ArrayInlet(sine, sine), ["b"] = new ArrayInlet(Signals.Noise(1, 6 * Signals.Rate)) });
        var plain = new Bench(Rig(), new() { ["a"] = new ArrayInlet(sine, sine), ["b"] = new ArrayInlet(Signals.Noise(1, 6 * Signals.Rate)) });
        RigCommand[] commands =
        [
            new AddProcessor(OnViewers, limiter),
            new AddProcessor(OnViewers, cut, 0),
            new AddProcessor(OnViewers, compressor),
            new MoveProcessor(OnViewers, limiter.Id, 2),
            new SetProcessor(OnViewers, limiter.Id, Bypassed: true),
            new SetProcessor(OnViewers, compressor.Id, Values: ImmutableSortedDictionary<string, double>.Empty.Add("makeUp", 9)),
            new SetProcessor(OnViewers, limiter.Id, Bypassed: false, Values: ImmutableSortedDictionary<string, double>.Empty.Add("lookAhead", 10)),
            new RemoveProcessor(OnViewers, cut.Id),
            new SetChain(OnViewers, []),
        ];
        bench.Run(Second);
        plain.Run(Second);
        foreach (var command in commands)
        {
            bench.Post(command);
            bench.Run(Second / 3);
            plain.Run(Second / 3);
        }

        var left = bench.Left(Demo.Viewers);
        Signals.RmsAbove(5_000, left, Signals.Rate / 2, left.Length - 512).ShouldBeLessThan(-80);
        left[^4_096..].ShouldBe(plain.Left(Demo.Viewers)[^4_096..]);
        bench.Left(Demo.Ears).ShouldBe(plain.Left(Demo.Ears));
        bench.Right(Demo.Ears).ShouldBe(plain.Right(Demo.Ears));

        static Rig Rig() => Demo.Rig("a", "b").Apply(new SetSend(Demo.Viewers, new("b"), Heard: false));
    }

    [Fact]
    public void A_source_that_comes_in_under_way_begins_softly_for_who_hears_it_late()
    {
        var sine = new StandingInlet(new SoundBuffer(Signals.Sine(100, 0.1, Signals.Rate), null));
        var bench = new Bench(Demo.Rig("a"), new() { ["a"] = sine });

        // Look-ahead of 60 ms makes all others in the mix wait: five times as long as a fade.
        for (var gate = 0; gate < 6; gate++)
        {
            bench.Post(new AddProcessor(OnA, Processor.Of(Gate.Type, ("range", 0), ("lookAhead", 10))));
        }

        bench.Run(Second);
        bench.Add("b", sine);
        bench.Post(new AddSource(Demo.Source("b")));
        bench.Run(Second / 2);
        var left = bench.Left(Demo.Viewers);
        Signals.RmsAbove(5_000, left, Signals.Rate / 2, left.Length - 512).ShouldBeLessThan(-110);
        bench.Engine.Plan.LatencyOf(new MixPoint(Demo.Viewers)).ShouldBe(2_880);
    }

    [Theory]
    [InlineData("delay", "time", 13.19)]
    [InlineData("delay", "time", 60)]
    [InlineData("room", "blend", 100)]
    public void What_gives_sound_of_long_ago_begins_softly_where_it_comes_in_and_where_it_is_moved(string type, string parameter, double value)
    {
        var late = Processor.Of(ProcessorTypes.Find(type)!, (parameter, value));
        var louder = Processor.Of(Utility.Type, ("gain", 12));
        var sine = Signals.Sine(100, 0.1, 3 * Signals.Rate);
        var bench = new Bench(Demo.Rig("a"), new() { ["a"] = new ArrayInlet(sine, sine) }).Run(Second);
        foreach (var command in new RigCommand[]
        {
            new AddProcessor(OnViewers, late),
            new AddProcessor(OnViewers, louder),
            new MoveProcessor(OnViewers, late.Id, 1),
            new MoveProcessor(OnViewers, late.Id, 0),
            new RemoveProcessor(OnViewers, late.Id),
            new AddProcessor(OnViewers, late, 1),
        })
        {
            bench.Post(command);
            bench.Run(Second / 4);
        }

        var left = bench.Left(Demo.Viewers);
        Signals.RmsAbove(5_000, left, Signals.Rate / 2, left.Length - 512).ShouldBeLessThan(-110);
    }

    [Fact]
    public void What_a_change_does_not_touch_keeps_its_state()
    {
        var noise = Signals.Noise(1, 4 * Signals.Rate);
        var rig = Demo.Rig("a").Apply(new AddProcessor(OnA, Processor.Of(Compressor.Type, ("threshold", -40), ("release", 2_000))));
        var bench = new Bench(rig, new() { ["a"] = new ArrayInlet(noise, noise) }).Run(Second);
        var plain = new Bench(rig, new() { ["a"] = new ArrayInlet(noise, noise) }).Run(2 * Second);
        bench.Post(new AddProcessor(OnViewers, Processor.Of(Limiter.Type)));
        bench.Post(new SetSource(new("a"), Name: "Another"));
        bench.Run(Second);
        bench.Left(Demo.Ears).ShouldBe(plain.Left(Demo.Ears));
    }

    [Fact]
    public void A_ducker_on_a_send_lowers_that_listeners_copy_by_its_depth_and_nobody_elses()
    {
        var music = Signals.Noise(1, 4 * Signals.Rate, 0.1);
        var talk = Signals.Sine(300, 0.5, 4 * Signals.Rate);
        var ducker = Processor.Of(Ducker.Type, ("depth", 12)) with { Keys = [new SourcePoint(new("talk"))] };
        var rig = Demo.Rig("talk", "music")
            .Apply(new SetSend(Demo.Viewers, new("talk"), Heard: false))
            .Apply(new SetSend(Demo.Ears, new("talk"), Heard: false))
            .Apply(new AddProcessor(new SendPoint(Demo.Viewers, new("music")), ducker));
        var bench = new Bench(rig, new() { ["talk"] = new ArrayInlet(talk), ["music"] = new ArrayInlet(music, music) }).Run(2 * Second);
        var (ducked, open) = (bench.Left(Demo.Viewers), bench.Left(Demo.Ears));
        open.ShouldBe(music[..open.Length]);
        for (var n = Signals.Rate; n < ducked.Length; n++)
        {
            Math.Abs(ducked[n] - (music[n] * Signals.FromDb(-12))).ShouldBeLessThan(1e-6);
        }

        var meters = bench.Meters();
        meters[^3].ShouldBe(12, 0.001);
        var send = (2 * MeterLayout.SourceValues) + (2 * MeterLayout.MixValues) + 3;
        (meters[send - 2] - meters[send]).ShouldBe(12, 0.01);
    }

    [Fact]
    public void A_processor_may_listen_to_another_source_or_mix_wherever_they_stand_in_the_rig()
    {
        // The first source is keyed by the last, and the last's mix by the first one's.
        var tone = Signals.Sine(300, 0.5, 2 * Signals.Rate);
        var gate = Processor.Of(Gate.Type, ("threshold", -20), ("range", 80)) with { Keys = [new SourcePoint(new("z"), Tap.BeforeChain)] };
        var ducker = Processor.Of(Ducker.Type, ("depth", 20), ("threshold", -30)) with { Keys = [new MixPoint(Demo.Viewers)] };
        var rig = Demo.Rig("a", "z")
            .Apply(new AddProcessor(OnA, gate))
            .Apply(new AddProcessor(new MixPoint(Demo.Ears), ducker));
        var silent = new Bench(rig, new() { ["a"] = new ArrayInlet(tone), ["z"] = new ArrayInlet([]) }).Run(Second);
        silent.Left(Demo.Viewers).Max().ShouldBeLessThan(1e-4f);
        var open = new Bench(rig, new() { ["a"] = new ArrayInlet(tone), ["z"] = new ArrayInlet(tone) }).Run(Second);
        open.Left(Demo.Viewers).Max().ShouldBeGreaterThan(0.5f);
        (open.Left(Demo.Ears)[^4_096..].Max() / open.Left(Demo.Viewers)[^4_096..].Max()).ShouldBe((float)Signals.FromDb(-20), 1e-4f);
    }

    [Fact]
    public void A_send_tapped_before_the_chain_is_a_clean_copy()
    {
        var noise = Signals.Noise(1, Signals.Rate);
        var rig = Demo.Rig("a")
            .Apply(new AddProcessor(OnA, Processor.Of(Utility.Type, ("gain", -20))))
            .Apply(new SetSend(Demo.Ears, new("a"), Tap: Tap.BeforeChain));
        var bench = new Bench(rig, new() { ["a"] = new ArrayInlet(noise, noise) }).Run(Second / 2);
        bench.Left(Demo.Ears).ShouldBe(noise[..(Second / 2 * AudioFormat.BlockFrames)]);
        bench.Left(Demo.Viewers).Max().ShouldBeLessThan(0.03f);
        bench.Post(new SetSend(Demo.Ears, new("a"), Tap: Tap.AfterChain));
        bench.Run(4).Left(Demo.Ears)[^256..].ShouldBe(bench.Left(Demo.Viewers)[^256..]);
    }

    [Fact]
    public void Hush_silences_a_mix_after_its_chain_at_once()
    {
        var noise = Signals.Noise(1, 2 * Signals.Rate);
        var rig = Demo.Rig("a").Apply(new AddProcessor(OnViewers, Processor.Of(Room.Type, ("decay", 5_000), ("blend", 100))));
        var bench = new Bench(rig, new() { ["a"] = new ArrayInlet(noise, noise) }).Run(Second);
        bench.Engine.Hushed = true;
        bench.Run(4).Left(Demo.Viewers)[^256..].ShouldAllBe(x => x == 0);
    }

    [Fact]
    public void With_every_processor_at_work_and_plans_changing_it_allocates_nothing()
    {
        var noise = Signals.Noise(1, 30 * Signals.Rate);
        var rig = ProcessorTypes.All.Aggregate(Demo.Rig("a", "b"), (r, t) => r.Apply(new AddProcessor(OnA, Processor.Of(t))));
        var bench = new Bench(rig, new() { ["a"] = new ArrayInlet(noise, noise), ["b"] = new ArrayInlet(noise) }).Run(Second);
        var next = rig.Sources[0].Chain[4];
        bench.Post(new SetProcessor(OnA, next.Id, Values: ImmutableSortedDictionary<string, double>.Empty.Add("threshold", -35)));
        bench.Post(new MoveProcessor(OnA, next.Id, 0), notBefore: (Second + 10) * AudioFormat.BlockFrames);
        bench.Post(new SetChain(OnA, []), notBefore: (Second + 100) * AudioFormat.BlockFrames);
        Allocations.Of(300, _ => bench.Engine.ProcessBlock()).ShouldBe(0);
    }

    [Fact]
    public void A_key_that_would_make_a_loop_is_refused_with_words()
    {
        var compressor = Processor.Of(Compressor.Type) with { Keys = [new MixPoint(Demo.Viewers)] };
        Refused(Demo.Rig("a", "b"), new AddProcessor(OnA, compressor)).What.ShouldBe(
            "Compressor on A would listen to Viewers, in which it sounds itself: a loop.");
        var docked = Demo.Rig("a", "b").Apply(new SetSend(Demo.Viewers, new("a"), Heard: false)).Apply(new AddProcessor(OnA, compressor));
        Refused(docked, new SetSend(Demo.Viewers, new("a"), Heard: true)).What.ShouldContain("a loop");
        var around = Demo.Rig("a", "b").Apply(new AddProcessor(OnA, Processor.Of(Gate.Type) with { Keys = [new SourcePoint(new("b"))] }));
        Refused(around, new AddProcessor(new SourcePoint(new("b")), Processor.Of(Gate.Type) with { Keys = [new SourcePoint(new("a"))] })).What
            .ShouldContain("a loop");
        around.Apply(new AddProcessor(new SourcePoint(new("b")), Processor.Of(Gate.Type) with { Keys = [new SourcePoint(new("a"), Tap.BeforeChain)] }));
    }

    [Fact]
    public void A_source_that_goes_is_nobodys_key_any_more_and_is_again_when_that_is_taken_back()
    {
        var ducker = Processor.Of(Ducker.Type) with { Keys = [new SourcePoint(new("b")), new MixPoint(Demo.Ears)] };
        var rig = Demo.Rig("a", "b").Apply(new SetSend(Demo.Ears, new("a"), Heard: false)).Apply(new AddProcessor(OnA, ducker));
        var applied = new RemoveSource(new("b")).Apply(rig).ShouldBeOfType<CommandResult.Applied>();
        applied.Rig.Sources[0].Chain[0].Keys.ShouldBe([new MixPoint(Demo.Ears)]);
        applied.Rig.Apply(applied.Inverse).Sources[0].Chain[0].Keys.ShouldBe(ducker.Keys);
    }

    private static RigProblem Refused(Rig rig, RigCommand command) => command.Apply(rig).ShouldBeOfType<CommandResult.Refused>().Problems.Single();
}

using CsCheck;
using Kinetra.Core.Engine;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Routing;

namespace Kinetra.Core.Tests.Routing;

public class SoundGraphTests
{
    private static readonly CableId Wire = new("wire");

    [Fact]
    public void A_loops_gain_is_what_a_sound_gains_with_each_round_at_the_worst_frequency()
    {
        Round().GainDecibels.ShouldBe(-10, 1e-6);
        Round(new SetMix(Demo.Viewers, Gain: new(3))).GainDecibels.ShouldBe(-7, 1e-6);
        Round(new SetSource(new("recorder"), Trim: new(-2))).GainDecibels.ShouldBe(-12, 1e-6);
        Round(new SetSend(Demo.Viewers, new("recorder"), Gain: new(-4))).GainDecibels.ShouldBe(-14, 1e-6);
        Round(new AddProcessor(new ChainPlace(null, Demo.Viewers), Processor.Of(Limiter.Type, ("drive", 6)))).GainDecibels.ShouldBe(-4, 1e-6);
        var peak = Processor.Of(Equaliser.Type, ("frequency2", 1_013), ("gain2", 9), ("q2", 18));
        Round(new AddProcessor(new ChainPlace(null, Demo.Viewers), peak)).GainDecibels.ShouldBe(-1, 0.01);
        Round(new AddProcessor(new ChainPlace(null, Demo.Viewers), peak with { Bypassed = true })).GainDecibels.ShouldBe(-10, 1e-6);
    }

    [Fact]
    public void Loops_that_share_a_link_add_up()
    {
        // Two ways back of −10 dB each, in phase: −4 dB, and so held.
        var twice = Looped().Apply(new AddSource(Recorder("again"), Sends: null)).Apply(new SetSend(Demo.Viewers, new("again"), Gain.Unity, Heard: true));
        var graph = SoundGraph.Of(twice.Apply(new SetSend(Demo.Ears, new("again"), Heard: false)));
        var loop = Loops.Of(graph, RunOrder.Of(graph)!).ShouldHaveSingleItem();
        loop.GainDecibels.ShouldBe(-10 + Signals.Db(2), 1e-6);
        loop.Closing.Length.ShouldBe(2);
        loop.Held.Length.ShouldBe(2);
    }

    [Fact]
    public void What_nobody_sends_on_is_no_loop()
    {
        foreach (var command in new RigCommand[]
        {
            new SetSend(Demo.Viewers, new("recorder"), Muted: true),
            new SetSend(Demo.Viewers, new("recorder"), Heard: false),
            new SetSend(Demo.Viewers, new("recorder"), Gain: Gain.Off),
            new SetCableFeed(Wire, new Origin(Mix: Demo.Viewers), On: false),
        })
        {
            var graph = SoundGraph.Of(Looped().Apply(command));
            Loops.Of(graph, RunOrder.Of(graph)!).ShouldBeEmpty();
        }
    }

    [Fact]
    public void In_waves_each_node_comes_once_and_after_all_that_it_needs()
    {
        AnyRigs.Rig.Sample(
            rig =>
            {
                var graph = SoundGraph.Of(rig);
                if (RunOrder.Of(graph) is not { } order)
                {
                    return;
                }

                order.Waves.SelectMany(w => w).Order(Comparer<SoundNode>.Create((a, b) => (a.Stage, a.Index).CompareTo((b.Stage, b.Index))))
                    .ShouldBe(graph.Nodes.OrderBy(n => n.Stage).ThenBy(n => n.Index));
                order.Waves.ShouldAllBe(w => w.All(n => n.Stage == w[0].Stage));
                var waves = order.Waves.SelectMany((w, i) => w.Select(n => (n, i))).ToDictionary(p => p.n, p => p.i);
                foreach (var link in graph.Links.Where(l => l.Kind == LinkKind.Sound && !order.Late.Contains(l)))
                {
                    waves[link.From].ShouldBeLessThan(waves[link.To], $"{link.From} → {link.To}");
                }
            },
            iter: 300);
    }

    [Fact]
    public void A_cable_that_plays_into_itself_through_others_is_a_loop_with_one_closing_link()
    {
        var (one, two) = (new CableId("one"), new CableId("two"));
        var rig = Demo.Rig("app")
            .Apply(new AddCable(new Cable { Id = one, Name = "One" }))
            .Apply(new AddCable(new Cable { Id = two, Name = "Two", Feeds = [new CableFeed { From = new(Cable: one), Into = new(0), Gain = new(-1) }] }))
            .Apply(new AddCableFeed(one, new CableFeed { From = new(Cable: two), Into = new(0), Gain = new(-2) }));
        var graph = SoundGraph.Of(rig);
        var loop = Loops.Of(graph, RunOrder.Of(graph)!).ShouldHaveSingleItem();
        loop.GainDecibels.ShouldBe(-3, 1e-6);
        loop.Closing.ShouldHaveSingleItem();
    }

    [Fact]
    public void The_computing_order_has_everything_before_it_is_needed_but_for_the_closing_links()
    {
        var rig = Looped()
            .Apply(new SetSend(Demo.Ears, new("app"), Heard: false))
            .Apply(new AddProcessor(new ChainPlace(new("app")), Processor.Of(Gate.Type) with { Keys = [new Key(Mix: Demo.Ears, Tap: Tap.BeforeChain)] }));
        var graph = SoundGraph.Of(rig);
        var order = RunOrder.Of(graph)!;
        foreach (var link in graph.Links.Where(l => l.Kind != LinkKind.Docked && !order.Late.Contains(l)))
        {
            order.Nodes.IndexOf(link.From).ShouldBeLessThan(order.Nodes.IndexOf(link.To));
        }
    }

    [Fact]
    public void A_key_that_hears_a_mix_before_its_chain_is_no_loop_for_that_chain()
    {
        var keyed = Processor.Of(Compressor.Type) with { Keys = [new Key(Mix: Demo.Viewers, Tap: Tap.BeforeChain)] };
        new AddProcessor(new ChainPlace(null, Demo.Viewers), keyed).Apply(Demo.Rig("app")).ShouldBeOfType<CommandResult.Applied>();
        var after = keyed with { Keys = [new Key(Mix: Demo.Viewers)] };
        new AddProcessor(new ChainPlace(null, Demo.Viewers), after).Apply(Demo.Rig("app")).ShouldBeOfType<CommandResult.Refused>()
            .Problems.Single().What.ShouldContain("a loop");
    }

    [Fact]
    public void All_that_meets_in_a_mix_waits_for_the_slowest_look_ahead()
    {
        var click = new float[8_192];
        click[100] = 1;
        var rig = Demo.Rig("slow", "fast")
            .Apply(new AddProcessor(new ChainPlace(new("slow")), Processor.Of(Gate.Type, ("range", 0), ("lookAhead", 5))))
            .Apply(new SetSend(Demo.Ears, new("slow"), Heard: false));
        var bench = new Bench(rig, new() { ["slow"] = new ArrayFeed(click, click), ["fast"] = new ArrayFeed(click, click) }).Run(8);
        bench.Left(Demo.Viewers).Select((x, n) => (x, n)).Where(p => p.x != 0).ShouldBe([(2, 340)]);
        bench.Left(Demo.Ears).Select((x, n) => (x, n)).Where(p => p.x != 0).ShouldBe([(1, 100)]);
        bench.Engine.Plan.MixLatencies.ShouldBe([0, 240]);
    }

    [Fact]
    public void A_delay_that_people_set_and_a_cables_buffer_are_nobody_elses_wait()
    {
        var rig = Looped()
            .Apply(new SetCable(Wire, BufferFrames: 999))
            .Apply(new AddProcessor(new ChainPlace(new("app")), Processor.Of(Delay.Type, ("time", 50))));
        var graph = SoundGraph.Of(rig);
        var alignment = Alignment.Of(graph, RunOrder.Of(graph)!);
        graph.Links.ShouldAllBe(l => alignment.WaitOf(l) == 0);
    }

    [Fact]
    public void Each_types_stated_look_ahead_is_what_the_running_processor_says()
    {
        foreach (var type in ProcessorTypes.All)
        {
            foreach (var values in new[] { type.Defaults, [.. type.Parameters.Select(p => p.Min)], [.. type.Parameters.Select(p => p.Max)] })
            {
                type.LatencyOf(values).ShouldBe(new ChainSlot(type, new ProcessorSettings(2, values)).Latency, type.Key);
            }
        }
    }

    private static SoundLoop Round(RigCommand? command = null)
    {
        var graph = SoundGraph.Of(command is null ? Looped() : Looped().Apply(command));
        return Loops.Of(graph, RunOrder.Of(graph)!).ShouldHaveSingleItem();
    }

    private static Source Recorder(string id) => Demo.Source(id) with { Input = new CableInput(Wire, 0, 1) };

    private static Rig Looped() => Demo.Rig("app")
        .Apply(new AddCable(new Cable { Id = Wire, Name = "Wire", Feeds = [new CableFeed { From = new(Mix: Demo.Viewers), Gain = new(-10) }] }))
        .Apply(new AddSource(Recorder("recorder")))
        .Apply(new SetSend(Demo.Viewers, new("recorder"), Gain.Unity, Heard: true))
        .Apply(new SetSend(Demo.Ears, new("recorder"), Heard: false));
}

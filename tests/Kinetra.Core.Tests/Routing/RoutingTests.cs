using System.Collections.Immutable;
using CsCheck;
using Kinetra.Core.Editing;
using Kinetra.Core.Engine;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Routing;

public class RoutingTests
{
    private static readonly CableId Wire = new("wire");

    [Fact]
    public void A_loops_gain_is_what_a_sound_gains_with_each_round_at_the_worst_frequency()
    {
        Round().GainDecibels.ShouldBe(-10, 1e-6);
        Round(new SetMix(Demo.Viewers, Gain: new(3))).GainDecibels.ShouldBe(-7, 1e-6);
        Round(new SetSource(new("recorder"), Trim: new(-2))).GainDecibels.ShouldBe(-12, 1e-6);
        Round(new SetSend(Demo.Viewers, new("recorder"), Gain: new(-4))).GainDecibels.ShouldBe(-14, 1e-6);
        Round(new AddProcessor(new MixPoint(Demo.Viewers), Processor.Of(Limiter.Type, ("drive", 6)))).GainDecibels.ShouldBe(-4, 1e-6);
        var peak = Processor.Of(Equaliser.Type, ("frequency2", 1_013), ("gain2", 9), ("q2", 18));
        Round(new AddProcessor(new MixPoint(Demo.Viewers), peak)).GainDecibels.ShouldBe(-1, 0.01);
        Round(new AddProcessor(new MixPoint(Demo.Viewers), peak with { Bypassed = true })).GainDecibels.ShouldBe(-10, 1e-6);
    }

    [Fact]
    public void Loops_that_share_a_link_add_up()
    {
        // Two ways back of −10 dB each, in phase: −4 dB, and so held.
        var twice = Looped().Apply(new AddSource(Recorder("again"), Sends: null)).Apply(new SetSend(Demo.Viewers, new("again"), Gain.Unity, Heard: true));
        var loop = LoopsOf(twice.Apply(new SetSend(Demo.Ears, new("again"), Heard: false))).ShouldHaveSingleItem();
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
            new SetCableFeed(Wire, new MixPoint(Demo.Viewers), On: false),
        })
        {
            LoopsOf(Looped().Apply(command)).ShouldBeEmpty();
        }
    }

    [Fact]
    public void Sound_on_one_channel_of_a_cable_is_no_loop_for_who_takes_another()
    {
        var rig = Looped().Apply(new SetCable(Wire, Channels: 4));
        LoopsOf(rig).ShouldNotBeEmpty();
        LoopsOf(rig.Apply(new SetSource(new("recorder"), Input: new CableInput(Wire, 2, 3)))).ShouldBeEmpty();
        LoopsOf(rig.Apply(new SetSource(new("recorder"), Input: new CableInput(Wire, 1, 2)))).ShouldBeEmpty();
        LoopsOf(rig.Apply(new SetSource(new("recorder"), Input: new CableInput(Wire, 0, 2)))).ShouldNotBeEmpty();
    }

    [Fact]
    public void A_mono_source_in_a_loop_counts_as_mono()
    {
        // −3.01 dB into each side; the cable's channel gets the mean of both.
        var rig = Looped()
            .Apply(new SetSource(new("recorder"), Input: new CableInput(Wire, 0)))
            .Apply(new SetCableFeed(Wire, new MixPoint(Demo.Viewers), Into: new(0)));
        LoopsOf(rig).ShouldHaveSingleItem().GainDecibels.ShouldBe(-10 + Signals.Db(Math.Sqrt(0.5)), 1e-6);
    }

    [Fact]
    public void A_processor_that_mixes_the_sides_closes_a_loop_across_them()
    {
        // Right comes back as left: round once over both sides, unless something crosses.
        var rig = Looped().Apply(new SetSource(new("recorder"), Input: new CableInput(Wire, 1, 0)));
        LoopsOf(rig).ShouldHaveSingleItem().GainDecibels.ShouldBe(-10, 1e-6);
        var apart = rig.Apply(new SetSend(Demo.Viewers, new("recorder"), Pan: 1));
        LoopsOf(apart).ShouldBeEmpty();
        var mono = Processor.Of(Utility.Type, ("mono", 1));
        LoopsOf(apart.Apply(new AddProcessor(new MixPoint(Demo.Viewers), mono))).ShouldHaveSingleItem().GainDecibels.ShouldBe(-10 + Signals.Db(0.5), 1e-6);
    }

    [Fact]
    public void Exactly_six_decibels_down_is_held()
    {
        Round(new SetCableFeed(Wire, new MixPoint(Demo.Viewers), Gain: new(-6))).Held.ShouldHaveSingleItem();
        Round(new SetCableFeed(Wire, new MixPoint(Demo.Viewers), Gain: new(-6.001))).Held.ShouldBeEmpty();
    }

    [Fact]
    public void Docking_a_send_moves_nothing_in_time_and_changes_no_order()
    {
        AnyRigs.Rig.Sample(
            rig =>
            {
                foreach (var send in rig.Mixes.SelectMany(m => m.Sends.Select(s => (Mix: m, Send: s))))
                {
                    var other = rig.With(send.Mix.Id, send.Send with { Heard = !send.Send.Heard });
                    var (one, two) = (Resolve.Of(rig, Computer.Unknown), Resolve.Of(other, Computer.Unknown));
                    var (first, second) = (RunOrder.Of(one)!, RunOrder.Of(two)!);
                    second.Points.ShouldBe(first.Points);
                    two.Links.Where((_, i) => second.IsLate(i)).Select(l => l.Identity).ShouldBe(one.Links.Where((_, i) => first.IsLate(i)).Select(l => l.Identity));
                    var (before, after) = (Alignment.Of(one, first), Alignment.Of(two, second));
                    one.Points.ShouldAllBe(p => before.LatencyOf(p) == after.LatencyOf(p));
                }
            },
            iter: 60);
    }

    [Fact]
    public void What_is_taken_over_from_the_wiring_before_is_what_would_be_made_anew()
    {
        (
            from one in AnyRigs.Rig
            from other in AnyRigs.Rig
            from edit in Gen.Int[0, 9]
            from at in Gen.Int[0, 99]
            select (one, Edited(one, other, edit, at))).Sample(
            pair =>
            {
                var (before, after) = pair;
                var known = Routed.Of(before, Computer.Unknown);
                var (built, anew) = (Routed.Of(after, Computer.Unknown, known), Routed.Of(after, Computer.Unknown));
                Told(built).ShouldBe(Told(anew));

                // And back again: nothing of what lay between is left.
                Told(Routed.Of(before, Computer.Unknown, built)).ShouldBe(Told(known));
            },
            iter: 600);

        static Rig Edited(Rig rig, Rig other, int edit, int at)
        {
            var (s, m) = (at % rig.Sources.Length, at % rig.Mixes.Length);
            var (source, mix) = (rig.Sources[s], rig.Mixes[m]);
            var send = mix.Sends[s % mix.Sends.Length];
            return edit switch
            {
                0 => rig,
                1 => rig.With(mix.Id, send with { Gain = new(-at), Heard = !send.Heard }),
                2 => rig.With(mix.Id, send with { Tap = Tap.BeforeChain, Pan = -1 }),
                3 => rig with { Sources = rig.Sources.SetItem(s, source with { Trim = new(-at), Chain = [] }) },
                4 => rig with { Mixes = rig.Mixes.SetItem(m, mix with { Gain = new(-at) }) },
                5 => rig with { Sources = [.. rig.Sources.Reverse()] },

                // Another mix with the very same sends.
                6 => rig with { Mixes = [.. rig.Mixes, mix with { Id = new("another") }] },
                7 => rig with { Mixes = [mix with { Id = new("another") }, .. rig.Mixes.Skip(1)], Cables = [], Sources = [.. rig.Sources.Select(x => x.Input is CableInput ? x with { Input = Demo.Given("x") } : x)] },
                8 => rig with { Cables = [.. rig.Cables.Select(c => c with { Channels = 8, BufferFrames = at, Feeds = [.. c.Feeds.Select(f => f with { Gain = new(-at) })] })] },
                _ => other,
            };
        }

        static string[] Told(Routed routed) =>
        [
            .. routed.Wiring.Links.Select((l, i) =>
                $"{l.From} {l.To} {l.Use} {l.Via} {l.Gain} {l.State} {l.Delays} {l.Breaking} {l.LoopAllowed} {l.Map.From} {l.Map.To} {string.Join(' ', l.Map.Cells)} "
                + $"{string.Join(' ', l.Chain.Select(p => p.Id))} {routed.Order.IsLate(i)} {routed.Order.IsCut(i)} {routed.Alignment.WaitOf(i)}"),
            .. routed.Order.Waves.Select(w => string.Join(' ', w)),
            .. routed.Wiring.Points.Select(p => $"{p} {routed.Wiring.ChannelsOf(p)} {routed.Alignment.LatencyOf(p)}"),
            .. routed.Loops.All.Select(l => $"{string.Join(' ', l.Points)} {l.GainDecibels} {l.Held.Length}"),
        ];
    }

    [Fact]
    public void In_waves_each_node_comes_once_and_after_all_that_it_needs()
    {
        AnyRigs.Rig.Sample(
            rig =>
            {
                var wiring = Resolve.Of(rig, Computer.Unknown);
                var order = RunOrder.Of(wiring).ShouldNotBeNull();
                order.Waves.SelectMany(w => w).OrderBy(p => p.ToString(), StringComparer.Ordinal)
                    .ShouldBe(wiring.Points.OrderBy(p => p.ToString(), StringComparer.Ordinal));
                order.Waves.ShouldAllBe(w => w.Length <= RunOrder.MostOfAWave && w.All(p => KindOf(p) == KindOf(w[0])));
                var waves = order.Waves.SelectMany((w, i) => w.Select(p => (p, i))).ToDictionary(p => p.p, p => p.i);
                foreach (var link in wiring.Links.Where((l, i) => l.State != LinkState.Docked && !order.IsLate(i)))
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
            .Apply(new AddCable(new Cable { Id = two, Name = "Two", Feeds = [new CableFeed { From = new CablePoint(one), Into = new(0), Gain = new(-1) }] }))
            .Apply(new AddCableFeed(one, new CableFeed { From = new CablePoint(two), Into = new(0), Gain = new(-2) }));
        var loop = LoopsOf(rig).ShouldHaveSingleItem();
        loop.GainDecibels.ShouldBe(-3, 1e-6);
        loop.Closing.ShouldHaveSingleItem();
    }

    [Fact]
    public void The_computing_order_has_everything_before_it_is_needed_but_for_the_closing_links()
    {
        var rig = Looped()
            .Apply(new SetSend(Demo.Ears, new("app"), Heard: false))
            .Apply(new AddProcessor(new SourcePoint(new("app")), Processor.Of(Gate.Type) with { Keys = [new MixPoint(Demo.Ears, Tap.BeforeChain)] }));
        var wiring = Resolve.Of(rig, Computer.Unknown);
        var order = RunOrder.Of(wiring)!;
        foreach (var link in wiring.Links.Where((l, i) => l.Breaking != Breaking.Late && !order.IsLate(i)))
        {
            order.Points.IndexOf(link.From).ShouldBeLessThan(order.Points.IndexOf(link.To));
        }
    }

    [Fact]
    public void A_key_that_hears_a_mix_before_its_chain_is_no_loop_for_that_chain()
    {
        var keyed = Processor.Of(Compressor.Type) with { Keys = [new MixPoint(Demo.Viewers, Tap.BeforeChain)] };
        new AddProcessor(new MixPoint(Demo.Viewers), keyed).Apply(Demo.Rig("app")).ShouldBeOfType<CommandResult.Applied>();
        var after = keyed with { Keys = [new MixPoint(Demo.Viewers)] };
        new AddProcessor(new MixPoint(Demo.Viewers), after).Apply(Demo.Rig("app")).ShouldBeOfType<CommandResult.Refused>()
            .Problems.Single().What.ShouldContain("a loop");
    }

    [Fact]
    public void All_that_meets_in_a_mix_waits_for_the_slowest_look_ahead()
    {
        var click = new float[8_192];
        click[100] = 1;
        var rig = Demo.Rig("slow", "fast")
            .Apply(new AddProcessor(new SourcePoint(new("slow")), Processor.Of(Gate.Type, ("range", 0), ("lookAhead", 5))))
            .Apply(new RemoveMix(Demo.Ears));
        var bench = new Bench(rig, new() { ["slow"] = new ArrayInlet(click, click), ["fast"] = new ArrayInlet(click, click) }).Run(8);
        bench.Left(Demo.Viewers).Select((x, n) => (x, n)).Where(p => p.x != 0).ShouldBe([(2, 340)]);
        bench.Engine.Plan.LatencyOf(new MixPoint(Demo.Viewers)).ShouldBe(240);
    }

    [Fact]
    public void A_delay_that_people_set_and_a_cables_buffer_are_nobody_elses_wait()
    {
        var rig = Looped()
            .Apply(new SetCable(Wire, BufferFrames: 999))
            .Apply(new AddProcessor(new SourcePoint(new("app")), Processor.Of(Delay.Type, ("time", 50))));
        var wiring = Resolve.Of(rig, Computer.Unknown);
        var alignment = Alignment.Of(wiring, RunOrder.Of(wiring)!);
        Enumerable.Range(0, wiring.Links.Length).ShouldAllBe(l => alignment.WaitOf(l) == 0);
        wiring.Links.Sum(l => l.Delays.Set).ShouldBe(2_400);
        wiring.Links.Sum(l => l.Delays.Buffer).ShouldBe(999);
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

    private static SoundLoop Round(RigCommand? command = null) => LoopsOf(command is null ? Looped() : Looped().Apply(command)).ShouldHaveSingleItem();

    private static ImmutableArray<SoundLoop> LoopsOf(Rig rig) => Routed.Of(rig, Computer.Unknown).Loops.All;

    private static string KindOf(Point point) => point switch
    {
        SourcePoint source => $"source {source.Tap}",
        MixPoint mix => $"mix {mix.Tap}",
        _ => "cable",
    };

    private static Source Recorder(string id) => Demo.Source(id) with { Input = new CableInput(Wire, 0, 1) };

    private static Rig Looped() => Demo.Rig("app")
        .Apply(new AddCable(new Cable { Id = Wire, Name = "Wire", Feeds = [new CableFeed { From = new MixPoint(Demo.Viewers), Gain = new(-10) }] }))
        .Apply(new AddSource(Recorder("recorder")))
        .Apply(new SetSend(Demo.Viewers, new("recorder"), Gain.Unity, Heard: true))
        .Apply(new SetSend(Demo.Ears, new("recorder"), Heard: false));
}

using CsCheck;
using Kinetra.Core.Editing;
using Kinetra.Core.Engine;
using Kinetra.Core.Metering;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Engine;

public class MixEngineTests
{
    private const int Second = Signals.Rate / AudioFormat.BlockFrames;

    [Fact]
    public void A_stereo_source_at_0_dB_arrives_sample_for_sample()
    {
        var left = Signals.Noise(1, 20_000);
        var right = Signals.Noise(2, 20_000);
        var bench = new Bench(Demo.Rig("a"), new() { ["a"] = new ArrayInlet(left, right) }).Run(50);
        bench.Left(Demo.Viewers)[..12_800].ShouldBe(left[..12_800]);
        bench.Right(Demo.Viewers)[..12_800].ShouldBe(right[..12_800]);
    }

    [Fact]
    public void A_mix_is_the_sum_of_its_sources_each_at_its_own_gain()
    {
        Gen.Select(Gen.Double[-60, 12], Gen.Double[-60, 12], Gen.Double[-20, 6], Gen.Double[-1, 1]).Sample(
            (gainA, gainB, mixGain, pan) =>
            {
                var a = Signals.Noise(1, 4096);
                var b = Signals.Noise(2, 4096);
                var rig = Demo.Rig("a", "b")
                    .Apply(new SetSend(Demo.Viewers, new("a"), new Gain(gainA)))
                    .Apply(new SetSend(Demo.Viewers, new("b"), new Gain(gainB), Pan: pan))
                    .Apply(new SetMix(Demo.Viewers, Gain: new Gain(mixGain)));
                var bench = new Bench(rig, new() { ["a"] = new ArrayInlet(a, a), ["b"] = new ArrayInlet(b) }).Run(16);
                var left = bench.Left(Demo.Viewers);
                for (var n = 0; n < left.Length; n++)
                {
                    var mono = Signals.FromDb(gainB) * Math.Cos((pan + 1) * Math.PI / 4) * b[n];
                    var ideal = ((Signals.FromDb(gainA) * a[n]) + mono) * Signals.FromDb(mixGain);
                    ((double)left[n]).ShouldBe(ideal, 1e-6 + (1e-6 * Math.Abs(ideal)));
                }
            },
            iter: 30);
    }

    [Fact]
    public void A_docked_or_muted_or_turned_off_source_leaves_exact_zeros()
    {
        SetSend[] ways = [new(Demo.Viewers, new("a"), Heard: false), new(Demo.Viewers, new("a"), Muted: true), new(Demo.Viewers, new("a"), Gain.Off)];
        foreach (var way in ways)
        {
            var bench = new Bench(Demo.Rig("a").Apply(way), new() { ["a"] = new ArrayInlet(Signals.Noise(1, 9000)) }).Run(30);
            bench.Left(Demo.Viewers).ShouldAllBe(x => x == 0);
            bench.Left(Demo.Ears).ShouldContain(x => x != 0);
        }
    }

    [Theory]
    [InlineData("mute")]
    [InlineData("dock")]
    [InlineData("send")]
    [InlineData("trim")]
    [InlineData("mix")]
    [InlineData("hush")]
    [InlineData("remove")]
    [InlineData("pan")]
    public void A_change_under_a_100_Hz_sine_leaves_the_energy_above_5_kHz_below_minus_80_dBFS(string change)
    {
        var bench = new Bench(Demo.Rig("a", "b"), new()
        {
            ["a"] = new ArrayInlet(Signals.Sine(100, 1, 3 * Signals.Rate)),
            ["b"] = new ArrayInlet(new float[1]),
        }).Run(Second);
        Do(bench, change);
        bench.Run(Second);
        var left = bench.Left(Demo.Viewers);

        // From well after the sine's own start, which is not what is judged.
        Signals.RmsAbove(5000, left, Signals.Rate / 2, left.Length - 512).ShouldBeLessThan(-80);

        left[^4800..].Max().ShouldNotBe(left[(Signals.Rate / 2)..(Signals.Rate * 6 / 10)].Max());
    }

    [Fact]
    public void Moving_one_send_changes_no_bit_of_another_mix()
    {
        var still = new Bench(Demo.Rig("a"), new() { ["a"] = new ArrayInlet(Signals.Noise(1, 60_000)) }).Run(200);
        var moved = new Bench(Demo.Rig("a"), new() { ["a"] = new ArrayInlet(Signals.Noise(1, 60_000)) }).Run(50);
        moved.Post(new SetSend(Demo.Viewers, new("a"), new Gain(-20)));
        moved.Run(150);
        moved.Left(Demo.Ears).ShouldBe(still.Left(Demo.Ears));
        moved.Left(Demo.Viewers).ShouldNotBe(still.Left(Demo.Viewers));
    }

    [Fact]
    public void The_same_input_and_the_same_commands_at_the_same_frames_give_the_same_samples()
    {
        float[] Once()
        {
            var bench = new Bench(Demo.Rig("a", "b"), new()
            {
                ["a"] = new ArrayInlet(Signals.Noise(1, 60_000)),
                ["b"] = new ArrayInlet(Signals.Noise(2, 60_000), Signals.Noise(3, 60_000)),
            });
            bench.Post(new SetSend(Demo.Viewers, new("a"), new Gain(-7)), notBefore: 5_000);
            bench.Post(new RemoveSource(new("b")), notBefore: 20_000);
            bench.Run(117).Engine.Hushed = true;
            bench.Run(40).Engine.Hushed = false;
            return bench.Run(63).Left(Demo.Viewers);
        }

        Once().ShouldBe(Once());
    }

    [Fact]
    public void A_command_takes_effect_at_its_frame_not_before()
    {
        var bench = new Bench(Demo.Rig("a"), new() { ["a"] = new ArrayInlet(Enumerable.Repeat(0.5f, 9000).ToArray(), new float[9000]) });
        bench.Post(new SetSend(Demo.Viewers, new("a"), Heard: false), notBefore: 2048);
        var left = bench.Run(20).Left(Demo.Viewers);
        left[..2048].ShouldAllBe(x => x == 0.5f);
        left[2100].ShouldBeLessThan(0.5f);
        left[2560].ShouldBe(0);
    }

    [Fact]
    public void A_source_that_is_added_while_playing_starts_with_its_first_sample_and_disturbs_nothing()
    {
        var music = Signals.Noise(1, 30_000);
        var sting = Signals.Noise(2, 3_000);
        var bench = new Bench(Demo.Rig("a"), new() { ["a"] = new ArrayInlet(music, music) }).Run(20);
        bench.Add("new", new ArrayInlet(sting, sting));
        bench.Post(new AddSource(Demo.Source("new")));
        bench.Run(40);
        var left = bench.Left(Demo.Viewers);
        for (var n = 0; n < 15_000; n++)
        {
            var at = n - (20 * 256);
            left[n].ShouldBe(music[n] + (at >= 0 && at < sting.Length ? sting[at] : 0));
        }
    }

    [Fact]
    public void Hush_silences_every_mix_exactly_and_lets_every_mix_back_while_sources_go_on()
    {
        var bench = new Bench(Demo.Rig("a"), new() { ["a"] = new ArrayInlet(Signals.Noise(1, 100_000), Signals.Noise(2, 100_000)) }).Run(10);
        bench.Engine.Hushed = true;
        bench.Run(10);
        bench.Left(Demo.Viewers)[(12 * 256)..].ShouldAllBe(x => x == 0);
        bench.Left(Demo.Ears)[(12 * 256)..].ShouldAllBe(x => x == 0);
        bench.Engine.Hushed = false;
        bench.Run(10);
        bench.Left(Demo.Viewers)[(23 * 256)..].ShouldBe(Signals.Noise(1, 100_000)[(23 * 256)..(30 * 256)]);
    }

    [Fact]
    public void A_running_block_allocates_nothing_even_while_gains_move()
    {
        var bench = new Bench(Demo.Rig("a", "b", "c"), new()
        {
            ["a"] = new SoundInlet(new SoundBuffer(Signals.Noise(1, 5000), null), loop: true, beginsWithSource: true),
            ["b"] = new SoundInlet(new SoundBuffer(Signals.Noise(2, 7000), Signals.Noise(3, 7000)), loop: true, beginsWithSource: false),
            ["c"] = new SoundInlet(new SoundBuffer(Signals.Noise(4, 7000), null), loop: false, beginsWithSource: false),
        });
        Blocks(bench.Engine, 500);
        bench.Post(new SetSend(Demo.Viewers, new("a"), new Gain(-6)));
        bench.Post(new RemoveSource(new("b")));
        bench.Engine.PostRestart(new("c"));
        bench.Engine.Hushed = true;
        Allocations.Of(2000, _ => bench.Engine.ProcessBlock()).ShouldBe(0);
        bench.Engine.Plan.Sources.Length.ShouldBe(2);
    }

    [Fact]
    public void Hostile_samples_from_a_source_never_reach_a_mix()
    {
        var random = new Random(7);
        var hostile = Enumerable.Range(0, 50_000).Select(_ => BitConverter.Int32BitsToSingle(random.Next(int.MinValue, int.MaxValue))).ToArray();
        var bench = new Bench(Demo.Rig("a"), new() { ["a"] = new ArrayInlet(hostile, hostile) }).Run(180);
        bench.Left(Demo.Viewers).ShouldAllBe(x => float.IsFinite(x) && !float.IsSubnormal(x));
        bench.Meters().ShouldAllBe(x => !float.IsNaN(x));
    }

    [Fact]
    public void The_meters_read_what_is_heard_after_the_gains()
    {
        var rig = Demo.Rig("a")
            .Apply(new SetSource(new("a"), Trim: new Gain(-3)))
            .Apply(new SetSend(Demo.Viewers, new("a"), new Gain(-10)))
            .Apply(new SetMix(Demo.Viewers, Gain: new Gain(4)));
        var sine = Signals.Sine(1000, Signals.FromDb(-13), 5 * Signals.Rate);
        var bench = new Bench(rig, new() { ["a"] = new ArrayInlet(sine, sine) }).Run(4 * Second);
        var values = bench.Meters();
        const int mixes = MeterLayout.SourceValues;
        const int sends = mixes + (2 * MeterLayout.MixValues);
        ((double)values[0]).ShouldBe(-16, 0.05);
        ((double)values[3]).ShouldBe(-16, 0.1);
        ((double)values[5]).ShouldBe(-16, 2);
        ((double)values[mixes + MeterLayout.MixValues]).ShouldBe(-22, 0.05);
        ((double)values[mixes + MeterLayout.MixValues + 4]).ShouldBe(-22, 0.1);
        ((double)values[sends]).ShouldBe(-16, 0.1);
        ((double)values[sends + 1]).ShouldBe(-26, 0.1);
    }

    [Theory]
    [InlineData(false)]
    [InlineData(true)]
    public void A_mix_is_as_loud_as_the_power_sum_of_its_markers_unless_two_bring_the_same_sound(bool same)
    {
        var rig = Demo.Rig("a", "b")
            .Apply(new SetSend(Demo.Viewers, new("b"), new Gain(-4)))
            .Apply(new SetMix(Demo.Viewers, Gain: new Gain(-3)));
        var (one, other) = (Signals.Noise(7, 6 * Signals.Rate), Signals.Noise(same ? 7 : 8, 6 * Signals.Rate));
        var values = new Bench(rig, new() { ["a"] = new ArrayInlet(one), ["b"] = new ArrayInlet(other) }).Run(5 * Second).Meters();
        const int viewers = (2 * MeterLayout.SourceValues) + MeterLayout.MixValues;
        var (predicted, measured) = (values[viewers + (int)MixMeter.Predicted], values[viewers + (int)MixMeter.Momentary]);

        // Amplitudes 1 and g: apart their powers add up, as one sound they do themselves.
        var g = Math.Pow(10, -4 / 20.0);
        ((double)(measured - predicted)).ShouldBe(same ? 10 * Math.Log10(Math.Pow(1 + g, 2) / (1 + (g * g))) : 0, same ? 0.05 : 0.25);
        float.IsNegativeInfinity(new Bench(Demo.Rig("a"), new() { ["a"] = new ArrayInlet(new float[Signals.Rate]) }).Run(Second / 2).Meters()[MeterLayout.SourceValues + (int)MixMeter.Predicted]).ShouldBeTrue();
    }

    [Fact]
    public void Loudness_measured_across_block_edges_is_the_loudness_of_the_whole()
    {
        // Hops of 960 frames and blocks of 256 meet at all 15 phases, a hop that ends with its block among them.
        var noise = Signals.Noise(5, 5 * Signals.Rate);
        var bench = new Bench(Demo.Rig("a"), new() { ["a"] = new ArrayInlet(noise) }).Run(4 * Second);
        var meter = new LevelMeter(1);
        var frame = bench.Engine.Plan.Meters.Read(new float[bench.Engine.Plan.Meters.Layout.Length]);
        for (var at = 0; at + Hop.Frames <= frame; at += Hop.Frames)
        {
            meter.Add(noise.AsSpan(at, Hop.Frames), default);
            meter.CloseHop();
        }

        ((double)bench.Meters()[3]).ShouldBe(meter.Momentary, 1e-4);
        ((double)bench.Meters()[4]).ShouldBe(meter.ShortTerm, 1e-4);
    }

    private static void Blocks(MixEngine engine, int count)
    {
        for (var b = 0; b < count; b++)
        {
            engine.ProcessBlock();
        }
    }

    private static void Do(Bench bench, string change)
    {
        switch (change)
        {
            case "mute":
                bench.Post(new SetSend(Demo.Viewers, new("a"), Muted: true));
                break;
            case "dock":
                bench.Post(new SetSend(Demo.Viewers, new("a"), Heard: false));
                break;
            case "send":
                bench.Post(new SetSend(Demo.Viewers, new("a"), new Gain(-12)));
                bench.Run(1);
                bench.Post(new SetSend(Demo.Viewers, new("a"), new Gain(6)));
                break;
            case "trim":
                bench.Post(new SetSource(new("a"), Trim: new Gain(-20)));
                break;
            case "mix":
                bench.Post(new SetMix(Demo.Viewers, Gain: Gain.Off));
                break;
            case "pan":
                bench.Post(new SetSend(Demo.Viewers, new("a"), Pan: 1));
                break;
            case "remove":
                bench.Post(new RemoveSource(new("a")));
                break;
            case "hush":
                bench.Engine.Hushed = true;
                break;
        }
    }
}

using System.Numerics;
using Kinetra.Core.Engine;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Core.Voice;

namespace Kinetra.Core.Tests.Voice;

/// <summary>Several chains on one loop: in step with one another to the frame, and each what it is said to be.</summary>
public class LoopBenchTests
{
    private const int Block = 256;
    private static readonly SourceId Late = new("late"), Half = new("half");

    // Its length is no whole number of blocks.
    private static readonly SoundBuffer Loop = new(Signals.Noise(8, (5 * 48_000) + 100, 0.2), null);

    // Look-ahead of 10 ms, and no effect.
    private static Processor Waits() => Processor.Of(Gate.Type, ("threshold", -80), ("lookAhead", 10), ("range", 0));

    private static Processor Halves() => Processor.Of(Utility.Type, ("gain", -6));

    [Fact]
    public void From_one_variant_to_another_it_is_the_same_moment_of_the_loop_however_late_one_of_them_is()
    {
        var bench = new LoopBench(Loop, [new(Late, "Late", [Waits()]), new(Half, "Half", [Halves()])]);
        bench.Engine.Plan.LatencyOf(new SourcePoint(Late)).ShouldBe(480);
        using var ear = new BenchEar(bench);
        const long Start = 1_000 * Block;
        ear.Hear(LoopBench.Plain, 1);
        var frame = Start;
        ear.CatchUp(frame);
        foreach (var (variant, gain, factor) in new[] { (LoopBench.Plain, 1, 1), (Late, 1, 1), (Half, 2, 2 * Signals.FromDb(-6)), (Late, 0.5, 0.5), (LoopBench.Plain, 1, 1) })
        {
            ear.Hear(variant, gain);

            // In steps of any size; what follows the fade is looked at, once round the loop's end at the least.
            for (var step = 0; step < 400; step++)
            {
                frame += 700;
                ear.CatchUp(frame);
            }

            var (at, position) = ear.At!.Value;
            var from = at - 2_048;
            var heard = new float[2_048];
            ear.Ring.Read(ref from, heard, new float[2_048], out _);
            for (var n = 0; n < heard.Length; n++)
            {
                var expected = Loop.Left[(int)(((position - 2_048 + n) % Loop.Frames + Loop.Frames) % Loop.Frames)] * factor;
                ((double)heard[n]).ShouldBe(expected, 2e-6, $"{variant} {n}");
            }
        }

        ear.Ring.Beginning.ShouldBeGreaterThanOrEqualTo(Start - Block);
    }

    [Fact]
    public void What_is_turned_is_heard_and_over_once_it_is_let_go_and_what_breaks_a_rule_is_not_played()
    {
        var halves = Halves();
        var bench = new LoopBench(Loop, [new(Half, "Half", [halves])]);
        using var tap = bench.Engine.Hold(new SourcePoint(Half));
        bench.CatchUp(0);
        var frame = 0L;
        Ratio().ShouldBe(-6, 0.01);
        bench.Turn(halves.Id, "gain", -20);
        Ratio().ShouldBe(-20, 0.01);
        bench.Turn(halves.Id, "gain", -1_000);
        Ratio().ShouldBe(-6, 0.01);
        bench.Turn(halves.Id, "gain", null);
        bench.Turn(new ProcessorId("nobody"), "gain", 3);
        Ratio().ShouldBe(-6, 0.01);
        bench.Set([new(Half, "Half", [halves with { Bypassed = true }])]);
        Ratio().ShouldBe(0, 0.01);

        double Ratio()
        {
            for (var i = 0; i < 100; i++)
            {
                bench.CatchUp(frame += Block);
            }

            var from = bench.Engine.Frame - Block;
            var heard = new float[Block];
            var position = from;
            tap.Ring.Read(ref position, heard, new float[Block], out _).ShouldBe(Block);
            var plain = Enumerable.Range(0, Block).Select(n => Loop.Left[(int)((from + n) % Loop.Frames)]);
            return Signals.Db(Math.Sqrt(heard.Sum(x => (double)x * x) / plain.Sum(x => (double)x * x)));
        }
    }

    [Fact]
    public void Who_was_away_for_long_goes_on_where_it_stood()
    {
        var bench = new LoopBench(Loop, []);
        bench.CatchUp(10_000_000).ShouldBe(10_000_000 / Block * Block);
        bench.Engine.Frame.ShouldBe(0);
        bench.CatchUp(10_000_000 + (4 * Block));
        bench.Engine.Frame.ShouldBe(4 * Block);
        bench.CatchUp(20_000_000);
        bench.Engine.Frame.ShouldBe(4 * Block);
    }

    [Fact]
    public void A_processor_that_listens_to_somebody_else_hears_nobody()
    {
        var ducker = Processor.Of(Ducker.Type, ("threshold", -60), ("depth", 20)) with { Keys = [new SourcePoint(new("somebody"))] };
        var rendered = LoopRender.Render(Loop, [ducker], cancel: TestContext.Current.CancellationToken);
        rendered.Left.Zip(Loop.Left, (a, b) => Math.Abs(a - b)).Max().ShouldBeLessThan(1e-5f);
    }

    [Fact]
    public void What_goes_round_beside_a_loop_is_heard_with_every_variant_in_step_and_is_what_processors_listen_to()
    {
        // Beside it, silence but for one stretch, which ducks.
        var other = Enumerable.Range(0, Loop.Frames).Select(n => n is > 100_000 and < 150_000 ? (float)(0.3 * Math.Sin(n * 0.05)) : 0).ToArray();
        var ducker = Processor.Of(Ducker.Type, ("threshold", -40), ("depth", 20), ("attack", 5), ("hold", 0), ("release", 20)) with { Keys = [new SourcePoint(new("somebody"))] };
        var beside = new SoundBuffer(other, other);
        var rendered = LoopRender.Render(Loop, [ducker], beside, TestContext.Current.CancellationToken);
        Level(rendered.Left, 110_000).ShouldBe(-20, 0.05);
        Level(rendered.Left, 160_000).ShouldBe(0, 0.05);

        // Heard at half of what it ducks with.
        var half = other.Select(x => x / 2).ToArray();
        var turned = new SoundBuffer(half, half);

        var bench = new LoopBench(Loop, [new(Late, "Late", [Waits()]), new(Half, "Ducked", [ducker])], new SoundBeside(beside, turned));
        using var ear = new BenchEar(bench);
        var frame = 0L;
        foreach (var (variant, alone) in new[] { (LoopBench.Plain, Loop.Left), (Late, Loop.Left), (Half, rendered.Left) })
        {
            ear.Hear(variant, 1);
            for (var step = 0; step < 500; step++)
            {
                ear.CatchUp(frame += 700);
            }

            var (at, position) = ear.At!.Value;
            var heard = new float[30_000];
            var from = at - heard.Length;
            ear.Ring.Read(ref from, heard, new float[heard.Length], out _);
            for (var n = 0; n < heard.Length; n++)
            {
                var place = (((position - heard.Length + n) % Loop.Frames) + Loop.Frames) % Loop.Frames;
                ((double)heard[n]).ShouldBe(alone[place] + half[place], 2e-6, $"{variant} {n}");
            }
        }

        Should.Throw<ArgumentOutOfRangeException>(() => new LoopBench(Loop, [], new SoundBeside(new SoundBuffer(new float[5], null))));

        double Level(float[] samples, int at) => Signals.Db(Math.Sqrt(Enumerable.Range(at, 4_000).Sum(n => (double)samples[n] * samples[n]) / Enumerable.Range(at, 4_000).Sum(n => (double)Loop.Left[n] * Loop.Left[n])));
    }

    [Fact]
    public void What_is_rendered_is_one_time_round_in_step_with_the_loop_as_it_sounds_when_it_has_gone_round_before()
    {
        LoopRender.Render(Loop, [Waits()], cancel: TestContext.Current.CancellationToken).Left.Zip(Loop.Left, (a, b) => Math.Abs(a - b)).Max().ShouldBeLessThan(1e-5f);
        var wide = new SoundBuffer(Loop.Left, Signals.Noise(9, Loop.Frames, 0.1));
        var compressor = Processor.Of(Compressor.Type, ("threshold", -40), ("ratio", 4));
        var once = LoopRender.Render(wide, [compressor], cancel: TestContext.Current.CancellationToken);
        once.Channels.ShouldBe(2);
        once.Frames.ShouldBe(wide.Frames);

        // The same chain, by hand: round twice, and the second time is looked at.
        var slot = new ChainSlot(Compressor.Type, new ProcessorSettings(2, compressor.ValuesOf(Compressor.Type)), isBypassed: false);
        float[] left = [.. wide.Left, .. wide.Left, .. new float[Block]], right = [.. wide.Right!, .. wide.Right!, .. new float[Block]];
        for (var at = 0; at + Block <= left.Length; at += Block)
        {
            slot.Process(left.AsSpan(at, Block), right.AsSpan(at, Block), default);
        }

        var whole = 2 * wide.Frames / Block * Block;
        Enumerable.Range(wide.Frames, whole - wide.Frames).Max(n => Math.Abs(left[n] - once.Left[n - wide.Frames])).ShouldBeLessThan(1e-5f);
    }

    [Fact]
    public void A_loop_has_no_click_where_it_begins_again_and_is_as_long_as_it_may_be()
    {
        var sine = Signals.Sine(440, 0.5, (6 * 48_000) + 37);
        var loop = LoopSound.Closed(new SoundBuffer(sine, null));
        loop.Frames.ShouldBe(sine.Length - LoopSound.SeamFrames);
        float[] twice = [.. loop.Left, .. loop.Left];
        var steepest = sine.Zip(sine.Skip(1), (a, b) => Math.Abs(a - b)).Max();
        twice.Zip(twice.Skip(1), (a, b) => Math.Abs(a - b)).Max().ShouldBeLessThan(steepest * 1.5f);
        Should.Throw<ArgumentException>(() => LoopSound.Closed(new SoundBuffer(new float[4 * 48_000], null)));
        Should.Throw<ArgumentException>(() => LoopSound.Closed(new SoundBuffer(new float[31 * 48_000], null)));
    }

    [Fact]
    public void How_sure_one_can_be_of_a_choice_is_what_counting_all_choices_says()
    {
        for (var rounds = 0; rounds <= 60; rounds++)
        {
            for (var first = 0; first <= rounds; first++)
            {
                // Of all 2^n ways to choose, how many favour one of both at least so much.
                var more = Math.Max(first, rounds - first);
                var ways = Enumerable.Range(0, rounds + 1).Where(k => k >= more || rounds - k >= more).Aggregate(BigInteger.Zero, (sum, k) => sum + Choose(rounds, k));
                BlindTrial.ByChance(first, rounds).ShouldBe((double)ways / (double)BigInteger.Pow(2, rounds), 1e-12);
            }
        }

        BlindTrial.Words(9, 10, "Warm", "Clear").ShouldBe("“Warm” 9 of 10 times: you do prefer it. Somebody who hears no difference chooses so once in 47 times.");
        BlindTrial.Words(3, 10, "Warm", "Clear").ShouldBe("“Clear” 7 of 10 times: that says nothing. Somebody who hears no difference chooses so 34 times in a hundred.");
        BlindTrial.Words(4, 4, "Warm", "Clear").ShouldContain("too few");

        static BigInteger Choose(int n, int k) => Enumerable.Range(1, k).Aggregate(BigInteger.One, (c, i) => c * (n - k + i) / i);
    }
}

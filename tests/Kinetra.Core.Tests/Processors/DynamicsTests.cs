using CsCheck;
using Kinetra.Core.Engine;
using Kinetra.Core.Processors;

namespace Kinetra.Core.Tests.Processors;

/// <summary>Compressor, gate and ducker against their definitions.</summary>
public class DynamicsTests
{
    private const int Second = Signals.Rate;

    [Fact]
    public void The_compressors_static_curve_is_exact_on_a_constant_level()
    {
        Gen.Select(Gen.Double[-60, 0], Gen.Double[1, 20], Gen.Double[0, 24], Gen.Double[-70, 6], Gen.Double[-12, 24]).Sample(
            (threshold, ratio, knee, level, makeUp) =>
            {
                var heard = Rack.Run(
                    Compressor.Type, Square(level, Second / 2), ("threshold", threshold), ("ratio", ratio), ("knee", knee), ("attack", 1), ("makeUp", makeUp));
                Signals.Db(Math.Abs((double)heard[^1])).ShouldBe(level + makeUp - Reduction(level, threshold, ratio, knee), 0.02);
            },
            iter: 60);
    }

    [Theory]
    [InlineData(5)]
    [InlineData(50)]
    [InlineData(200)]
    public void The_compressor_has_done_63_percent_of_its_way_after_the_attack_and_after_the_release(double time)
    {
        // Quiet, then 20 dB above the threshold, then quiet.
        float[] sound = [.. Square(-60, Second), .. Square(0, 2 * Second), .. Square(-60, 2 * Second)];
        var heard = Rack.Run(Compressor.Type, sound, ("threshold", -20), ("ratio", 4), ("knee", 0), ("attack", time), ("release", time));
        double ReductionAt(double seconds) => Signals.Db(Math.Abs(sound[(int)(seconds * Second)] / (double)heard[(int)(seconds * Second)]));
        ReductionAt(1 + (time / 1000)).ShouldBe(15 * (1 - Math.Exp(-1)), 0.03);
        ReductionAt(2.99).ShouldBe(15, 0.01);
        ReductionAt(3 + (time / 1000)).ShouldBe(15 * Math.Exp(-1), 0.03);
    }

    [Fact]
    public void The_gate_says_whether_it_is_shut_open_or_holding()
    {
        var slot = new ChainSlot(Gate.Type, Rack.Settings(Gate.Type, 1, ("threshold", -30), ("hold", 100)));
        GateState After(float[] sound)
        {
            Rack.Run(slot, sound);
            return slot.Gate;
        }

        After(new float[4_800]).ShouldBe(GateState.Shut);
        After(Signals.Noise(1, 4_800, 0.5)).ShouldBe(GateState.Open);
        After(new float[4_800]).ShouldBe(GateState.Holding);
        After(new float[4_800]).ShouldBe(GateState.Shut);
        slot.SetBypassed(true);
        After(Signals.Noise(1, 4_800, 0.5)).ShouldBe(GateState.None);
    }

    [Fact]
    public void The_compressor_agrees_with_the_papers_equations_sample_by_sample()
    {
        Gen.Select(Gen.Int[0, 999], Gen.Double[-50, -5], Gen.Double[1, 20], Gen.Double[0, 24], Gen.Double[0.1, 200], Gen.Double[5, 2_000]).Sample(
            (seed, threshold, ratio, knee, attack, release) =>
            {
                var (left, right) = (Signals.Noise(seed, 9_000, 0.9), Signals.Noise(seed + 1, 9_000, 0.3));
                var slot = new ChainSlot(Compressor.Type, Rack.Settings(
                    Compressor.Type, 2, ("threshold", threshold), ("ratio", ratio), ("knee", knee), ("attack", attack), ("release", release)));
                var (heardLeft, heardRight) = Rack.Run(slot, left, right);
                double y = 0;
                for (var n = 0; n < left.Length; n++)
                {
                    var level = Signals.Db(Math.Max(Math.Max(Math.Abs(left[n]), Math.Abs(right[n])), 1e-7));
                    var wanted = Reduction(level, threshold, ratio, knee);
                    var memory = Math.Exp(-1000 / ((wanted > y ? attack : release) * Second));
                    y = (memory * y) + ((1 - memory) * wanted);
                    ((double)heardLeft[n]).ShouldBe(left[n] * Signals.FromDb(-y), 3e-5);
                    ((double)heardRight[n]).ShouldBe(right[n] * Signals.FromDb(-y), 3e-5);
                }
            },
            iter: 20);
    }

    [Fact]
    public void The_compressors_blend_mixes_what_came_with_what_was_compressed()
    {
        var heard = Rack.Run(Compressor.Type, Square(0, Second), ("threshold", -20), ("ratio", 20), ("knee", 0), ("attack", 1), ("blend", 40));
        ((double)Math.Abs(heard[^1])).ShouldBe(0.6 + (0.4 * Signals.FromDb(-19)), 1e-3);
    }

    [Fact]
    public void With_an_outside_key_it_acts_on_that_and_not_on_its_own_sound()
    {
        var slot = new ChainSlot(Compressor.Type, Rack.Settings(Compressor.Type, 1, ("threshold", -30), ("ratio", 20), ("attack", 1), ("knee", 0)));
        var loud = Square(0, Second);
        var heard = Rack.Run(slot, loud, key: new float[Second]).Left;
        heard.ShouldBe(loud);
        var keyed = Rack.Run(slot, Square(-50, Second), key: loud).Left;
        Signals.Db(Math.Abs((double)keyed[^1])).ShouldBe(-50 - 28.5, 0.05);
        slot.Reduction.ShouldBe(28.5, 0.05);
    }

    [Fact]
    public void The_gate_opens_at_its_threshold_and_shuts_only_below_its_hysteresis()
    {
        Steady(-39.5).ShouldBe(-39.5, 0.05);
        Steady(-40.5).ShouldBe(-40.5 - 30, 0.05);

        // Opened, it stays open 6 dB further down.
        After(-45).ShouldBe(-45, 0.05);
        After(-47).ShouldBe(-47 - 30, 0.05);

        static double Steady(double level) => Signals.Db(Math.Abs((double)Gated(Square(level, Second))[^1]));

        static double After(double level) => Signals.Db(Math.Abs((double)Gated([.. Square(-20, Second), .. Square(level, 2 * Second)])[^1]));

        static float[] Gated(float[] sound) => Rack.Run(
            Gate.Type, sound, ("threshold", -40), ("hysteresis", 6), ("range", 30), ("lookAhead", 0), ("keyLowCut", 20));
    }

    [Fact]
    public void The_gate_holds_and_then_shuts_and_opens_in_the_times_that_are_set()
    {
        float[] sound = [.. Square(-60, Second), .. Square(-10, Second), .. Square(-60, 2 * Second)];
        var heard = Rack.Run(
            Gate.Type, sound, ("threshold", -30), ("hysteresis", 0), ("range", 40), ("attack", 20), ("hold", 200), ("release", 400), ("lookAhead", 0), ("keyLowCut", 20));
        double GainAt(double ms) => Signals.Db(Math.Abs(heard[(int)(ms * 48)] / (double)sound[(int)(ms * 48)]));
        GainAt(999).ShouldBe(-40, 0.01);
        GainAt(1_010).ShouldBe(-20, 0.2);
        GainAt(1_021).ShouldBe(0, 0.01);

        // The peaks' level has fallen 20 dB, below the threshold, after 23 ms; then comes the hold.
        var shuts = 2_000 + (10 * Math.Log(10)) + 200;
        GainAt(shuts - 2).ShouldBe(0, 0.01);
        GainAt(shuts + 200).ShouldBe(-20, 0.3);
        GainAt(shuts + 402).ShouldBe(-40, 0.01);
    }

    [Fact]
    public void With_look_ahead_the_gate_loses_nothing_of_a_first_syllable()
    {
        float[] sound = [.. new float[Second], .. Signals.Sine(600, 0.3, Second, phase: 1)];
        var slot = new ChainSlot(Gate.Type, Rack.Settings(Gate.Type, 1, ("attack", 3), ("lookAhead", 4), ("range", 80), ("threshold", -30), ("keyLowCut", 20)));
        var heard = Rack.Run(slot, sound).Left;
        slot.Latency.ShouldBe(192);
        for (var n = Second; n < Second + 4_000; n++)
        {
            heard[n + 192].ShouldBe(sound[n], 1e-4f);
        }
    }

    [Fact]
    public void With_a_low_ratio_the_gate_is_an_expander()
    {
        foreach (var level in new[] { -45.0, -50, -60 })
        {
            var heard = Rack.Run(Gate.Type, Square(level, Second), ("threshold", -40), ("ratio", 3), ("range", 80), ("lookAhead", 0), ("keyLowCut", 20));
            Signals.Db(Math.Abs((double)heard[^1])).ShouldBe(-40 + ((level + 40) * 3), 0.05);
        }
    }

    [Fact]
    public void The_ducker_goes_down_by_exactly_its_depth_in_its_attack_holds_and_comes_back()
    {
        Gen.Select(Gen.Double[1, 60], Gen.Double[5, 500], Gen.Double[50, 1_000]).Sample(
            (depth, attack, release) =>
            {
                float[] key = [.. new float[Second / 2], .. Square(-10, Second), .. new float[3 * Second]];
                var music = Square(-20, key.Length);
                var slot = new ChainSlot(Ducker.Type, Rack.Settings(
                    Ducker.Type, 1, ("depth", depth), ("attack", attack), ("hold", 300), ("release", release), ("threshold", -40)));
                var heard = Rack.Run(slot, music, key: key).Left;
                double GainAt(double ms) => Signals.Db(Math.Abs(heard[(int)(ms * 48)] / (double)music[(int)(ms * 48)]));
                GainAt(499).ShouldBe(0, 1e-5);
                GainAt(500 + (attack / 2)).ShouldBe(-depth / 2, (depth / attack) + 0.05);
                GainAt(501 + attack).ShouldBe(-depth, 1e-4);

                // The key's peaks have fallen 30 dB, to the threshold, after 34.5 ms; then comes the hold.
                var back = 1_500 + (10 * Math.Log(Signals.FromDb(30))) + 300;
                GainAt(back - 1).ShouldBe(-depth, 1e-4);
                GainAt(back + (release / 2)).ShouldBe(-depth / 2, (depth / release) + 0.1);
                GainAt(back + release + 2).ShouldBe(0, 1e-5);
            },
            iter: 30);
    }

    // Equation 4 of the paper, as it is printed.
    private static double Reduction(double level, double threshold, double ratio, double knee)
    {
        var over = level - threshold;
        var curve = (2 * over) < -knee
            ? level
            : 2 * Math.Abs(over) <= knee && knee > 0
                ? level + (((1 / ratio) - 1) * Math.Pow(over + (knee / 2), 2) / (2 * knee))
                : threshold + (over / ratio);
        return level - curve;
    }

    // ±1 by turns: a constant level, and no offset.
    private static float[] Square(double level, int frames) =>
        [.. Enumerable.Range(0, frames).Select(n => (float)(Signals.FromDb(level) * (n % 2 == 0 ? 1 : -1)))];
}

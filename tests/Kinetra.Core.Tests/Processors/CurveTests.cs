using System.Collections.Immutable;
using System.Numerics;
using CsCheck;
using Kinetra.Core.Engine;
using Kinetra.Core.Processors;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Processors;

/// <summary>What is drawn of a processor is what is heard: curves against what it renders, transformed and measured here.</summary>
public class CurveTests
{
    private static readonly ImmutableArray<ProcessorType> Filters = [Cuts.LowCut, Cuts.HighCut, Equaliser.Type, Utility.Type];

    [Fact]
    public void A_response_is_that_of_a_rendered_impulse_wherever_it_is_above_minus_60_dB()
    {
        Gen.Select(Gen.Int[0, Filters.Length - 1], Gen.Double[0, 1].Array[16]).Sample(
            (which, shares) =>
            {
                var type = Filters[which];
                var values = Drawn(type, shares);
                if (type == Utility.Type)
                {
                    // Turned upside down, a sound is as loud.
                    values = values.SetItem(Rack.IndexOf(type, "width"), 100).SetItem(Rack.IndexOf(type, "balance"), 0);
                }

                var curve = type.Curve(values).Response!;
                var heard = Rung(type, values);
                for (var i = 0; i < curve.Frequencies.Length; i += 8)
                {
                    var drawn = curve.Decibels[i];
                    if (drawn > -60 && curve.Frequencies[i] <= 20_000)
                    {
                        drawn.ShouldBe(Signals.Db(At(curve.Frequencies[i], heard)), 0.05, $"{type.Key} {string.Join(' ', values)} at {curve.Frequencies[i]:0} Hz");
                    }
                }
            },
            iter: 60,
            threads: 2);
    }

    [Fact]
    public void The_bands_of_an_equaliser_add_up_to_all_of_it()
    {
        Gen.Double[0, 1].Array[16].Sample(
            shares =>
            {
                var curve = Equaliser.Type.Curve(Drawn(Equaliser.Type, shares)).Response!;
                curve.Parts.Length.ShouldBe(Equaliser.Bands);
                for (var i = 0; i < curve.Frequencies.Length; i++)
                {
                    var sum = curve.Parts.Sum(p => p[i]);
                    if (curve.Parts.All(p => p[i] > -110) && sum > -110)
                    {
                        curve.Decibels[i].ShouldBe(sum, 1e-6);
                    }
                }
            },
            iter: 500);
    }

    [Fact]
    public void A_compressor_gives_what_its_curve_says_once_a_level_has_lasted()
    {
        Gen.Double[0, 1].Array[16].Sample(
            shares =>
            {
                var values = Drawn(Compressor.Type, shares);
                values = Set(Compressor.Type, values, ("attack", 1), ("release", 20), ("keyLowCut", 20));
                var curve = Compressor.Type.Curve(values).Transfer!;
                for (var i = 20; i < curve.In.Length; i += 12)
                {
                    Lasting(Compressor.Type, values, curve.In[i]).ShouldBe(curve.Out[i], 0.1, $"{string.Join(' ', values)} at {curve.In[i]}");
                }
            },
            iter: 80);
    }

    [Fact]
    public void A_gate_gives_what_its_curve_says_coming_and_going()
    {
        Gen.Double[0, 1].Array[16].Sample(
            shares =>
            {
                var values = Set(
                    Gate.Type, Drawn(Gate.Type, shares), ("attack", 0.1), ("hold", 0), ("release", 5), ("lookAhead", 0), ("keyLowCut", 20), ("keyHighCut", 20_000));
                var curve = Gate.Type.Curve(values).Transfer!;
                for (var i = 3; i < curve.In.Length; i += 9)
                {
                    // On the very threshold, rounding decides.
                    var (level, threshold) = (curve.In[i], values[Rack.IndexOf(Gate.Type, "threshold")]);
                    if (Math.Abs(level - threshold) < 0.2 || Math.Abs(level - threshold + values[Rack.IndexOf(Gate.Type, "hysteresis")]) < 0.2)
                    {
                        continue;
                    }

                    Lasting(Gate.Type, values, level).ShouldBe(curve.Out[i], 0.1, $"{string.Join(' ', values)} at {level}");
                    Lasting(Gate.Type, values, level, after: 0).ShouldBe(curve.Back[i], 0.1, $"{string.Join(' ', values)} back at {level}");
                }
            },
            iter: 60);
    }

    [Fact]
    public void A_limiter_gives_what_its_curve_says()
    {
        foreach (var (drive, ceiling) in new[] { (0.0, -1.0), (9, -3), (24, 0), (3, -20) })
        {
            var values = Set(Limiter.Type, Limiter.Type.Defaults, ("drive", drive), ("ceiling", ceiling));
            var curve = Limiter.Type.Curve(values).Transfer!;
            for (var i = 0; i < curve.In.Length; i += 11)
            {
                Lasting(Limiter.Type, values, curve.In[i]).ShouldBe(curve.Out[i], 0.05, $"{drive} {ceiling} at {curve.In[i]}");
            }
        }
    }

    [Fact]
    public void A_ducker_goes_down_by_what_its_curve_says_for_what_it_listens_to()
    {
        var values = Set(Ducker.Type, Ducker.Type.Defaults, ("depth", 17), ("threshold", -31.2));
        var curve = Ducker.Type.Curve(values).Transfer!;
        for (var i = 40; i < curve.In.Length; i += 9)
        {
            var key = Enumerable.Repeat((float)Signals.FromDb(curve.In[i]), Signals.Rate / 2).ToArray();
            var heard = Rack.Run(new ChainSlot(Ducker.Type, new ProcessorSettings(1, values)), [.. key.Select(_ => 0.1f)], key: key).Left;
            Signals.Db(heard[^1] / 0.1).ShouldBe(curve.Out[i], 0.02, $"at {curve.In[i]}");
        }
    }

    [Fact]
    public void A_de_esser_lowers_sibilance_by_what_its_curve_says_for_how_far_it_stands_above_the_rest()
    {
        var values = Set(DeEsser.Type, DeEsser.Type.Defaults, ("frequency", 5_000), ("threshold", 2), ("range", 9));
        var curve = DeEsser.Type.Curve(values).Transfer!;
        for (var i = 20; i < curve.In.Length; i += 8)
        {
            // Two tones, each far from the split; both long enough that three milliseconds of their power stand still.
            const int frames = Signals.Rate / 2;
            var (low, high) = (Signals.Sine(2_000, 0.1, frames), Signals.Sine(12_000, 0.1 * Signals.FromDb(curve.In[i]), frames));
            var crossed = curve.In[i] + Shape(12_000) - Shape(2_000, isLow: true);
            var heard = Rack.Run(DeEsser.Type, [.. low.Zip(high, (a, b) => a + b)], ("frequency", 5_000), ("threshold", 2), ("range", 9));
            var lowered = Signals.Db(At(12_000, heard.AsSpan(frames / 2)) / At(12_000, high.AsSpan(frames / 2)));
            var drawn = curve.Out[(int)Math.Round((crossed - curve.In[0]) / TransferCurve.Step)];
            lowered.ShouldBe(drawn, 0.6, $"at {curve.In[i]}");
        }

        // A fourth-order Linkwitz-Riley band, warped by the bilinear transform.
        static double Shape(double hertz, bool isLow = false)
        {
            var ratio = Math.Tan(Math.PI * hertz / Signals.Rate) / Math.Tan(Math.PI * 5_000 / Signals.Rate);
            var power = Math.Pow(isLow ? ratio : 1 / ratio, 4);
            return -20 * Math.Log10(1 + power);
        }
    }

    [Fact]
    public void Every_type_says_where_it_usually_stands_and_has_a_plain_form_whose_controls_turn_what_there_is_and_nothing_twice()
    {
        foreach (var type in ProcessorTypes.All)
        {
            type.Usually.ShouldEndWith(".", customMessage: type.Key);
            type.Plain.Length.ShouldBeInRange(1, 2, type.Key);
            var moves = type.Plain.SelectMany(p => p.Moves).ToList();
            moves.Select(m => m.Parameter).ShouldBeUnique(type.Key);
            foreach (var move in moves)
            {
                var parameter = type.Parameters[Rack.IndexOf(type, move.Parameter)];
                parameter.Allows(move.From).ShouldBeTrue($"{type.Key} {move.Parameter}");
                parameter.Allows(move.To).ShouldBeTrue($"{type.Key} {move.Parameter}");
                (parameter.Scale == ParameterScale.Choice).ShouldBe(move.From == move.To, $"{type.Key} {move.Parameter}");
            }
        }
    }

    [Fact]
    public void No_curve_has_a_number_that_cannot_be_drawn()
    {
        Gen.Select(Gen.Int[0, ProcessorTypes.All.Length - 1], Gen.Double[0, 1].Array[16]).Sample(
            (which, shares) =>
            {
                var type = ProcessorTypes.All[which];
                var curve = type.Curve(Drawn(type, shares));
                var all = (curve.Response?.Decibels ?? []).Concat(curve.Response?.Parts.SelectMany(p => p) ?? [])
                    .Concat(curve.Transfer?.Out ?? []).Concat(curve.Transfer?.Back ?? []);
                all.ShouldAllBe(x => double.IsFinite(x));
            },
            iter: 2_000);
    }

    // The impulse response until it has died away: a narrow shelf at 20 Hz rings for ten seconds.
    private static float[] Rung(ProcessorType type, ImmutableArray<double> values)
    {
        for (var length = 1 << 17; ; length *= 2)
        {
            var impulse = new float[length];
            impulse[0] = 1;
            var heard = Rack.Run(new ChainSlot(type, new ProcessorSettings(1, values)), impulse).Left;
            if (length == 1 << 20 || heard.AsSpan(length * 3 / 4).ToArray().Sum(Math.Abs) < 1e-4)
            {
                return heard;
            }
        }
    }

    // What a constant level becomes; first, where it comes from full scale, that.
    private static double Lasting(ProcessorType type, ImmutableArray<double> values, double level, double? after = null)
    {
        var slot = new ChainSlot(type, new ProcessorSettings(1, values));
        if (after is { } before)
        {
            Rack.Run(slot, [.. Enumerable.Repeat((float)Signals.FromDb(before), Signals.Rate / 2)]);
        }

        var heard = Rack.Run(slot, [.. Enumerable.Repeat((float)Signals.FromDb(level), Signals.Rate)]).Left;
        return Signals.Db(Math.Abs(heard[^1]));
    }

    private static double At(double hertz, ReadOnlySpan<float> samples)
    {
        var (sum, turn, at) = (Complex.Zero, Complex.FromPolarCoordinates(1, -2 * Math.PI * hertz / Signals.Rate), Complex.One);
        for (var n = 0; n < samples.Length; n++)
        {
            sum += samples[n] * at;
            at *= turn;
        }

        return sum.Magnitude;
    }

    private static ImmutableArray<double> Set(ProcessorType type, ImmutableArray<double> values, params ReadOnlySpan<(string Key, double Value)> changes)
    {
        foreach (var (key, value) in changes)
        {
            values = values.SetItem(Rack.IndexOf(type, key), value);
        }

        return values;
    }

    private static ImmutableArray<double> Drawn(ProcessorType type, double[] shares) =>
    [
        .. type.Parameters.Select((p, i) => p.Scale switch
        {
            ParameterScale.Choice => Math.Floor(shares[i % 16] * p.Choices.Length * 0.9999),
            ParameterScale.Logarithmic => p.Min * Math.Pow(p.Max / p.Min, shares[i % 16]),
            _ => p.Min + ((p.Max - p.Min) * shares[i % 16]),
        }),
    ];
}

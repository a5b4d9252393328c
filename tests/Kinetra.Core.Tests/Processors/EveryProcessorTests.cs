using CsCheck;
using Kinetra.Core.Engine;
using Kinetra.Core.Processors;

namespace Kinetra.Core.Tests.Processors;

/// <summary>What holds for every processor, whatever it does.</summary>
public class EveryProcessorTests
{
    private const int Second = Signals.Rate;

    public static TheoryData<string> All => [.. ProcessorTypes.All.Select(t => t.Key)];

    /// <summary>Those that leave alone what their settings say they leave alone, and with which settings they do.</summary>
    public static TheoryData<string, string> Clear => new()
    {
        { "gate", "range=0" }, { "compressor", "ratio=1" }, { "limiter", "" },
        { "exciter", "highAmount=0" }, { "ducker", "" }, { "delay", "" }, { "utility", "" }, { "equaliser", "" },
        { "room", "blend=0" }, { "telephone", "blend=0" }, { "ring", "blend=0" },
    };

    [Theory]
    [MemberData(nameof(All))]
    public void Whatever_comes_in_and_whatever_is_set_what_leaves_is_finite_and_no_denormal(string key)
    {
        var type = ProcessorTypes.Find(key)!;
        var extremes = Gen.OneOf(Gen.Const(0.0), Gen.Const(1.0), Gen.Double[0, 1]).Array[type.Parameters.Length];
        Gen.Select(extremes, extremes, Gen.Int[0, 9]).Sample(
            (first, then, hostile) =>
            {
                var sound = Hostile(hostile, 6_000);
                var slot = new ChainSlot(type, new ProcessorSettings(2, [.. first.Select((x, i) => Value(type.Parameters[i], x))]));
                var (left, right) = Rack.Run(slot, sound, Hostile((hostile + 3) % 10, 6_000), Signals.Noise(1, 6_000), at =>
                {
                    if (at == 2_560)
                    {
                        for (var i = 0; i < then.Length; i++)
                        {
                            slot.Set(i, Value(type.Parameters[i], then[i]));
                        }
                    }
                });
                left.Concat(right).ShouldAllBe(x => x == 0 || (float.IsNormal(x) && Math.Abs(x) <= 1_000));
            },
            iter: 60);
    }

    [Theory]
    [MemberData(nameof(All))]
    public void Silence_in_is_exact_zeros_out_from_the_start_and_again_after_the_tail(string key)
    {
        var slot = Make(key, 2);
        Rack.Run(slot, new float[4_096], new float[4_096]).Left.ShouldAllBe(x => x == 0);
        float[] sound = [.. Signals.Noise(1, Second / 2), .. new float[12 * Second]];
        var (left, right) = Rack.Run(slot, sound, sound);
        left[^4_096..].Concat(right[^4_096..]).ShouldAllBe(x => x == 0);
    }

    [Theory]
    [MemberData(nameof(All))]
    public void In_place_or_not_and_whatever_the_length_of_the_blocks_it_gives_the_same(string key)
    {
        var type = ProcessorTypes.Find(key)!;
        var (left, right) = (Signals.Noise(1, 7_000, 0.9), Signals.Noise(2, 7_000, 0.9));
        var (inPlaceLeft, inPlaceRight) = ((float[])left.Clone(), (float[])right.Clone());
        var (otherLeft, otherRight) = (new float[7_000], new float[7_000]);
        var one = type.Make(Rack.Settings(type, 2));
        var other = type.Make(Rack.Settings(type, 2));
        for (var at = 0; at < 7_000; at += 250)
        {
            one.Process(
                new Frames(inPlaceLeft.AsSpan(at, 250), inPlaceRight.AsSpan(at, 250)),
                new RoomForFrames(inPlaceLeft.AsSpan(at, 250), inPlaceRight.AsSpan(at, 250)),
                default);
        }

        for (var at = 0; at < 7_000; at += 7)
        {
            other.Process(
                new Frames(left.AsSpan(at, 7), right.AsSpan(at, 7)),
                new RoomForFrames(otherLeft.AsSpan(at, 7), otherRight.AsSpan(at, 7)),
                default);
        }

        Largest(inPlaceLeft, otherLeft).ShouldBeLessThan(1e-6);
        Largest(inPlaceRight, otherRight).ShouldBeLessThan(1e-6);
    }

    [Theory]
    [MemberData(nameof(All))]
    public void After_a_reset_it_is_as_new(string key)
    {
        var used = Make(key, 2);
        Rack.Run(used, Signals.Noise(5, 20_000, 2), Signals.Noise(6, 20_000, 2), Signals.Noise(7, 20_000));
        used.Reset();
        var (left, right) = (Signals.Noise(1, 9_000), Signals.Noise(2, 9_000));
        var (again, againRight) = Rack.Run(used, left, right);
        var (fresh, freshRight) = Rack.Run(Make(key, 2), left, right);
        again.ShouldBe(fresh);
        againRight.ShouldBe(freshRight);
    }

    [Theory]
    [MemberData(nameof(All))]
    public void Left_and_right_are_treated_alike(string key)
    {
        var (left, right) = (Signals.Noise(1, 9_000, 0.9), Signals.Noise(2, 9_000, 0.1));
        var (one, other) = Rack.Run(Make(key, 2), left, right);
        var (swappedRight, swappedLeft) = Rack.Run(Make(key, 2), right, left);
        if (key == "room")
        {
            // Its sides differ on purpose: that is what makes it wide.
            Signals.Db(Rms(one) / Rms(swappedLeft)).ShouldBe(0, 1);
            return;
        }

        swappedLeft.ShouldBe(one);
        swappedRight.ShouldBe(other);
    }

    [Theory]
    [MemberData(nameof(All))]
    public void Bypassed_it_is_the_sound_as_it_came_at_the_same_time_and_no_change_of_it_clicks(string key)
    {
        var slot = new ChainSlot(ProcessorTypes.Find(key)!, Rack.Settings(ProcessorTypes.Find(key)!, 1), isBypassed: true);
        var noise = Signals.Noise(1, 9_000);
        Rack.Run(slot, noise).Left[slot.Latency..].ShouldBe(noise[..^slot.Latency]);

        var sine = Signals.Sine(100, 0.1, 2 * Second);
        var toggled = Make(key, 1);
        var heard = Rack.Run(toggled, sine, before: at => toggled.SetBypassed(at / 12_000 % 2 == 1)).Left;
        Signals.RmsAbove(5_000, heard, Second / 4, heard.Length - 512).ShouldBeLessThan(-80);
    }

    [Theory]
    [MemberData(nameof(All))]
    public void Entering_a_chain_and_leaving_it_are_no_clicks(string key)
    {
        var type = ProcessorTypes.Find(key)!;
        var slot = new ChainSlot(type, Rack.Settings(type, 1), isPresent: false);
        var heard = Rack.Run(slot, Signals.Sine(100, 0.1, Second), before: at =>
        {
            if (at >= 12_000)
            {
                slot.Enter();
            }

            if (at >= 30_000)
            {
                slot.Leave();
            }
        }).Left;
        slot.HasLeft.ShouldBeTrue();
        Largest(heard[^4_096..], Signals.Sine(100, 0.1, Second)[^4_096..]).ShouldBeLessThan(1e-12);
        Signals.RmsAbove(5_000, heard, Second / 8, heard.Length - 512).ShouldBeLessThan(-80);
    }

    [Theory]
    [MemberData(nameof(Clear))]
    public void With_nothing_to_do_it_passes_the_sound_unchanged_but_for_its_stated_latency(string key, string setting)
    {
        var type = ProcessorTypes.Find(key)!;
        (string, double)[] values = setting.Length == 0 ? [] : [(setting.Split('=')[0], double.Parse(setting.Split('=')[1], System.Globalization.CultureInfo.InvariantCulture))];
        var slot = new ChainSlot(type, Rack.Settings(type, 1, values));
        var sound = Signals.Noise(1, 9_000);
        var heard = Rack.Run(slot, sound).Left;
        Largest(heard[(slot.Latency + 1_000)..], sound[1_000..^slot.Latency]).ShouldBeLessThan(1e-7);
    }

    [Fact]
    public void Every_parameter_is_declared_whole()
    {
        ProcessorTypes.All.Select(t => t.Key).ShouldBeUnique();
        foreach (var type in ProcessorTypes.All)
        {
            type.Purpose.ShouldEndWith(".");
            type.Overdone.ShouldEndWith(".");
            type.Parameters.Select(p => p.Key).ShouldBeUnique();
            foreach (var p in type.Parameters)
            {
                p.Allows(p.Default).ShouldBeTrue();
                p.Allows(p.Min - 1).ShouldBeFalse();
                p.Allows(p.Max + 1).ShouldBeFalse();
                p.Allows(double.NaN).ShouldBeFalse();
                p.Meaning.ShouldEndWith(".");
                (p.Scale == ParameterScale.Logarithmic && p.Min <= 0).ShouldBeFalse();
                (p.Choices.Length > 0).ShouldBe(p.Scale == ParameterScale.Choice);
            }
        }
    }

    private static ChainSlot Make(string key, int channels)
    {
        var type = ProcessorTypes.Find(key)!;
        return new ChainSlot(type, Rack.Settings(type, channels));
    }

    private static double Value(Parameter parameter, double share)
    {
        var value = parameter.Min + (share * (parameter.Max - parameter.Min));
        return parameter.Scale == ParameterScale.Choice ? Math.Round(value) : value;
    }

    private static double Largest(float[] one, float[] other) => one.Zip(other, (a, b) => Math.Abs((double)a - b)).Max();

    private static double Rms(float[] samples) => Math.Sqrt(samples.Average(x => (double)x * x));

    private static float[] Hostile(int kind, int frames)
    {
        var random = new Random(kind);
        return
        [
            .. Enumerable.Range(0, frames).Select(n => kind switch
            {
                0 => float.NaN,
                1 => n % 2 == 0 ? float.PositiveInfinity : float.NegativeInfinity,
                2 => float.Epsilon * (n % 100),
                3 => n / 24 % 2 == 0 ? 1f : -1f,
                4 => 1f,
                5 => n < 3_000 ? 1_000 * (float)(random.NextDouble() - 0.5) : 0,
                6 => BitConverter.Int32BitsToSingle(random.Next() ^ (random.Next(2) << 31)),
                7 => n % 1_000 == 0 ? float.MaxValue : 0,
                8 => (float)(1e-18 * random.NextDouble()),
                _ => (float)random.NextDouble() - 0.5f,
            }),
        ];
    }
}

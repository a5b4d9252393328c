using CsCheck;
using Kinetra.Core.Engine;
using Kinetra.Core.Processors;

namespace Kinetra.Core.Tests.Processors;

public class LimiterTests
{
    private const int Second = Signals.Rate;

    public static TheoryData<string> Adversaries => ["loud noise", "steps of noise", "alternating steps", "signs of a sinc's tails", "square", "11 999 Hz", "19 990 Hz", "wild", "sparse", "one impulse"];

    [Theory]
    [MemberData(nameof(Adversaries))]
    public void No_true_peak_leaves_more_than_a_tenth_of_a_decibel_above_the_ceiling(string adversary)
    {
        var sound = Adversary(adversary, Second);
        foreach (var (lookAhead, release) in new[] { (1.0, 10.0), (3.0, 120.0), (10.0, 1_000.0), (1.0, 1_000.0), (10.0, 10.0) })
        {
            var heard = Rack.Run(Limiter.Type, sound, ("ceiling", -1), ("lookAhead", lookAhead), ("release", release), ("drive", 6));
            TruePeak.Dbtp(heard).ShouldBeLessThan(-1 + 0.1, $"{adversary}, {lookAhead} ms, {release} ms");
        }
    }

    [Fact]
    public void Nor_does_it_for_sounds_and_settings_by_chance()
    {
        Gen.Select(Gen.Int[0, 1_000_000], Gen.Double[1, 10], Gen.Double[10, 1_000], Gen.Double[-20, 0], Gen.Double[0, 24], Gen.Double[-40, 60]).Sample(
            (seed, lookAhead, release, ceiling, drive, level) =>
            {
                var random = new Random(seed);
                var sound = new float[12_000];
                double gain = 1, low = 0, memory = random.NextDouble();
                for (var n = 0; n < sound.Length; n++)
                {
                    gain = random.NextDouble() < 0.003 ? Math.Pow(10, 3 * (random.NextDouble() - 0.7)) : gain;
                    low = (memory * low) + ((random.NextDouble() - 0.5) * (1 - memory));
                    sound[n] = (float)(Signals.FromDb(level) * gain * low * 4);
                }

                var heard = Rack.Run(Limiter.Type, sound, ("ceiling", ceiling), ("lookAhead", lookAhead), ("release", release), ("drive", drive));
                TruePeak.Dbtp(heard).ShouldBeLessThan(ceiling + 0.1);
            },
            iter: 40);
    }

    [Fact]
    public void Nor_while_ceiling_drive_and_look_ahead_change()
    {
        var slot = new ChainSlot(Limiter.Type, Rack.Settings(Limiter.Type, 1, ("ceiling", -1)));
        var random = new Random(4);
        var heard = Rack.Run(slot, Adversary("steps of noise", 2 * Second), before: at =>
        {
            if (at / 256 % 20 == 0)
            {
                slot.Set(Rack.IndexOf(Limiter.Type, "lookAhead"), 1 + (9 * random.NextDouble()));
                slot.Set(Rack.IndexOf(Limiter.Type, "drive"), 24 * random.NextDouble());
            }
        }).Left;
        TruePeak.Dbtp(heard).ShouldBeLessThan(-0.9);
    }

    [Theory]
    [InlineData(997)]
    [InlineData(60)]
    [InlineData(7_001)]
    public void A_sine_above_the_ceiling_comes_out_at_the_ceiling(double hertz)
    {
        var heard = Rack.Run(Limiter.Type, Signals.Sine(hertz, Signals.FromDb(6), Second), ("ceiling", -3), ("release", 1_000));
        TruePeak.Dbtp(heard.AsSpan(Second / 2)).ShouldBeInRange(-3.25, -2.9);
    }

    [Fact]
    public void What_stays_below_the_ceiling_is_driven_by_exactly_the_drive_and_reduced_by_nothing()
    {
        var slot = new ChainSlot(Limiter.Type, Rack.Settings(Limiter.Type, 1, ("drive", 6)));
        var sound = Signals.Noise(3, Second, 0.2);
        var heard = Rack.Run(slot, sound).Left;
        slot.Reduction.ShouldBe(0);
        for (var n = slot.Latency; n < sound.Length; n++)
        {
            Math.Abs(heard[n] - (sound[n - slot.Latency] * Signals.FromDb(6))).ShouldBeLessThan(1e-6);
        }
    }

    [Fact]
    public void It_says_by_how_much_it_lowers()
    {
        var slot = new ChainSlot(Limiter.Type, Rack.Settings(Limiter.Type, 1, ("ceiling", -6), ("release", 1_000)));
        Rack.Run(slot, Signals.Sine(1_000, 1, Second));
        slot.Reduction.ShouldBe(6.1, 0.2);
    }

    [Fact]
    public void After_the_release_time_63_percent_of_the_way_back_is_done()
    {
        // Loud until the middle, then quiet: the gain is what comes out over what went in.
        var loud = Signals.Sine(997, 2, Second);
        for (var n = Second / 2; n < Second; n++)
        {
            loud[n] *= 0.05f;
        }

        var slot = new ChainSlot(Limiter.Type, Rack.Settings(Limiter.Type, 1, ("release", 200), ("ceiling", 0)));
        var heard = Rack.Run(slot, loud).Left;
        double GainAt(int frame) => Rms(heard, frame + slot.Latency) / Rms(loud, frame);
        var start = GainAt((Second / 2) + 300);
        var later = GainAt((Second / 2) + 300 + 9_600);
        ((1 - later) / (1 - start)).ShouldBe(Math.Exp(-1), 0.02);
    }

    [Fact]
    public void Both_sides_share_one_gain()
    {
        var slot = new ChainSlot(Limiter.Type, Rack.Settings(Limiter.Type, 2, ("ceiling", -10)));
        var (left, right) = (Signals.Sine(500, 1, Second), Signals.Sine(500, 0.1, Second));
        var (outLeft, outRight) = Rack.Run(slot, left, right);
        for (var n = 2_000; n < Second; n++)
        {
            Math.Abs(outRight[n] - (outLeft[n] * 0.1)).ShouldBeLessThan(1e-6);
        }
    }

    private static double Rms(float[] samples, int at) => Math.Sqrt(samples.AsSpan(at, 481).ToArray().Average(x => (double)x * x));

    private static float[] Adversary(string name, int frames)
    {
        var random = new Random(11);
        double Normal() => Math.Sqrt(-2 * Math.Log(1 - random.NextDouble())) * Math.Cos(2 * Math.PI * random.NextDouble());
        float Sign() => random.Next(2) == 0 ? -1 : 1;
        var sound = new float[frames];
        var wild = 1.0;
        for (var n = 0; n < frames; n++)
        {
            wild = n % 50 == 0 ? Math.Exp(3 * Normal()) : wild;
            sound[n] = name switch
            {
                "loud noise" => 1_000 * Sign(),
                "steps of noise" => (n / 97 % 2 == 0 ? 1_000 : 1) * Sign(),
                "alternating steps" => (n % 2 == 0 ? 1 : -1) * (n / 301 % 2 == 0 ? 1_000 : 1),
                "signs of a sinc's tails" => (float)(Math.Sign(Math.Sin(Math.PI * ((n % 400) - 200.5)) / ((n % 400) - 200.5)) * (n % 400 < 200 ? 1 : 1_000)),
                "square" => Math.Sin(2 * Math.PI * 997.3 * n / Second) > 0 ? 1_000 : -1_000,
                "11 999 Hz" => (float)(4 * Math.Sin((2 * Math.PI * 11_999 * n / Second) + 0.7)),
                "19 990 Hz" => (float)(4 * Math.Sin((2 * Math.PI * 19_990 * n / Second) + 0.7)),
                "wild" => (float)(wild * Normal()),
                "sparse" => (float)(random.NextDouble() < 0.01 ? 1_000 * Normal() : 0.5 * Normal()),
                _ => n == frames / 2 ? 1_000 : 0,
            };
        }

        return sound;
    }
}

using Kinetra.Core.Dsp;
using Kinetra.Core.Engine;
using Kinetra.Core.Processors;

namespace Kinetra.Core.Tests.Processors;

/// <summary>Processors against plain forms of themselves: sample by sample, in 64 bit, straight from the formula.</summary>
public class ReferenceTests
{
    private const int Length = 24_000;
    private const double Rate = Signals.Rate;

    // Of the limiter's peaks, in two steps: the middle between two samples, then the quarters between those.
    private static readonly Dictionary<int, double[]> Middles = new[] { 16, 24 }.ToDictionary(half => half, half => Weights(0.5, half, 8));
    private static readonly double[][] Quarters = [.. Enumerable.Range(0, 4).Select(quarter => Weights(quarter / 4.0, 5, 8))];

    [Fact]
    public void The_gate()
    {
        var sound = Bursts(1);
        var heard = Rack.Run(Gate.Type, sound, ("threshold", -30), ("hysteresis", 5), ("range", 30), ("ratio", 6), ("hold", 10), ("keyLowCut", 20));
        double envelope = 0, hold = 0, reduction = 30;
        var isOpen = false;
        var ideal = new double[Length];
        for (var n = 0; n < Length; n++)
        {
            envelope = Math.Max(Math.Abs(sound[n]), envelope * Math.Exp(-1 / (0.010 * Rate)));
            var level = Signals.Db(Math.Max(envelope, 1e-7));
            if (level >= -30 || (isOpen && level >= -35))
            {
                (isOpen, hold) = (true, 0.010 * Rate);
            }
            else if (isOpen && --hold < 0)
            {
                isOpen = false;
            }

            var wanted = isOpen ? 0 : Math.Clamp((-30 - level) * 5, 0, 30);
            reduction = wanted > reduction ? Math.Min(wanted, reduction + (30 / (0.200 * Rate))) : Math.Max(wanted, reduction - (30 / (0.002 * Rate)));
            ideal[n] = n < 144 ? 0 : sound[n - 144] * Signals.FromDb(-reduction);
        }

        ShouldAgree(heard, ideal, -90);
    }

    [Fact]
    public void The_ducker()
    {
        var (music, key) = (Signals.Noise(2, Length, 0.5), Bursts(1));
        var slot = new ChainSlot(Ducker.Type, Rack.Settings(Ducker.Type, 1, ("threshold", -30), ("attack", 20), ("hold", 15), ("release", 60)));
        var heard = Rack.Run(slot, music, key: key).Left;
        double envelope = 0, hold = 0, reduction = 0;
        var ideal = new double[Length];
        for (var n = 0; n < Length; n++)
        {
            envelope = Math.Max(Math.Abs(key[n]), envelope * Math.Exp(-1 / (0.010 * Rate)));
            var talks = Signals.Db(Math.Max(envelope, 1e-7)) >= -30;
            hold = talks ? 0.015 * Rate : hold - 1;
            var wanted = talks || hold >= 0 ? 12.0 : 0;
            reduction = wanted > reduction ? Math.Min(wanted, reduction + (12 / (0.020 * Rate))) : Math.Max(wanted, reduction - (12 / (0.060 * Rate)));
            ideal[n] = music[n] * Signals.FromDb(-reduction);
        }

        ShouldAgree(heard, ideal, -90);
    }

    [Fact]
    public void The_de_esser()
    {
        var sound = Bursts(3);
        var heard = Rack.Run(DeEsser.Type, sound, ("threshold", -6), ("range", 12));
        var (high, low) = (Twice(sound, isHigh: true), Twice(sound, isHigh: false));
        double highPower = 0, lowPower = 0, reduction = 0;
        var memory = Math.Exp(-1 / (0.003 * Rate));
        var ideal = new double[Length];
        for (var n = 0; n < Length; n++)
        {
            highPower = (memory * highPower) + ((1 - memory) * high[n] * high[n]);
            lowPower = (memory * lowPower) + ((1 - memory) * low[n] * low[n]);
            var wanted = Math.Clamp((10 * Math.Log10((highPower + 1e-12) / (lowPower + 1e-12))) + 6, 0, 12);
            var time = Math.Exp(-1 / ((wanted > reduction ? 0.001 : 0.050) * Rate));
            reduction = wanted + (time * (reduction - wanted));
            ideal[n] = low[n] + (high[n] * Signals.FromDb(-reduction));
        }

        ShouldAgree(heard, ideal, -90);

        // Two second-order Butterworth sections of the cookbook, at 5.5 kHz.
        static double[] Twice(float[] sound, bool isHigh)
        {
            var (w, alpha) = (2 * Math.PI * 5_500 / Rate, Math.Sin(2 * Math.PI * 5_500 / Rate) / Math.Sqrt(2));
            var edge = isHigh ? 1 + Math.Cos(w) : 1 - Math.Cos(w);
            double[] b = [edge / 2, isHigh ? -edge : edge, edge / 2];
            double[] a = [1 + alpha, -2 * Math.Cos(w), 1 - alpha];
            var values = sound.Select(x => (double)x).ToArray();
            for (var pass = 0; pass < 2; pass++)
            {
                var before = (double[])values.Clone();
                for (var n = 0; n < values.Length; n++)
                {
                    double At(double[] x, int k) => n >= k ? x[n - k] : 0;
                    values[n] = ((b[0] * At(before, 0)) + (b[1] * At(before, 1)) + (b[2] * At(before, 2)) - (a[1] * At(values, 1)) - (a[2] * At(values, 2))) / a[0];
                }
            }

            return values;
        }
    }

    [Fact]
    public void The_limiter()
    {
        var sound = Bursts(4).Select(x => 4 * x).ToArray();
        var slot = new ChainSlot(Limiter.Type, Rack.Settings(Limiter.Type, 1, ("ceiling", -3), ("release", 50), ("lookAhead", 2)));
        var heard = Rack.Run(slot, sound).Left;
        var ceiling = Signals.FromDb(-3.1);
        var ideal = sound.Select(x => (double)x).ToArray();
        ideal = Pass(ideal, 96, 0.050, half: 16);
        ideal = Pass(ideal, 96, 0.015, half: 16);
        ideal = Pass(ideal, 96, 0.015, half: 24);
        ShouldAgree(heard, ideal, -90);

        // The gain that each interval needs, the least of them over the window, the release, two means; the sound waits for it.
        double[] Pass(double[] x, int lookAhead, double release, int half)
        {
            var mean = lookAhead / 2;
            var line = x.SelectMany((value, n) => new[] { value, Sum(Middles[half], x, n) }).ToArray();
            var (latency, window) = (half + 2 + (2 * (mean - 1)) + 4, (2 * (mean - 1)) + 1 + 8 + 1);
            var needed = new double[x.Length];
            for (var n = 0; n < x.Length; n++)
            {
                needed[n] = Math.Min(1, ceiling / Math.Max(Peak(line, n - half - 2), 1e-30));
            }

            double held = 1;
            var gains = new double[x.Length];
            for (var n = 0; n < x.Length; n++)
            {
                var least = 1.0;
                for (var k = 0; k < window && k <= n; k++)
                {
                    least = Math.Min(least, needed[n - k]);
                }

                held = Math.Min(least, 1 - ((1 - held) * Math.Exp(-1 / (release * Rate))));
                gains[n] = held;
            }

            gains = Mean(Mean(gains, mean, 1), mean, 1);
            return [.. x.Select((_, n) => n < latency ? 0 : x[n - latency] * gains[n])];
        }

        // Of an interval: two places of the line, with four values each.
        static double Peak(double[] line, int interval) =>
            new[] { 2 * interval, (2 * interval) + 1 }.Max(place => Quarters.Max(weights => Math.Abs(Sum(weights, line, place))));

        // A value at or after a place, by as many values to each side.
        static double Sum(double[] weights, double[] values, int place)
        {
            double sum = 0;
            for (var k = 0; k < weights.Length; k++)
            {
                var at = place + 1 - (weights.Length / 2) + k;
                sum += at >= 0 && at < values.Length ? weights[k] * values[at] : 0;
            }

            return sum;
        }
    }

    [Theory]
    [InlineData(3.337)]
    [InlineData(40.01)]
    public void The_delay_between_frames(double ms)
    {
        var noise = Signals.Noise(5, Length, 0.5);
        var samples = noise.Select(x => (double)x).ToArray();
        var heard = Rack.Run(Delay.Type, noise, ("time", ms));
        ShouldAgree(heard, [.. samples.Select((_, n) => Between(samples, n - (ms * Rate / 1_000), 24, 11))], -105);
    }

    [Fact]
    public void The_vibrato()
    {
        var noise = Signals.Noise(6, Length, 0.5);
        var samples = noise.Select(x => (double)x).ToArray();
        var slot = new ChainSlot(Vibrato.Type, Rack.Settings(Vibrato.Type, 1, ("rate", 6), ("depth", 50)));
        var heard = Rack.Run(slot, noise).Left;
        var swing = (Math.Pow(2, 50 / 1_200.0) - 1) * Rate / (2 * Math.PI * 6);
        ShouldAgree(heard, [.. samples.Select((_, n) => Between(samples, n - slot.Latency - (swing * Math.Sin(2 * Math.PI * 6 * n / Rate)), 24, 11))], -100);
    }

    [Fact]
    public void Ring()
    {
        var noise = Signals.Noise(7, Length, 0.5);
        var heard = Rack.Run(Core.Processors.Ring.Type, noise, ("frequency", 123), ("blend", 70));
        ShouldAgree(heard, [.. noise.Select((x, n) => x * (1 + (0.7 * (Math.Sin(2 * Math.PI * 123 * n / Rate) - 1))))], -120);
    }

    [Fact]
    public void The_room()
    {
        int[] lengths = [613, 701, 809, 907, 1_013, 1_117, 1_229, 1_361];
        var noise = Signals.Noise(8, Length, 0.5);
        var heard = Rack.Run(Room.Type, noise, ("blend", 40), ("decay", 900), ("damping", 5_000));
        var lines = lengths.Select(l => new double[Length + l]).ToArray();
        var low = new double[8];
        var memory = Math.Exp(-2 * Math.PI * 5_000 / Rate);
        var given = Through(FilterDesign.HighPass(40, Math.Sqrt(0.5)), [.. noise.Select(x => (double)x)]);
        var ideal = new double[Length];
        for (var n = 0; n < Length; n++)
        {
            var taken = new double[8];
            for (var i = 0; i < 8; i++)
            {
                var x = n >= lengths[i] ? lines[i][n - lengths[i]] : 0;
                low[i] = ((1 - memory) * x) + (memory * low[i]);
                taken[i] = low[i] * Math.Pow(10, -3 * lengths[i] / (0.900 * Rate));
            }

            for (var i = 0; i < 8; i++)
            {
                // Sylvester's matrix: the sign is that of the bits that both places share.
                var sum = Enumerable.Range(0, 8).Sum(j => taken[j] * (int.IsEvenInteger(System.Numerics.BitOperations.PopCount((uint)(i & j))) ? 1 : -1));
                lines[i][n] = (sum / Math.Sqrt(8)) + (0.5 * given[n]);
            }

            ideal[n] = noise[n] + (0.4 * ((0.7 * taken.Sum()) - noise[n]));
        }

        ShouldAgree(heard, ideal, -115);
    }

    [Fact]
    public void The_exciter()
    {
        var sound = Bursts(9);
        var heard = Rack.Run(Exciter.Type, sound, ("lowAmount", 60), ("lowFrequency", 140), ("highAmount", 40), ("highFrequency", 3_500));
        var low = Harmonics([FilterDesign.LowPass(140, Math.Sqrt(0.5))], [], second: 0.5, third: 0.5);
        var high = Harmonics([FilterDesign.HighPass(3_500, Math.Sqrt(0.5)), .. Steep(16_000)], Steep(18_000), second: 0.7, third: 0.3);
        ShouldAgree(heard, [.. sound.Select((_, n) => n < 160 ? (0.6 * low[n]) + (0.4 * high[n]) : sound[n - 160] + (0.6 * low[n]) + (0.4 * high[n]))], -90);

        // Butterworth of the sixth order, by the bilinear transform.
        static BiquadCoefficients[] Steep(double hertz) =>
            [.. new[] { 15.0, 45, 75 }.Select(angle => BiquadCoefficients.LowPass(hertz, 1 / (2 * Math.Cos(angle * Math.PI / 180)), Rate))];

        // The band at full scale by its own level, four values for each, bent, one for each four, and back at its level.
        double[] Harmonics(BiquadCoefficients[] cut, BiquadCoefficients[] after, double second, double third)
        {
            var band = cut.Aggregate(sound.Select(x => (double)x).ToArray(), (x, section) => Through(section, x));
            var power = Mean(Mean([.. band.Select(x => x * x)], 60, 0), 60, 0);
            double peak = 0;
            var peaks = new double[Length];
            for (var n = 0; n < Length; n++)
            {
                double highest = 0;
                for (var k = 0; k < 240 && k <= n; k++)
                {
                    highest = Math.Max(highest, Math.Abs(band[n - k]));
                }

                peaks[n] = peak = Math.Max(Math.Max(Math.Sqrt(2 * power[n]), highest / 1.4), peak * Math.Exp(-1 / (0.200 * Rate)));
            }

            peaks = Mean(Mean(peaks, 60, 0), 60, 0);
            var low = Enumerable.Range(-80, 161).Select(k => Sinc(k / 4.0) * Kaiser(k / 81.0, 10.06)).ToArray();
            var sum = low.Sum();
            var over = new double[4 * Length];
            var units = peaks.Select((p, n) => n < 120 ? 0 : band[n - 120] / Math.Max(p, 1e-6)).ToArray();
            var weights = peaks.Select(p => Math.Pow(Math.Max(p, 1e-6), 2)).ToArray();
            var level = Slow(weights);
            var squares = Slow([.. units.Select((u, n) => u * u * weights[n])]);
            var fourths = Slow([.. units.Select((u, n) => Math.Pow(u, 4) * weights[n])]);
            for (var n = 120; n < Length; n++)
            {
                var full = units[n];
                for (var k = 0; k < low.Length && (4 * n) + k < over.Length; k++)
                {
                    over[(4 * n) + k] += 4 * full * low[k] / sum;
                }
            }

            var made = new double[Length];
            for (var n = 0; n < Length; n++)
            {
                for (var k = 0; k < low.Length && k <= 4 * n; k++)
                {
                    // What is bent belongs to the frame whose quarters are its own.
                    var at = (4 * n) - k;
                    var (u, m) = (over[at], at / 4);
                    var (mean, like) = (squares[m] / level[m], squares[m] == 0 ? 0 : fourths[m] / squares[m]);
                    made[n] += low[k] / sum * ((second * 2 * ((u * u) - mean)) + (third * 4 * ((u * u * u) - (like * u))));
                }

                made[n] *= n < 40 ? 0 : peaks[n - 40];
            }

            return after.Aggregate(Through(FilterDesign.HighPass(20, Math.Sqrt(0.5)), made), (x, section) => Through(section, x));
        }

        // Two steps of 10 ms, one after the other.
        static double[] Slow(double[] x)
        {
            for (var step = 0; step < 2; step++)
            {
                double last = 0;
                x = [.. x.Select(v => last += (1 - Math.Exp(-1 / (0.010 * Rate))) * (v - last))];
            }

            return x;
        }
    }

    [Fact]
    public void The_telephone()
    {
        var sound = Bursts(10);
        var heard = Rack.Run(Telephone.Type, sound, ("drive", 20), ("blend", 80));
        var bent = Band([.. sound.Select(x => (double)x)]).Select(x => x * 10 / Math.Sqrt(1 + (x * x * 100)) / Math.Sqrt(10));
        var ideal = Band([.. bent]);
        ShouldAgree(heard, [.. sound.Select((x, n) => (0.2 * x) + (0.8 * ideal[n]))], -120);

        static double[] Band(double[] x)
        {
            foreach (var q in new[] { 0.541196100146197, 1.306562964876377 })
            {
                x = Through(FilterDesign.LowPass(3_400, q), Through(FilterDesign.HighPass(300, q), x));
            }

            return x;
        }
    }

    [Fact]
    public void The_utility()
    {
        var (left, right) = (Bursts(11), Bursts(12));
        var slot = new ChainSlot(
            Utility.Type,
            Rack.Settings(Utility.Type, 2, ("gain", -3), ("invertRight", 1), ("width", 150), ("balance", 25), ("removeDc", 1), ("hum", 1), ("harmonics", 3)));
        var heard = Rack.Run(slot, left, right);
        var (l, r) = (Clean(left), Clean(right));
        var gain = Signals.FromDb(-3);
        ShouldAgree(heard.Left, [.. l.Select((_, n) => 0.75 * gain * (((l[n] - r[n]) / 2) + (1.5 * (l[n] + r[n]) / 2)))], -120);
        ShouldAgree(heard.Right, [.. l.Select((_, n) => gain * (((l[n] - r[n]) / 2) - (1.5 * (l[n] + r[n]) / 2)))], -120);

        static double[] Clean(float[] sound)
        {
            var x = sound.Select(v => (double)v).ToArray();
            for (var k = 1; k <= 3; k++)
            {
                x = Through(FilterDesign.Notch(50 * k, 30), x);
            }

            return Through(FilterDesign.HighPass(5, Math.Sqrt(0.5)), x);
        }
    }

    // A difference equation as it is written; that the coefficients are the filter's own is for the tests of the filters.
    private static double[] Through(BiquadCoefficients c, double[] x)
    {
        var y = new double[x.Length];
        for (var n = 0; n < x.Length; n++)
        {
            double At(double[] values, int k) => n >= k ? values[n - k] : 0;
            y[n] = (c.B0 * x[n]) + (c.B1 * At(x, 1)) + (c.B2 * At(x, 2)) - (c.A1 * At(y, 1)) - (c.A2 * At(y, 2));
        }

        return y;
    }

    private static double[] Mean(double[] x, int length, double before) =>
        [.. x.Select((_, n) => Enumerable.Range(0, length).Average(k => n >= k ? x[n - k] : before))];

    // A value between samples.
    private static double Between(double[] x, double place, int half, double beta)
    {
        var whole = (int)Math.Floor(place);
        var weights = Weights(place - whole, half, beta);
        double sum = 0;
        for (var k = 0; k < weights.Length; k++)
        {
            var at = whole + 1 - half + k;
            sum += at >= 0 && at < x.Length ? weights[k] * x[at] : 0;
        }

        return sum;
    }

    // A sinc under a Kaiser window, its weights made to add up to one.
    private static double[] Weights(double fraction, int half, double beta)
    {
        var weights = Enumerable.Range(1 - half, 2 * half).Select(k =>
        {
            var t = k - fraction;
            return Sinc(t) * Kaiser(t / half, beta);
        }).ToArray();
        var sum = weights.Sum();
        return [.. weights.Select(w => w / sum)];
    }

    private static double Sinc(double t) => Math.Abs(t) < 1e-12 ? 1 : Math.Sin(Math.PI * t) / (Math.PI * t);

    // The window, 1 at 0 and gone at ±1.
    private static double Kaiser(double at, double beta) => Math.Abs(at) >= 1 ? 0 : Bessel(beta * Math.Sqrt(1 - (at * at))) / Bessel(beta);

    private static double Bessel(double x)
    {
        double sum = 1, term = 1;
        for (var k = 1; term > 1e-16 * sum; k++)
        {
            term *= x * x / (4.0 * k * k);
            sum += term;
        }

        return sum;
    }

    // Loud and quiet by turns.
    private static float[] Bursts(int seed) =>
        [.. Signals.Noise(seed, Length, 0.9).Select((x, n) => n / 2_400 % 2 == 0 ? x * 0.004f : x)];

    private static void ShouldAgree(float[] heard, double[] ideal, double decibels)
    {
        var most = 0.0;
        for (var n = 0; n < heard.Length; n++)
        {
            most = Math.Max(most, Math.Abs(heard[n] - ideal[n]));
        }

        Signals.Db(most).ShouldBeLessThan(decibels);
    }
}

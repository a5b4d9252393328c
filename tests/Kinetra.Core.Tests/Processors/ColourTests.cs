using System.Numerics;
using Kinetra.Core.Engine;
using Kinetra.Core.Processors;
using MathNet.Numerics.IntegralTransforms;

namespace Kinetra.Core.Tests.Processors;

/// <summary>De-esser, exciter, delay, utility and the effects against their definitions.</summary>
public class ColourTests
{
    private const int Second = Signals.Rate;

    [Fact]
    public void The_de_esser_at_rest_is_flat_and_leaves_a_vowel_alone()
    {
        foreach (var hertz in new[] { 100.0, 1_000, 4_000, 5_500, 8_000, 15_000 })
        {
            var tone = Rack.Run(DeEsser.Type, Signals.Sine(hertz, 0.3, 2 * Second), ("range", 0));
            Signals.Db(Tone(tone, hertz) / 0.3).ShouldBe(0, 0.001);
        }

        var slot = new ChainSlot(DeEsser.Type, Rack.Settings(DeEsser.Type, 1, ("threshold", 0)));
        Rack.Run(slot, [.. Signals.Sine(200, 0.3, Second).Zip(Signals.Sine(900, 0.2, Second), (a, b) => a + b)]);
        slot.Reduction.ShouldBe(0, 1e-6);
    }

    [Theory]
    [InlineData(1)]
    [InlineData(0.1)]
    [InlineData(0.01)]
    public void The_de_esser_lowers_sibilance_by_its_range_at_any_level_and_nothing_below_it(double level)
    {
        var slot = new ChainSlot(DeEsser.Type, Rack.Settings(DeEsser.Type, 1, ("frequency", 5_000), ("threshold", 0), ("range", 10)));
        var hiss = Signals.Sine(16_000, 0.5 * level, Second).Zip(Signals.Sine(100, 0.01 * level, Second), (a, b) => a + b).ToArray();
        var heard = Rack.Run(slot, hiss).Left;
        slot.Reduction.ShouldBe(10, 0.01);
        Tone(heard, 16_000).ShouldBe(0.5 * level * Signals.FromDb(-10), 0.5 * level * 0.02);
        Tone(heard, 100).ShouldBe(0.01 * level, 0.01 * level * 0.001);
    }

    [Fact]
    public void The_de_essers_threshold_is_how_far_sibilance_stands_above_the_rest()
    {
        // 6 kHz 9 dB above 300 Hz; the threshold lets 4 dB of that pass.
        var sound = Signals.Sine(9_000, 0.28, Second).Zip(Signals.Sine(300, 0.1, Second), (a, b) => a + b).ToArray();
        var slot = new ChainSlot(DeEsser.Type, Rack.Settings(DeEsser.Type, 1, ("frequency", 3_000), ("threshold", 4), ("range", 24)));
        Rack.Run(slot, sound);
        slot.Reduction.ShouldBe(Signals.Db(2.8) - 4, 0.5);
    }

    [Theory]
    [InlineData(5_001)]
    [InlineData(7_919)]
    [InlineData(11_003)]
    [InlineData(13_997)]
    [InlineData(19_001)]
    [InlineData(20_501)]
    [InlineData(21_997)]
    [InlineData(23_003)]
    public void The_exciter_adds_harmonics_of_a_tone_and_its_aliases_lie_80_dB_down(double hertz)
    {
        var heard = Rack.Run(Exciter.Type, Signals.Sine(hertz, 1, 3 * Second), ("highAmount", 100), ("highFrequency", 1_000));
        var spectrum = Spectrum(heard.AsSpan(2 * Second, Second));
        double alias = 0;
        for (var bin = 30; bin < 22_000; bin++)
        {
            var isHarmonic = Enumerable.Range(1, 4).Any(k => Math.Abs(bin - (k * hertz)) < 12);
            alias = isHarmonic ? alias : Math.Max(alias, spectrum[bin]);
        }

        Signals.Db(alias).ShouldBeLessThan(-80);
        if (2 * hertz < 20_000)
        {
            spectrum[(int)(2 * hertz)].ShouldBe(0.7, 0.1);
        }

        spectrum[(int)hertz].ShouldBe(1, 0.01);
    }

    [Fact]
    public void The_exciter_weakens_nothing_of_the_band_that_it_enriches()
    {
        var decaying = Signals.Sine(80, 0.8, 3 * Second).Select((x, n) => x * MathF.Exp(-(n % 24_000) / 4_800f)).ToArray();
        var voice = Signals.Sine(55, 0.2, 3 * Second).Zip(Signals.Sine(82, 0.3, 3 * Second), (a, b) => a + b).Zip(Signals.Sine(131, 0.1, 3 * Second), (a, b) => a + b).ToArray();
        foreach (var sound in new[] { Signals.Noise(4, 3 * Second), voice, decaying, Signals.Sine(50, 0.5, 3 * Second) })
        {
            var heard = Rack.Run(Exciter.Type, sound, ("lowAmount", 100), ("lowFrequency", 140), ("highAmount", 0));
            var (before, after) = (Low(sound), Low(heard));
            Signals.Db(after / before).ShouldBeInRange(-0.7, 3);
        }

        static double Low(float[] sound) => Math.Sqrt(Spectrum(sound.AsSpan(Second, Second))[30..140].Sum(x => x * x));
    }

    [Fact]
    public void What_the_exciter_adds_follows_the_level()
    {
        double Second(double level) => Tone(Rack.Run(Exciter.Type, Signals.Sine(80, level, 2 * Signals.Rate), ("lowAmount", 50), ("highAmount", 0)), 160) / level;
        Second(0.01).ShouldBe(Second(0.5), 0.005);
        Second(0.5).ShouldBe(0.2, 0.06);
    }

    [Theory]
    [InlineData(0)]
    [InlineData(10)]
    [InlineData(2_000)]
    public void A_delay_of_whole_frames_moves_every_sample_and_changes_none(double ms)
    {
        var noise = Signals.Noise(1, 3 * Second);
        var heard = Rack.Run(Delay.Type, noise, ("time", ms));
        var frames = (int)(ms * 48);
        heard[..frames].ShouldAllBe(x => x == 0);
        heard[frames..].ShouldBe(noise[..^frames]);
    }

    [Fact]
    public void A_delay_between_frames_is_exact_in_time_and_level_up_to_20_kHz()
    {
        foreach (var hertz in new[] { 100.0, 1_000, 10_000, 19_500 })
        {
            var heard = Rack.Run(Delay.Type, Signals.Sine(hertz, 0.5, Second), ("time", 3.3333));
            var ideal = Signals.Sine(hertz, 0.5, Second, phase: -2 * Math.PI * hertz * 0.0033333);
            for (var n = 2_000; n < Second; n++)
            {
                Math.Abs(heard[n] - ideal[n]).ShouldBeLessThan(1e-4f);
            }
        }
    }

    [Fact]
    public void A_changed_delay_is_crossfaded()
    {
        var slot = new ChainSlot(Delay.Type, Rack.Settings(Delay.Type, 1, ("time", 5)));
        var heard = Rack.Run(slot, Signals.Sine(100, 0.25, 2 * Second), before: at =>
        {
            if (at > Second / 2)
            {
                slot.Set(0, at > Second ? 61.7 : 33.33);
            }
        }).Left;
        Signals.RmsAbove(5_000, heard, 2_000, heard.Length - 512).ShouldBeLessThan(-80);
        heard[^1].ShouldBe(Signals.Sine(100, 0.25, 2 * Second, phase: -2 * Math.PI * 6.17)[^1], 1e-4f);
    }

    [Theory]
    [InlineData("invertLeft=1", -0.5, 0.2)]
    [InlineData("invertRight=1", 0.5, -0.2)]
    [InlineData("mono=1", 0.35, 0.35)]
    [InlineData("width=0", 0.35, 0.35)]
    [InlineData("width=200", 0.65, 0.05)]
    [InlineData("balance=100", 0, 0.2)]
    [InlineData("balance=-50", 0.5, 0.1)]
    [InlineData("gain=6", 0.5 * 1.9952623, 0.2 * 1.9952623)]
    public void The_utility_does_what_its_matrix_says(string setting, double left, double right)
    {
        var slot = new ChainSlot(Utility.Type, Rack.Settings(
            Utility.Type, 2, (setting.Split('=')[0], double.Parse(setting.Split('=')[1], System.Globalization.CultureInfo.InvariantCulture))));
        var (heardLeft, heardRight) = Rack.Run(slot, [.. Enumerable.Repeat(0.5f, 2_000)], [.. Enumerable.Repeat(0.2f, 2_000)]);
        ((double)heardLeft[^1]).ShouldBe(left, 1e-6);
        ((double)heardRight[^1]).ShouldBe(right, 1e-6);
    }

    [Theory]
    [InlineData(1, 50)]
    [InlineData(2, 60)]
    public void The_utility_takes_away_hum_with_its_harmonics_and_leaves_what_lies_between(int hum, double mains)
    {
        double Level(double hertz) => Signals.Db(Tone(Rack.Run(Utility.Type, Signals.Sine(hertz, 0.5, 6 * Second), ("hum", hum), ("harmonics", 4)), hertz) / 0.5);
        for (var k = 1; k <= 4; k++)
        {
            Level(k * mains).ShouldBeLessThan(-50);
            Level((k + 0.5) * mains).ShouldBe(0, 0.2);
        }

        Level(5 * mains).ShouldBe(0, 0.1);
    }

    [Fact]
    public void The_utility_takes_away_a_constant_offset()
    {
        var sound = Signals.Sine(300, 0.2, 4 * Second).Select(x => x + 0.3f).ToArray();
        var heard = Rack.Run(Utility.Type, sound, ("removeDc", 1));
        heard[^Second..].Average().ShouldBe(0, 1e-5f);
        Tone(heard, 300).ShouldBe(0.2, 1e-3);
    }

    [Fact]
    public void Ring_makes_of_a_tone_the_sum_and_the_difference()
    {
        var heard = Rack.Run(Ring.Type, Signals.Sine(1_000, 0.5, 2 * Second), ("frequency", 200));
        Tone(heard, 800).ShouldBe(0.25, 1e-3);
        Tone(heard, 1_200).ShouldBe(0.25, 1e-3);
        Tone(heard, 1_000).ShouldBeLessThan(1e-4);
    }

    [Fact]
    public void Vibrato_swings_the_pitch_by_its_cents()
    {
        // Pitch from the time between zero crossings.
        var heard = Rack.Run(Vibrato.Type, Signals.Sine(500, 0.5, 3 * Second), ("rate", 4), ("depth", 80));
        var crossings = new List<double>();
        for (var n = Second; n < heard.Length; n++)
        {
            if (heard[n - 1] < 0 && heard[n] >= 0)
            {
                crossings.Add(n - (heard[n] / (double)(heard[n] - heard[n - 1])));
            }
        }

        var cents = crossings.Skip(1).Zip(crossings, (b, a) => 1_200 * Math.Log2(Second / (b - a) / 500)).ToArray();
        cents.Max().ShouldBe(80, 3);
        cents.Min().ShouldBe(-80, 4);
    }

    [Fact]
    public void The_telephone_passes_its_band_and_nothing_else()
    {
        double Level(double hertz) => Signals.Db(Tone(Rack.Run(Telephone.Type, Signals.Sine(hertz, 0.01, 2 * Second), ("drive", 0)), hertz) / 0.01);
        Level(1_000).ShouldBe(0, 0.2);
        Level(75).ShouldBeLessThan(-80);
        Level(13_600).ShouldBeLessThan(-80);
    }

    [Theory]
    [InlineData(0, 300)]
    [InlineData(1, 1_000)]
    [InlineData(2, 3_000)]
    public void A_room_dies_away_by_60_dB_in_its_decay_time(int size, double decay)
    {
        // Low tones, which the damping leaves alone.
        var burst = Rack.Run(Cuts.HighCut, [.. Signals.Noise(3, 4_800, 0.5), .. new float[6 * Second]], ("frequency", 1_000), ("slope", 3));
        var heard = Rack.Run(Room.Type, burst, ("size", size), ("decay", decay), ("damping", 16_000), ("blend", 100));
        double Level(double ms) => 10 * Math.Log10(heard.AsSpan((int)(4_800 + (ms * 48)), 2_400).ToArray().Average(x => (double)x * x));
        var (early, late) = (decay * 0.2, decay * 0.8);
        ((Level(early) - Level(late)) / 0.6).ShouldBe(60, 6);
    }

    [Fact]
    public void A_rooms_blend_leaves_the_sound_as_it_came_at_its_part()
    {
        float[] click = [1, .. new float[255]];
        Rack.Run(Room.Type, click, ("blend", 25))[0].ShouldBe(0.75f, 1e-6f);
    }

    // The amplitude of a tone in the last second.
    private static double Tone(float[] samples, double hertz)
    {
        double cos = 0, sin = 0;
        for (var n = samples.Length - Second; n < samples.Length; n++)
        {
            cos += samples[n] * Math.Cos(2 * Math.PI * hertz * n / Second);
            sin += samples[n] * Math.Sin(2 * Math.PI * hertz * n / Second);
        }

        return 2 * Math.Sqrt((cos * cos) + (sin * sin)) / Second;
    }

    // Amplitudes at whole hertz, under a Blackman–Harris window (side lobes −92 dB).
    private static double[] Spectrum(ReadOnlySpan<float> second)
    {
        var spectrum = new Complex[second.Length];
        double sum = 0;
        for (var n = 0; n < spectrum.Length; n++)
        {
            var t = 2 * Math.PI * n / spectrum.Length;
            var window = 0.35875 - (0.48829 * Math.Cos(t)) + (0.14128 * Math.Cos(2 * t)) - (0.01168 * Math.Cos(3 * t));
            sum += window;
            spectrum[n] = second[n] * window;
        }

        Fourier.Forward(spectrum, FourierOptions.NoScaling);
        return [.. spectrum.Select(x => 2 * x.Magnitude / sum)];
    }
}

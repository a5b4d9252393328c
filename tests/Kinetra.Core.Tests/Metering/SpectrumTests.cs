using Kinetra.Core.Metering;

namespace Kinetra.Core.Tests.Metering;

public class SpectrumTests
{
    [Fact]
    public void A_tone_in_a_bands_middle_reads_its_level_there_and_is_far_down_an_octave_away()
    {
        for (var b = 3; b < ThirdOctaves.Bands; b += 3)
        {
            var levels = Levels(Signals.Sine(ThirdOctaves.Midbands[b], Signals.FromDb(-12), 2 * Signals.Rate));
            levels[b].ShouldBe(-12, 0.1);
            levels[b - 3].ShouldBeLessThan(-12 - 42);
            if (b + 3 < ThirdOctaves.Bands)
            {
                levels[b + 3].ShouldBeLessThan(-12 - 42);
            }
        }
    }

    [Fact]
    public void A_tone_between_two_bands_stands_3_dB_down_in_both()
    {
        var hertz = Math.Sqrt(ThirdOctaves.Midbands[17] * ThirdOctaves.Midbands[18]);
        var levels = Levels(Signals.Sine(hertz, 1, 2 * Signals.Rate));
        levels[17].ShouldBe(-3.01, 0.1);
        levels[18].ShouldBe(-3.01, 0.1);
    }

    [Fact]
    public void Of_white_noise_each_band_has_a_tenth_of_a_decade_more_than_the_one_below()
    {
        var levels = Levels(Signals.Noise(3, 2 * Signals.Rate));
        ((levels[30] - levels[20]) / 10).ShouldBe(1, 0.1);
    }

    [Fact]
    public void Correlation_is_1_for_the_same_minus_1_for_the_opposite_and_0_for_strangers()
    {
        Correlation(Signals.Noise(1, 48_000), Signals.Noise(1, 48_000)).ShouldBe(1, 1e-6);
        Correlation(Signals.Noise(1, 48_000), [.. Signals.Noise(1, 48_000).Select(x => -x)]).ShouldBe(-1, 1e-6);
        Correlation(Signals.Noise(1, 48_000), Signals.Noise(2, 48_000)).ShouldBe(0, 0.03);
        Correlation(new float[48_000], new float[48_000]).ShouldBe(0);
    }

    [Fact]
    public void Samples_at_full_scale_in_a_row_are_one_clip()
    {
        var counter = new ClipCounter();
        counter.Add([0.99f, 1, 1, -1.2f, 0.5f, -1, 0, 1]);
        counter.Add([1, 1, 0]);
        counter.Clips.ShouldBe(3);
    }

    private static double[] Levels(float[] sound)
    {
        var spectrum = new ThirdOctaves(1);
        for (var at = 0; at + 240 <= sound.Length; at += 240)
        {
            spectrum.Add(sound.AsSpan(at, 240), default);
            if ((at + 240) % Hop.Frames == 0)
            {
                spectrum.CloseHop();
            }
        }

        return spectrum.Levels.ToArray();
    }

    private static double Correlation(float[] left, float[] right)
    {
        var meter = new CorrelationMeter();
        for (var at = 0; at + Hop.Frames <= left.Length; at += Hop.Frames)
        {
            meter.Add(left.AsSpan(at, Hop.Frames), right.AsSpan(at, Hop.Frames));
            meter.CloseHop();
        }

        return meter.Correlation;
    }
}

using CsCheck;
using Kinetra.Core.Metering;

namespace Kinetra.Core.Tests.Metering;

/// <summary>How left and right belong together, against what they were made of.</summary>
public class StereoReadingTests
{
    private const int Frames = 6 * 48_000;

    [Fact]
    public void The_sides_over_the_middle_and_how_alike_both_are_follow_from_what_was_mixed()
    {
        Gen.Select(Gen.Double[-30, 30], Gen.Int[0, 99]).Sample(
            (decibels, seed) =>
            {
                // A middle and sides that have nothing in common: correlation is (m − s) over (m + s), as powers.
                var (middle, sides) = (Signals.Noise(seed, Frames), Signals.Noise(seed + 500, Frames));
                var factor = Signals.FromDb(decibels);
                var reading = new StereoReading();
                reading.Take([.. middle.Zip(sides, (m, s) => (float)(m + (factor * s)))], [.. middle.Zip(sides, (m, s) => (float)(m - (factor * s)))]);
                reading.SidesOverMiddle.ShouldBe(decibels, 0.3);
                var power = factor * factor;
                reading.Correlation.ShouldBe((1 - power) / (1 + power), 0.05);
            },
            iter: 12);
    }

    [Fact]
    public void The_same_twice_is_mono_upside_down_is_minus_one_silence_is_not_a_number_and_what_lies_beside_zero_is_told()
    {
        var noise = Signals.Noise(4, Frames);
        var (same, opposite, silent, alone, offset) = (new StereoReading(), new StereoReading(), new StereoReading(), new StereoReading(), new StereoReading());
        same.Take(noise, noise);
        (same.Correlation, same.SidesOverMiddle).ShouldBe((1, double.NegativeInfinity));
        opposite.Take(noise, [.. noise.Select(x => -x)]);
        opposite.Correlation.ShouldBe(-1, 1e-9);
        opposite.SidesOverMiddle.ShouldBeGreaterThan(100);
        silent.Take(new float[Frames], new float[Frames]);
        silent.Correlation.ShouldBe(double.NaN);
        silent.SidesOverMiddle.ShouldBe(double.NaN);
        alone.Take(noise, new float[Frames]);
        alone.Correlation.ShouldBe(double.NaN);
        alone.SidesOverMiddle.ShouldBe(0, 1e-9);
        offset.Take([.. noise.Select(x => x + 0.1f)], noise);
        offset.OffsetLeft.ShouldBe(-20, 0.3);
        offset.OffsetRight.ShouldBeLessThan(-45);
        var bass = new StereoReading();
        bass.Take(Signals.Sine(45, 1, Frames), Signals.Sine(60, 1, Frames));
        bass.OffsetLeft.ShouldBeLessThan(-80);
        bass.OffsetRight.ShouldBeLessThan(-80);
    }
}

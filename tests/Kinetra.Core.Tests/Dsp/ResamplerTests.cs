using Kinetra.Core.Dsp;

namespace Kinetra.Core.Tests.Dsp;

public class ResamplerTests
{
    [Theory]
    [InlineData(44_100, 48_000, 1_000)]
    [InlineData(44_100, 48_000, 19_800)]
    [InlineData(22_050, 48_000, 9_900)]
    [InlineData(96_000, 48_000, 21_500)]
    [InlineData(8_000, 48_000, 3_500)]
    [InlineData(48_000, 44_100, 19_000)]
    [InlineData(44_099, 48_000, 997)]
    public void A_tone_in_the_pass_band_comes_out_as_the_same_tone(int from, int to, double hertz)
    {
        var output = Resampler.Convert(Signals.Sine(hertz, 0.5, from, from), from, to);
        output.Length.ShouldBe(to);
        var ideal = Signals.Sine(hertz, 0.5, to, to);
        var edge = to / 10;
        double error = 0;
        for (var n = edge; n < to - edge; n++)
        {
            error = Math.Max(error, Math.Abs(output[n] - ideal[n]));
        }

        // 0.01 dB of a tone at −6 dBFS is 0.00058.
        error.ShouldBeLessThan(0.0003);
    }

    [Theory]
    [InlineData(96_000, 48_000, 24_500)]
    [InlineData(96_000, 48_000, 40_000)]
    [InlineData(192_000, 44_100, 23_000)]
    public void What_the_lower_rate_cannot_hold_is_gone_by_110_dB(int from, int to, double hertz)
    {
        var output = Resampler.Convert(Signals.Sine(hertz, 1, from, from), from, to);
        var inside = output.AsSpan(to / 10, to * 8 / 10);
        var worst = 0f;
        foreach (var x in inside)
        {
            worst = Math.Max(worst, Math.Abs(x));
        }

        Signals.Db(worst).ShouldBeLessThan(-110);
    }

    [Fact]
    public void Equal_rates_change_nothing()
    {
        var noise = Signals.Noise(1, 1000);
        Resampler.Convert(noise, 48_000, 48_000).ShouldBe(noise);
    }
}

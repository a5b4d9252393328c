using System.Numerics;
using Kinetra.Core.Dsp;

namespace Kinetra.Core.Tests.Dsp;

public class FourierTransformTests
{
    [Theory]
    [InlineData(2)]
    [InlineData(8)]
    [InlineData(64)]
    [InlineData(1_024)]
    public void It_is_the_sum_that_the_definition_says_and_back_is_the_same_again(int length)
    {
        var (re, im) = (Signals.Noise(1, length), Signals.Noise(2, length));
        var (gotRe, gotIm) = (re.ToArray(), im.ToArray());
        var transform = new FourierTransform(length);
        transform.Forward(gotRe, gotIm);
        for (var k = 0; k < length; k++)
        {
            var sum = Complex.Zero;
            for (var n = 0; n < length; n++)
            {
                sum += new Complex(re[n], im[n]) * Complex.FromPolarCoordinates(1, -2 * Math.PI * ((long)k * n % length) / length);
            }

            (new Complex(gotRe[k], gotIm[k]) - sum).Magnitude.ShouldBeLessThan(2e-6 * Math.Sqrt(length));
        }

        transform.Back(gotRe, gotIm);
        Enumerable.Range(0, length).Max(n => Math.Abs(gotRe[n] - re[n]) + Math.Abs(gotIm[n] - im[n])).ShouldBeLessThan(1e-6f);
    }

    [Fact]
    public void A_tone_of_a_long_transform_stands_in_its_bin_and_120_dB_below_it_is_nothing()
    {
        const int length = 65_536;
        var (re, im) = (Signals.Sine(1_000, 1, length, length), new float[length]);
        new FourierTransform(length).Forward(re, im);
        var power = Enumerable.Range(0, length / 2).Select(k => Math.Sqrt((re[k] * re[k]) + (im[k] * im[k])) / (length / 2)).ToArray();
        power[1_000].ShouldBe(1, 1e-5);
        power.Where((_, k) => k != 1_000).Max().ShouldBeLessThan(1e-6);
    }

    [Theory]
    [InlineData(0)]
    [InlineData(1)]
    [InlineData(48)]
    [InlineData(2_097_152)]
    public void Another_length_than_a_power_of_two_is_refused(int length) => Should.Throw<ArgumentOutOfRangeException>(() => new FourierTransform(length));
}

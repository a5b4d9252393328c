using CsCheck;
using Kinetra.Core.Dsp;

namespace Kinetra.Core.Tests.Dsp;

public class SampleGuardTests
{
    [Fact]
    public void Nothing_but_finite_normal_numbers_within_60_dB_over_full_scale_gets_through()
    {
        Gen.Single.Array[0, 70].Sample(samples =>
        {
            var expected = samples.Select(SampleGuard.MakeFinite).ToArray();
            SampleGuard.MakeFinite(samples);
            samples.ShouldBe(expected);
            samples.ShouldAllBe(x => x == 0 || (float.IsNormal(x) && Math.Abs(x) <= SampleGuard.Limit));
        });
    }

    [Fact]
    public void NaN_becomes_silence_and_infinity_the_limit()
    {
        float[] samples = [float.NaN, float.PositiveInfinity, float.NegativeInfinity, float.Epsilon, 0.5f, -1f, 0, 2, 3];
        SampleGuard.MakeFinite(samples);
        samples.ShouldBe([0, 1000, -1000, 0, 0.5f, -1f, 0, 2, 3]);
    }
}

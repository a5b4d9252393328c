using CsCheck;
using Kinetra.Core.Dsp;

namespace Kinetra.Core.Tests.Dsp;

public class GainRampTests
{
    [Fact]
    public void A_change_is_monotonic_and_ends_exactly_on_the_last_target_whatever_the_calls()
    {
        Gen.Select(Gen.Float[0, 4], Gen.Float[0, 4], Gen.Int[1, 700].List[1, 8]).Sample((from, to, lengths) =>
        {
            var ramp = new GainRamp(from) { Target = to };
            var last = from;
            var left = GainRamp.Frames;
            foreach (var length in lengths)
            {
                var factors = new float[length];
                ramp.Fill(factors);
                foreach (var factor in factors)
                {
                    (to >= from ? factor >= last : factor <= last).ShouldBeTrue();
                    last = factor;
                }

                left -= length;
                if (left <= 0)
                {
                    ramp.Current.ShouldBe(to);
                    ramp.IsSettled.ShouldBeTrue();
                }
            }
        });
    }

    [Fact]
    public void A_target_set_during_a_change_is_taken_when_that_change_ends()
    {
        var ramp = new GainRamp(0) { Target = 1 };
        var factors = new float[256];
        ramp.Fill(factors);
        ramp.Target = 0.5f;
        ramp.Fill(factors);
        factors[^1].ShouldBe(1);
        ramp.Fill(factors);
        ramp.Fill(factors);
        factors[^1].ShouldBe(0.5f);
        ramp.IsSettled.ShouldBeTrue();
    }
}

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

public class PanLawTests
{
    [Fact]
    public void Mono_keeps_its_power_wherever_it_stands_and_stereo_passes_unchanged_in_the_centre()
    {
        Gen.Double[-1, 1].Sample(pan =>
        {
            var (left, right) = PanLaw.Mono(pan);
            ((left * left) + (right * right)).ShouldBe(1, 1e-12);
            var (a, b) = PanLaw.Balance(pan);
            Math.Max(a, b).ShouldBe(1);
        });
        Signals.Db(PanLaw.Mono(0).Left).ShouldBe(-3.0103, 1e-4);
        PanLaw.Balance(0).ShouldBe((1, 1));
        PanLaw.Balance(-1).ShouldBe((1, 0));
    }
}

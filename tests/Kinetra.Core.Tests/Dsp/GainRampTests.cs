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

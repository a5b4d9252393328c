using CsCheck;
using Kinetra.Core.Dsp;

namespace Kinetra.Core.Tests.Dsp;

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

using CsCheck;
using Kinetra.Core.Planning;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Rigs;

public class TrimAdviceTests
{
    [Theory]
    [InlineData(-30, 0, LevelVerdict.Low, 12.0)]
    [InlineData(-22, -4, LevelVerdict.Low, 6.0)]
    [InlineData(-18, 0, LevelVerdict.Good, null)]
    [InlineData(-8, 3, LevelVerdict.Good, null)]
    [InlineData(-4, 6, LevelVerdict.Hot, -2.0)]
    [InlineData(-60, 0, LevelVerdict.Silent, null)]
    [InlineData(2, 2, LevelVerdict.Clips, null)]
    public void A_peak_is_low_good_hot_or_clipped_and_the_trim_that_is_offered_aims_at_the_middle(double peak, double trim, LevelVerdict verdict, double? offered)
    {
        var advice = TrimAdvice.Of(peak - trim, new(trim), gain: null, mostGain: 70);
        advice.Verdict.ShouldBe(verdict);
        (advice.Trim?.Decibels).ShouldBe(offered);
        advice.Gain.ShouldBeNull();
    }

    [Fact]
    public void Whoever_takes_what_is_offered_and_speaks_again_comes_in_well_or_is_offered_all_that_there_is()
    {
        Gen.Select(Gen.Double[-50, -0.2], Gen.Double[-40, 12], Gen.Int[0, 70]).Sample((raw, trim, gain) =>
        {
            var advice = TrimAdvice.Of(raw, new(trim), gain, mostGain: 70);
            if (advice.Trim is { } next)
            {
                var again = TrimAdvice.Of(raw, next, null, 70);
                (again.Verdict == LevelVerdict.Good || next.Decibels == Gain.MaxDecibels).ShouldBeTrue();
            }

            if (advice.Gain is { } hardware)
            {
                // The device gives so much more; where that would clip, it says so the next time.
                var louder = raw + hardware - gain;
                var again = TrimAdvice.Of(louder, new(trim), hardware, 70);
                (again.Verdict is LevelVerdict.Good or LevelVerdict.Clips || hardware is 0 or 70).ShouldBeTrue();
            }
        });
    }

    [Fact]
    public void What_clips_in_the_device_is_turned_down_there_and_an_off_trim_says_that_it_is_off()
    {
        TrimAdvice.Of(0, new(-6), 46, 70).ShouldSatisfyAllConditions(a => a.Verdict.ShouldBe(LevelVerdict.Clips), a => a.Gain.ShouldBe(34), a => a.Trim.ShouldBeNull());
        TrimAdvice.Of(double.NegativeInfinity, Gain.Off, null, 70).Words.ShouldContain("off");
    }
}

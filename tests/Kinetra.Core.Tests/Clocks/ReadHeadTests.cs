using Kinetra.Core.Clocks;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Clocks;

public class ReadHeadTests
{
    private const double Second = AudioFormat.SampleRate;
    private const int Block = AudioFormat.BlockFrames;
    private const double Target = 1_700;

    [Theory]
    [InlineData(300)]
    [InlineData(-300)]
    [InlineData(0)]
    public void Over_ten_hours_of_a_clock_that_is_off_latency_stays_within_a_millisecond_and_nothing_is_dropped_or_repeated(double ppm)
    {
        var device = new BurstyDevice(ppm, seed: 7);
        var head = new ReadHead(Target);
        var settled = 60 * Second;
        double least = double.MaxValue, most = double.MinValue, position = double.NaN;
        double available = 0;
        for (long own = 0; own < 36_000 * Second; own += Block)
        {
            var step = Step(device, head, own, ref available);
            if (own < settled)
            {
                position = step.Position + (Block * step.Step);
                continue;
            }

            step.Sounds.ShouldBeTrue();
            if (Math.Abs(step.Position - position) > 1e-6)
            {
                Assert.Fail($"Read on at {step.Position} instead of {position}.");
            }

            position = step.Position + (Block * step.Step);
            var latency = device.Made(own) - step.Position;
            least = Math.Min(least, latency);
            most = Math.Max(most, latency);
        }

        (most - least).ShouldBeLessThan(2 * 48);
        head.Gaps.ShouldBe(0);
        head.PartsPerMillion.ShouldBe(ppm, 30);
    }

    [Theory]
    [InlineData(true)]
    [InlineData(false)]
    public void After_a_stall_of_200_ms_it_is_counted_and_latency_is_back_within_five_seconds(bool clockStalls)
    {
        var device = new BurstyDevice(120, seed: 3) { ClockStalls = clockStalls, StallFrom = 40 * Second, StallUntil = 40.2 * Second };
        var head = new ReadHead(Target);
        double available = 0;
        var before = 0.0;
        for (long own = 0; own < 60 * Second; own += Block)
        {
            var step = Step(device, head, own, ref available);
            var latency = device.Made(own) - step.Position;
            if (own < 39 * Second)
            {
                before = latency;
            }
            else if (own > 45.2 * Second)
            {
                step.Sounds.ShouldBeTrue();
                latency.ShouldBe(before, 2 * 48);
            }
        }

        head.Gaps.ShouldBe(1);
    }

    [Fact]
    public void On_a_way_that_is_worse_than_its_latency_it_holds_more_until_nothing_breaks_off()
    {
        var device = new BurstyDevice(20, seed: 9);
        var head = new ReadHead(1_000);
        double available = 0;
        var gapsInTheFirstMinute = 0L;
        for (long own = 0; own < 240 * Second; own += Block)
        {
            Step(device, head, own, ref available);
            gapsInTheFirstMinute = own < 60 * Second ? head.Gaps : gapsInTheFirstMinute;
        }

        gapsInTheFirstMinute.ShouldBeGreaterThan(1);
        (head.Gaps - gapsInTheFirstMinute).ShouldBeLessThan(gapsInTheFirstMinute);
        head.Target.ShouldBeInRange(1_240, 1_800);
    }

    [Fact]
    public void Once_a_way_is_good_again_the_latency_that_was_added_is_given_back()
    {
        var (head, worst) = AfterAMinuteOfStalls(everySeconds: 3, stallMs: 35);
        worst.ShouldBeGreaterThan(Target + 240);
        head.Target.ShouldBe(Target);
    }

    [Fact]
    public void A_stall_longer_than_any_latency_that_it_may_add_adds_none()
    {
        var (head, worst) = AfterAMinuteOfStalls(everySeconds: 3, stallMs: 150);
        head.Gaps.ShouldBeGreaterThan(10);
        worst.ShouldBe(Target);
    }

    // Stalls for a minute, none in the next four.
    private static (ReadHead Head, double Worst) AfterAMinuteOfStalls(int everySeconds, double stallMs)
    {
        var device = new BurstyDevice(40, seed: 5);
        var head = new ReadHead(Target);
        double available = 0, worst = 0;
        for (long own = 0; own < 320 * Second; own += Block)
        {
            var second = own / Second;
            if (second is > 20 and < 80 && own % (everySeconds * (long)Second) < Block)
            {
                (device.StallFrom, device.StallUntil) = (own, own + (stallMs * 48));
            }

            Step(device, head, own, ref available);
            worst = Math.Max(worst, head.Target);
        }

        return (head, worst);
    }

    [Fact]
    public void A_device_that_starts_over_is_heard_again_within_a_second()
    {
        var head = new ReadHead(Target);
        double available = 0;
        var first = new BurstyDevice(50, seed: 1);
        for (long own = 0; own < 5 * Second; own += Block)
        {
            Step(first, head, own, ref available);
        }

        head.Rejoin();
        var base_ = available;
        var second = new BurstyDevice(-200, seed: 2);
        var sounding = false;
        for (long own = 0; own < Second; own += Block)
        {
            foreach (var (end, at) in second.ArrivedBy(own))
            {
                available = base_ + end;
                head.Observe(available, (9 * Second) + at);
            }

            sounding = head.Next((long)(9 * Second) + own, Block, 0, available).Sounds;
        }

        sounding.ShouldBeTrue();
    }

    private static ReadStep Step(BurstyDevice device, ReadHead head, long own, ref double available)
    {
        foreach (var (end, at) in device.ArrivedBy(own))
        {
            available = end;
            head.Observe(end, at);
        }

        return head.Next(own, Block, available - DriftingInput.Capacity, available);
    }
}

using Kinetra.Server.Live;

namespace Kinetra.Server.Tests;

public class SoundLossTests
{
    [Theory]
    [InlineData(0.3, 0.1, LossReason.HostTookTime, "30 %")]
    [InlineData(0.3, 0.9, LossReason.HostTookTime, "host")]
    [InlineData(0.01, 0.85, LossReason.ShowTooLarge, "85 %")]
    [InlineData(0, 0.05, LossReason.ComputerBusy, "Other programs")]
    public void A_loss_says_how_much_why_and_what_helps(double stolen, double load, LossReason reason, string words)
    {
        var loss = SoundLoss.Of(DateTimeOffset.UnixEpoch, 21.3, stolen, load, hasRealTime: true);
        loss.Reason.ShouldBe(reason);
        loss.Words.ShouldStartWith("21 ms of sound");
        loss.Words.ShouldContain(words);
    }

    [Fact]
    public void Who_has_no_real_time_priority_is_told_that_it_would_help_and_nobody_else()
    {
        string Words(bool hasRealTime) => SoundLoss.Of(DateTimeOffset.UnixEpoch, 21.3, 0, 0.05, hasRealTime).Words;
        Words(hasRealTime: false).ShouldContain("real-time priority");
        Words(hasRealTime: true).ShouldNotContain("real-time priority");
    }
}

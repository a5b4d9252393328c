using System.Text.Json.Nodes;

namespace Kinetra.Server.Tests;

/// <summary>Two sources that heard the same clap are brought together in time.</summary>
public sealed class AlignTests(RunningServer server) : IClassFixture<RunningServer>, IAsyncLifetime
{
    private const string Align = "/api/shows/LIVE/align";

    public async ValueTask InitializeAsync() => await server.OpenFreshShowAsync();

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    [Fact]
    public async Task The_sync_delay_that_it_offers_brings_both_together_and_then_it_says_so()
    {
        var (near, far) = await ClapsAsync(late: 1_234);
        var (status, answer) = await server.SendAsync(HttpMethod.Post, Align, $$"""{"one":"{{near}}","other":"{{far}}","seconds":5}""");
        status.ShouldBe(200);
        ((double)answer["milliseconds"]!).ShouldBe(1_234 / 48.0, 0.1);
        ((string)answer["words"]!).ShouldStartWith("far comes 25.7");
        ((string)answer["source"]!).ShouldBe(near);
        var delay = (double)answer["syncDelay"]!;
        delay.ShouldBe(1_234 / 48.0, 0.1);
        (await server.SendAsync(HttpMethod.Patch, $"/api/shows/LIVE/sources/{near}", $$"""{"syncDelay":{{answer["syncDelay"]!.ToJsonString()}}}""")).Status.ShouldBe(200);
        await server.StepAsync(6);
        var (_, then) = await server.SendAsync(HttpMethod.Post, Align, $$"""{"one":"{{near}}","other":"{{far}}","seconds":5}""");
        then["source"].ShouldBeNull();
        ((string)then["words"]!).ShouldContain("come together");

        // Asked the other way round, the same: and where the late one has a delay of its own, it is that which goes.
        await server.SendAsync(HttpMethod.Patch, $"/api/shows/LIVE/sources/{near}", """{"syncDelay":0}""");
        await server.SendAsync(HttpMethod.Patch, $"/api/shows/LIVE/sources/{far}", """{"syncDelay":100}""");
        var (_, turned) = await server.SendAsync(HttpMethod.Post, Align, $$"""{"one":"{{far}}","other":"{{near}}","seconds":5}""");
        ((string)turned["source"]!).ShouldBe(near);
        ((double)turned["syncDelay"]!).ShouldBe(100 + (1_234 / 48.0), 0.1);
    }

    [Fact]
    public async Task Where_nothing_stands_out_it_refuses_with_words_and_offers_nothing()
    {
        var (near, _) = await ClapsAsync(late: 0);
        await server.StepAsync(5);
        var (status, answer) = await server.SendAsync(HttpMethod.Post, Align, $$"""{"one":"{{near}}","other":"record-shelf","seconds":5}""");
        status.ShouldBe(200);
        answer["source"].ShouldBeNull();
        answer["syncDelay"].ShouldBeNull();
        ((string)answer["words"]!).ShouldNotBeNullOrWhiteSpace();
    }

    [Theory]
    [InlineData("""{"one":"host","other":"host"}""", 422, "other")]
    [InlineData("""{"one":"nobody","other":"host"}""", 404, "one")]
    [InlineData("""{"one":"host","other":"nobody"}""", 404, "other")]
    [InlineData("""{"one":"host","other":"record-shelf","seconds":1}""", 422, "seconds")]
    [InlineData("""{"one":"host","other":"record-shelf","seconds":99}""", 422, "seconds")]
    public async Task What_cannot_be_compared_is_answered_with_words(string body, int status, string where)
    {
        var host = (string)(await server.ShowAsync())["sources"]!.AsArray().First(s => (string)s!["id"]! != "record-shelf")!["id"]!;
        (await server.SendAsync(HttpMethod.Post, Align, body.Replace("host", host, StringComparison.Ordinal))).ShouldSayWhatWhereAndWhatIsAllowed(status, where);
    }

    // The same claps in two files of the same length that go round and round, in one of them so many frames later.
    private async Task<(string Near, string Far)> ClapsAsync(int late)
    {
        var random = new Random(5);
        var claps = new float[4 * 48_000];
        for (var n = 0; n < 4_000; n++)
        {
            claps[60_000 + n] = (float)(0.5 * Math.Exp(-n / 400.0) * ((random.NextDouble() * 2) - 1));
        }

        var later = claps.Select((_, n) => n < late ? 0 : claps[n - late]).ToArray();
        var (_, one) = await server.UploadAsync(AnalysisTests.Wave(claps), "near.wav", loop: true);
        var (_, two) = await server.UploadAsync(AnalysisTests.Wave(later), "far.wav", loop: true);
        string IdOf(string name) => (string)two["sources"]!.AsArray().Single(s => (string)s!["name"]! == name)!["id"]!;
        _ = one;
        await server.StepAsync(7);
        return (IdOf("near"), IdOf("far"));
    }
}

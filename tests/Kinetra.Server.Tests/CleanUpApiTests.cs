using System.Text.Json.Nodes;

namespace Kinetra.Server.Tests;

/// <summary>The guided clean-up over the API: it looks at what a source gave just now, proposes, and changes nothing.</summary>
public sealed class CleanUpApiTests(RunningServer server) : IClassFixture<RunningServer>, IAsyncLifetime
{
    private const string Look = "/api/shows/LIVE/clean-up";

    public async ValueTask InitializeAsync() => await server.OpenFreshShowAsync();

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    [Fact]
    public async Task Hum_in_a_voice_that_comes_too_soft_is_found_and_what_is_proposed_stands_in_the_order_of_a_chain()
    {
        // Four seconds of hum alone, then bursts of noise over it: a voice as far as levels go.
        var random = new Random(4);
        var sound = Enumerable.Range(0, 16 * 48_000).Select(n =>
            (float)((0.002 * Math.Sin(2 * Math.PI * 50 * n / 48_000)) + (0.001 * Math.Sin(2 * Math.PI * 100 * n / 48_000)) + (0.0005 * Math.Sin(2 * Math.PI * 150 * n / 48_000))
                + (n < 4 * 48_000 || n / 9_600 % 5 == 4 ? 0 : 0.02 * ((random.NextDouble() * 2) - 1)))).ToArray();
        var (_, show) = await server.UploadAsync(AnalysisTests.Wave(sound), "voice.wav", loop: true);
        var source = (string)show["sources"]!.AsArray().Single(s => (string)s!["name"]! == "voice")!["id"]!;
        await server.StepAsync(0.01);
        var begun = await UntilAsync(source);
        await server.StepAsync(15.9);
        var before = (await server.ShowAsync()).ToJsonString();
        var (status, answer) = await server.SendAsync(HttpMethod.Post, Look, Body(source, begun + 4_800, begun + (39 * 4_800), begun + (41 * 4_800), begun + (155 * 4_800)));
        status.ShouldBe(200);
        var faults = answer["steps"]!.AsArray().Select(s => (string)s!["fault"]!).ToList();
        faults.ShouldContain("Hum");
        faults[0].ShouldBe("Level");
        var hum = answer["steps"]!.AsArray().Single(s => (string)s!["fault"]! == "Hum")!;
        ((double)hum["processor"]!["values"]!["hum"]!).ShouldBe(1);
        ((string)hum["reason"]!).ShouldContain("50 Hz");
        (await server.ShowAsync()).ToJsonString().ShouldBe(before);

        // What is proposed can stand on the bench as it is.
        var (_, loop) = await server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/loops", $$"""{"source":"{{source}}","seconds":6}""");
        var chain = new JsonObject { ["chain"] = new JsonArray([.. answer["steps"]!.AsArray().Select(s => s!["processor"]!.DeepClone())]) };
        (await server.SendAsync(HttpMethod.Patch, $"/api/shows/LIVE/loops/{loop["id"]}/variants/{loop["variants"]![0]!["id"]}", chain.ToJsonString())).Status.ShouldBe(200);
    }

    [Theory]
    [InlineData("nobody", 0, 4, 4, 10, 404, "source")]
    [InlineData("record-shelf", 0, 2, 4, 10, 422, "silence")]
    [InlineData("record-shelf", 0, 4, 4, 6, 422, "speech")]
    [InlineData("record-shelf", 0, 4, 4, 60, 422, "speech")]
    [InlineData("record-shelf", 8, 4, 4, 10, 422, "silence")]
    public async Task What_cannot_be_looked_at_is_answered_with_words(string source, int silence, int silent, int speech, int spoken, int status, string where)
    {
        await server.StepAsync(12);
        var begun = await UntilAsync("record-shelf") - (12 * 48_000);
        (await server.SendAsync(HttpMethod.Post, Look, Body(source, begun + (silence * 48_000), begun + (silent * 48_000), begun + (speech * 48_000), begun + (spoken * 48_000))))
            .ShouldSayWhatWhereAndWhatIsAllowed(status, where);
    }

    private static string Body(string source, long silence, long silent, long speech, long spoken) =>
        $$$"""{"source":"{{{source}}}","silence":{"from":{{{Math.Max(0, silence)}}},"until":{{{Math.Max(0, silent)}}}},"speech":{"from":{{{Math.Max(0, speech)}}},"until":{{{Math.Max(0, spoken)}}}}}""";

    private async Task<long> UntilAsync(string source) =>
        (long)(await server.SendAsync(HttpMethod.Get, "/api/shows/LIVE/recent")).Body.AsArray().Single(r => (string)r!["source"]! == source)!["until"]!;
}

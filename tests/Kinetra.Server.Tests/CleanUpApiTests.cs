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
        await server.StepAsync(5);
        var silence = await HoldAsync(source, begun + 4_800, begun + (39 * 4_800));
        silence.Status.ShouldBe(200);

        // Whoever takes long before reading loses nothing of it: it is held. The sound begins anew after 16 s.
        await server.StepAsync(32 + 10.9);
        var before = (await server.ShowAsync()).ToJsonString();
        var (status, answer) = await server.SendAsync(HttpMethod.Post, Look, Body(source, (string)silence.Body["id"]!, begun + (361 * 4_800), begun + (475 * 4_800)));
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
    [InlineData("nobody", 0, 4, 404, "source")]
    [InlineData("record-shelf", 0, 2, 422, "stretch")]
    [InlineData("record-shelf", 0, 11, 422, "stretch")]
    [InlineData("record-shelf", 8, 4, 422, "stretch")]
    public async Task A_silence_that_cannot_be_held_is_answered_with_words(string source, int from, int until, int status, string where)
    {
        await server.StepAsync(12);
        var begun = await UntilAsync("record-shelf") - (12 * 48_000);
        (await HoldAsync(source, begun + (from * 48_000), begun + (until * 48_000))).ShouldSayWhatWhereAndWhatIsAllowed(status, where);
    }

    [Theory]
    [InlineData("nobody", 4, 10, 404, "source")]
    [InlineData("record-shelf", 4, 6, 422, "speech")]
    [InlineData("record-shelf", 4, 60, 422, "speech")]
    public async Task Speech_that_cannot_be_looked_at_is_answered_with_words(string source, int from, int until, int status, string where)
    {
        await server.StepAsync(12);
        var begun = await UntilAsync("record-shelf") - (12 * 48_000);
        var (_, silence) = await HoldAsync("record-shelf", begun, begun + (4 * 48_000));
        (await server.SendAsync(HttpMethod.Post, Look, Body(source, (string)silence["id"]!, begun + (from * 48_000), begun + (until * 48_000)))).ShouldSayWhatWhereAndWhatIsAllowed(status, where);
    }

    [Fact]
    public async Task A_silence_that_is_not_held_or_is_another_sources_tells_nothing_of_this_one()
    {
        await server.StepAsync(12);
        var begun = await UntilAsync("record-shelf") - (12 * 48_000);
        (await server.SendAsync(HttpMethod.Post, Look, Body("record-shelf", Guid.NewGuid().ToString(), begun, begun + (6 * 48_000)))).ShouldSayWhatWhereAndWhatIsAllowed(422, "silence");
        var (_, silence) = await HoldAsync("record-shelf", begun, begun + (4 * 48_000));
        var other = (string)(await server.ShowAsync())["sources"]!.AsArray().First(s => (string)s!["id"]! != "record-shelf")!["id"]!;
        (await server.SendAsync(HttpMethod.Post, Look, Body(other, (string)silence["id"]!, begun, begun + (6 * 48_000)))).ShouldSayWhatWhereAndWhatIsAllowed(422, "silence");
    }

    [Fact]
    public async Task A_bed_that_covers_the_words_is_to_be_ducked_by_those_who_speak_and_a_quiet_caller_made_as_loud_as_they_are()
    {
        // Bursts of noise, a voice as far as levels go; a bed as loud; the same voice, far too quiet.
        var random = new Random(9);
        float[] noise = [.. Enumerable.Range(0, 20 * 48_000).Select(_ => (float)((random.NextDouble() * 2) - 1))];
        var spoken = noise.Select((x, n) => n / 9_600 % 5 == 4 ? 0 : 0.1f * x).ToArray();
        var host = await AddAsync(spoken, "host.wav");
        var bed = await AddAsync([.. noise.Reverse().Select(x => 0.09f * x)], "bed.wav");
        var caller = await AddAsync([.. spoken.Select(x => x * 0.1f)], "caller.wav");
        await server.StepAsync(14);
        var from = await UntilAsync(bed) - (12 * 48_000);
        var before = (await server.ShowAsync()).ToJsonString();
        var (status, found) = await server.SendAsync(HttpMethod.Post, $"{Look}/bed", $$"""{"source":"{{bed}}","speakers":["{{host}}"],"from":{{from}}}""");
        status.ShouldBe(200);
        var ducker = found["steps"]!.AsArray().Single(s => (string)s!["fault"]! == "Covers")!["processor"]!;
        ((string)ducker["type"]!).ShouldBe("ducker");
        ((string)ducker["keys"]![0]!).ShouldBe($"source/{host}");
        found["measures"]!.AsArray().Count.ShouldBe(4);

        (status, found) = await server.SendAsync(HttpMethod.Post, $"{Look}/caller", $$"""{"source":"{{caller}}","like":"{{host}}","from":{{from}}}""");
        status.ShouldBe(200);
        ((double)found["steps"]![0]!["processor"]!["values"]!["gain"]!).ShouldBe(20, 0.5);
        (await server.ShowAsync()).ToJsonString().ShouldBe(before);

        // Where a mix turns the bed down far enough already, nothing is to be ducked there; where a voice is not heard, nobody speaks over it.
        await SendAsync(host, """{"heard":true,"gain":0}""");
        await SendAsync(bed, """{"heard":true,"gain":-15}""");
        (_, found) = await server.SendAsync(HttpMethod.Post, $"{Look}/bed", $$"""{"source":"{{bed}}","speakers":["{{host}}"],"from":{{from}},"mix":"viewers"}""");
        found["steps"]!.AsArray().ShouldBeEmpty();
        await SendAsync(host, """{"muted":true}""");
        (await server.SendAsync(HttpMethod.Post, $"{Look}/bed", $$"""{"source":"{{bed}}","speakers":["{{host}}"],"from":{{from}},"mix":"viewers"}""")).ShouldSayWhatWhereAndWhatIsAllowed(422, "speakers");
        await SendAsync(bed, """{"heard":false}""");
        (await server.SendAsync(HttpMethod.Post, $"{Look}/bed", $$"""{"source":"{{bed}}","speakers":["{{host}}"],"from":{{from}},"mix":"viewers"}""")).ShouldSayWhatWhereAndWhatIsAllowed(422, "mix");
        async Task SendAsync(string source, string body) => (await server.SendAsync(HttpMethod.Patch, $"/api/shows/LIVE/mixes/viewers/sends/{source}", body)).Status.ShouldBe(200);

        foreach (var (path, body, code, where) in new[]
        {
            ("bed", $$"""{"source":"{{bed}}","speakers":["{{host}}"],"from":{{from}},"mix":"nobody"}""", 404, "mix"),
            ("bed", $$"""{"source":"nobody","speakers":["{{host}}"],"from":{{from}}}""", 404, "source"),
            ("bed", $$"""{"source":"{{bed}}","speakers":["{{bed}}"],"from":{{from}}}""", 422, "speakers"),
            ("bed", $$"""{"source":"{{bed}}","speakers":[],"from":{{from}}}""", 422, "speakers"),
            ("bed", $$"""{"source":"{{bed}}","speakers":["{{host}}"],"from":{{from + (8 * 48_000)}}}""", 422, "from"),
            ("caller", $$"""{"source":"nobody","from":{{from}}}""", 404, "source"),
            ("caller", $$"""{"source":"{{caller}}","like":"nobody","from":{{from}}}""", 404, "like"),
            ("caller", $$"""{"source":"{{caller}}","from":0}""", 422, "from"),
        })
        {
            (await server.SendAsync(HttpMethod.Post, $"{Look}/{path}", body)).ShouldSayWhatWhereAndWhatIsAllowed(code, where);
        }
    }

    private async Task<string> AddAsync(float[] sound, string name)
    {
        var (_, show) = await server.UploadAsync(AnalysisTests.Wave(sound), name, loop: true);
        return (string)show["sources"]!.AsArray().Single(s => (string)s!["name"]! == Path.GetFileNameWithoutExtension(name))!["id"]!;
    }

    private static string Body(string source, string silence, long from, long until) =>
        $$$"""{"source":"{{{source}}}","silence":"{{{silence}}}","speech":{"from":{{{from}}},"until":{{{until}}}}}""";

    private Task<(int Status, JsonNode Body)> HoldAsync(string source, long from, long until) =>
        server.SendAsync(HttpMethod.Post, $"{Look}/silence", $$$"""{"source":"{{{source}}}","stretch":{"from":{{{Math.Max(0, from)}}},"until":{{{Math.Max(0, until)}}}}}""");

    private async Task<long> UntilAsync(string source) =>
        (long)(await server.SendAsync(HttpMethod.Get, "/api/shows/LIVE/recent")).Body.AsArray().Single(r => (string)r!["source"]! == source)!["until"]!;
}

using System.Text.Json.Nodes;

namespace Kinetra.Server.Tests;

public sealed class ShowApiTests(RunningServer server) : IClassFixture<RunningServer>, IAsyncLifetime
{
    private const string Send = "/api/shows/LIVE/mixes/viewers/sends/record-shelf";

    public ValueTask InitializeAsync() => server.OpenFreshShowAsync();

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    [Fact]
    public async Task A_change_is_there_for_whoever_asks_next_and_after_a_restart()
    {
        var (status, show) = await server.SendAsync(HttpMethod.Patch, Send, """{"gain":-7.5,"pan":0.25}""");
        status.ShouldBe(200);
        var revision = (long)show["revision"]!;
        await server.StopAsync();
        await server.StartAsync();
        var again = await server.ShowAsync();
        ((long)again["revision"]!).ShouldBe(revision);
        var send = SendOf(again, "viewers", "record-shelf");
        ((double)send["gain"]!).ShouldBe(-7.5);
        ((double)send["pan"]!).ShouldBe(0.25);
    }

    [Fact]
    public async Task Off_is_a_gain()
    {
        var (_, show) = await server.SendAsync(HttpMethod.Patch, Send, """{"gain":"off"}""");
        ((string)SendOf(show, "viewers", "record-shelf")["gain"]!).ShouldBe("off");
    }

    [Theory]
    [InlineData("""{"gain":12.5}""", 422, "mixes[1].sends[5].gain")]
    [InlineData("""{"gain":-130}""", 422, "mixes[1].sends[5].gain")]
    [InlineData("""{"pan":2}""", 422, "mixes[1].sends[5].pan")]
    [InlineData("""{"gain":"loud"}""", 400, "$.gain")]
    [InlineData("""{"gain":[1]}""", 400, "$.gain")]
    [InlineData("""{"heard":"yes"}""", 400, "$.heard")]
    [InlineData("""{"gian":3}""", 400, "$.gian")]
    [InlineData("""{"gain":""", 400, "$.gain")]
    [InlineData("[]", 400, "$")]
    public async Task A_wrong_value_is_answered_with_words_and_changes_nothing(string body, int status, string where)
    {
        var before = (long)(await server.ShowAsync())["revision"]!;
        (await server.SendAsync(HttpMethod.Patch, Send, body)).ShouldSayWhatWhereAndWhatIsAllowed(status, where);
        ((long)(await server.ShowAsync())["revision"]!).ShouldBe(before);
    }

    [Fact]
    public async Task An_unknown_id_and_a_name_that_is_too_long_or_taken_are_answered_with_words()
    {
        (await server.SendAsync(HttpMethod.Patch, "/api/shows/LIVE/mixes/nobody", """{"gain":0}""")).ShouldSayWhatWhereAndWhatIsAllowed(404, "mix");
        (await server.SendAsync(HttpMethod.Patch, "/api/shows/LIVE/mixes/viewers/sends/x", """{"gain":0}""")).ShouldSayWhatWhereAndWhatIsAllowed(404, "source");
        (await server.SendAsync(HttpMethod.Delete, "/api/shows/LIVE/sources/x")).ShouldSayWhatWhereAndWhatIsAllowed(404, "source");
        (await server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/sources/x/play")).ShouldSayWhatWhereAndWhatIsAllowed(404, "source");
        (await server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/sources/host-mic/play")).ShouldSayWhatWhereAndWhatIsAllowed(422, "source");
        var name = new string('n', 61);
        (await server.SendAsync(HttpMethod.Patch, "/api/shows/LIVE/mixes/viewers", $$"""{"name":"{{name}}"}""")).ShouldSayWhatWhereAndWhatIsAllowed(422, "mixes[1].name");
        (await server.SendAsync(HttpMethod.Patch, "/api/shows/LIVE/sources/sea-mic", """{"name":"HOST MIC"}""")).ShouldSayWhatWhereAndWhatIsAllowed(422, "sources[1].name");
        (await server.SendAsync(HttpMethod.Patch, "/api/shows/LIVE/mixes/viewers", """{"targetLufs":-3}""")).ShouldSayWhatWhereAndWhatIsAllowed(422, "mixes[1].targetLufs");
        (await server.SendAsync(HttpMethod.Get, "/api/nothing")).ShouldSayWhatWhereAndWhatIsAllowed(404, "path");
        (await server.SendAsync(HttpMethod.Put, "/api/shows/live", "{}")).ShouldSayWhatWhereAndWhatIsAllowed(405, "method");
    }

    [Fact]
    public async Task A_change_made_on_what_somebody_else_has_changed_meanwhile_is_answered_with_both_values()
    {
        var start = (long)(await server.ShowAsync())["revision"]!;
        await server.SendAsync(HttpMethod.Patch, $"/api/shows/LIVE/mixes/my-ears/sends/sea-mic?revision={start}", """{"gain":-3}""");
        var late = await server.SendAsync(HttpMethod.Patch, $"/api/shows/LIVE/mixes/my-ears/sends/sea-mic?revision={start}", """{"gain":-9}""");
        late.ShouldSayWhatWhereAndWhatIsAllowed(409, "revision");
        ((double)SendOf(late.Body["current"]!, "my-ears", "sea-mic")["gain"]!).ShouldBe(-3);
        ((double)late.Body["yours"]!["gain"]!).ShouldBe(-9);

        // Another value made on the same revision contradicts nobody.
        var (status, _) = await server.SendAsync(HttpMethod.Patch, $"/api/shows/LIVE/mixes/guest-hears/sends/sea-mic?revision={start}", """{"gain":-9}""");
        status.ShouldBe(200);
    }

    [Fact]
    public async Task The_history_says_what_was_done()
    {
        await server.SendAsync(HttpMethod.Patch, "/api/shows/LIVE/mixes/my-ears/sends/skerry-keeper", """{"gain":-3}""");
        await server.SendAsync(HttpMethod.Patch, "/api/shows/LIVE/mixes/my-ears/sends/crew-talk", """{"gain":-7}""");
        await server.SendAsync(HttpMethod.Patch, "/api/shows/LIVE/mixes/my-ears/sends/skerry-keeper", """{"gain":-2}""");
        var (_, history) = await server.SendAsync(HttpMethod.Get, "/api/shows/LIVE/history");
        ((string)history[0]!["sentence"]!).ShouldBe("Skerry Keeper in My ears −3.0 → −2.0 dB");
    }

    [Fact]
    public async Task Hush_is_said_by_the_status_and_taken_back()
    {
        var (_, on) = await server.SendAsync(HttpMethod.Put, "/api/hush", """{"on":true}""");
        ((bool)on["hushed"]!).ShouldBeTrue();
        var (_, off) = await server.SendAsync(HttpMethod.Put, "/api/hush", """{"on":false}""");
        ((bool)off["hushed"]!).ShouldBeFalse();
    }

    [Theory]
    [InlineData("0")]
    [InlineData("-5")]
    [InlineData("99999999999")]
    public async Task The_clock_cannot_be_stepped_by_nothing_or_for_ever(string frames)
    {
        (await server.SendAsync(HttpMethod.Post, "/api/clock/steps", $$"""{"frames":{{frames}}}""")).ShouldSayWhatWhereAndWhatIsAllowed(422, "frames");
    }

    private static JsonNode SendOf(JsonNode show, string mix, string source) =>
        show["mixes"]!.AsArray().Single(m => (string)m!["id"]! == mix)!["sends"]!.AsArray().Single(s => (string)s!["source"]! == source)!;
}

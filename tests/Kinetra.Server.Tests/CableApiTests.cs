using System.Text;
using System.Text.Json.Nodes;

namespace Kinetra.Server.Tests;

public sealed class CableApiTests(RunningServer server) : IClassFixture<RunningServer>, IAsyncLifetime
{
    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    public ValueTask InitializeAsync() => server.OpenFreshShowAsync();

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    [Fact]
    public async Task A_cable_is_made_played_into_recorded_from_and_taken_away_each_a_step_that_can_be_taken_back()
    {
        var (status, show) = await server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/cables", """{"name":"To the call","channels":4}""");
        status.ShouldBe(200);
        var cable = Last(show, "cables");
        ((int)cable["channels"]!).ShouldBe(4);
        var at = $"/api/shows/LIVE/cables/{cable["id"]}";
        (_, show) = await server.SendAsync(HttpMethod.Post, $"{at}/feeds", """{"from":"source/record-shelf"}""");
        Sentence(show).ShouldBe("Record shelf plays into To the call");
        (_, show) = await server.SendAsync(HttpMethod.Patch, $"{at}/feeds", """{"from":"source/record-shelf","gain":-6,"into":{"left":2,"right":3}}""");
        Sentence(show).ShouldBe("Record shelf into To the call 0.0 → −6.0 dB, fills other channels");
        (_, show) = await server.SendAsync(HttpMethod.Post, $"{at}/sources", """{"left":2,"right":3,"name":"From the cable"}""");
        ((string)Last(show, "sources")["input"]!["cable"]!).ShouldBe((string)cable["id"]!);
        (await server.SendAsync(HttpMethod.Delete, at)).ShouldSayWhatWhereAndWhatIsAllowed(422, "cable");
        (_, show) = await server.SendAsync(HttpMethod.Delete, $"/api/shows/LIVE/sources/{Last(show, "sources")["id"]}");
        (_, show) = await server.SendAsync(HttpMethod.Patch, at, """{"name":"To nobody","bufferFrames":128}""");
        Sentence(show).ShouldBe("To the call renamed to To nobody, buffer 0 → 128 frames");
        (_, show) = await server.SendAsync(HttpMethod.Post, $"{at}/feeds/remove", """{"from":"source/record-shelf"}""");
        Last(show, "cables")["feeds"]!.AsArray().ShouldBeEmpty();
        (_, show) = await server.SendAsync(HttpMethod.Delete, at);
        show["cables"]!.AsArray().ShouldNotContain(c => (string)c!["id"]! == (string)cable["id"]!);
        for (var step = 0; step < 4; step++)
        {
            (_, show) = await server.UndoAsync();
        }

        Last(show, "sources")["name"]!.GetValue<string>().ShouldBe("From the cable");
        var back = show["cables"]!.AsArray().Single(c => (string)c!["id"]! == (string)cable["id"]!)!;
        ((double)back["feeds"]![0]!["gain"]!).ShouldBe(-6);
    }

    [Fact]
    public async Task A_loop_is_told_in_words_held_and_played_once_it_is_allowed()
    {
        var (_, show) = await server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/cables", """{"name":"Round"}""");
        var cable = (string)Last(show, "cables")["id"]!;
        (_, show) = await server.SendAsync(HttpMethod.Post, $"/api/shows/LIVE/cables/{cable}/sources", """{"left":0,"right":1,"name":"Comes back"}""");
        var source = (string)Last(show, "sources")["id"]!;
        await server.SendAsync(HttpMethod.Patch, $"/api/shows/LIVE/mixes/viewers/sends/{source}", """{"heard":true,"gain":0}""");
        (_, show) = await server.SendAsync(HttpMethod.Post, $"/api/shows/LIVE/cables/{cable}/feeds", """{"from":"mix/viewers"}""");
        var loop = show["loops"]!.AsArray().ShouldHaveSingleItem()!;
        ((string)loop["sentence"]!).ShouldContain("Comes back");
        ((string)loop["sentence"]!).ShouldContain("would build up (0.0 dB with each round). It is held muted until it is allowed.");
        ((string)loop["held"]![0]!["source"]!).ShouldBe(source);
        (_, show) = await server.SendAsync(HttpMethod.Put, $"/api/shows/LIVE/sources/{source}/loop", """{"loopAllowed":true}""");
        show["loops"]![0]!["held"]!.AsArray().ShouldBeEmpty();
        (_, show) = await server.SendAsync(HttpMethod.Patch, $"/api/shows/LIVE/cables/{cable}/feeds", """{"from":"mix/viewers","on":false}""");
        show["loops"]!.AsArray().ShouldBeEmpty();
        (_, show) = await server.UploadAsync(AnalysisTests.Tone(0.1), "plays.wav");
        (await server.SendAsync(HttpMethod.Put, $"/api/shows/LIVE/sources/{(string)Last(show, "sources")["id"]!}/loop", """{"loopAllowed":true}""")).ShouldSayWhatWhereAndWhatIsAllowed(422, "source");
    }

    [Fact]
    public async Task Who_would_lose_what_is_said_before_a_cable_is_removed_and_that_two_names_are_nearly_one()
    {
        var (_, show) = await server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/cables", """{"name":"Guest line"}""");
        var cable = (string)Last(show, "cables")["id"]!;
        await server.SendAsync(HttpMethod.Post, $"/api/shows/LIVE/cables/{cable}/feeds", """{"from":"mix/guest-hears"}""");
        await server.SendAsync(HttpMethod.Put, "/api/gear/apps/harbour-call/ports/mic", $$$"""{"choice":{"type":"end","end":"cable/{{{cable}}}"}}""");
        (_, show) = await server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/cables", """{"name":"Guest lime"}""");
        show["cableEnds"]!.AsArray().Select(e => (string)e!["closeTo"]!).ShouldBe(["Guest lime", "Guest line"]);
        ((string)show["cableEnds"]![0]!["into"]!).ShouldBe("Into Guest line");
        var (status, losses) = await server.SendAsync(HttpMethod.Get, "/api/shows/LIVE/cables/losses");
        status.ShouldBe(200);
        losses[0]!["losses"]!.AsArray().Select(l => (string)l!).ShouldBe(
            ["Guest hears no longer plays into it.", "Harbour call, him: Desk interface then."]);
        losses[1]!["losses"]!.AsArray().Select(l => (string)l!).ShouldBe(["The default for calls’ playback is Desk interface then."]);
        await server.SendAsync(HttpMethod.Post, $"/api/shows/LIVE/cables/{cable}/sources", """{"left":0}""");
        (_, losses) = await server.SendAsync(HttpMethod.Get, "/api/shows/LIVE/cables/losses");
        ((string)losses[0]!["obstacle"]!).ShouldContain("From Guest line");
        (await server.SendAsync(HttpMethod.Get, $"/api/shows/{Guid.NewGuid()}/cables/losses")).ShouldSayWhatWhereAndWhatIsAllowed(404, "show");
    }

    [Theory]
    [InlineData("POST", "/api/shows/LIVE/cables", """{"channels":17}""", 422, "cables[")]
    [InlineData("PATCH", "/api/shows/LIVE/cables/none", """{"name":"x"}""", 404, "cable")]
    [InlineData("DELETE", "/api/shows/LIVE/cables/none", null, 404, "cable")]
    [InlineData("POST", "/api/shows/LIVE/cables/none/feeds", """{"from":"mix/viewers"}""", 404, "cable")]
    [InlineData("POST", "/api/shows/LIVE/cables/none/sources", """{"left":0}""", 404, "cable")]
    [InlineData("PUT", "/api/shows/LIVE/sources/none/loop", """{"loopAllowed":true}""", 404, "source")]
    public async Task What_cannot_be_done_with_a_cable_is_said_with_what_where_and_what_is_allowed(string method, string path, string? body, int status, string where)
    {
        var answer = await server.SendAsync(new HttpMethod(method), path, body);
        answer.Status.ShouldBe(status);
        ((string)answer.Body["problems"]![0]!["where"]!).ShouldStartWith(where);
    }

    [Fact]
    public async Task A_show_is_taken_out_as_a_file_and_brought_in_as_another_show()
    {
        var (_, shows) = await server.SendAsync(HttpMethod.Get, "/api/shows");
        var live = shows.AsArray().Single(s => (bool)s!["live"]!)!;
        using var response = await server.Http.GetAsync(new Uri($"/api/shows/{live["id"]}/file", UriKind.Relative), Cancel);
        response.Content.Headers.ContentDisposition!.FileName.ShouldBe("the-lamp-room.show.json");
        var text = await response.Content.ReadAsStringAsync(Cancel);
        var (status, added) = await server.SendAsync(HttpMethod.Post, "/api/shows/file", text);
        status.ShouldBe(200);
        ((string)added["name"]!).ShouldBe("The Lamp Room 2");
        using var again = await server.Http.GetAsync(new Uri($"/api/shows/{added["id"]}/file", UriKind.Relative), Cancel);
        (await again.Content.ReadAsStringAsync(Cancel)).ShouldBe(text.Replace("\"name\": \"The Lamp Room\"", "\"name\": \"The Lamp Room 2\"", StringComparison.Ordinal));
    }

    [Fact]
    public async Task A_file_that_is_no_show_is_refused_field_by_field()
    {
        (await server.SendAsync(HttpMethod.Post, "/api/shows/file", """{"format":"song"}""")).ShouldSayWhatWhereAndWhatIsAllowed(422, "format");
        (await server.SendAsync(HttpMethod.Post, "/api/shows/file", """{"format":"kinetra-show","version":"draft-1","name":"x","mixes":[{"id":"A"}]}"""))
            .ShouldSayWhatWhereAndWhatIsAllowed(422, "mixes[0].id");
        using var large = new StringContent(new string(' ', 5_000_000), Encoding.UTF8, "application/json");
        using var response = await server.Http.PostAsync(new Uri("/api/shows/file", UriKind.Relative), large, Cancel);
        ((int)response.StatusCode).ShouldBe(422);
        (await server.SendAsync(HttpMethod.Get, $"/api/shows/{Guid.NewGuid()}/file")).ShouldSayWhatWhereAndWhatIsAllowed(404, "show");
    }

    private static JsonNode Last(JsonNode show, string list) => show[list]!.AsArray()[^1]!;

    private static string Sentence(JsonNode show) => (string)show["toUndo"]!["sentence"]!;
}

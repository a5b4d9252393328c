using System.Text.Json.Nodes;

namespace Kinetra.Server.Tests;

/// <summary>Cards through the API: what must be picked where, set in one press, in the demo show.</summary>
public sealed class CardTests : IAsyncLifetime
{
    private const string Path = "/api/shows/LIVE/cards";
    private readonly RunningServer _server = new() { Demo = true };

    public ValueTask InitializeAsync() => _server.InitializeAsync();

    public ValueTask DisposeAsync() => _server.DisposeAsync();

    [Fact]
    public async Task What_is_wrong_on_a_card_is_set_one_by_one_or_all_at_once_and_what_no_card_says_is_refused()
    {
        (await CardsAsync()).ShouldAllBe(c => (bool)c["isRight"]!);
        await _server.SendAsync(HttpMethod.Put, "/api/gear/apps/harbour-call/ports/mic", """{"choice":{"type":"nothing"}}""");
        await _server.SendAsync(HttpMethod.Patch, "/api/gear/apps/harbour-call", """{"volume":-6}""");
        await _server.SendAsync(HttpMethod.Put, "/api/gear/roles/Recording", """{"end":"cable/to-guest"}""");
        var cards = await CardsAsync();
        cards.Where(c => !(bool)c["isRight"]!).Select(c => (string)c["title"]!).ShouldBe(["The computer", "Harbour call"]);
        ((string)cards.Single(c => (string?)c["app"] == "harbour-call")["text"]!).ShouldContain("[ ] Its input must be Out of Guest line. Now it is nothing.");

        (await SetAsync("""{"key":"role/Recording"}""")).Status.ShouldBe(200);
        (await CardsAsync()).Where(c => !(bool)c["isRight"]!).Select(c => (string?)c["app"]).ShouldBe(["harbour-call"]);
        (await SetAsync("""{"app":"harbour-call"}""")).Status.ShouldBe(200);
        (await CardsAsync()).ShouldAllBe(c => (bool)c["isRight"]!);

        // What both has its price for is set only where it is asked for by itself; and what is right has nothing to set.
        var voices = (await CardsAsync()).Single(c => (string?)c["app"] == "harbour-call")["picks"]!.AsArray().Single(p => (string)p!["key"]! == "voices")!;
        ((string)voices["state"]!, (string)voices["now"]!).ShouldBe(("Open", "on"));
        (await SetAsync("""{"app":"harbour-call","key":"voices"}""")).Status.ShouldBe(200);
        (await SetAsync("""{"app":"harbour-call","key":"voices"}""")).ShouldSayWhatWhereAndWhatIsAllowed(404, "key");
        (await SetAsync("""{"app":"nobody"}""")).ShouldSayWhatWhereAndWhatIsAllowed(404, "app");
        (await _server.SendAsync(HttpMethod.Get, $"/api/shows/{Guid.NewGuid()}/cards")).Status.ShouldBe(409);
    }

    [Fact]
    public async Task A_program_that_must_be_started_anew_for_a_line_is_so_by_the_same_press_and_wanting_what_is_so_is_a_step_that_is_undone()
    {
        await _server.SendAsync(HttpMethod.Put, "/api/shows/LIVE/wishes/apps/beacon-encoder/ports/main", """{"choice":null}""");
        var chance = await PickAsync("beacon-encoder", "port/main");
        ((string)chance["state"]!, (bool)chance["fix"]!["ofComputer"]!).ShouldBe(("Right", false));
        (await SetAsync("""{"app":"beacon-encoder","key":"port/main"}""")).Status.ShouldBe(200);
        (await PickAsync("beacon-encoder", "port/main"))["fix"].ShouldBeNull();
        (await _server.UndoAsync()).Status.ShouldBe(200);
        (await PickAsync("beacon-encoder", "port/main"))["fix"].ShouldNotBeNull();

        var (_, show) = await _server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/cables", """{"name":"Second line"}""");
        var cable = (string)show["cables"]!.AsArray().Single(c => (string)c!["name"]! == "Second line")!["id"]!;
        await _server.SendAsync(HttpMethod.Put, "/api/shows/LIVE/wishes/apps/beacon-encoder/ports/second", $$$"""{"choice":{"type":"end","end":"cable/{{{cable}}}"}}""");
        ((string)(await PickAsync("beacon-encoder", "port/second"))["notes"]![0]!).ShouldStartWith("Restart it first");
        (await SetAsync("""{"app":"beacon-encoder"}""")).Status.ShouldBe(200);
        var then = await PickAsync("beacon-encoder", "port/second");
        ((string)then["state"]!, (string)then["now"]!).ShouldBe(("Right", "Out of Second line"));
    }

    private Task<(int Status, JsonNode Body)> SetAsync(string body) => _server.SendAsync(HttpMethod.Post, $"{Path}/set", body);

    private async Task<JsonNode> PickAsync(string app, string key) =>
        (await CardsAsync()).Single(c => (string?)c["app"] == app)["picks"]!.AsArray().Single(p => (string)p!["key"]! == key)!;

    private async Task<List<JsonNode>> CardsAsync()
    {
        var (status, body) = await _server.SendAsync(HttpMethod.Get, Path);
        status.ShouldBe(200);
        return [.. body["cards"]!.AsArray().Select(c => c!)];
    }
}

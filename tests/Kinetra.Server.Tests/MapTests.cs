using System.Text.Json.Nodes;

namespace Kinetra.Server.Tests;

/// <summary>The map of paths through the API, in the demo show.</summary>
public sealed class MapTests : IAsyncLifetime
{
    private const string Path = "/api/shows/LIVE/map";
    private readonly RunningServer _server = new() { Demo = true };

    public ValueTask InitializeAsync() => _server.InitializeAsync();

    public ValueTask DisposeAsync() => _server.DisposeAsync();

    [Fact]
    public async Task The_map_of_the_live_show_says_where_each_track_lies_and_the_same_in_words_and_follows_the_computer()
    {
        var map = await MapAsync();
        var layout = map["layout"]!;
        Names(layout, "mixes").ShouldBe(["My ears", "Viewers", "Guest hears", "Recording"]);
        Names(layout, "ends").ShouldBe(["Headset", "Beacon encoder, its first sound", "Harbour call", "Crew room"]);
        layout["tracks"]!.AsArray().Count.ShouldBe(layout["diagram"]!["branches"]!.AsArray().Count + layout["diagram"]!["onwards"]!.AsArray().Sum(o => OfMix(layout, (int)o!["mix"]!)));
        LinesOf(map, "Guest hears").ShouldContain(l => l.StartsWith("goes to Harbour call by Guest line, up to ", StringComparison.Ordinal));
        LinesOf(map, "Past all mixes").ShouldBe(["Host mic goes to Crew room"]);

        await _server.SendAsync(HttpMethod.Put, "/api/gear/apps/harbour-call/ports/mic", """{"choice":{"type":"nothing"}}""");
        LinesOf(await MapAsync(), "Guest hears").ShouldContain("goes into Guest line, which nobody hears");
        (await _server.SendAsync(HttpMethod.Get, $"/api/shows/{Guid.NewGuid()}/map")).Status.ShouldBe(409);
    }

    [Fact]
    public async Task In_a_show_that_uses_nothing_of_the_practice_computer_nothing_of_it_is_drawn()
    {
        var (_, made) = await _server.SendAsync(HttpMethod.Post, "/api/shows", """{"name":"Only what is real"}""");
        await _server.SendAsync(HttpMethod.Post, $"/api/shows/{made["id"]}/open", "{}");
        var layout = (await MapAsync())["layout"]!;
        Names(layout, "starts").ShouldBeEmpty();
        Names(layout, "ends").ShouldBeEmpty();
        Names(layout, "mixes").ShouldNotBeEmpty();
    }

    [Fact]
    public async Task What_would_be_sent_somewhere_says_beforehand_which_promises_it_would_break_and_breaks_none_by_saying_so()
    {
        var query = $"source=crew-talk&listener=mix/viewers&label={Uri.EscapeDataString("Let Viewers hear Crew talk")}";
        var (status, effect) = await _server.SendAsync(HttpMethod.Get, $"/api/shows/LIVE/trace/effect?{query}");
        status.ShouldBe(200);
        effect["breaks"]!.AsArray().Select(b => (string)b!).ShouldBe(["Crew talk never reaches Viewers.", "Crew talk never reaches Beacon encoder, its first sound."]);
        LinesOf(await MapAsync(), "Viewers").ShouldContain("in its dock: Crew talk, Computer");
    }

    private async Task<JsonNode> MapAsync()
    {
        var (status, map) = await _server.SendAsync(HttpMethod.Get, Path);
        status.ShouldBe(200);
        return map;
    }

    private static int OfMix(JsonNode layout, int mix) => layout["diagram"]!["branches"]!.AsArray().Count(b => (int)b!["mix"]! == mix);

    private static List<string> Names(JsonNode layout, string what) => [.. layout["diagram"]![what]!.AsArray().Select(x => (string)x!["name"]!)];

    private static List<string> LinesOf(JsonNode map, string title) => [.. map["outline"]!.AsArray().Single(s => (string)s!["title"]! == title)!["lines"]!.AsArray().Select(l => (string)l!)];
}

using System.Text.Json;
using System.Text.Json.Nodes;
using System.Threading.Channels;
using Microsoft.AspNetCore.JsonPatch.SystemTextJson;
using Microsoft.AspNetCore.SignalR.Client;
using Microsoft.Extensions.DependencyInjection;

namespace Kinetra.Server.Tests;

public sealed class ShowNewsTests(RunningServer server) : IClassFixture<RunningServer>, IAsyncLifetime
{
    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    public ValueTask InitializeAsync() => server.OpenFreshShowAsync();

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    [Fact]
    public async Task Who_applies_every_step_that_is_told_has_the_show_as_the_server_gives_it()
    {
        var news = Channel.CreateUnbounded<JsonNode>();
        await using var window = await ConnectAsync(w => w.On<JsonNode>("ShowChanged", n => news.Writer.TryWrite(n)));
        var mine = (JsonObject)await server.ShowAsync();
        var (cable, set, cue) = ("", "", "");
        foreach (var (method, path, body) in new (HttpMethod, string, string?)[]
        {
            (HttpMethod.Patch, "mixes/viewers/sends/sea-mic", """{"gain":-7.5,"muted":true}"""),
            (HttpMethod.Patch, "mixes/viewers", """{"name":"All of them","gain":-1}"""),
            (HttpMethod.Put, "mixes/viewers/place", """{"index":0}"""),
            (HttpMethod.Post, "mixes", """{"purpose":"Other","copyOf":"viewers"}"""),
            (HttpMethod.Put, "sources/host-mic/chain", """{"preset":"voiceClose"}"""),
            (HttpMethod.Put, "sources/host-mic/place", """{"index":2}"""),
            (HttpMethod.Post, "cables", """{"name":"Round"}"""),
            (HttpMethod.Post, "cables/CABLE/sources", """{"left":0,"right":1,"name":"Comes back"}"""),
            (HttpMethod.Post, "cables/CABLE/feeds", """{"from":"source/skerry-keeper"}"""),
            (HttpMethod.Post, "mixes/viewers/sends/sea-mic/ducker", """{"type":"ducker","keys":["source/host-mic"]}"""),
            (HttpMethod.Patch, "cables/CABLE", """{"name":"Round about"}"""),
            (HttpMethod.Put, "wishes/roles/Playback", """{"end":"device/headset/out"}"""),
            (HttpMethod.Patch, "wishes", """{"putBack":true}"""),
            (HttpMethod.Post, "mixes/viewers/destinations", """{"end":{"type":"device","device":"headset"}}"""),
            (HttpMethod.Post, "pad-sets", """{"name":"Stings"}"""),
            (HttpMethod.Post, "pad-sets/SET/heard", """{"of":"mix/viewers","seconds":0.5}"""),
            (HttpMethod.Post, "pad-sets/SET/heard", """{"of":"mix/viewers","seconds":0.5,"key":"KeyK"}"""),
            (HttpMethod.Patch, "pad-sets/SET", """{"name":"Bells"}"""),
            (HttpMethod.Post, "cues", """{"name":"First"}"""),
            (HttpMethod.Post, "cues", """{"name":"Before it","acts":[{"type":"stop"}],"index":0}"""),
            (HttpMethod.Patch, "cues/CUE", """{"notes":"softly","index":1}"""),
            (HttpMethod.Delete, "sources/sea-mic", null),
            (HttpMethod.Delete, "mixes/my-ears", null),
        })
        {
            var (status, show) = await server.SendAsync(method, $"/api/shows/LIVE/{path.Replace("CABLE", cable, StringComparison.Ordinal).Replace("SET", set, StringComparison.Ordinal).Replace("CUE", cue, StringComparison.Ordinal)}", body);
            status.ShouldBe(200, show.ToJsonString());
            cable = (string?)show["cables"]!.AsArray().LastOrDefault()?["id"] ?? "";
            set = (string?)show["padSets"]!.AsArray().LastOrDefault()?["id"] ?? "";
            cue = (string?)show["cues"]!.AsArray().FirstOrDefault()?["id"] ?? "";
            mine = Apply(mine, await news.Reader.ReadAsync(Cancel));
            mine.ToJsonString().ShouldBe(show.ToJsonString());
        }

        for (var n = 0; n < 23; n++)
        {
            var (_, show) = await server.UndoAsync();
            mine = Apply(mine, await news.Reader.ReadAsync(Cancel));
            mine.ToJsonString().ShouldBe(show.ToJsonString());
        }
    }

    [Fact]
    public async Task A_step_of_one_send_is_told_by_that_send_alone()
    {
        var news = Channel.CreateUnbounded<JsonNode>();
        await using var window = await ConnectAsync(w => w.On<JsonNode>("ShowChanged", n => news.Writer.TryWrite(n)));
        await server.SendAsync(HttpMethod.Patch, "/api/shows/LIVE/mixes/viewers/sends/record-shelf", """{"gain":-2.5}""");
        var told = await news.Reader.ReadAsync(Cancel);
        told["patch"]!.AsArray().Select(o => (string)o!["path"]!).Where(p => p.StartsWith("/mixes", StringComparison.Ordinal))
            .ShouldHaveSingleItem().ShouldMatch("^/mixes/\\d+/sends/\\d+$");
        told.ToJsonString().Length.ShouldBeLessThan(1500);
    }

    [Fact]
    public async Task A_name_is_told_too_and_another_show_is_told_to_be_fetched_with_a_sequence_that_goes_on()
    {
        var news = Channel.CreateUnbounded<JsonNode>();
        var opened = Channel.CreateUnbounded<long>();
        await using var window = await ConnectAsync(w =>
        {
            w.On<JsonNode>("ShowChanged", n => news.Writer.TryWrite(n));
            w.On<long>("ShowOpened", n => opened.Writer.TryWrite(n));
        });
        var before = await server.ShowAsync();
        await server.SendAsync(HttpMethod.Patch, $"/api/shows/{before["id"]}", """{"name":"Called otherwise"}""");
        var named = Apply(before, await news.Reader.ReadAsync(Cancel));
        ((string)named["name"]!).ShouldBe("Called otherwise");
        var (_, copy) = await server.SendAsync(HttpMethod.Post, "/api/shows", "{}");
        await server.SendAsync(HttpMethod.Post, $"/api/shows/{copy["id"]}/open", "{}");
        (await opened.Reader.ReadAsync(Cancel)).ShouldBe((long)named["sequence"]! + 1);
        ((long)(await server.ShowAsync())["sequence"]!).ShouldBe((long)named["sequence"]! + 1);
        await server.SendAsync(HttpMethod.Post, $"/api/shows/{before["id"]}/open", "{}");
    }

    private async Task<HubConnection> ConnectAsync(Action<HubConnection> on)
    {
        var connection = new HubConnectionBuilder().WithUrl(new Uri(server.Address, "/api/live")).Build();
        on(connection);
        await connection.StartAsync(Cancel);
        return connection;
    }

    // By the library that comes with ASP.NET Core, which knows nothing of shows.
    private static JsonObject Apply(JsonNode show, JsonNode news)
    {
        ((long)news["after"]!).ShouldBe((long)show["sequence"]!);
        var document = (JsonObject)show.DeepClone();
        JsonSerializer.Deserialize<JsonPatchDocument>(news["patch"]!.ToJsonString(), JsonSerializerOptions.Web)!.ApplyTo(document);
        document["sequence"] = news["sequence"]!.DeepClone();
        return document;
    }
}

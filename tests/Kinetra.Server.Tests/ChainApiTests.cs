using System.Runtime.InteropServices;
using System.Text.Json.Nodes;
using Kinetra.Core.Engine;
using Microsoft.AspNetCore.SignalR;
using Microsoft.AspNetCore.SignalR.Client;

namespace Kinetra.Server.Tests;

public sealed class ChainApiTests(RunningServer server) : IClassFixture<RunningServer>, IAsyncLifetime
{
    private const string OnShelf = "/api/shows/LIVE/sources/record-shelf/chain";
    private const string OnViewers = "/api/shows/LIVE/mixes/viewers/chain";
    private const string OnSend = "/api/shows/LIVE/mixes/viewers/sends/record-shelf/ducker";

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    public ValueTask InitializeAsync() => server.OpenFreshShowAsync();

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    [Fact]
    public async Task All_processors_and_presets_are_listed_whole()
    {
        var catalogue = JsonNode.Parse(await server.Http.GetStringAsync(new Uri("/api/processors", UriKind.Relative), Cancel))!;
        catalogue["types"]!.AsArray().Count.ShouldBe(15);
        foreach (var parameter in catalogue["types"]!.AsArray().SelectMany(t => t!["parameters"]!.AsArray()))
        {
            parameter!.AsObject().Select(p => p.Key).ShouldBe(["key", "name", "unit", "min", "max", "default", "scale", "meaning", "choices"], ignoreOrder: true);
        }

        catalogue["presets"]!.AsArray().Select(p => (string)p!["key"]!).ShouldContain("mixSafety");
    }

    [Fact]
    public async Task A_processor_is_added_changed_moved_and_removed_each_one_step_that_can_be_taken_back()
    {
        var (status, show) = await server.SendAsync(HttpMethod.Put, OnShelf, """{"preset":"musicBed"}""");
        status.ShouldBe(200);
        Types(show).ShouldBe(["equaliser", "compressor"]);
        (_, show) = await server.SendAsync(HttpMethod.Post, OnShelf, """{"type":"limiter"}""");
        var limiter = (string)Chain(show)[2]!["id"]!;
        (_, show) = await server.SendAsync(HttpMethod.Put, $"{OnShelf}/{limiter}/place", """{"index":0}""");
        Types(show).ShouldBe(["limiter", "equaliser", "compressor"]);
        (_, show) = await server.SendAsync(HttpMethod.Patch, $"{OnShelf}/{limiter}", """{"values":{"ceiling":-6},"bypassed":true}""");
        ((double)Chain(show)[0]!["values"]!["ceiling"]!).ShouldBe(-6);
        ((string)show["toUndo"]!["sentence"]!).ShouldBe("Limiter on Record shelf bypassed, ceiling −1.0 dBTP → −6.0 dBTP");
        (_, show) = await server.SendAsync(HttpMethod.Delete, $"{OnShelf}/{limiter}");
        Types(show).ShouldBe(["equaliser", "compressor"]);
        for (var step = 0; step < 3; step++)
        {
            (_, show) = await server.UndoAsync();
        }

        Types(show).ShouldBe(["equaliser", "compressor", "limiter"]);
        ((double)Chain(show)[2]!["values"]!["ceiling"]!).ShouldBe(-1);
    }

    [Fact]
    public async Task What_is_set_is_there_after_a_restart()
    {
        await server.SendAsync(HttpMethod.Put, OnViewers, """{"preset":"mixSafety"}""");
        await server.SendAsync(HttpMethod.Post, OnSend, """{"type":"ducker","keys":["source/host-mic/before"]}""");
        await server.StopAsync();
        await server.StartAsync();
        var viewers = (await server.ShowAsync())["mixes"]!.AsArray().Single(m => (string)m!["id"]! == "viewers")!;
        ((string)viewers["chain"]![0]!["type"]!).ShouldBe("limiter");
        var send = viewers["sends"]!.AsArray().Single(s => (string)s!["source"]! == "record-shelf")!;
        ((string)send["ducker"]!["keys"]![0]!).ShouldBe("source/host-mic/before");
    }

    [Theory]
    [InlineData("POST", OnShelf, """{"type":"magic"}""", 422, "type")]
    [InlineData("POST", OnShelf, """{"type":"limiter","keys":["source/host-mic"]}""", 422, "sources[5].chain[0].keys")]
    [InlineData("POST", OnShelf, """{"type":"compressor","keys":["source/nobody"]}""", 422, "sources[5].chain[0].keys[0]")]
    [InlineData("POST", OnShelf, """{"type":"compressor","keys":["mix/viewers"]}""", 422, "keys")]
    [InlineData("POST", "/api/shows/LIVE/mixes/viewers/sends/crew-talk/ducker", """{"type":"room"}""", 422, "mixes[1].sends[3].ducker.type")]
    [InlineData("POST", "/api/shows/LIVE/sources/nobody/chain", """{"type":"room"}""", 404, "place")]
    [InlineData("PATCH", OnShelf + "/nobody", """{"bypassed":true}""", 404, "processor")]
    [InlineData("DELETE", OnViewers + "/nobody", "", 404, "processor")]
    [InlineData("PUT", OnViewers, """{"preset":"loudest"}""", 422, "preset")]
    public async Task What_cannot_be_is_answered_with_words(string method, string path, string body, int status, string where)
    {
        await server.SendAsync(HttpMethod.Put, OnShelf, "{}");
        (await server.SendAsync(new HttpMethod(method), path, body.Length == 0 ? null : body)).ShouldSayWhatWhereAndWhatIsAllowed(status, where);
    }

    [Theory]
    [InlineData("""{"values":{"threshold":3}}""", 422, "sources[0].chain[0].values.threshold")]
    [InlineData("""{"values":{"treshold":-3}}""", 422, "values.treshold")]
    [InlineData("""{"values":{"threshold":"loud"}}""", 400, "$.values.threshold")]
    [InlineData("""{"values":{"slope":1.5}}""", 422, "values.slope")]
    public async Task A_wrong_value_of_a_parameter_is_answered_with_what_is_allowed(string body, int status, string where)
    {
        const string chain = "/api/shows/LIVE/sources/host-mic/chain";
        await server.SendAsync(HttpMethod.Put, chain, "{}");
        var (_, show) = await server.SendAsync(HttpMethod.Post, chain, """{"type":"compressor"}""");
        var id = (string)show["sources"]![0]!["chain"]![0]!["id"]!;
        (await server.SendAsync(HttpMethod.Patch, $"{chain}/{id}", body)).ShouldSayWhatWhereAndWhatIsAllowed(status, where);
    }

    [Fact]
    public async Task A_parameter_that_is_turned_is_told_to_the_others_and_stored_nowhere()
    {
        const string chain = "/api/shows/LIVE/sources/sea-mic/chain";
        var (_, show) = await server.SendAsync(HttpMethod.Post, chain, """{"type":"compressor"}""");
        var id = (string)show["sources"]![1]!["chain"]![0]!["id"]!;
        await using var mine = await ConnectAsync();
        await using var other = await ConnectAsync();
        var told = new TaskCompletionSource<(string, string, double?)>();
        other.On<string, string, double?>("ProcessorPreviewed", (processor, parameter, value) => told.TrySetResult((processor, parameter, value)));
        await mine.InvokeAsync("PreviewProcessor", await server.LiveAsync(), "sea-mic", null, id, "threshold", -33.0, Cancel);
        (await told.Task.WaitAsync(TimeSpan.FromSeconds(10), Cancel)).ShouldBe((id, "threshold", -33.0));
        ((long)(await server.ShowAsync())["revision"]!).ShouldBe((long)show["revision"]!);
        var refused = await Should.ThrowAsync<HubException>(async () => await mine.InvokeAsync("PreviewProcessor", await server.LiveAsync(), "sea-mic", null, id, "threshold", 9.0, Cancel));
        refused.Message.ShouldContain("Allowed:");
    }

    [Fact]
    public async Task What_is_stored_ends_the_preview_of_it_and_so_does_the_person_who_lets_go()
    {
        const string chain = "/api/shows/LIVE/sources/guest-call/chain";
        await server.SendAsync(HttpMethod.Put, chain, "{}");
        var (_, show) = await server.SendAsync(HttpMethod.Post, chain, """{"type":"gate"}""");
        var id = (string)show["sources"]![2]!["chain"]![0]!["id"]!;
        await using var mine = await ConnectAsync();
        await mine.InvokeAsync("PreviewProcessor", await server.LiveAsync(), "guest-call", null, id, "lookAhead", 10.0, Cancel);
        (await LatencyOf(id)).ShouldBe(480);
        await server.SendAsync(HttpMethod.Patch, $"{chain}/{id}", """{"values":{"lookAhead":1}}""", ("X-Client", mine.ConnectionId!));
        (await LatencyOf(id)).ShouldBe(48);
        await mine.InvokeAsync("PreviewProcessor", await server.LiveAsync(), "guest-call", null, id, "lookAhead", 5.0, Cancel);
        (await LatencyOf(id)).ShouldBe(240);
        await mine.InvokeAsync("PreviewProcessor", await server.LiveAsync(), "guest-call", null, id, "lookAhead", null, Cancel);
        (await LatencyOf(id)).ShouldBe(48);
    }

    [Fact]
    public async Task A_copied_mix_has_processors_of_its_own()
    {
        await server.SendAsync(HttpMethod.Put, OnViewers, """{"preset":"mixSafety"}""");
        var (status, show) = await server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/mixes", """{"purpose":"Other","copyOf":"viewers"}""");
        status.ShouldBe(200);
        var ids = show["mixes"]!.AsArray().SelectMany(m => m!["chain"]!.AsArray()).Select(p => (string)p!["id"]!).ToArray();
        ids.Length.ShouldBeGreaterThan(1);
        ids.ShouldBeUnique();
    }

    // What the engine says of it: frames by which it delays the sound.
    private async Task<float> LatencyOf(string processor)
    {
        await server.StepAsync(0.1);
        using var meters = await server.LookAsync("levels");
        var layout = JsonNode.Parse((await RunningServer.ReceiveAsync(meters)).Data)!["values"]!;
        var processors = layout["processors"]!.AsArray().Select(p => (string)p!).ToList();
        var (_, data) = await RunningServer.ReceiveAsync(meters);
        var values = MemoryMarshal.Cast<byte, float>(data.AsSpan(40));
        return values[values.Length - layout["buses"]!.AsArray().Sum(b => (int)b!["channels"]!) - ((processors.Count - processors.IndexOf(processor)) * MeterLayout.ProcessorValues) + 1];
    }

    private static JsonArray Chain(JsonNode show) => show["sources"]!.AsArray().Single(s => (string)s!["id"]! == "record-shelf")!["chain"]!.AsArray();

    private static IEnumerable<string> Types(JsonNode show) => Chain(show).Select(p => (string)p!["type"]!);

    private async Task<HubConnection> ConnectAsync()
    {
        var connection = new HubConnectionBuilder().WithUrl(new Uri(server.Address, "/api/live")).Build();
        await connection.StartAsync(Cancel);
        return connection;
    }
}

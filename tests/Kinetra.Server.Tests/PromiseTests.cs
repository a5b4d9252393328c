using System.Text.Json.Nodes;

namespace Kinetra.Server.Tests;

/// <summary>Promises through the API: made, watched in routing and sound, mended, and when they broke; in the demo show.</summary>
public sealed class PromiseTests : IAsyncLifetime
{
    private const string Path = "/api/shows/LIVE/promises";
    private readonly RunningServer _server = new() { Demo = true };

    public ValueTask InitializeAsync() => _server.InitializeAsync();

    public ValueTask DisposeAsync() => _server.DisposeAsync();

    [Fact]
    public async Task A_leak_breaks_its_promise_by_the_routing_at_once_by_the_sound_once_it_was_heard_and_both_end_with_the_fix()
    {
        var first = await PromiseAsync("promise-1");
        (StateOf(first), StateOf(first["routing"]!), StateOf(first["sound"]!)).ShouldBe(("Kept", "Kept", "NotKnown"));
        await _server.StepAsync(40);
        StateOf((await PromiseAsync("promise-1"))["sound"]!).ShouldNotBe("Broken");

        await _server.SendAsync(HttpMethod.Patch, "/api/shows/LIVE/mixes/viewers/sends/crew-talk", """{"heard":true,"gain":-15}""");
        var broken = await PromiseAsync("promise-1");
        (StateOf(broken), StateOf(broken["routing"]!), StateOf(broken["sound"]!)).ShouldBe(("Broken", "Broken", "NotKnown"), "what was heard before says nothing of what sounds now");
        ((string)broken["routing"]!["why"]!).ShouldStartWith("Crew talk reaches Viewers");
        await _server.StepAsync(40);
        var heard = (await PromiseAsync("promise-1"))["sound"]!;
        StateOf(heard).ShouldBe("Broken");
        ((string)heard["why"]!).ShouldStartWith("It was heard at Viewers, 15 dB softer");

        var label = (string)broken["routing"]!["fixes"]![0]!["label"]!;
        var (status, effect) = await _server.SendAsync(HttpMethod.Get, $"{Path}/promise-1/effect?label={Uri.EscapeDataString(label)}");
        status.ShouldBe(200);
        effect["heard"]!.AsArray().Select(h => (string)h!).ShouldContain("Viewers no longer gets Crew talk.");
        var fix = new JsonObject { ["label"] = label }.ToJsonString();
        (await _server.SendAsync(HttpMethod.Post, $"{Path}/promise-1/fix", fix)).Status.ShouldBe(200);
        var mended = await PromiseAsync("promise-1");
        (StateOf(mended), StateOf(mended["sound"]!)).ShouldBe(("Kept", "NotKnown"));
        await _server.StepAsync(40);
        var gone = (await PromiseAsync("promise-1"))["sound"]!;
        StateOf(gone).ShouldNotBe("Broken", (string)gone["why"]!);
        (await _server.SendAsync(HttpMethod.Post, $"{Path}/promise-1/fix", fix)).ShouldSayWhatWhereAndWhatIsAllowed(404, "key");

        // When it broke, and that it did both ways, is there for after the show.
        var breaks = (await GetAsync($"{Path}/breaks")).AsArray().Where(b => (string)b!["promise"]! == "promise-1").ToList();
        breaks.Select(b => (bool)b!["bySound"]!).ShouldBe([true, false], ignoreOrder: true);
        breaks.ShouldAllBe(b => b!["ended"] != null && !(bool)b!["goesOn"]! && (string)b!["sentence"]! == "Crew talk never reaches Viewers");
    }

    [Fact]
    public async Task What_the_sound_alone_tells_is_known_once_it_has_sounded_and_what_is_measured_is_what_is_sent()
    {
        await _server.StepAsync(60);
        var all = await AllAsync();
        foreach (var sentence in new[] { "Host mic reaches Viewers", "Guest call reaches Viewers", "Viewers hears every source once" })
        {
            StateOf(all.Single(p => (string)p["sentence"]! == sentence)["sound"]!).ShouldBe("Kept", sentence);
        }

        ((string)all.Single(p => (string)p["sentence"]! == "Host mic reaches Viewers")["sound"]!["why"]!).ShouldMatch(@"^It was heard, (3\.[5-9]|4\.[0-5]) dB louder than it leaves its chain");
        foreach (var kind in new[] { "speechOverBed", "loudnessInRange", "truePeakUnder" })
        {
            StateOf(all.Single(p => (string)p["promise"]!["kind"]! == kind)["sound"]!).ShouldNotBe("NotKnown", kind);
        }
    }

    [Fact]
    public async Task Who_is_hushed_on_purpose_hears_nothing_and_that_breaks_no_promise()
    {
        (await _server.SendAsync(HttpMethod.Put, "/api/hush", """{"on":true}""")).Status.ShouldBeInRange(200, 204);
        await _server.StepAsync(26);
        (await AllAsync()).ShouldAllBe(p => StateOf(p["sound"]!) != "Broken");
        (await GetAsync($"{Path}/breaks")).AsArray().ShouldBeEmpty();
    }

    [Fact]
    public async Task A_promise_is_made_changed_and_taken_out_in_steps_that_are_undone_and_another_window_is_told()
    {
        var made = """{"promises":[{"kind":"neverReaches","id":"new","source":"record-shelf","listener":"app/harbour-call/mic"},{"kind":"truePeakUnder","id":"new","mix":"my-ears","ceiling":-3}]}""";
        var (status, show) = await _server.SendAsync(HttpMethod.Post, Path, made);
        status.ShouldBe(200);
        show["promises"]!.AsArray().Count.ShouldBe(15);
        ((string)show["toUndo"]!["sentence"]!).ShouldStartWith("Promised: Record shelf never reaches");
        var broken = (await AllAsync())[13];
        ((string)broken["sentence"]!, StateOf(broken)).ShouldBe(("Record shelf never reaches Harbour call", "Broken"));

        var id = (string)broken["promise"]!["id"]!;
        (status, _) = await _server.SendAsync(HttpMethod.Put, $"{Path}/{id}", """{"promise":{"kind":"reaches","id":"other","source":"record-shelf","listener":"app/harbour-call/mic"}}""");
        status.ShouldBe(200);
        StateOf(await PromiseAsync(id)).ShouldBe("Kept");
        (await _server.SendAsync(HttpMethod.Delete, $"{Path}/{id}")).Status.ShouldBe(200);
        (await AllAsync()).Count.ShouldBe(14);
        await _server.UndoAsync();
        await _server.UndoAsync();
        StateOf(await PromiseAsync(id)).ShouldBe("Broken");
        await _server.UndoAsync();
        (await AllAsync()).Count.ShouldBe(13);
    }

    [Fact]
    public async Task What_is_offered_can_be_promised_all_at_once_and_is_offered_no_more()
    {
        var document = await GetAsync(Path);
        var offers = document["offers"]!.AsArray().Select(o => o!["promise"]!.DeepClone()).ToArray();
        offers.ShouldNotBeEmpty();
        (await _server.SendAsync(HttpMethod.Post, Path, new JsonObject { ["promises"] = new JsonArray(offers) }.ToJsonString())).Status.ShouldBe(200);
        document = await GetAsync(Path);
        document["offers"]!.AsArray().ShouldBeEmpty();
        document["promises"]!.AsArray().ShouldAllBe(p => StateOf(p!) != "Broken");
        document["listeners"]!.AsArray().Select(l => (string)l!["point"]!).ShouldContain("app/beacon-encoder/main");
    }

    [Theory]
    [InlineData("""{"promises":[]}""", 422, "promises")]
    [InlineData("""{"promises":[{"kind":"neverReaches","id":"x","source":"nobody","listener":"mix/viewers"}]}""", 422, "promises[13].source")]
    [InlineData("""{"promises":[{"kind":"neverReaches","id":"x","source":"host-mic","listener":"cable/to-guest"}]}""", 422, "promises[13].listener")]
    [InlineData("""{"promises":[{"kind":"neverReaches","id":"x","source":"crew-talk","listener":"mix/viewers"}]}""", 422, "promises[13]")]
    [InlineData("""{"promises":[{"kind":"oath","id":"x"}]}""", 400, "$.promises[0]")]
    public async Task What_cannot_be_promised_is_refused_and_nothing_changes(string body, int status, string where)
    {
        (await _server.SendAsync(HttpMethod.Post, Path, body)).ShouldSayWhatWhereAndWhatIsAllowed(status, where);
        (await AllAsync()).Count.ShouldBe(13);
    }

    [Fact]
    public async Task A_finding_that_is_accepted_stays_quiet_until_its_facts_change()
    {
        await _server.SendAsync(HttpMethod.Patch, "/api/shows/LIVE/mixes/viewers/sends/crew-talk", """{"heard":true,"gain":-15}""");
        var found = (await GetAsync("/api/shows/LIVE/findings"))["findings"]!.AsArray().Single(f => (string)f!["kind"]! == "Leak")!;
        ((bool)found["isAccepted"]!).ShouldBeFalse();
        var accept = new JsonObject { ["key"] = (string)found["key"]!, ["accepted"] = true }.ToJsonString();
        (await _server.SendAsync(HttpMethod.Put, "/api/shows/LIVE/findings/accepted", accept)).Status.ShouldBe(200);
        (await IsAcceptedAsync()).ShouldBeTrue();

        // Another name is no other fact, another level is.
        await _server.SendAsync(HttpMethod.Patch, "/api/shows/LIVE/sources/crew-talk", """{"name":"Backstage"}""");
        (await IsAcceptedAsync()).ShouldBeTrue();
        await _server.SendAsync(HttpMethod.Patch, "/api/shows/LIVE/mixes/viewers/sends/crew-talk", """{"gain":0}""");
        (await IsAcceptedAsync()).ShouldBeFalse();
        await _server.UndoAsync();
        (await IsAcceptedAsync()).ShouldBeTrue();
        await _server.SendAsync(HttpMethod.Put, "/api/shows/LIVE/findings/accepted", accept.Replace("true", "false", StringComparison.Ordinal));
        (await IsAcceptedAsync()).ShouldBeFalse();

        async Task<bool> IsAcceptedAsync() =>
            (bool)(await GetAsync("/api/shows/LIVE/findings"))["findings"]!.AsArray().Single(f => (string)f!["kind"]! == "Leak")!["isAccepted"]!;
    }

    [Fact]
    public async Task Promises_stand_in_the_shows_file_and_come_back_with_it()
    {
        var id = (string)(await _server.ShowAsync())["id"]!;
        var file = await GetAsync($"/api/shows/{id}/file");
        file["promises"]!.AsArray().Count.ShouldBe(13);
        ((string)file["promises"]![0]!["kind"]!).ShouldBe("neverReaches");
    }

    private async Task<JsonNode> GetAsync(string path) => (await _server.SendAsync(HttpMethod.Get, path)).Body;

    private static string StateOf(JsonNode of) => (string)of["state"]!;

    private async Task<List<JsonNode>> AllAsync() => [.. (await GetAsync(Path))["promises"]!.AsArray().Select(p => p!)];

    private async Task<JsonNode> PromiseAsync(string id) => (await AllAsync()).Single(p => (string)p["promise"]!["id"]! == id);
}

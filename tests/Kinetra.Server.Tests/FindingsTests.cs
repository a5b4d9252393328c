using System.Text.Json.Nodes;

namespace Kinetra.Server.Tests;

/// <summary>What is found through the API, and what ends it, in the demo show on the practice computer.</summary>
public sealed class FindingsTests : IAsyncLifetime
{
    private const string Traced = "/api/shows/LIVE/trace?source=record-shelf&listener=app/beacon-encoder/main";
    private const string Guest = "app/harbour-call/mic";
    private readonly RunningServer _server = new() { Demo = true };

    public ValueTask InitializeAsync() => _server.InitializeAsync();

    public ValueTask DisposeAsync() => _server.DisposeAsync();

    [Fact]
    public async Task The_guest_hears_an_echo_while_that_is_found_and_none_once_the_fix_is_pressed_which_is_one_step()
    {
        (await HarmfulAsync()).ShouldBeEmpty();
        foreach (var other in new[] { "host-mic", "second-mic", "skerry-keeper", "record-shelf" })
        {
            await _server.SendAsync(HttpMethod.Patch, $"/api/shows/LIVE/mixes/guest-hears/sends/{other}", """{"muted":true}""");
        }

        await _server.StepAsync(5);
        (await _server.PeakAsync(Guest)).ShouldBeLessThan(-120);

        await _server.SendAsync(HttpMethod.Patch, "/api/shows/LIVE/mixes/guest-hears/sends/guest-call", """{"heard":true,"gain":0}""");
        await _server.StepAsync(5);
        var found = (await HarmfulAsync()).ShouldHaveSingleItem();
        ((string)found["kind"]!, (string)found["harm"]!).ShouldBe(("SelfHearing", "Serious"));
        found["places"]!.AsArray().Select(p => (string)p!).ShouldContain("mix/guest-hears");
        (await _server.PeakAsync(Guest)).ShouldBeGreaterThan(-60);

        var fix = Wanted(found, 0);
        var (status, effect) = await _server.SendAsync(HttpMethod.Get, $"/api/shows/LIVE/findings/effect?key={Uri.EscapeDataString((string)found["key"]!)}&label={Uri.EscapeDataString((string)found["fixes"]![0]!["label"]!)}");
        status.ShouldBe(200);
        effect["heard"]!.AsArray().Select(h => (string)h!).ShouldBe(["Guest hears no longer gets Guest call.", "Harbour call no longer gets Guest call."]);
        (await HarmfulAsync()).ShouldHaveSingleItem("what it would change is told and not done");

        (status, var show) = await _server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/findings/fix", fix);
        status.ShouldBe(200);
        ((string)show["toUndo"]!["sentence"]!).ShouldContain("put in the dock");
        await _server.StepAsync(5);
        (await HarmfulAsync()).ShouldBeEmpty();
        (await _server.PeakAsync(Guest)).ShouldBeLessThan(-120);

        (await _server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/findings/fix", fix)).ShouldSayWhatWhereAndWhatIsAllowed(404, "key");
        await _server.UndoAsync();
        (await HarmfulAsync()).Count.ShouldBe(1);
    }

    [Fact]
    public async Task What_is_found_follows_the_computer_too_and_a_fix_of_it_is_a_line_of_its_history()
    {
        await _server.SendAsync(HttpMethod.Post, "/api/gear/put-back");
        var found = (await FindingsAsync()).First(f => (string)f["kind"]! == "NotAsWished");
        ((string)found["sentence"]!).ShouldContain("and the show wants");
        ((bool)found["fixes"]![0]!["ofComputer"]!).ShouldBeTrue();
        var revision = (long)(await _server.ShowAsync())["revision"]!;
        (await _server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/findings/fix", Wanted(found, 0))).Status.ShouldBe(200);
        (await FindingsAsync()).ShouldNotContain(f => (string)f["key"]! == (string)found["key"]!);
        ((long)(await _server.ShowAsync())["revision"]!).ShouldBe(revision);

        // And is taken back by itself, in one step.
        var line = (await _server.SendAsync(HttpMethod.Get, "/api/gear/history")).Body.AsArray()[^1]!;
        var back = $"/api/gear/history/{(long)line["number"]!}/take-back";
        (await _server.SendAsync(HttpMethod.Post, back)).Status.ShouldBe(200);
        (await FindingsAsync()).ShouldContain(f => (string)f["key"]! == (string)found["key"]!);
        (await _server.SendAsync(HttpMethod.Post, back)).ShouldSayWhatWhereAndWhatIsAllowed(422, "change");
        (await _server.SendAsync(HttpMethod.Post, "/api/gear/history/99999/take-back")).ShouldSayWhatWhereAndWhatIsAllowed(404, "number");
        ((string)(await _server.SendAsync(HttpMethod.Get, "/api/gear/history")).Body.AsArray()[^1]!["sentence"]!).ShouldBe($"Taken back: {(string)line["sentence"]!}");
    }

    [Fact]
    public async Task What_would_be_lost_if_a_device_went_is_told_beforehand_and_is_what_is_lost_when_it_goes()
    {
        foreach (var other in new[] { "second-mic", "skerry-keeper", "record-shelf" })
        {
            await _server.SendAsync(HttpMethod.Patch, $"/api/shows/LIVE/mixes/guest-hears/sends/{other}", """{"muted":true}""");
        }

        await _server.StepAsync(5);
        (await _server.PeakAsync(Guest)).ShouldBeGreaterThan(-60);
        var (status, loss) = await _server.SendAsync(HttpMethod.Get, "/api/shows/LIVE/findings/without/desk-interface");
        status.ShouldBe(200);
        var lost = loss["lost"]!.AsArray().Select(l => (string)l!).ToList();
        lost.ShouldContain(l => l.StartsWith("Nobody hears ", StringComparison.Ordinal) && l.Contains("Host mic", StringComparison.Ordinal) && l.Contains("Viewers", StringComparison.Ordinal), string.Join(" | ", lost));
        loss["promises"]!.AsArray().Select(p => (string)p!).ShouldContain("Host mic reaches Viewers.");
        (await _server.PeakAsync(Guest)).ShouldBeGreaterThan(-60, "it is told and not done");

        (await _server.SendAsync(HttpMethod.Patch, "/api/gear/devices/desk-interface", """{"isPresent":false}""")).Status.ShouldBe(200);
        await _server.StepAsync(5);
        (await _server.PeakAsync(Guest)).ShouldBeLessThan(-120);
        (await _server.SendAsync(HttpMethod.Get, "/api/shows/LIVE/findings/without/desk-interface")).Body["lost"]!.AsArray().ShouldBeEmpty("what is gone is lost already");
    }

    [Fact]
    public async Task A_sound_is_traced_to_a_program_stretch_by_stretch_cut_there_and_opened_again()
    {
        var (status, trace) = await _server.SendAsync(HttpMethod.Get, Traced);
        status.ShouldBe(200);
        var hops = trace["ways"]!.AsArray().ShouldHaveSingleItem()!["hops"]!.AsArray();
        var send = hops.Single(h => (string)h!["what"]! == "send")!;
        ((double)send["gainDb"]!).ShouldBe(-9, 0.01);
        var cut = new JsonObject { ["source"] = "record-shelf", ["listener"] = "app/beacon-encoder/main", ["label"] = (string)send["cut"]! };
        (await _server.SendAsync(HttpMethod.Get, Traced.Replace("trace?", "trace/effect?", StringComparison.Ordinal) + $"&label={Uri.EscapeDataString((string)send["cut"]!)}")).Body["heard"]!.AsArray().ShouldContain(h => (string)h! == "Viewers no longer gets Record shelf.");
        (await _server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/trace/cut", cut.ToJsonString())).Status.ShouldBe(200);

        (_, trace) = await _server.SendAsync(HttpMethod.Get, Traced);
        ((string)trace["sentence"]!).ShouldBe("Beacon encoder does not hear Record shelf, because Record shelf waits in the dock of Viewers.");
        cut["label"] = (string)trace["open"]!;
        (await _server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/trace/cut", cut.ToJsonString())).Status.ShouldBe(200);
        (_, trace) = await _server.SendAsync(HttpMethod.Get, Traced);
        trace["ways"]!.AsArray().Count.ShouldBe(1);
    }

    [Theory]
    [InlineData("GET", "trace?source=nobody&listener=mix/viewers", null, 404, "listener")]
    [InlineData("GET", "trace?source=host-mic&listener=app/nothing/main", null, 404, "listener")]
    [InlineData("GET", "trace?source=host-mic&listener=somewhere", null, 422, "listener")]
    [InlineData("GET", "trace?source=host-mic", null, 400, "listener")]
    [InlineData("GET", "findings/effect?key=none&label=none", null, 404, "key")]
    [InlineData("GET", "findings/without/nothing", null, 404, "device")]
    [InlineData("GET", "trace/effect?source=host-mic&listener=somewhere&label=none", null, 404, "key")]
    [InlineData("POST", "findings/fix", """{"key":"none","label":"Do it"}""", 404, "key")]
    [InlineData("POST", "trace/cut", """{"source":"host-mic","listener":null,"label":"l"}""", 400, "$.listener")]
    [InlineData("POST", "trace/cut", """{"source":"host-mic","listener":"mix/viewers","label":"Tear it out"}""", 404, "key")]
    public async Task What_is_not_there_is_refused_in_words_and_changes_nothing(string method, string path, string? body, int status, string where)
    {
        var before = (await _server.ShowAsync()).ToJsonString();
        (await _server.SendAsync(new HttpMethod(method), $"/api/shows/LIVE/{path}", body)).ShouldSayWhatWhereAndWhatIsAllowed(status, where);
        (await _server.ShowAsync()).ToJsonString().ShouldBe(before);
    }

    private static string Wanted(JsonNode finding, int fix) =>
        new JsonObject { ["key"] = (string)finding["key"]!, ["label"] = (string)finding["fixes"]![fix]!["label"]! }.ToJsonString();

    private async Task<List<JsonNode>> FindingsAsync() =>
        [.. (await _server.SendAsync(HttpMethod.Get, "/api/shows/LIVE/findings")).Body["findings"]!.AsArray().Select(f => f!)];

    private async Task<List<JsonNode>> HarmfulAsync() => [.. (await FindingsAsync()).Where(f => (string)f["harm"]! != "Slight")];
}

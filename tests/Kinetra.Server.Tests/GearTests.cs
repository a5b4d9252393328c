using System.Text.Json.Nodes;
using Kinetra.Core.Signal;

namespace Kinetra.Server.Tests;

/// <summary>The computer around the desk through the API: a show and a computer of its own for each test.</summary>
public sealed class GearTests : IAsyncLifetime
{
    private readonly RunningServer _server = new();

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    public ValueTask InitializeAsync() => _server.InitializeAsync();

    public ValueTask DisposeAsync() => _server.DisposeAsync();

    [Fact]
    public async Task A_program_is_set_to_a_cable_and_is_heard_there_and_the_computer_remembers_it_over_a_restart()
    {
        var cable = await CableAsync("Music cable");
        await _server.SendAsync(HttpMethod.Patch, "/api/gear/apps/harbour-browser", """{"isRunning":true,"isPlaying":true}""");
        var (status, gear) = await SetPortAsync("harbour-browser", "sound", $$"""{"type":"end","end":"cable/{{cable}}"}""");
        status.ShouldBe(200);
        ((string)Port(gear, "harbour-browser", "sound")["end"]!).ShouldBe($"cable/{cable}");
        using var heard = await _server.LookAsync("point", $"cable/{cable}");
        await _server.StepAsync(2);
        (await _server.PeakAsync($"cable/{cable}")).ShouldBeGreaterThan(-60);
        await _server.StopAsync();
        await _server.StartAsync();
        ((string)Port(await GearAsync(), "harbour-browser", "sound")["end"]!).ShouldBe($"cable/{cable}");
        (await HistoryAsync()).ShouldContain("Harbour browser, its sound: Music cable");
    }

    [Fact]
    public async Task A_new_cable_steals_the_default_for_calls_and_the_show_puts_back_what_it_wants_on_one_press()
    {
        (await Command(HttpMethod.Put, "wishes/roles/CallsPlayback", """{"end":"device/headset/out"}""")).Status.ShouldBe(200);
        (await GearAsync())["unmet"]!.AsArray().ShouldBeEmpty();
        var cable = await CableAsync("Thief");
        var stolen = await GearAsync();
        ((string)Role(stolen, "CallsPlayback")["end"]!).ShouldBe($"cable/{cable}");
        ((string)stolen["unmet"]!.AsArray().Single()!["words"]!).ShouldBe("Headset");
        var (status, after) = await _server.SendAsync(HttpMethod.Post, "/api/gear/fulfil", "{}");
        status.ShouldBe(200);
        ((string)Role(after, "CallsPlayback")["end"]!).ShouldBe("device/headset/out");
        after["unmet"]!.AsArray().ShouldBeEmpty();
    }

    [Fact]
    public async Task What_a_show_always_wants_is_so_at_once_and_after_the_show_what_stood_before_is_put_back()
    {
        (await Command(HttpMethod.Put, "wishes/roles/Playback", """{"end":"device/laptop-speakers/out"}""")).Status.ShouldBe(200);
        ((string)Role(await GearAsync(), "Playback")["end"]!).ShouldBe("device/headset/out");
        (await Command(HttpMethod.Patch, "wishes", """{"always":true,"putBack":true}""")).Status.ShouldBe(200);
        ((string)Role(await GearAsync(), "Playback")["end"]!).ShouldBe("device/laptop-speakers/out");
        var other = (await _server.SendAsync(HttpMethod.Get, "/api/shows")).Body.AsArray().First(s => (string)s!["name"]! == "Tide Tables")!;
        (await _server.SendAsync(HttpMethod.Post, $"/api/shows/{(string)other["id"]!}/open")).Status.ShouldBe(200);
        ((string)Role(await GearAsync(), "Playback")["end"]!).ShouldBe("device/headset/out");
    }

    [Fact]
    public async Task After_the_show_what_stood_before_it_was_opened_is_put_back_on_one_press_and_not_without()
    {
        ((bool)(await GearAsync())["isAsBefore"]!).ShouldBeTrue();
        await SetPortAsync("harbour-browser", "sound", """{"type":"nothing"}""");
        await _server.SendAsync(HttpMethod.Put, "/api/gear/roles/Playback", """{"end":"device/laptop-speakers/out"}""");
        ((bool)(await GearAsync())["isAsBefore"]!).ShouldBeFalse();
        var other = (await _server.SendAsync(HttpMethod.Get, "/api/shows")).Body.AsArray().First(s => (string)s!["name"]! == "Tide Tables")!;
        (await _server.SendAsync(HttpMethod.Post, $"/api/shows/{(string)other["id"]!}/open")).Status.ShouldBe(200);
        var kept = await GearAsync();
        ((string)Role(kept, "Playback")["end"]!).ShouldBe("device/laptop-speakers/out");
        await SetPortAsync("harbour-browser", "sound", """{"type":"default","calls":true}""");
        var (status, gear) = await _server.SendAsync(HttpMethod.Post, "/api/gear/put-back");
        status.ShouldBe(200);
        ((string)Port(gear, "harbour-browser", "sound")["choice"]!["type"]!).ShouldBe("nothing");
        ((bool)gear["isAsBefore"]!).ShouldBeTrue();
    }

    [Fact]
    public async Task A_take_says_when_a_device_was_away_on_the_tracks_that_take_from_it_and_on_no_other_and_keeps_that_over_a_restart()
    {
        (await _server.SendAsync(HttpMethod.Post, "/api/takes", """{"name":"With a gap"}""")).Status.ShouldBe(200);
        await _server.StepAsync(1);
        await _server.SendAsync(HttpMethod.Patch, "/api/gear/devices/desk-interface", """{"isPresent":false}""");
        await _server.StepAsync(2);
        await _server.SendAsync(HttpMethod.Patch, "/api/gear/devices/desk-interface", """{"isPresent":true}""");
        await _server.StepAsync(1);
        await _server.SendAsync(HttpMethod.Patch, "/api/gear/apps/skerry-keeper", """{"isRunning":false}""");
        await _server.StepAsync(1);
        (await _server.SendAsync(HttpMethod.Post, "/api/takes/current/stop")).Status.ShouldBe(200);
        await _server.StopAsync();
        await _server.StartAsync();
        var take = (await _server.SendAsync(HttpMethod.Get, "/api/takes")).Body.AsArray().Single()!;
        JsonArray GapsOf(string point) => take["tracks"]!.AsArray().Single(t => (string)t!["point"]! == point)!["gaps"]!.AsArray();
        foreach (var mic in new[] { "source/host-mic", "source/sea-mic" })
        {
            var gap = GapsOf(mic).Single()!;
            ((string)gap["words"]!).ShouldBe("Desk interface is unplugged");
            ((double)gap["from"]!).ShouldBe(1, 0.1);
            ((double)gap["seconds"]!).ShouldBe(2, 0.1);
        }

        // Away to the very end.
        ((double)GapsOf("source/skerry-keeper").Single()!["from"]!).ShouldBe(4, 0.1);
        take["tracks"]!.AsArray().Where(t => !new[] { "source/host-mic", "source/sea-mic", "source/skerry-keeper" }.Contains((string)t!["point"]!)).ShouldAllBe(t => t!["gaps"]!.AsArray().Count == 0);
    }

    [Fact]
    public async Task What_everything_else_takes_is_said_of_each_program_as_soon_as_it_is_so_and_no_longer()
    {
        await _server.SendAsync(HttpMethod.Patch, "/api/gear/apps/harbour-browser", """{"isRunning":true}""");
        bool IsRest(JsonNode gear, string app, string port) => (bool)Port(gear, app, port)["isRest"]!;
        IsRest(await GearAsync(), "harbour-browser", "sound").ShouldBeFalse();
        (await Command(HttpMethod.Post, "sources/taken", """{"input":{"type":"everythingElse","stillPlays":false}}""")).Status.ShouldBe(200);
        IsRest(await GearAsync(), "harbour-browser", "sound").ShouldBeTrue();
        IsRest(await GearAsync(), "record-shelf", "music").ShouldBeFalse();
        (await Command(HttpMethod.Post, "sources/taken", """{"input":{"type":"app","app":"harbour-browser"}}""")).Status.ShouldBe(200);
        IsRest(await GearAsync(), "harbour-browser", "sound").ShouldBeFalse();
    }

    [Fact]
    public async Task How_loud_something_plays_into_a_cable_is_no_news_of_the_computer()
    {
        var cable = await CableAsync("Level");
        (await Command(HttpMethod.Post, $"cables/{cable}/feeds", """{"from":"mix/viewers"}""")).Status.ShouldBe(200);
        var before = (long)(await GearAsync())["sequence"]!;
        (await Command(HttpMethod.Patch, $"cables/{cable}/feeds", """{"from":"mix/viewers","gain":-9}""")).Status.ShouldBe(200);
        ((long)(await GearAsync())["sequence"]!).ShouldBe(before);
        (await Command(HttpMethod.Patch, $"cables/{cable}", """{"name":"Another name"}""")).Status.ShouldBe(200);
        ((long)(await GearAsync())["sequence"]!).ShouldBeGreaterThan(before);
    }

    [Fact]
    public async Task A_loop_through_a_program_is_held_told_by_its_names_and_let_play_on_request()
    {
        // What the guest is sent comes back as his echo, which the guest is sent.
        await _server.SendAsync(HttpMethod.Patch, "/api/gear/apps/harbour-call", """{"evensVoices":false}""");
        var cable = await CableAsync("Guest cable");
        await SetPortAsync("harbour-call", "mic", $$$"""{"type":"end","end":"cable/{{{cable}}}"}""");
        (await Command(HttpMethod.Post, $"cables/{cable}/feeds", """{"from":"mix/guest-hears"}""")).Status.ShouldBe(200);
        (await Command(HttpMethod.Patch, "mixes/guest-hears/sends/guest-call", """{"heard":true,"gain":12}""")).Status.ShouldBe(200);
        var (status, show) = await Command(HttpMethod.Patch, "mixes/guest-hears", """{"gain":12}""");
        status.ShouldBe(200);
        var loop = show["loops"]!.AsArray().Single()!;
        ((string)loop["sentence"]!).ShouldContain("Harbour call");
        var held = loop["held"]!.AsArray().Single()!;
        ((string)held["from"]!).ShouldBe("app/harbour-call/voice");
        (status, show) = await Command(HttpMethod.Put, $"sources/{(string)held["source"]!}/loop", """{"loopAllowed":true}""");
        status.ShouldBe(200);
        show["loops"]![0]!["held"]!.AsArray().ShouldBeEmpty();

        // The computer alone can open it, and close it again.
        await _server.SendAsync(HttpMethod.Patch, "/api/gear/apps/harbour-call", """{"evensVoices":true}""");
        (await _server.ShowAsync())["loops"]!.AsArray().ShouldBeEmpty();
    }

    [Fact]
    public async Task A_cable_that_is_removed_leaves_nothing_set_to_it_and_no_wish_for_it_and_undo_brings_the_wish_back()
    {
        var cable = await CableAsync("Short-lived");
        await SetPortAsync("record-shelf", "music", $$"""{"type":"end","end":"cable/{{cable}}"}""");
        (await Command(HttpMethod.Put, "wishes/apps/record-shelf/ports/music", $$$"""{"choice":{"type":"end","end":"cable/{{{cable}}}"}}""")).Status.ShouldBe(200);
        (await Command(HttpMethod.Delete, $"cables/{cable}")).Status.ShouldBe(200);
        var gear = await GearAsync();
        gear.ToJsonString().ShouldNotContain(cable);
        ((string)Port(gear, "record-shelf", "music")["choice"]!["type"]!).ShouldBe("default");
        var show = await _server.ShowAsync();
        show["wishes"]!["ports"]!.AsArray().ShouldBeEmpty();
        (await Command(HttpMethod.Post, "undo", $$"""{"step":{{show["revision"]}}}""")).Status.ShouldBe(200);
        (await _server.ShowAsync())["wishes"]!["ports"]!.AsArray().Count.ShouldBe(1);
        (await GearAsync())["unmet"]!.AsArray().Count.ShouldBe(1);
    }

    [Fact]
    public async Task A_mix_goes_to_a_device_at_its_own_level_and_to_a_second_one_that_is_lower()
    {
        var (status, show) = await Command(HttpMethod.Post, "mixes/viewers/destinations", """{"end":{"type":"device","device":"headset"}}""");
        status.ShouldBe(200);
        (await Command(HttpMethod.Post, "mixes/viewers/destinations", """{"end":{"type":"device","device":"laptop-speakers"},"gain":-20}""")).Status.ShouldBe(200);

        // Nothing else plays there.
        foreach (var app in (await GearAsync())["apps"]!.AsArray())
        {
            await _server.SendAsync(HttpMethod.Patch, $"/api/gear/apps/{(string)app!["id"]!}", """{"isRunning":false}""");
        }

        await _server.StepAsync(4);
        var (mix, ears, room) = (await _server.PeakAsync("mix/viewers"), await _server.PeakAsync("device/headset/out"), await _server.PeakAsync("device/laptop-speakers/out"));
        (ears - room).ShouldBe(20, 0.1);
        ears.ShouldBe(mix, 0.1);
        var id = (string)show["mixes"]!.AsArray().Single(m => (string)m!["id"]! == "viewers")!["destinations"]![0]!["id"]!;
        (await Command(HttpMethod.Patch, $"mixes/viewers/destinations/{id}", """{"on":false}""")).Status.ShouldBe(200);
        await _server.StepAsync(4);
        (await _server.PeakAsync("device/headset/out")).ShouldBeLessThan(-200);
        (await Command(HttpMethod.Delete, $"mixes/viewers/destinations/{id}")).Status.ShouldBe(200);
    }

    [Theory]
    [InlineData("PUT", "roles/Playback", """{"end":"device/none/out"}""", 422, "There is no such device.")]
    [InlineData("PUT", "roles/Kazoo", """{"end":"device/headset/out"}""", 404, "There is no role “Kazoo”.")]
    [InlineData("PUT", "apps/none/ports/x", """{"choice":{"type":"default"}}""", 404, "There is no program “none” on this computer.")]
    [InlineData("PUT", "apps/record-shelf/ports/x", """{"choice":{"type":"default"}}""", 404, "Record shelf has no output or input “x”.")]
    [InlineData("PUT", "apps/record-shelf/ports/music", """{"choice":{"type":"end","end":"device/headset/out","channels":{"left":7}}}""", 422, "Headset has 2 channels.")]
    [InlineData("PUT", "apps/system-sounds/ports/sound", """{"choice":{"type":"nothing"}}""", 422, "System sounds has no choice of its own here: it follows the default.")]
    [InlineData("PATCH", "devices/none", """{"isPresent":true}""", 404, "There is no device “none” on this computer.")]
    [InlineData("PATCH", "devices/headset/inputs/9", """{"lowCut":true}""", 404, "Headset has no input 10.")]
    [InlineData("PATCH", "devices/headset", """{"isMonitoring":true}""", 422, "Headset cannot play its inputs itself.")]
    [InlineData("PATCH", "apps/record-shelf", """{"volume":6}""", 422, "+6.0 dB is out of range.")]
    [InlineData("POST", "devices", """{"name":"Headset","members":["headset","pier-mic"]}""", 422, "There is a device “Headset” already.")]
    [InlineData("DELETE", "devices/headset", null, 422, "Headset is one device.")]
    public async Task What_cannot_be_is_refused_in_words_and_the_show_plays_on(string method, string path, string? body, int status, string what)
    {
        var (answered, problem) = await _server.SendAsync(new HttpMethod(method), $"/api/gear/{path}", body);
        answered.ShouldBe(status, problem.ToJsonString());
        ((string)problem["problems"]![0]!["what"]!).ShouldBe(what);
        await _server.StepAsync(1);
        (await _server.PeakAsync("mix/viewers")).ShouldBeGreaterThan(-60);
    }

    [Fact]
    public async Task A_choice_that_needs_a_restart_is_told_as_a_conflict_and_taken_with_one()
    {
        await _server.SendAsync(HttpMethod.Patch, "/api/gear/apps/beacon-encoder", """{"isRunning":true}""");
        var cable = await CableAsync("Late");
        var (status, problem) = await SetPortAsync("beacon-encoder", "main", $$"""{"type":"end","end":"cable/{{cable}}"}""");
        status.ShouldBe(409);
        ((bool)problem["needsRestart"]!).ShouldBeTrue();
        (status, _) = await _server.SendAsync(HttpMethod.Put, "/api/gear/apps/beacon-encoder/ports/main", $$$"""{"choice":{"type":"end","end":"cable/{{{cable}}}"},"restart":true}""");
        status.ShouldBe(200);
    }

    [Theory]
    [InlineData("{\"memory\":")]
    [InlineData("{}")]
    [InlineData("[]")]
    [InlineData("{\"version\":2}")]
    [InlineData("{\"version\":99,\"memory\":{}}")]
    [InlineData("{\"version\":2,\"memory\":{\"state\":{\"devices\":null,\"apps\":[],\"defaults\":[]},\"history\":[]}}")]
    [InlineData("{\"version\":2,\"memory\":{\"state\":{\"devices\":[],\"apps\":[],\"defaults\":[null,null,null,null]}}}")]
    public async Task A_file_of_the_computer_that_cannot_be_read_is_set_aside_and_the_computer_is_as_new(string text)
    {
        await _server.SendAsync(HttpMethod.Patch, "/api/gear/apps/record-shelf", """{"isPlaying":false}""");
        await _server.StopAsync();
        var file = Path.Combine(_server.Data, "practice-computer.json");
        File.Exists(file).ShouldBeTrue();
        await File.WriteAllTextAsync(file, text, Cancel);
        await _server.StartAsync();
        ((bool)(await GearAsync())["apps"]!.AsArray().Single(a => (string)a!["id"]! == "record-shelf")!["isPlaying"]!).ShouldBeTrue();
        File.Exists(file + ".damaged").ShouldBeTrue();
    }

    [Fact]
    public async Task Values_that_nobody_could_have_set_are_left_out_and_the_rest_of_the_file_is_kept()
    {
        (await _server.SendAsync(HttpMethod.Post, "/api/gear/devices", """{"name":"Pair","members":["desk-interface","pier-mic"]}""")).Status.ShouldBe(200);
        await _server.SendAsync(HttpMethod.Patch, "/api/gear/apps/record-shelf", """{"isPlaying":false}""");
        await _server.StopAsync();
        var file = Path.Combine(_server.Data, "practice-computer.json");
        var kept = JsonNode.Parse(await File.ReadAllTextAsync(file, Cancel))!;
        var state = kept["memory"]!["state"]!;
        var mic = state["devices"]!.AsArray().Single(d => (string)d!["id"]! == "pier-mic")!;
        (mic["rate"], mic["bufferFrames"], mic["inputs"]![0]!["gain"]) = (0, -1, 999);
        state["apps"]!.AsArray().Single(a => (string)a!["id"]! == "skerry-keeper")!["volume"] = 40;
        state["defaults"]![0] = "device/never-there/out";
        state["devices"]!.AsArray().Add(null);
        await File.WriteAllTextAsync(file, kept.ToJsonString(), Cancel);
        await _server.StartAsync();
        var gear = await GearAsync();
        var device = gear["devices"]!.AsArray().Single(d => (string)d!["id"]! == "pier-mic")!;
        ((int)device["rate"]!).ShouldBe(44_100);
        ((double)device["inputs"]![0]!["gain"]!).ShouldBe(30);
        gear["devices"]!.AsArray().Select(d => (string)d!["name"]!).ShouldContain("Pair");
        ((bool)gear["apps"]!.AsArray().Single(a => (string)a!["id"]! == "record-shelf")!["isPlaying"]!).ShouldBeFalse();
        ((string)Role(gear, "Playback")["end"]!).ShouldBe("device/headset/out");
    }

    private async Task<JsonNode> GearAsync() => (await _server.SendAsync(HttpMethod.Get, "/api/gear")).Body;

    private async Task<List<string>> HistoryAsync() =>
        [.. (await _server.SendAsync(HttpMethod.Get, "/api/gear/history")).Body.AsArray().Select(l => (string)l!["sentence"]!)];

    private Task<(int Status, JsonNode Body)> SetPortAsync(string app, string port, string choice) =>
        _server.SendAsync(HttpMethod.Put, $"/api/gear/apps/{app}/ports/{port}", $"{{\"choice\":{choice}}}");

    private Task<(int Status, JsonNode Body)> Command(HttpMethod method, string path, string? body = null) => _server.SendAsync(method, $"/api/shows/LIVE/{path}", body);

    private async Task<string> CableAsync(string name)
    {
        var (status, show) = await Command(HttpMethod.Post, "cables", $$"""{"name":"{{name}}"}""");
        status.ShouldBe(200);
        return (string)show["cables"]!.AsArray().Single(c => (string)c!["name"]! == name)!["id"]!;
    }

    // The highest sample of the last seconds, dBFS, as the engine's meters say.
    private static JsonNode Role(JsonNode gear, string role) => gear["roles"]!.AsArray().Single(r => (string)r!["role"]! == role)!;

    private static JsonNode Port(JsonNode gear, string app, string port) =>
        gear["apps"]!.AsArray().Single(a => (string)a!["id"]! == app)!["ports"]!.AsArray().Single(p => (string)p!["id"]! == port)!;
}

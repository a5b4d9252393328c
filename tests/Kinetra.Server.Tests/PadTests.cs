using System.IO.Compression;
using System.Net.WebSockets;
using System.Runtime.InteropServices;
using System.Text;
using System.Text.Json.Nodes;

namespace Kinetra.Server.Tests;

/// <summary>Pads: sets and what lies in them, what is heard of them and by whom, and what survives.</summary>
public sealed class PadTests(RunningServer server) : IClassFixture<RunningServer>, IAsyncLifetime
{
    public async ValueTask InitializeAsync() => await server.OpenFreshShowAsync();

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    [Fact]
    public async Task A_first_pad_brings_its_source_and_is_heard_by_those_who_hear_that_and_by_nobody_else()
    {
        var (set, pad) = await PadAsync();
        var show = await server.ShowAsync();
        var source = show["sources"]!.AsArray().Single(s => (string)s!["input"]!["type"]! == "pads")!;
        ((string)source["kind"]!).ShouldBe("Pads");
        ((string)show["padSets"]![0]!["id"]!).ShouldBe(set);
        ((string)show["toUndo"]!["sentence"]!).ShouldContain("Added the pad tone");

        // One undo takes back all of it.
        await server.UndoAsync();
        (await server.ShowAsync())["padSets"]![0]!["pads"]!.AsArray().Count.ShouldBe(0);
        (await server.ShowAsync())["sources"]!.AsArray().ShouldAllBe(s => (string)s!["input"]!["type"]! != "pads");
        await server.RedoAsync();
        await AloneAsync((string)source["id"]!, "viewers");
        (await server.PeakAsync("mix/viewers")).ShouldBeLessThan(-100);
        (await server.SendAsync(HttpMethod.Post, $"/api/shows/LIVE/pads/{pad}/press", "{}")).Status.ShouldBe(204);
        await server.StepAsync(0.5);
        (await server.PeakAsync("mix/viewers")).ShouldBe(-23, 0.2, "a tone of −20 dBFS in the middle of two channels");
        (await server.PeakAsync("mix/guest-hears")).ShouldBeLessThan(-100);
    }

    [Fact]
    public async Task A_press_begins_within_a_block_and_what_sounds_is_told_until_it_ends()
    {
        var (_, pad) = await PadAsync(seconds: 0.5);
        using var look = await server.LookAsync("pads");
        (await LayoutAsync(look)).ShouldBeEmpty();
        await server.SendAsync(HttpMethod.Post, $"/api/shows/LIVE/pads/{pad}/press", """{"level":-6}""");
        await server.StepAsync(0.25);
        (await LayoutAsync(look)).ShouldBe([pad]);
        float part;
        do
        {
            var (_, values) = await RunningServer.ReceiveAsync(look);
            part = MemoryMarshal.Cast<byte, float>(values.AsSpan(values.Length - 8))[0];
        }
        while (part < 0.49f);
        part.ShouldBe(0.5f, 0.03f);
        await server.StepAsync(0.5);
        string[] now;
        do
        {
            now = await LayoutAsync(look);
        }
        while (now.Length > 0);
    }

    [Fact]
    public async Task What_sounds_goes_on_when_another_set_is_taken_and_ends_when_its_pad_is_removed()
    {
        var (set, pad) = await PadAsync(seconds: 20);
        var (_, other) = await server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/pad-sets", """{"name":"Other"}""");
        var second = (string)other["padSets"]![1]!["id"]!;
        ((string)(await server.SendAsync(HttpMethod.Get, "/api/shows/LIVE/pads")).Body["atHand"]!).ShouldBe(set);
        await server.SendAsync(HttpMethod.Post, $"/api/shows/LIVE/pads/{pad}/press", "{}");
        (await server.SendAsync(HttpMethod.Put, "/api/shows/LIVE/pads/at-hand", $$"""{"set":"{{second}}"}""")).Status.ShouldBe(204);
        await server.StepAsync(0.5);
        var source = await SourceAsync();
        await AloneAsync(source, "viewers");
        (await server.PeakAsync("mix/viewers")).ShouldBe(-23, 0.2);
        (await server.SendAsync(HttpMethod.Delete, $"/api/shows/LIVE/pads/{pad}")).Status.ShouldBe(200);
        await server.StepAsync(4);
        (await server.PeakAsync("mix/viewers")).ShouldBeLessThan(-100);

        // The set that was taken is at hand after a restart, too; and so are pads and their sounds.
        await server.UndoAsync();
        await server.StopAsync();
        await server.StartAsync();
        ((string)(await server.SendAsync(HttpMethod.Get, "/api/shows/LIVE/pads")).Body["atHand"]!).ShouldBe(second);
        (await server.SendAsync(HttpMethod.Post, $"/api/shows/LIVE/pads/{pad}/press", "{}")).Status.ShouldBe(204);
        await server.StepAsync(1);
        (await server.PeakAsync("mix/viewers")).ShouldBe(-23, 0.2);
    }

    [Fact]
    public async Task A_gain_that_is_changed_while_it_sounds_is_heard_and_a_pad_whose_source_is_gone_is_silent_and_says_so()
    {
        var (_, pad) = await PadAsync(seconds: 20);
        var source = await SourceAsync();
        await AloneAsync(source, "viewers");
        await server.SendAsync(HttpMethod.Post, $"/api/shows/LIVE/pads/{pad}/press", "{}");
        (await server.SendAsync(HttpMethod.Patch, $"/api/shows/LIVE/pads/{pad}", """{"gain":-12,"group":"beds","play":"Loop"}""")).Status.ShouldBe(200);
        await server.StepAsync(4);
        (await server.PeakAsync("mix/viewers")).ShouldBe(-35, 0.2);
        (await server.SendAsync(HttpMethod.Delete, $"/api/shows/LIVE/sources/{source}")).Status.ShouldBe(200);
        (await server.SendAsync(HttpMethod.Post, $"/api/shows/LIVE/pads/{pad}/press", "{}")).ShouldSayWhatWhereAndWhatIsAllowed(422, "pad");
        var silent = (await server.SendAsync(HttpMethod.Get, "/api/shows/LIVE/pads")).Body["silent"]!.AsArray().ShouldHaveSingleItem()!;
        ((string)silent["pad"]!).ShouldBe(pad);
        ((string)silent["why"]!).ShouldContain("source");
    }

    [Fact]
    public async Task Of_what_was_just_heard_of_a_source_or_a_mix_a_pad_is_made_that_can_be_trimmed()
    {
        var (_, show) = await server.UploadAsync(AnalysisTests.Tone(0.1), "hum.wav", loop: true);
        var hum = (string)show["sources"]!.AsArray().Single(s => (string)s!["name"]! == "hum")!["id"]!;
        var (_, added) = await server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/pad-sets", "{}");
        var set = (string)added["padSets"]![0]!["id"]!;
        await server.StepAsync(12);
        var (status, made) = await server.SendAsync(HttpMethod.Post, $"/api/shows/LIVE/pad-sets/{set}/heard", $$"""{"of":"source/{{hum}}","seconds":3,"key":"KeyF"}""");
        status.ShouldBe(200, made.ToJsonString());
        var pad = made["padSets"]![0]!["pads"]![0]!;
        ((string)pad["name"]!).ShouldBe("hum just now");
        ((double)pad["end"]! - (double)pad["begin"]!).ShouldBe(3000, 1);
        ((double)pad["begin"]!).ShouldBeGreaterThan(8000, "all that is kept stays its sound");
        (await server.SendAsync(HttpMethod.Post, $"/api/shows/LIVE/pad-sets/{set}/heard", """{"of":"mix/viewers","seconds":2}""")).Status.ShouldBe(200);

        // Between two presses.
        var since = (long)(await server.SendAsync(HttpMethod.Get, "/api/shows/LIVE/recent")).Body.AsArray().First()!["until"]!;
        await server.StepAsync(2);
        var (_, third) = await server.SendAsync(HttpMethod.Post, $"/api/shows/LIVE/pad-sets/{set}/heard", $$"""{"of":"source/{{hum}}","from":{{since}}}""");
        var between = third["padSets"]![0]!["pads"]![2]!;
        ((double)between["end"]!).ShouldBe(2000, 60);
        ((double)between["begin"]!).ShouldBe(0);

        (await server.SendAsync(HttpMethod.Post, $"/api/shows/LIVE/pad-sets/{set}/heard", """{"of":"source/nobody","seconds":2}""")).ShouldSayWhatWhereAndWhatIsAllowed(404, "of");
        (await server.SendAsync(HttpMethod.Post, $"/api/shows/LIVE/pad-sets/{set}/heard", $$"""{"of":"source/{{hum}}"}""")).ShouldSayWhatWhereAndWhatIsAllowed(422, "seconds");
    }

    [Fact]
    public async Task A_set_goes_out_with_its_sounds_and_comes_in_again_as_it_was()
    {
        var (set, pad) = await PadAsync(seconds: 1);
        await server.SendAsync(HttpMethod.Patch, $"/api/shows/LIVE/pads/{pad}", """{"name":"Bell","key":"KeyB","gain":-7.5,"play":"Over","fadeOut":120,"dim":6,"group":"bells","look":{"color":3,"shape":4}}""");
        var bytes = await server.Http.GetByteArrayAsync($"/api/shows/{await server.LiveAsync()}/pad-sets/{set}/file", TestContext.Current.CancellationToken);
        using (var zip = new ZipArchive(new MemoryStream(bytes)))
        {
            zip.Entries.Select(e => Path.GetExtension(e.Name)).ShouldBe([".json", ".wav"]);
        }

        var (status, show) = await SendFileAsync("pad-sets/file", bytes, "set.zip");
        status.ShouldBe(200, show.ToJsonString());
        var sets = show["padSets"]!.AsArray();
        sets.Count.ShouldBe(2);
        Without(sets[1]!["pads"]![0]!).ShouldBe(Without(sets[0]!["pads"]![0]!));

        static string Without(JsonNode pad)
        {
            var copy = pad.DeepClone().AsObject();
            copy.Remove("id");
            return copy.ToJsonString();
        }
    }

    [Theory]
    [InlineData("no zip")]
    [InlineData("no text")]
    [InlineData("wrong text")]
    [InlineData("no sound")]
    [InlineData("broken sound")]
    public async Task A_set_that_cannot_be_read_is_refused_with_what_is_wrong_and_nothing_is_added(string how)
    {
        using var made = new MemoryStream();
        using (var zip = new ZipArchive(made, ZipArchiveMode.Create, leaveOpen: true))
        {
            if (how != "no text")
            {
                Write(zip, "pad-set.json", Encoding.UTF8.GetBytes(how == "wrong text"
                    ? """{"format":"kinetra-pad-set","version":"1","name":"x","pads":[{"name":"","sound":"a.wav","end":5}]}"""
                    : """{"format":"kinetra-pad-set","version":"1","name":"x","pads":[{"name":"a","sound":"a.wav","end":500}]}"""));
            }

            if (how == "broken sound")
            {
                Write(zip, "a.wav", [1, 2, 3]);
            }
        }

        (await SendFileAsync("pad-sets/file", how == "no zip" ? [1, 2, 3, 4] : made.ToArray(), "set.zip")).ShouldSayWhatWhereAndWhatIsAllowed(422, how == "wrong text" ? "pads[0].name" : "file");
        (await server.ShowAsync())["padSets"]!.AsArray().ShouldBeEmpty();

        static void Write(ZipArchive zip, string name, byte[] bytes)
        {
            using var entry = zip.CreateEntry(name).Open();
            entry.Write(bytes);
        }
    }

    [Fact]
    public async Task What_is_no_sound_is_refused_by_its_name_and_a_set_takes_no_more_than_it_takes()
    {
        (await SendFileAsync("pad-sounds", "no sound at all"u8.ToArray(), "letter.txt")).ShouldSayWhatWhereAndWhatIsAllowed(422, "file");
        var (_, refused) = await SendFileAsync("pad-sounds", "no sound at all"u8.ToArray(), "letter.txt");
        ((string)refused["problems"]![0]!["what"]!).ShouldContain("letter.txt");
        var (set, pad) = await PadAsync();
        var sound = (string)(await server.ShowAsync())["padSets"]![0]!["pads"]![0]!["sound"]!;
        var many = string.Join(',', Enumerable.Repeat($$"""{"sound":"{{sound}}"}""", 100));
        (await server.SendAsync(HttpMethod.Post, $"/api/shows/LIVE/pad-sets/{set}/pads", $$"""{"pads":[{{many}}]}""")).ShouldSayWhatWhereAndWhatIsAllowed(422, "padSets[0].pads");
        (await server.SendAsync(HttpMethod.Post, $"/api/shows/LIVE/pad-sets/{set}/pads", $$"""{"pads":[{"sound":"{{new string('0', 64)}}"}]}""")).ShouldSayWhatWhereAndWhatIsAllowed(422, "pads[0].sound");
        (await server.SendAsync(HttpMethod.Patch, $"/api/shows/LIVE/pads/{pad}", """{"key":"Escape"}""")).ShouldSayWhatWhereAndWhatIsAllowed(422, "padSets[0].pads[0].key");
        (await server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/pads/nobody/press", "{}")).ShouldSayWhatWhereAndWhatIsAllowed(404, "pad");
    }

    [Fact]
    public async Task How_loud_a_pad_is_for_each_listener_is_told_beside_the_voice_and_the_whole_set_is_put_where_it_is_wished()
    {
        var (set, pad) = await PadAsync(seconds: 2);
        var source = await SourceAsync();
        await server.StepAsync(20);
        var (_, now) = await server.SendAsync(HttpMethod.Get, $"/api/shows/LIVE/pads/{pad}/loudness");
        ((double)now["momentary"]!).ShouldBe(-23.4, 0.2);
        ((double)now["peak"]!).ShouldBe(-23, 0.2);
        var viewers = now["mixes"]!.AsArray().Single(m => (string)m!["mix"]! == "viewers")!;
        ((string)viewers["speaker"]!).ShouldNotBeNullOrEmpty("somebody has spoken");
        (await server.SendAsync(HttpMethod.Put, $"/api/shows/LIVE/pad-sets/{set}/levels", """{"wish":"ABitUnder"}""")).Status.ShouldBe(200);
        var (_, after) = await server.SendAsync(HttpMethod.Get, $"/api/shows/LIVE/pads/{pad}/loudness");
        after["mixes"]!.AsArray().Max(m => (double)m!["pad"]! - (double)m["voice"]!).ShouldBe(-4, 0.5);
        var (_, proposed) = await server.SendAsync(HttpMethod.Get, $"/api/shows/LIVE/pads/{pad}/loudness?wish=AsLoudAsTheVoice");
        ((double)proposed["gain"]! - (double)(await server.ShowAsync())["padSets"]![0]!["pads"]![0]!["gain"]!).ShouldBe(4, 0.5);
        await server.SendAsync(HttpMethod.Delete, $"/api/shows/LIVE/sources/{source}");
        (await server.SendAsync(HttpMethod.Put, $"/api/shows/LIVE/pad-sets/{set}/levels", """{"wish":"ABitUnder"}""")).ShouldSayWhatWhereAndWhatIsAllowed(422, "pads");
    }

    [Fact]
    public async Task A_preview_is_the_pad_as_it_would_sound_and_nobody_else_hears_it()
    {
        var (_, pad) = await PadAsync(seconds: 1);
        await AloneAsync(await SourceAsync(), "viewers");
        var bytes = await server.Http.GetByteArrayAsync($"/api/shows/{await server.LiveAsync()}/pads/{pad}/preview", TestContext.Current.CancellationToken);
        bytes.Length.ShouldBe(44 + (48_000 * 4));
        var samples = MemoryMarshal.Cast<byte, short>(bytes.AsSpan(44)).ToArray();
        (20 * Math.Log10(samples.Max() / 32_767.0)).ShouldBe(-23, 0.1);
        await server.StepAsync(0.5);
        (await server.PeakAsync("mix/viewers")).ShouldBeLessThan(-100);
    }

    [Fact]
    public async Task The_waveform_of_a_sound_is_its_highest_samples_from_beginning_to_end()
    {
        var (status, sound) = await SendFileAsync("pad-sounds", Tone(1), "a tone.wav");
        status.ShouldBe(200);
        ((double)sound["seconds"]!).ShouldBe(1, 1e-6);
        ((string)sound["name"]!).ShouldBe("a tone");
        var columns = Convert.FromBase64String((string)sound["columns"]!);
        columns.Length.ShouldBe(400);
        columns.ShouldAllBe(c => c == 26 || c == 25);
        ((string)(await server.SendAsync(HttpMethod.Get, $"/api/pad-sounds/{sound["sound"]}")).Body["columns"]!).ShouldBe((string)sound["columns"]!);
    }

    [Fact]
    public async Task Cues_are_gone_through_by_one_press_each_and_what_follows_by_itself_follows_and_what_was_done_can_be_done_again()
    {
        var (_, pad) = await PadAsync(seconds: 0.5);
        await AloneAsync(await SourceAsync(), "viewers");
        var (_, first) = await server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/cues", $$"""{"name":"Bell","acts":[{"type":"play","pad":"{{pad}}"}]}""");
        var (_, second) = await server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/cues", $$"""{"name":"Again","acts":[{"type":"play","pad":"{{pad}}"}]}""");
        var ids = second["cues"]!.AsArray().Select(c => (string)c!["id"]!).ToArray();
        (await server.SendAsync(HttpMethod.Patch, $"/api/shows/LIVE/cues/{ids[1]}", """{"begin":"AfterPrevious","wait":1000,"notes":"softly"}""")).Status.ShouldBe(200);
        ((string)(await RunAsync())["next"]!).ShouldBe(ids[0]);
        var (status, run) = await server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/cue-run/go", "{}");
        status.ShouldBe(200);
        ((string)run["next"]!).ShouldBe(ids[1]);
        ((double)run["due"]!).ShouldBe(1.51, 0.02);
        await server.StepAsync(0.4);
        (await server.PeakAsync("mix/viewers")).ShouldBe(-23, 0.2);
        await server.StepAsync(0.9);

        // Somebody changes the list while the second waits: it follows all the same.
        (await server.SendAsync(HttpMethod.Patch, $"/api/shows/LIVE/cues/{ids[0]}", """{"name":"The bell"}""")).Status.ShouldBe(200);
        await server.StepAsync(0.5);
        (await server.PeakAsync("mix/viewers")).ShouldBe(-23, 0.2);
        ((string?)(await RunAsync())["next"]).ShouldBeNull();
        ((string)(await RunAsync())["last"]!).ShouldBe(ids[1]);
        (await server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/cue-run/go", "{}")).ShouldSayWhatWhereAndWhatIsAllowed(422, "cues");

        // Held, it does not; another can be next.
        (await server.SendAsync(HttpMethod.Put, "/api/shows/LIVE/cue-run/next", $$"""{"cue":"{{ids[0]}}"}""")).Status.ShouldBe(200);
        (await server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/cue-run/go", "{}")).Status.ShouldBe(200);
        (await server.SendAsync(HttpMethod.Put, "/api/shows/LIVE/cue-run/hold", """{"on":true}""")).Status.ShouldBe(200);
        await server.StepAsync(8);
        (await server.PeakAsync("mix/viewers")).ShouldBeLessThan(-100);
        ((bool)(await RunAsync())["held"]!).ShouldBeTrue();
        (await server.SendAsync(HttpMethod.Put, "/api/shows/LIVE/cue-run/hold", """{"on":false}""")).Status.ShouldBe(200);
        await server.StepAsync(0.4);
        (await server.PeakAsync("mix/viewers")).ShouldBe(-23, 0.2);
        (await RunAsync())["hands"]!.AsArray().Count.ShouldBe(2);
        ((double)(await RunAsync())["hands"]![1]!).ShouldBeGreaterThan(1);
        (await server.SendAsync(HttpMethod.Put, "/api/shows/LIVE/cue-run/next", """{"cue":"nobody"}""")).ShouldSayWhatWhereAndWhatIsAllowed(422, "cue");
        (await server.SendAsync(HttpMethod.Patch, $"/api/shows/LIVE/cues/{ids[0]}", """{"wait":-1}""")).ShouldSayWhatWhereAndWhatIsAllowed(422, "cues[0].wait");
        (await server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/cue-run/begin", "{}")).Status.ShouldBe(200);
        ((string)(await RunAsync())["next"]!).ShouldBe(ids[0]);
        (await RunAsync())["hands"]!.AsArray().ShouldBeEmpty();
        first.ShouldNotBeNull();

        async Task<JsonNode> RunAsync() => (await server.SendAsync(HttpMethod.Get, "/api/shows/LIVE/cue-run")).Body;
    }

    [Fact]
    public async Task A_cue_recalls_levels_ends_and_begins_music_and_sets_a_mark_heard_at_its_frame_and_one_step_of_the_show_each()
    {
        var (_, show) = await server.UploadAsync(Tone(1), "bed.wav", loop: true);
        var bed = (string)show["sources"]!.AsArray()[^1]!["id"]!;
        await AloneAsync(bed, "viewers");
        var level = $$"""{"mix":"viewers","source":"{{bed}}","gain":-10,"heard":true,"muted":false}""";
        await AddAsync("Softer", $$"""[{"type":"levels","levels":[{{level}}],"over":1000},{"type":"mark","words":""}]""");
        await AddAsync("Out", $$"""[{"type":"music","source":"{{bed}}","on":false,"over":0}]""");
        await AddAsync("Back", $$"""[{"type":"music","source":"{{bed}}","on":true,"over":0},{"type":"mark","words":"And back"}]""");
        (await server.SendAsync(HttpMethod.Post, "/api/takes", "{}")).Status.ShouldBe(200);
        await server.StepAsync(1);
        (await server.PeakAsync("mix/viewers")).ShouldBe(-23, 0.2);
        await GoAsync();
        await server.StepAsync(0.5);
        (await server.PeakAsync("mix/viewers")).ShouldBeInRange(-29, -24, "on its way");
        await server.StepAsync(1);
        (await server.PeakAsync("mix/viewers")).ShouldBe(-33, 0.2);
        await RunningServer.UntilAsync(async () => (await SendAsync())["gain"]!.GetValue<double>() == -10);
        ((string)(await server.ShowAsync())["toUndo"]!["sentence"]!).ShouldContain("bed in Viewers");

        await GoAsync();
        await server.StepAsync(0.5);
        (await server.PeakAsync("mix/viewers")).ShouldBeLessThan(-100);
        await RunningServer.UntilAsync(async () => (bool)(await SendAsync())["muted"]!);
        await GoAsync();
        await server.StepAsync(0.5);
        (await server.PeakAsync("mix/viewers")).ShouldBe(-33, 0.2);
        await RunningServer.UntilAsync(async () => !(bool)(await SendAsync())["muted"]!);
        for (var n = 0; n < 3; n++)
        {
            (await server.UndoAsync()).Status.ShouldBe(200);
        }

        await server.StepAsync(0.3);
        (await server.PeakAsync("mix/viewers")).ShouldBe(-23, 0.2);
        var (_, take) = await server.SendAsync(HttpMethod.Post, "/api/takes/current/stop");
        take["marks"]!.AsArray().Select(m => (string)m!["words"]!).ShouldBe(["Softer", "And back"]);
        ((double)take["marks"]![0]!["at"]!).ShouldBe(1.01, 0.02);

        var cue = (string)(await server.ShowAsync())["cues"]![0]!["id"]!;
        (await server.SendAsync(HttpMethod.Patch, $"/api/shows/LIVE/cues/{cue}", $$"""{"acts":[{"type":"levels","levels":[{{level}},{{level}}],"over":0}]}""")).ShouldSayWhatWhereAndWhatIsAllowed(422, "cues[0].acts[0].levels[1]");
        (await server.SendAsync(HttpMethod.Patch, $"/api/shows/LIVE/cues/{cue}", """{"acts":[{"type":"music","source":"x","on":true,"over":-1}]}""")).ShouldSayWhatWhereAndWhatIsAllowed(422, "cues[0].acts[0].over");

        async Task AddAsync(string name, string acts) =>
            (await server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/cues", $$"""{"name":"{{name}}","acts":{{acts}}}""")).Status.ShouldBe(200);

        async Task GoAsync() => (await server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/cue-run/go", "{}")).Status.ShouldBe(200);

        async Task<JsonNode> SendAsync() => (await server.ShowAsync())["mixes"]!.AsArray().Single(m => (string)m!["id"]! == "viewers")!["sends"]!.AsArray().Single(s => (string)s!["source"]! == bed)!;
    }

    private async Task<(string Set, string Pad)> PadAsync(double seconds = 2)
    {
        var (_, added) = await server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/pad-sets", "{}");
        var set = (string)added["padSets"]!.AsArray()[^1]!["id"]!;
        var (status, sound) = await SendFileAsync("pad-sounds", Tone(seconds), "tone.wav");
        status.ShouldBe(200, sound.ToJsonString());
        var (done, show) = await server.SendAsync(HttpMethod.Post, $"/api/shows/LIVE/pad-sets/{set}/pads", $$"""{"pads":[{"sound":"{{sound["sound"]}}"}]}""");
        done.ShouldBe(200, show.ToJsonString());
        return (set, (string)show["padSets"]!.AsArray()[^1]!["pads"]![0]!["id"]!);
    }

    private async Task<string> SourceAsync() =>
        (string)(await server.ShowAsync())["sources"]!.AsArray().Single(s => (string)s!["input"]!["type"]! == "pads")!["id"]!;

    // This source alone, and in this mix alone, at 0 dB, with nothing else that works on levels.
    private async Task AloneAsync(string source, string mix)
    {
        var show = await server.ShowAsync();
        foreach (var m in show["mixes"]!.AsArray())
        {
            foreach (var send in m!["sends"]!.AsArray())
            {
                var isHeard = (string)m["id"]! == mix && (string)send!["source"]! == source;
                (await server.SendAsync(HttpMethod.Patch, $"/api/shows/LIVE/mixes/{m["id"]}/sends/{send!["source"]}", isHeard ? """{"heard":true,"gain":0}""" : """{"heard":false}""")).Status.ShouldBe(200);
            }
        }

        await server.StepAsync(4);
    }

    private async Task<(int Status, JsonNode Body)> SendFileAsync(string to, byte[] file, string name)
    {
        using var form = new MultipartFormDataContent { { new ByteArrayContent(file), "file", name } };
        using var request = new HttpRequestMessage(HttpMethod.Post, $"/api/shows/LIVE/{to}") { Content = form };
        return await server.SendAsync(request);
    }

    private static async Task<string[]> LayoutAsync(ClientWebSocket socket)
    {
        while (true)
        {
            var (type, data) = await RunningServer.ReceiveAsync(socket);
            if (type == WebSocketMessageType.Text)
            {
                return [.. JsonNode.Parse(data)!["values"]!["pads"]!.AsArray().Select(p => (string)p!)];
            }
        }
    }

    // 750 Hz at −20 dBFS, from zero to zero: whole periods.
    private static byte[] Tone(double seconds)
    {
        var frames = (int)(seconds * 48_000);
        var bytes = new byte[44 + (2 * frames)];
        using var writer = new BinaryWriter(new MemoryStream(bytes));
        writer.Write("RIFF"u8);
        writer.Write(bytes.Length - 8);
        writer.Write("WAVEfmt "u8);
        writer.Write(16);
        writer.Write((short)1);
        writer.Write((short)1);
        writer.Write(48_000);
        writer.Write(96_000);
        writer.Write((short)2);
        writer.Write((short)16);
        writer.Write("data"u8);
        writer.Write(2 * frames);
        for (var n = 0; n < frames; n++)
        {
            writer.Write((short)Math.Round(3_276.7 * Math.Sin(2 * Math.PI * 750 * n / 48_000)));
        }

        return bytes;
    }
}

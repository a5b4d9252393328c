using System.Text.Json.Nodes;
using Kinetra.Core.Engine;
using Kinetra.Media;

namespace Kinetra.Server.Tests;

/// <summary>What a take records is planned, and what it recorded is judged.</summary>
public sealed class TrackTests(RunningServer server) : IClassFixture<RunningServer>, IAsyncLifetime
{
    private const string Tracks = "/api/shows/LIVE/tracks";

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    public async ValueTask InitializeAsync()
    {
        await server.OpenFreshShowAsync();

        // Whatever part of their sounds the stand-ins are in, the blend has room: it is judged too.
        (await server.SendAsync(HttpMethod.Patch, "/api/shows/LIVE/mixes/viewers", """{"gain":-18}""")).Status.ShouldBe(200);
    }

    // A test that fails leaves no take behind that the next one would stumble over.
    public async ValueTask DisposeAsync() => await server.SendAsync(HttpMethod.Post, "/api/takes/current/stop");

    [Fact]
    public async Task A_take_has_the_tracks_that_are_planned_in_their_order_and_form_and_leaves_out_what_is_not_armed()
    {
        await AddAsync("""{"takes":"mix/viewers","name":"Blend"}""");
        await AddAsync("""{"takes":"source/host-mic"}""", """{"form":"Flac"}""");
        await AddAsync("""{"takes":"source/host-mic/before"}""", """{"width":"Stereo","form":"Wav32","fileName":"Host as it comes"}""");
        await AddAsync("""{"takes":"source/sea-mic"}""", """{"armed":false}""");
        await AddAsync("""{"takes":"source/record-shelf","name":"A/B"}""", """{"width":"Mono","form":"Wav16","index":0}""");
        var plan = (await server.SendAsync(HttpMethod.Get, "/api/shows/LIVE/take-plan")).Body;
        ((string)plan["sentence"]!).ShouldStartWith("4 tracks: 3 sources apart, 1 blend; ");
        ((string)plan["room"]!).ShouldContain(" free");
        var take = await RecordAsync(2);
        take["tracks"]!.AsArray().Select(t => ((string)t!["name"]!, (string)t["form"]!, (int)t["channels"]!)).ShouldBe(
            [("A/B", "Wav16", 1), ("Blend", "Wav24", 2), ("Host mic", "Flac", 1), ("Host mic before its chain", "Wav32", 2)]);
        Directory.GetFiles((string)take["folder"]!).Select(Path.GetFileName).ShouldBe(
            ["01 A-B.wav", "02 Blend.wav", "03 Host mic.flac", "Host as it comes.wav", "take.json", "take.prints", "report.txt"], ignoreOrder: true);
        ((string)(await JudgedAsync(take))["standing"]!).ShouldBe("Sound");
        foreach (var track in take["tracks"]!.AsArray())
        {
            using var response = await server.Http.GetAsync($"/api/takes/{take["id"]}/tracks/{track!["id"]}/file", Cancel);
            response.Content.Headers.ContentType!.MediaType.ShouldBe((string)track["form"]! == "Flac" ? "audio/flac" : "audio/wav");
        }

        // One channel is on both sides.
        var (host, wide) = (Sound(take, "03 Host mic.flac"), Sound(take, "Host as it comes.wav"));
        wide.Right.ShouldBe(wide.Left);
        host.Frames.ShouldBe(wide.Frames);
    }

    [Fact]
    public async Task What_is_offered_is_one_step_and_without_any_plan_everything_is_recorded_again()
    {
        (await server.SendAsync(HttpMethod.Post, $"{Tracks}/proposed", "{}")).Status.ShouldBe(200);
        var show = await server.ShowAsync();
        show["tracks"]!.AsArray().Select(t => (string)t!["name"]!).ShouldBe(["Blend", "Host mic", "Sea mic", "Guest call", "Crew talk", "Skerry Keeper", "Record shelf"]);
        ((string)show["toUndo"]!["sentence"]!).ShouldBe("Planned 7 tracks");
        await server.UndoAsync();
        (await server.ShowAsync())["tracks"]!.AsArray().ShouldBeEmpty();
        await server.RedoAsync();
        (await server.SendAsync(HttpMethod.Delete, Tracks)).Status.ShouldBe(200);
        ((string)(await server.SendAsync(HttpMethod.Get, "/api/shows/LIVE/take-plan")).Body["sentence"]!).ShouldStartWith("9 tracks: 6 sources apart, 3 mixes; ");
    }

    [Fact]
    public async Task Every_form_is_recorded_read_back_and_judged_and_other_programs_read_it()
    {
        foreach (var form in new[] { "Wav24", "Wav16", "Wav32", "Flac", "Mp3", "Opus" })
        {
            await AddAsync($$"""{"takes":"source/host-mic","name":"{{form}}"}""", $$"""{"form":"{{form}}"}""");
        }

        var take = await RecordAsync(6);
        var verdict = await JudgedAsync(take);
        ((string)verdict["standing"]!).ShouldBe("Sound", verdict.ToJsonString());
        foreach (var track in take["tracks"]!.AsArray())
        {
            var file = Directory.GetFiles((string)take["folder"]!, $"0{track!["ordinal"]} *").Single();
            using var other = System.Diagnostics.Process.Start(new System.Diagnostics.ProcessStartInfo("ffprobe", ["-v", "error", "-show_entries", "stream=sample_rate,channels:format=duration", "-of", "default=nk=1:nw=1", file]) { RedirectStandardOutput = true })!;
            var told = (await other.StandardOutput.ReadToEndAsync(Cancel)).Split('\n');
            told[..2].ShouldBe(["48000", "1"], file);
            double.Parse(told[2], System.Globalization.CultureInfo.InvariantCulture).ShouldBe((double)take["seconds"]!, 0.1, file);
        }
    }

    [Fact]
    public async Task A_plan_with_nothing_armed_and_what_cannot_be_planned_are_refused_with_words()
    {
        await AddAsync("""{"takes":"mix/viewers"}""", """{"armed":false}""");
        (await server.SendAsync(HttpMethod.Post, "/api/takes", "{}")).ShouldSayWhatWhereAndWhatIsAllowed(409, "tracks");
        (await server.SendAsync(HttpMethod.Post, Tracks, """{"takes":"mix/viewers","name":"viewers"}""")).ShouldSayWhatWhereAndWhatIsAllowed(422, "tracks[1].name");
        (await server.SendAsync(HttpMethod.Post, Tracks, """{"takes":"source/nobody"}""")).ShouldSayWhatWhereAndWhatIsAllowed(422, "tracks[1].takes");
        (await server.SendAsync(HttpMethod.Patch, $"{Tracks}/none", """{"armed":true}""")).ShouldSayWhatWhereAndWhatIsAllowed(404, "track");
        var id = (string)(await server.ShowAsync())["tracks"]![0]!["id"]!;
        (await server.SendAsync(HttpMethod.Patch, $"{Tracks}/{id}", """{"fileName":"up/down"}""")).ShouldSayWhatWhereAndWhatIsAllowed(422, "tracks[0].fileName");
        (await server.SendAsync(HttpMethod.Put, "/api/shows/LIVE/recording", """{"form":"Tape"}""")).Status.ShouldBe(400);
    }

    [Fact]
    public async Task A_track_that_gets_another_s_sound_is_found_out_when_the_take_ends()
    {
        // Both take the same channel of the same box: only one of them is what its name says.
        var host = (await server.ShowAsync())["sources"]!.AsArray().Single(s => (string)s!["id"]! == "host-mic")!;
        var (added, answer) = await server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/sources/taken", $$"""{"name":"Co-host mic","kind":"Microphone","input":{{host["input"]!.ToJsonString()}}}""");
        added.ShouldBe(200, answer.ToJsonString());
        (await server.SendAsync(HttpMethod.Post, $"{Tracks}/proposed", "{}")).Status.ShouldBe(200);
        var take = await RecordAsync(4);
        var verdict = await JudgedAsync(take);
        ((string)verdict["standing"]!).ShouldBe("Wrong");
        ((string)verdict["sentence"]!).ShouldBe("2 of 8 tracks are not what they should be. Host mic: It has the same sound as Co-host mic.", verdict.ToJsonString());
    }

    [Fact]
    public async Task What_is_removed_and_brought_back_in_mid_take_has_every_sample_on_its_track()
    {
        await AddAsync("""{"takes":"source/host-mic"}""");
        await AddAsync("""{"takes":"source/record-shelf"}""");
        await AddAsync("""{"takes":"mix/guest-hears","name":"Guest’s mix"}""");
        (await server.SendAsync(HttpMethod.Post, "/api/takes", "{}")).Status.ShouldBe(200);
        foreach (var what in new[] { "sources/host-mic", "sources/record-shelf", "mixes/guest-hears" })
        {
            await server.StepAsync(0.7);
            (await server.SendAsync(HttpMethod.Delete, $"/api/shows/LIVE/{what}")).Status.ShouldBe(200);
        }

        await server.StepAsync(0.7);
        while ((await server.ShowAsync())["sources"]!.AsArray().Count < 6)
        {
            (await server.UndoAsync()).Status.ShouldBe(200);
        }

        await server.StepAsync(1.3);
        var take = (await server.SendAsync(HttpMethod.Post, "/api/takes/current/stop")).Body;
        ((string)(await JudgedAsync(take))["standing"]!).ShouldBe("Sound");
        take["tracks"]!.AsArray().ShouldAllBe(t => t!["gaps"]!.AsArray().Count == 0);

        // Against what the stand-in plays, round and round.
        var (shelf, given) = (Sound(take, "02 Record shelf.wav").Left, RunningServer.SoundOf("record-shelf"));
        var start = Enumerable.Range(0, given.Length).Single(s => Enumerable.Range(24_000, 400).All(n => IsSame(shelf[n], given[(s + n) % given.Length])));
        shelf.Length.ShouldBeGreaterThan(4 * 48_000);
        Enumerable.Range(0, shelf.Length).Count(n => !IsSame(shelf[n], given[(start + n) % given.Length])).ShouldBe(0);
        var heard = Sound(take, "03 Guest’s mix.wav").Left;
        Enumerable.Range(0, heard.Length / 4_800).ShouldAllBe(t => heard.AsSpan(t * 4_800, 4_800).ToArray().Any(x => x != 0));

        static bool IsSame(float one, float other) => Math.Abs(one - other) < 1e-6;
    }

    [Fact]
    public async Task A_take_that_begins_while_the_one_before_still_ends_keeps_what_it_takes()
    {
        (await server.SendAsync(HttpMethod.Post, "/api/takes", "{}")).Status.ShouldBe(200);
        await server.StepAsync(0.3);

        // Quick hands: as soon as it may begin, it does.
        var stopping = server.SendAsync(HttpMethod.Post, "/api/takes/current/stop");
        while ((await server.SendAsync(HttpMethod.Post, "/api/takes", "{}")).Status != 200)
        {
            await Task.Yield();
        }

        (await stopping).Status.ShouldBe(200);
        (await server.SendAsync(HttpMethod.Delete, "/api/shows/LIVE/sources/host-mic")).Status.ShouldBe(200);
        await server.StepAsync(0.3);
        (await MeteredAsync()).ShouldContain("host-mic");
    }

    [Fact]
    public async Task A_pause_is_left_out_of_all_tracks_at_the_same_sample_and_marked_and_what_is_recorded_is_what_the_engine_gave()
    {
        // One looks ahead, so that its track has to be cut elsewhere in its own sound.
        await server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/sources/sea-mic/chain", """{"type":"gate","values":{"range":0,"lookAhead":10}}""");
        await server.StepAsync(1);
        await AddAsync("""{"takes":"source/record-shelf"}""");
        await AddAsync("""{"takes":"source/sea-mic"}""");
        (await server.SendAsync(HttpMethod.Post, "/api/takes/current/pause", "{}")).ShouldSayWhatWhereAndWhatIsAllowed(409, "take");
        (await server.SendAsync(HttpMethod.Post, "/api/takes", "{}")).Status.ShouldBe(200);
        await server.StepAsync(1.5);
        (await server.SendAsync(HttpMethod.Post, "/api/takes/current/pause", "{}")).Status.ShouldBe(204);
        await server.StepAsync(1);
        ((bool)(await server.SendAsync(HttpMethod.Get, "/api/takes")).Body[0]!["isPaused"]!).ShouldBeTrue();
        await server.StepAsync(1);
        (await server.SendAsync(HttpMethod.Post, "/api/takes/current/go-on", "{}")).Status.ShouldBe(204);
        await server.StepAsync(2.5);
        var take = (await server.SendAsync(HttpMethod.Post, "/api/takes/current/stop")).Body;
        ((double)take["seconds"]!).ShouldBe(4, 0.02);
        var mark = take["marks"]!.AsArray().ShouldHaveSingleItem()!;
        ((string)mark["words"]!).ShouldBe("Went on after a pause of 2.0 s");
        ((double)mark["at"]!).ShouldBe(1.5, 0.02);
        var verdict = await JudgedAsync(take);
        ((string)verdict["standing"]!).ShouldBe("Sound", verdict.ToJsonString());
        verdict["tracks"]!.AsArray().ShouldAllBe(t => (int)t!["exactSeconds"]! >= 2);

        // Both sides of the cut stand, in both, as far apart in what the stand-ins play.
        var cut = (int)Math.Round((double)mark["at"]! * 48_000);
        var left = new HashSet<int>();
        foreach (var (file, given) in new[] { ("01 Record shelf.wav", "record-shelf"), ("02 Sea mic.wav", "sea-mic") })
        {
            var (track, sound) = (Sound(take, file).Left, RunningServer.SoundOf(given));
            int PlaceOf(int from) => Enumerable.Range(0, sound.Length).Single(s => Enumerable.Range(0, 400).All(n => Math.Abs(track[from + n] - sound[(s + n) % sound.Length]) < 1e-6));
            var (before, after) = (PlaceOf(cut - 400), PlaceOf(cut));
            left.Add((after - before - 400 + sound.Length) % sound.Length);
        }

        Math.Abs(left.Single() - 96_000).ShouldBeLessThan(512);
    }

    [Fact]
    public async Task Outlines_grow_while_a_take_is_recorded_are_as_high_as_its_files_and_are_made_again_where_they_are_gone()
    {
        await AddAsync("""{"takes":"source/record-shelf"}""", """{"form":"Flac"}""");
        (await server.SendAsync(HttpMethod.Post, "/api/takes", "{}")).Status.ShouldBe(200);
        await server.StepAsync(3);
        var id = (string)(await server.SendAsync(HttpMethod.Get, "/api/takes")).Body[0]!["id"]!;
        (await PeaksAsync($"/api/takes/{id}/outlines?width=30")).Take(20).Max().ShouldBeGreaterThan(10);
        await server.StepAsync(3);
        var take = (await server.SendAsync(HttpMethod.Post, "/api/takes/current/stop")).Body;
        await JudgedAsync(take);
        var sound = Sound(take, "01 Record shelf.flac");
        var highest = (int)(sound.Left.Concat(sound.Right!).Max(Math.Abs) * 1_000);
        Math.Abs((await PeaksAsync($"/api/takes/{id}/outlines?width=7")).Max() - highest).ShouldBeLessThan(2);
        var middle = await PeaksAsync($"/api/takes/{id}/outlines?from=2&to=4&width=100");
        var part = Enumerable.Range(2 * 48_000, 2 * 48_000).Max(n => Math.Max(Math.Abs(sound.Left[n]), Math.Abs(sound.Right![n])));
        Math.Abs(middle.Max() - (int)(part * 1_000)).ShouldBeLessThan(2);

        var outlines = Path.Combine((string)take["folder"]!, "outlines");
        Directory.Delete(outlines, recursive: true);
        (await PeaksAsync($"/api/takes/{id}/outlines")).ShouldBeEmpty();
        var (_, job) = await server.SendAsync(HttpMethod.Post, $"/api/takes/{id}/check");
        while ((await server.SendAsync(HttpMethod.Get, "/api/jobs")).Body.AsArray().Single(j => (string)j!["id"]! == (string)job["id"]!)!["words"] is null)
        {
            await Task.Yield();
        }

        (await PeaksAsync($"/api/takes/{id}/outlines?from=2&to=4&width=100")).ShouldBe(middle);
        (await server.SendAsync(HttpMethod.Get, $"/api/takes/{id}/outlines?width=0")).ShouldSayWhatWhereAndWhatIsAllowed(422, "width");
        (await server.SendAsync(HttpMethod.Get, $"/api/takes/{id}/outlines?from=4&to=2")).ShouldSayWhatWhereAndWhatIsAllowed(422, "from");
        (await server.SendAsync(HttpMethod.Get, $"/api/takes/{Guid.NewGuid()}/outlines")).ShouldSayWhatWhereAndWhatIsAllowed(404, "take");
    }

    [Fact]
    public async Task The_sound_of_a_track_is_given_from_any_frame_on_as_its_file_has_it()
    {
        await AddAsync("""{"takes":"source/record-shelf"}""");
        await AddAsync("""{"takes":"source/host-mic"}""", """{"form":"Flac"}""");
        var take = await RecordAsync(2);
        foreach (var (place, file, channels) in new[] { (0, "01 Record shelf.wav", 2), (1, "02 Host mic.flac", 1) })
        {
            var path = $"/api/takes/{take["id"]}/tracks/{take["tracks"]![place]!["id"]}/sound";
            var sound = Sound(take, file);
            var part = await SoundAsync($"{path}?from=30000&frames=20000");
            part.Length.ShouldBe(20_000 * channels);
            Enumerable.Range(0, 20_000).Count(n => part[n * channels] != sound.Left[30_000 + n] || part[(n * channels) + channels - 1] != (sound.Right ?? sound.Left)[30_000 + n]).ShouldBe(0);
            (await SoundAsync($"{path}?from={sound.Frames - 100}&frames=20000")).Length.ShouldBe(100 * channels);
            (await SoundAsync($"{path}?from={sound.Frames + 5}&frames=20000")).ShouldBeEmpty();
            (await server.SendAsync(HttpMethod.Get, $"{path}?from=-1&frames=10")).ShouldSayWhatWhereAndWhatIsAllowed(422, "from");
            (await server.SendAsync(HttpMethod.Get, $"{path}?from=0&frames=1000000000")).ShouldSayWhatWhereAndWhatIsAllowed(422, "frames");
        }
    }

    private async Task<float[]> SoundAsync(string path) => System.Runtime.InteropServices.MemoryMarshal.Cast<byte, float>(await server.Http.GetByteArrayAsync(path, Cancel)).ToArray();

    private async Task<int[]> PeaksAsync(string path) => [.. (await server.SendAsync(HttpMethod.Get, path)).Body["tracks"]![0]!["peaks"]!.AsArray().Select(p => (int)p!)];

    [Fact]
    public async Task What_happens_while_a_take_is_recorded_is_marked_by_itself_once()
    {
        (await server.SendAsync(HttpMethod.Post, "/api/takes", "{}")).Status.ShouldBe(200);
        await server.StepAsync(1);
        await server.SendAsync(HttpMethod.Put, "/api/hush", """{"on":true}""");
        await server.StepAsync(1);
        await server.SendAsync(HttpMethod.Put, "/api/hush", """{"on":false}""");
        await server.StepAsync(1);
        await server.SendAsync(HttpMethod.Patch, "/api/gear/devices/desk-interface", """{"isPresent":false}""");
        await server.StepAsync(1);
        await server.SendAsync(HttpMethod.Patch, "/api/gear/devices/desk-interface", """{"isPresent":true}""");
        (await server.SendAsync(HttpMethod.Post, "/api/takes/current/marks", """{"words":"The guest laughs"}""")).Status.ShouldBe(200);
        var take = (await server.SendAsync(HttpMethod.Post, "/api/takes/current/stop")).Body;
        take["marks"]!.AsArray().Select(m => ((string)m!["words"]!, (bool)m["byProgram"]!)).ShouldBe(
            [("Hushed", true), ("Heard again", true), ("Desk interface is unplugged", true), ("The guest laughs", false)]);
    }

    [Fact]
    public async Task A_take_that_is_to_be_so_long_ends_by_itself_and_one_that_was_ended_before_does_not_end_the_next()
    {
        (await server.SendAsync(HttpMethod.Post, "/api/takes", """{"seconds":0.5}""")).Status.ShouldBe(422);
        (await server.SendAsync(HttpMethod.Post, "/api/takes", """{"seconds":2}""")).Status.ShouldBe(200);
        await server.StepAsync(1);
        (await server.SendAsync(HttpMethod.Post, "/api/takes/current/stop")).Status.ShouldBe(200);
        (await server.SendAsync(HttpMethod.Post, "/api/takes", "{}")).Status.ShouldBe(200);
        await server.StepAsync(4);
        var whole = (await server.SendAsync(HttpMethod.Post, "/api/takes/current/stop")).Body;
        ((double)whole["seconds"]!).ShouldBeInRange(4, 4.1);

        (await server.SendAsync(HttpMethod.Post, "/api/takes", """{"name":"Test take","seconds":2}""")).Status.ShouldBe(200);
        await server.StepAsync(2.5);
        await RunningServer.UntilAsync(async () => (string)(await server.SendAsync(HttpMethod.Get, "/api/takes")).Body[0]!["state"]! == "Done");
        var test = (await server.SendAsync(HttpMethod.Get, "/api/takes")).Body[0]!;
        ((string)test["name"]!).ShouldBe("Test take");
        ((double)test["seconds"]!).ShouldBeInRange(2, 2.6);
    }

    [Fact]
    public async Task What_was_removed_in_mid_take_is_gone_once_the_take_has_ended()
    {
        (await server.SendAsync(HttpMethod.Post, "/api/takes", "{}")).Status.ShouldBe(200);
        await server.StepAsync(0.5);
        (await server.SendAsync(HttpMethod.Delete, "/api/shows/LIVE/sources/host-mic")).Status.ShouldBe(200);
        await server.StepAsync(0.5);
        (await MeteredAsync()).ShouldContain("host-mic");
        var take = (await server.SendAsync(HttpMethod.Post, "/api/takes/current/stop")).Body;
        await server.StepAsync(0.2);
        (await MeteredAsync()).ShouldNotContain("host-mic");
        ((double)take["seconds"]!).ShouldBe(1, 0.01);
    }

    // The sources that the engine computes now.
    private async Task<IEnumerable<string>> MeteredAsync()
    {
        using var meters = await server.LookAsync("levels");
        return [.. JsonNode.Parse((await RunningServer.ReceiveAsync(meters)).Data)!["values"]!["sources"]!.AsArray().Select(s => (string)s!)];
    }

    private async Task AddAsync(string track, string? change = null)
    {
        var (status, show) = await server.SendAsync(HttpMethod.Post, Tracks, track);
        status.ShouldBe(200, show.ToJsonString());
        if (change is not null)
        {
            var (changed, answer) = await server.SendAsync(HttpMethod.Patch, $"{Tracks}/{show["tracks"]!.AsArray()[^1]!["id"]}", change);
            changed.ShouldBe(200, answer.ToJsonString());
        }
    }

    private async Task<JsonNode> RecordAsync(double seconds)
    {
        (await server.SendAsync(HttpMethod.Post, "/api/takes", "{}")).Status.ShouldBe(200);
        await server.StepAsync(seconds);
        var take = (await server.SendAsync(HttpMethod.Post, "/api/takes/current/stop")).Body;
        await JudgedAsync(take);
        return take;
    }

    private async Task<JsonNode> JudgedAsync(JsonNode take)
    {
        while (true)
        {
            var found = (await server.SendAsync(HttpMethod.Get, "/api/takes")).Body.AsArray().Single(t => (string)t!["id"]! == (string)take["id"]!)!;
            if (found["verdict"] is { } verdict)
            {
                return verdict;
            }

            await Task.Yield();
        }
    }

    private static SoundBuffer Sound(JsonNode take, string file) => SoundFileReader.Read(Path.Combine((string)take["folder"]!, file)).Sound;
}

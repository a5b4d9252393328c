using System.Net;
using System.Text.Json.Nodes;
using Kinetra.Media;

namespace Kinetra.Server.Tests;

public sealed class SoundAndTakeTests : IAsyncLifetime
{
    private readonly RunningServer _server = new();

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    public ValueTask InitializeAsync() => _server.InitializeAsync();

    public ValueTask DisposeAsync() => _server.DisposeAsync();

    [Fact]
    public async Task An_uploaded_file_is_a_source_after_a_restart_too()
    {
        var (status, show) = await _server.UploadAsync(Wav(48_000), "sting.wav", "Sting", loop: false);
        status.ShouldBe(200);
        var source = show["sources"]!.AsArray().Last()!;
        ((string)source["name"]!).ShouldBe("Sting");
        ((bool)source["input"]!["loop"]!).ShouldBeFalse();
        await _server.StopAsync();
        await _server.StartAsync();
        Peak(await RecordAsync(0.5, "Before"), "Sting").ShouldBe(0);
        var (played, _) = await _server.SendAsync(HttpMethod.Post, $"/api/shows/LIVE/sources/{source["id"]}/play");
        played.ShouldBe(204);
        var take = await RecordAsync(0.5, "After");
        Peak(take, "Sting").ShouldBe(0.25, 0.001);
    }

    [Fact]
    public async Task Names_are_found_for_files_that_have_the_same()
    {
        await _server.UploadAsync(Wav(1000), "rain.wav");
        var (_, show) = await _server.UploadAsync(Wav(2000), "Rain.wav");
        show["sources"]!.AsArray().TakeLast(2).Select(s => (string)s!["name"]!).ShouldBe(["rain", "Rain 2"]);
        (await _server.UploadAsync(Wav(3000), "x.wav", "RAIN")).ShouldSayWhatWhereAndWhatIsAllowed(422, "sources[8].name");
        (await _server.UploadAsync(Wav(3000), "x.wav", new string('n', 61))).ShouldSayWhatWhereAndWhatIsAllowed(422, "name");
    }

    [Fact]
    public async Task What_is_no_sound_or_too_large_or_missing_is_refused_and_leaves_nothing_behind()
    {
        (await _server.UploadAsync("Dear harbour master"u8.ToArray(), "letter.wav")).ShouldSayWhatWhereAndWhatIsAllowed(422, "file");
        (await _server.UploadAsync([], "empty.wav")).ShouldSayWhatWhereAndWhatIsAllowed(422, "file");
        using var none = new HttpRequestMessage(HttpMethod.Post, "/api/shows/LIVE/sources") { Content = new MultipartFormDataContent { { new StringContent("x"), "name" } } };
        (await _server.SendAsync(none)).ShouldSayWhatWhereAndWhatIsAllowed(400, "file");
        using var json = new HttpRequestMessage(HttpMethod.Post, "/api/shows/LIVE/sources") { Content = new StringContent("{}", System.Text.Encoding.UTF8, "application/json") };
        (await _server.SendAsync(json)).Status.ShouldBeInRange(400, 415);
        Directory.GetFiles(Path.Combine(_server.Data, "sounds")).ShouldBeEmpty();
        (await _server.ShowAsync())["sources"]!.AsArray().Count.ShouldBe(6);

        await _server.StopAsync();
        await _server.StartAsync(maxUpload: 100_000);
        (await _server.UploadAsync(Wav(48_000), "large.wav")).Status.ShouldBeOneOf(400, 413, 422);
        (await _server.SendAsync(HttpMethod.Get, "/api/shows/live")).Status.ShouldBe(200);
    }

    [Fact]
    public async Task A_sound_that_came_to_nothing_goes_with_the_next_start_and_one_that_can_be_brought_back_stays()
    {
        (await _server.UploadAsync(Wav(4800), "kept.wav")).Status.ShouldBe(200);
        (await _server.UndoAsync()).Status.ShouldBe(200);
        using var form = new MultipartFormDataContent { { new ByteArrayContent(Wav(2400)), "file", "lost.wav" } };
        using var ahead = new HttpRequestMessage(HttpMethod.Post, "/api/shows/LIVE/sources?revision=99") { Content = form };
        (await _server.SendAsync(ahead)).ShouldSayWhatWhereAndWhatIsAllowed(409, "revision");
        var sounds = Path.Combine(_server.Data, "sounds");
        Directory.GetFiles(sounds, "*.f32").Length.ShouldBe(2);
        File.WriteAllText(Path.Combine(sounds, "incoming-broken-off"), "half of it");
        await _server.StopAsync();
        await _server.StartAsync();
        Directory.GetFiles(sounds).Length.ShouldBe(2);
        (await _server.RedoAsync()).Status.ShouldBe(200);
    }

    [Fact]
    public async Task However_many_files_come_at_once_one_is_decoded_at_a_time()
    {
        var uploads = Task.WhenAll(Enumerable.Range(0, 6).Select(n => _server.UploadAsync(Wav(48_000 + n), $"{n}.wav")));
        var most = 0;
        while (!uploads.IsCompleted)
        {
            most = Math.Max(most, Directory.GetDirectories("/proc", "*").Count(IsOurDecoder));
        }

        (await uploads).ShouldAllBe(u => u.Status == 200);
        most.ShouldBe(1);

        bool IsOurDecoder(string process)
        {
            try
            {
                // prlimit becomes the decoder: one process each.
                var words = File.ReadAllText(Path.Combine(process, "cmdline")).Split('\0');
                return words.Contains("decode") && words.Any(w => w.StartsWith(_server.Data, StringComparison.Ordinal));
            }
            catch (Exception e) when (e is IOException or UnauthorizedAccessException)
            {
                return false;
            }
        }
    }

    [Fact]
    public async Task A_file_name_that_no_database_takes_is_cleaned_and_the_database_is_not_said_to_be_away()
    {
        var part = new ByteArrayContent(Wav(1200));
        part.Headers.TryAddWithoutValidation("Content-Disposition", "form-data; name=\"file\"; filename=\"x.wav\"; filename*=utf-8''a%00b.wav").ShouldBeTrue();
        using var form = new MultipartFormDataContent { part };
        using var request = new HttpRequestMessage(HttpMethod.Post, "/api/shows/LIVE/sources") { Content = form };
        var (status, show) = await _server.SendAsync(request);
        status.ShouldBe(200, show.ToJsonString());
        ((bool)(await _server.SendAsync(HttpMethod.Get, "/api/status")).Body["databaseAway"]!).ShouldBeFalse();
    }

    [Fact]
    public async Task A_track_is_known_again_by_its_tag_and_can_be_asked_for_its_length_alone()
    {
        await _server.SendAsync(HttpMethod.Post, "/api/takes", "{}");
        await _server.StepAsync(0.5);
        var (_, take) = await _server.SendAsync(HttpMethod.Post, "/api/takes/current/stop");
        var path = $"/api/takes/{take["id"]}/tracks/{take["tracks"]![0]!["id"]}/file";
        using var head = new HttpRequestMessage(HttpMethod.Head, path);
        using var answer = await _server.Http.SendAsync(head, TestContext.Current.CancellationToken);
        ((int)answer.StatusCode).ShouldBe(200);
        answer.Content.Headers.ContentLength!.Value.ShouldBeGreaterThan(48_000);
        using var again = new HttpRequestMessage(HttpMethod.Get, path);
        again.Headers.IfNoneMatch.Add(answer.Headers.ETag!);
        using var known = await _server.Http.SendAsync(again, TestContext.Current.CancellationToken);
        ((int)known.StatusCode).ShouldBe(304);
    }

    [Fact]
    public async Task A_source_whose_file_is_gone_from_the_data_folder_is_silent_and_the_show_opens()
    {
        await _server.UploadAsync(Wav(48_000), "sting.wav", "Sting");
        await _server.StopAsync();
        Directory.Delete(Path.Combine(_server.Data, "sounds"), recursive: true);
        await _server.StartAsync();
        Peak(await RecordAsync(0.5, "Gone"), "Sting").ShouldBe(0);
    }

    [Fact]
    public async Task A_take_has_a_file_for_each_mix_and_each_source_all_of_the_same_length()
    {
        var take = await RecordAsync(2, "First / take: <1>");
        ((double)take["seconds"]!).ShouldBe(2.0, 0.01);
        ((string)take["state"]!).ShouldBe("Done");
        take["tracks"]!.AsArray().Count.ShouldBe(9);
        take["tracks"]!.AsArray().Select(t => (string)t!["point"]!).ShouldContain("mix/viewers");
        take["tracks"]!.AsArray().ShouldAllBe(t => ((string)t!["point"]!).StartsWith((string)t["of"]! + "/"));
        foreach (var track in take["tracks"]!.AsArray())
        {
            using var response = await _server.Http.GetAsync($"/api/takes/{take["id"]}/tracks/{track!["id"]}/file", Cancel);
            response.StatusCode.ShouldBe(HttpStatusCode.OK);
            var name = response.Content.Headers.ContentDisposition!.FileNameStar!;
            name.ShouldContain((string)track["name"]!);
            name.ShouldNotContain("<");
            var path = Path.Combine(_server.Data, "download.wav");
            await File.WriteAllBytesAsync(path, await response.Content.ReadAsByteArrayAsync(Cancel), Cancel);
            var sound = SoundFileReader.Read(path);
            sound.Sound.Frames.ShouldBe(96_000);
            sound.Channels.ShouldBe((int)track["channels"]!);
        }
    }

    [Fact]
    public async Task Right_after_another_show_was_opened_a_take_has_that_shows_tracks_and_their_sound()
    {
        var shows = (await _server.SendAsync(HttpMethod.Get, "/api/shows")).Body.AsArray();
        var other = shows.Single(s => (string)s!["name"]! == "Tide Tables")!;
        (await _server.SendAsync(HttpMethod.Post, $"/api/shows/{other["id"]}/open")).Status.ShouldBe(200);
        var take = await RecordAsync(3, "At once");
        take["tracks"]!.AsArray().Select(t => (string)t!["name"]!).ShouldBe(["My ears", "Caller hears", "Recording", "Host mic", "Second mic", "Caller"], ignoreOrder: true);
        Peak(take, "Recording").ShouldBeGreaterThan(0.01);
    }

    [Fact]
    public async Task A_show_whose_name_would_be_cut_within_a_character_can_be_recorded()
    {
        var name = new string('a', 39) + "\U0001F469\u200D\U0001F680 and more";
        var shows = (await _server.SendAsync(HttpMethod.Get, "/api/shows")).Body.AsArray();
        (await _server.SendAsync(HttpMethod.Patch, $"/api/shows/{shows.Single(s => (bool)s!["live"]!)!["id"]}", new System.Text.Json.Nodes.JsonObject { ["name"] = name }.ToJsonString())).Status.ShouldBe(204);
        var (status, take) = await _server.SendAsync(HttpMethod.Post, "/api/takes", "{}");
        status.ShouldBe(200);
        ((string)take["name"]!).ShouldStartWith(new string('a', 39) + " 20");
        await _server.SendAsync(HttpMethod.Post, "/api/takes/current/stop");
    }

    [Fact]
    public async Task A_source_that_is_removed_during_a_take_goes_on_for_its_track_and_one_that_is_added_waits_for_the_next()
    {
        await _server.SendAsync(HttpMethod.Post, "/api/takes", """{"name":"Changing"}""");
        await _server.StepAsync(1);
        await _server.SendAsync(HttpMethod.Delete, "/api/shows/LIVE/sources/record-shelf");
        await _server.UploadAsync(Wav(48_000), "sting.wav", "Sting");
        await _server.StepAsync(1);
        var (_, take) = await _server.SendAsync(HttpMethod.Post, "/api/takes/current/stop");
        take["tracks"]!.AsArray().Select(t => (string)t!["name"]!).ShouldNotContain("Sting");
        var music = SoundFileReader.Read(FileOf(take, "Record shelf")).Sound.Left;
        music.Length.ShouldBe(2 * 188 * 256);
        music[..48_000].Max().ShouldBeGreaterThan(0.01f);
        music[50_000..].Max().ShouldBeGreaterThan(0.01f);
    }

    [Fact]
    public async Task A_take_is_marked_with_words_or_without_and_keeps_its_marks_over_a_restart()
    {
        (await _server.SendAsync(HttpMethod.Post, "/api/takes/current/marks", "{}")).ShouldSayWhatWhereAndWhatIsAllowed(409, "take");
        await _server.SendAsync(HttpMethod.Post, "/api/takes", """{"name":"Marked"}""");
        await _server.StepAsync(1);
        var (status, mark) = await _server.SendAsync(HttpMethod.Post, "/api/takes/current/marks", """{"words":" Good answer "}""");
        status.ShouldBe(200);
        ((double)mark["at"]!).ShouldBe(1, 0.01);
        var token = (string)(await _server.SendAsync(HttpMethod.Post, "/api/hands/token")).Body["token"]!;
        (await _server.SendAsync(HttpMethod.Post, $"/api/do/mark?token={token}")).Status.ShouldBe(204);
        (await _server.SendAsync(HttpMethod.Post, "/api/takes/current/marks", """{"words":"a\u0007b"}""")).ShouldSayWhatWhereAndWhatIsAllowed(422, "words");
        (await _server.SendAsync(HttpMethod.Get, "/api/takes")).Body[0]!["marks"]!.AsArray().Count.ShouldBe(2);
        await _server.StepAsync(1);
        await _server.StopAsync();
        await _server.StartAsync();
        var take = (await _server.SendAsync(HttpMethod.Get, "/api/takes")).Body[0]!;
        ((string)take["state"]!).ShouldBe("Interrupted");
        take["marks"]!.AsArray().Select(m => (string)m!["words"]!).ShouldBe(["Good answer", ""]);
    }

    [Fact]
    public async Task A_take_begins_seconds_before_the_press_where_the_show_wishes_and_has_what_was_heard_then()
    {
        (await _server.SendAsync(HttpMethod.Put, "/api/shows/LIVE/recording", """{"form":"Wav24","before":5}""")).Status.ShouldBe(200);
        var (_, show) = await _server.UploadAsync(Wav(48_000), "tone.wav", "Tone", loop: true);
        await _server.SendAsync(HttpMethod.Post, $"/api/shows/LIVE/sources/{show["sources"]!.AsArray().Last()!["id"]}/play");
        await _server.StepAsync(8);
        var take = await RecordAsync(1, "Before");
        ((double)take["seconds"]!).ShouldBe(6, 0.05);
        var mark = take["marks"]!.AsArray().Single()!;
        ((double)mark["at"]!).ShouldBe(5, 0.05);
        ((bool)mark["byProgram"]!).ShouldBeTrue();

        // A second of the tone and one before the press are alike, sample by sample; nothing is silent, nothing is missing.
        var tone = SoundFileReader.Read(FileOf(take, "Tone")).Sound.Left;
        tone.AsSpan(48_000, 48_000).SequenceEqual(tone.AsSpan(0, 48_000)).ShouldBeTrue();
        tone.AsSpan(5 * 48_000, 48_000).SequenceEqual(tone.AsSpan(0, 48_000)).ShouldBeTrue();
        tone.Take(48_000).Max(Math.Abs).ShouldBe(0.25f, 0.001f);
        var (state, words) = await JobAsync(take, "check");
        state.ShouldBe("Done", words);
        words.ShouldContain("sample by sample what the engine gave");

        // What has just been planned, or another show, has only what came since; a test has nothing from before.
        var (_, test) = await _server.SendAsync(HttpMethod.Post, "/api/takes", """{"name":"Test","seconds":1}""");
        await _server.StepAsync(0.5);
        (await _server.SendAsync(HttpMethod.Post, "/api/takes/current/stop")).Body["marks"]!.AsArray().ShouldBeEmpty();
        (await _server.SendAsync(HttpMethod.Put, "/api/shows/LIVE/recording", """{"form":"Wav24","before":10}""")).ShouldSayWhatWhereAndWhatIsAllowed(422, "recording.before");
    }

    [Fact]
    public async Task Of_another_show_nothing_from_before_it_was_opened_is_in_a_take()
    {
        (await _server.SendAsync(HttpMethod.Put, "/api/shows/LIVE/recording", """{"form":"Wav24","before":9}""")).Status.ShouldBe(200);
        await _server.StepAsync(2);
        var (made, copy) = await _server.SendAsync(HttpMethod.Post, "/api/shows", $$"""{"copyOf":"{{await _server.LiveAsync()}}","name":"The other"}""");
        made.ShouldBe(200, copy.ToJsonString());
        (await _server.SendAsync(HttpMethod.Post, $"/api/shows/{copy["id"]}/open", "{}")).Status.ShouldBe(200);
        ((double)(await RecordAsync(0.5, "At once"))["seconds"]!).ShouldBe(0.5, 0.02);
        await _server.StepAsync(3);
        ((double)(await RecordAsync(0.5, "Later"))["seconds"]!).ShouldBeInRange(2, 4.01);
    }

    [Fact]
    public async Task All_tracks_share_one_zero_whatever_looks_ahead()
    {
        // A gate that lowers nothing, and looks 10 ms ahead; a mix that looks ahead more.
        await _server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/sources/record-shelf/chain", """{"type":"gate","values":{"range":0,"lookAhead":10}}""");
        await _server.SendAsync(HttpMethod.Put, "/api/shows/LIVE/mixes/viewers/chain", """{"preset":"mixSafety"}""");
        await _server.StepAsync(1);
        var take = await RecordAsync(1, "In step");
        var (music, sea) = (SoundFileReader.Read(FileOf(take, "Record shelf")).Sound.Left, SoundFileReader.Read(FileOf(take, "Sea mic")).Sound.Left);
        PlaceOf(music, RunningServer.SoundOf("record-shelf")).ShouldBe(PlaceOf(sea, RunningServer.SoundOf("sea-mic")));
    }

    [Fact]
    public async Task Tracks_stay_in_step_where_look_ahead_comes_and_goes_in_mid_take()
    {
        const string gate = "/api/shows/LIVE/sources/record-shelf/chain";
        await _server.StepAsync(1);
        await _server.SendAsync(HttpMethod.Post, "/api/takes", """{"name":"Shifting"}""");
        await _server.StepAsync(1);
        var (_, show) = await _server.SendAsync(HttpMethod.Post, gate, """{"type":"gate"}""");
        var id = (string)show["sources"]!.AsArray().Single(s => (string)s!["id"]! == "record-shelf")!["chain"]![0]!["id"]!;
        await _server.SendAsync(HttpMethod.Patch, $"{gate}/{id}", """{"values":{"range":0,"lookAhead":10}}""");
        await _server.StepAsync(1);
        var (_, take) = await _server.SendAsync(HttpMethod.Post, "/api/takes/current/stop");
        var (music, sea) = (SoundFileReader.Read(FileOf(take, "Record shelf")).Sound.Left, SoundFileReader.Read(FileOf(take, "Sea mic")).Sound.Left);
        music.Length.ShouldBe(sea.Length);
        var place = PlaceOf(music, RunningServer.SoundOf("record-shelf"), 24_000);
        PlaceOf(music, RunningServer.SoundOf("record-shelf"), 80_000).ShouldBe(place);
        PlaceOf(sea, RunningServer.SoundOf("sea-mic"), 80_000).ShouldBe(place);
    }

    // Where in a sound a recording of it begins, by its second half-second; the first may hold what came before a change.
    private static int PlaceOf(float[] recorded, float[] sound, int from = 24_000)
    {
        return Enumerable.Range(0, 480_000).Single(at => Enumerable.Range(from, 400).All(n => Math.Abs(recorded[n] - sound[(at + n) % sound.Length]) < 1e-6));
    }

    [Fact]
    public async Task One_take_at_a_time_and_none_cannot_be_ended()
    {
        (await _server.SendAsync(HttpMethod.Post, "/api/takes/current/stop")).ShouldSayWhatWhereAndWhatIsAllowed(409, "take");
        (await _server.SendAsync(HttpMethod.Post, "/api/takes", """{"name":""}""")).ShouldSayWhatWhereAndWhatIsAllowed(422, "name");
        (await _server.SendAsync(HttpMethod.Post, "/api/takes", "{}")).Status.ShouldBe(200);
        (await _server.SendAsync(HttpMethod.Post, "/api/takes", "{}")).ShouldSayWhatWhereAndWhatIsAllowed(409, "take");
        (await _server.SendAsync(HttpMethod.Get, $"/api/takes/{Guid.NewGuid()}/tracks/{Guid.NewGuid()}/file")).ShouldSayWhatWhereAndWhatIsAllowed(404, "track");
    }

    [Fact]
    public async Task A_take_that_the_server_was_stopped_in_is_kept_up_to_there_and_said_to_be_interrupted()
    {
        await _server.SendAsync(HttpMethod.Post, "/api/takes", """{"name":"Cut"}""");
        await _server.StepAsync(3);
        await _server.StopAsync();
        await _server.StartAsync();
        var (_, takes) = await _server.SendAsync(HttpMethod.Get, "/api/takes");
        ((string)takes[0]!["state"]!).ShouldBe("Interrupted");
        ((double)takes[0]!["seconds"]!).ShouldBe(3, 0.01);
        SoundFileReader.Read(FileOf(takes[0]!, "Viewers")).Sound.Frames.ShouldBe(144_128);
    }

    [Fact]
    public async Task A_take_is_read_through_and_what_is_missing_is_said_by_its_track()
    {
        var take = await RecordAsync(1, "Whole");
        (await JobAsync(take, "check")).ShouldBe(("Done", "All 9 tracks are what their names say, sample by sample what the engine gave, 1.003 s each, and nothing was lost."));
        var (cut, gone) = (FileOf(take, "Sea mic"), FileOf(take, "Viewers"));
        using (var file = File.OpenWrite(cut))
        {
            file.SetLength(file.Length / 2);
        }

        File.Delete(gone);
        var (state, words) = await JobAsync(take, "check");
        state.ShouldBe("Done");
        words.ShouldStartWith("2 of 9 tracks are not what they should be. Viewers: Its file cannot be read: it is no longer there.");
        var verdict = (await _server.SendAsync(HttpMethod.Get, "/api/takes")).Body[0]!["verdict"]!;
        ((string)verdict["sentence"]!).ShouldBe(words);
        ((string)verdict["standing"]!).ShouldBe("Wrong");
        verdict["tracks"]!.AsArray().Count(t => (string)t!["standing"]! == "Wrong").ShouldBe(2);
        var report = File.ReadAllText(Path.Combine((string)take["folder"]!, "report.txt"));
        report.ShouldContain(words);
        report.ShouldContain("05 Sea mic.wav: Sea mic, ");
        report.ShouldContain("  ! Its file has 0.4");
    }

    [Fact]
    public async Task All_tracks_of_a_take_come_in_one_file_as_they_are()
    {
        var take = await RecordAsync(0.5, "First / take");
        await JobAsync(take, "check");
        (await JobAsync(take, "export")).State.ShouldBe("Done");
        var job = (await _server.SendAsync(HttpMethod.Get, "/api/jobs")).Body[0]!;
        using var response = await _server.Http.GetAsync($"/api/jobs/{job["id"]}/file", Cancel);
        response.Content.Headers.ContentDisposition!.FileNameStar.ShouldBe("First - take.zip");
        var bytes = await response.Content.ReadAsByteArrayAsync(Cancel);
        using var zip = new System.IO.Compression.ZipArchive(new MemoryStream(bytes));
        var files = Directory.GetFiles(Path.Combine(_server.Data, "takes", (string)take["id"]!)).Where(f => !f.EndsWith(".prints", StringComparison.Ordinal)).ToList();
        string[] beside = ["First - take.otio", "First - take.edl", "First - take.csv", "First - take.vtt"];
        zip.Entries.Select(e => e.Name).ShouldBe([.. files.Select(f => Path.GetFileName(f)!), .. beside], ignoreOrder: true);
        foreach (var file in files)
        {
            bytes.AsSpan().IndexOf(File.ReadAllBytes(file)).ShouldBePositive(file);
        }

        await _server.StopAsync();
        await _server.StartAsync();
        Directory.Exists(Path.Combine(_server.Data, "exports")).ShouldBeFalse();
        (await _server.SendAsync(HttpMethod.Get, $"/api/jobs/{job["id"]}/file")).ShouldSayWhatWhereAndWhatIsAllowed(404, "job");
        (await _server.SendAsync(HttpMethod.Delete, $"/api/jobs/{job["id"]}")).ShouldSayWhatWhereAndWhatIsAllowed(404, "job");
    }

    [Fact]
    public async Task The_time_line_of_a_take_and_its_marks_are_had_for_other_programs()
    {
        (await _server.SendAsync(HttpMethod.Post, "/api/takes", """{"name":"Evening & more"}""")).Status.ShouldBe(200);
        await _server.StepAsync(1);
        (await _server.SendAsync(HttpMethod.Post, "/api/takes/current/marks", """{"words":"The <guest> comes"}""")).Status.ShouldBe(200);
        await _server.StepAsync(2);
        (await _server.SendAsync(HttpMethod.Post, "/api/takes/current/marks", "{}")).Status.ShouldBe(200);
        (await _server.SendAsync(HttpMethod.Get, $"/api/takes/{(await _server.SendAsync(HttpMethod.Get, "/api/takes")).Body[0]!["id"]}/timeline/edl")).ShouldSayWhatWhereAndWhatIsAllowed(409, "take");
        await _server.StepAsync(0.5);
        var (_, take) = await _server.SendAsync(HttpMethod.Post, "/api/takes/current/stop");
        var path = $"/api/takes/{take["id"]}/timeline";

        // Another program reads the chapters.
        var chapters = Path.Combine(_server.Data, "chapters.vtt");
        await File.WriteAllTextAsync(chapters, await _server.Http.GetStringAsync($"{path}/vtt", Cancel), Cancel);
        using var ffmpeg = System.Diagnostics.Process.Start(new System.Diagnostics.ProcessStartInfo("ffmpeg", ["-v", "error", "-i", chapters, "-f", "srt", "-"]) { RedirectStandardOutput = true })!;
        var read = (await ffmpeg.StandardOutput.ReadToEndAsync(Cancel)).Replace("\r", "", StringComparison.Ordinal);
        var times = take["marks"]!.AsArray().Select(m => TimeSpan.FromMilliseconds(Math.Floor(1000 * (double)m!["at"]!)).ToString(@"hh\:mm\:ss\,fff", System.Globalization.CultureInfo.InvariantCulture)).ToList();
        read.ShouldContain($"{times[0]} --> {times[1]}\nThe <guest> comes");
        read.ShouldContain($"{times[1]} --> 00:00:03,5");
        read.ShouldContain("\nMark 2");

        using var list = await _server.Http.GetAsync($"{path}/edl?rate=30", Cancel);
        list.Content.Headers.ContentDisposition!.FileNameStar.ShouldBe("Evening & more.edl");
        (await list.Content.ReadAsStringAsync(Cancel)).ShouldContain("00:00:00:00 00:00:03:15 01:00:00:00 01:00:03:15");
        (await _server.Http.GetStringAsync($"{path}/csv", Cancel)).ShouldContain(",00:00:01:00,48128,a person,The <guest> comes\r\n");
        var files = take["tracks"]!.AsArray().Count;
        JsonNode.Parse(await _server.Http.GetStringAsync($"{path}/otio", Cancel))!["tracks"]!["children"]!.AsArray().Count.ShouldBe(files);
        (await _server.SendAsync(HttpMethod.Get, $"{path}/aaf")).ShouldSayWhatWhereAndWhatIsAllowed(404, "ending");
        (await _server.SendAsync(HttpMethod.Get, $"{path}/edl?rate=29")).ShouldSayWhatWhereAndWhatIsAllowed(422, "rate");
        (await _server.SendAsync(HttpMethod.Get, $"/api/takes/{Guid.NewGuid()}/timeline/edl")).ShouldSayWhatWhereAndWhatIsAllowed(404, "take");
    }

    [Fact]
    public async Task What_is_still_recorded_or_is_no_take_is_neither_checked_nor_exported()
    {
        (await _server.SendAsync(HttpMethod.Post, $"/api/takes/{Guid.NewGuid()}/check")).ShouldSayWhatWhereAndWhatIsAllowed(404, "take");
        var (_, take) = await _server.SendAsync(HttpMethod.Post, "/api/takes", "{}");
        (await _server.SendAsync(HttpMethod.Post, $"/api/takes/{take["id"]}/export")).ShouldSayWhatWhereAndWhatIsAllowed(409, "take");
    }

    [Fact]
    public async Task An_upload_is_a_job_that_ends_with_words()
    {
        await _server.UploadAsync(Wav(1000), "rain.wav");
        await _server.UploadAsync("no sound"u8.ToArray(), "letter.wav");
        var jobs = (await _server.SendAsync(HttpMethod.Get, "/api/jobs")).Body.AsArray();
        jobs.Select(j => ((string)j!["of"]!, (string)j["state"]!)).ShouldBe([("letter.wav", "Failed"), ("rain.wav", "Done")]);
        ((string)jobs[0]!["words"]!).ShouldContain("not a sound file");
        (await _server.SendAsync(HttpMethod.Delete, $"/api/jobs/{jobs[0]!["id"]}")).ShouldSayWhatWhereAndWhatIsAllowed(409, "job");
    }

    [Fact]
    public async Task A_take_that_cannot_be_written_for_a_reason_that_nobody_foresaw_ends_and_says_so()
    {
        var clock = new BreakingClock();
        await _server.StopAsync();
        await _server.StartAsync(time: clock);
        await _server.SendAsync(HttpMethod.Post, "/api/takes", """{"name":"Broken"}""");
        await _server.StepAsync(1);
        clock.IsBroken = true;
        await _server.StepAsync(0.1);
        clock.IsBroken = false;
        System.Text.Json.Nodes.JsonNode take;
        do
        {
            take = (await _server.SendAsync(HttpMethod.Get, "/api/takes")).Body[0]!;
        }
        while ((string)take["state"]! == "Recording");
        ((string)take["state"]!, (string)take["endedBecause"]!).ShouldBe(("Interrupted", "Something went wrong while it was being written. All that was written before is kept."));
        SoundFileReader.Read(FileOf(take, "Viewers")).Sound.Frames.ShouldBe(48_128);
    }

    // The time that outputs look at before they write.
    private sealed class BreakingClock : TimeProvider
    {
        public bool IsBroken { get; set; }

        public override DateTimeOffset GetUtcNow() => IsBroken ? throw new InvalidOperationException("unforeseen") : base.GetUtcNow();
    }

    // Asks for a job on a take, and waits until it has ended.
    private async Task<(string State, string Words)> JobAsync(System.Text.Json.Nodes.JsonNode take, string kind)
    {
        var (status, begun) = await _server.SendAsync(HttpMethod.Post, $"/api/takes/{take["id"]}/{kind}");
        status.ShouldBe(202, begun.ToJsonString());
        while (true)
        {
            var jobs = (await _server.SendAsync(HttpMethod.Get, "/api/jobs")).Body.AsArray();
            var job = jobs.Single(j => (string)j!["id"]! == (string)begun["id"]!)!;
            if (job["words"] is { } words)
            {
                return ((string)job["state"]!, (string)words!);
            }

            await Task.Yield();
        }
    }

    private async Task<System.Text.Json.Nodes.JsonNode> RecordAsync(double seconds, string name)
    {
        var (started, _) = await _server.SendAsync(HttpMethod.Post, "/api/takes", System.Text.Json.JsonSerializer.Serialize(new { name }));
        started.ShouldBe(200);
        await _server.StepAsync(seconds);
        return (await _server.SendAsync(HttpMethod.Post, "/api/takes/current/stop")).Body;
    }

    private string FileOf(System.Text.Json.Nodes.JsonNode take, string track) =>
        Directory.GetFiles(Path.Combine(_server.Data, "takes", (string)take["id"]!), $"* {track}.wav").Single();

    private double Peak(System.Text.Json.Nodes.JsonNode take, string track) =>
        SoundFileReader.Read(FileOf(take, track)).Sound.Left.Max(Math.Abs);

    private byte[] Wav(int frames)
    {
        var path = Path.Combine(_server.Data, $"made-{frames}.wav");
        using (var writer = new TakeFileWriter(path, 2, new TakeFileInfo("made", DateTimeOffset.UnixEpoch)))
        {
            var sine = Enumerable.Range(0, frames).Select(n => 0.25f * MathF.Sin(2 * MathF.PI * 1000 * n / 48_000)).ToArray();
            writer.Write(sine, sine);
        }

        return File.ReadAllBytes(path);
    }
}

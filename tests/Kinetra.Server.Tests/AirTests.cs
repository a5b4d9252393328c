using System.Globalization;
using System.Net;
using System.Net.Sockets;
using System.Text;
using System.Text.Json.Nodes;
using Kinetra.Media;

namespace Kinetra.Server.Tests;

/// <summary>Streams to servers: the practice station, ffmpeg as a server and as a listener, and servers that lie.</summary>
public sealed class AirTests(RunningServer server) : IClassFixture<RunningServer>, IAsyncLifetime
{
    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    public async ValueTask InitializeAsync()
    {
        await server.OpenFreshShowAsync();
        (await server.SendAsync(HttpMethod.Patch, "/api/shows/LIVE/mixes/viewers", """{"gain":-18}""")).Status.ShouldBe(200);
    }

    public async ValueTask DisposeAsync()
    {
        foreach (var one in (await server.SendAsync(HttpMethod.Get, "/api/air")).Body.AsArray())
        {
            await server.SendAsync(HttpMethod.Post, $"/api/air/{one!["stream"]}/stop");
        }

        await server.SendAsync(HttpMethod.Put, "/api/station", """{"isOn":false}""");
        await server.SendAsync(HttpMethod.Post, "/api/takes/current/stop");
        await server.SendAsync(HttpMethod.Put, "/api/hush", """{"on":false}""");
    }

    [Theory]
    [InlineData("Put", "Mp3", 128, 2, 48_000)]
    [InlineData("Source", "OggVorbis", 160, 2, 44_100)]
    [InlineData("FirstLine", "Mp3", 96, 1, 44_100)]
    [InlineData("Put", "OggOpus", 96, 2, 48_000)]
    [InlineData("Source", "OggFlac", 0, 2, 48_000)]
    public async Task Who_listens_at_the_station_hears_the_mix_as_loud_and_whole_in_each_form_by_each_way_in(string kind, string form, int kilobits, int channels, int rate)
    {
        var (port, password) = await StationAsync();
        var path = kind == "FirstLine" ? "" : "/live";
        var stream = await StreamAsync(port, kind, path, $$"""{"form":"{{form}}","kilobits":{{kilobits}},"channels":{{channels}},"sampleRate":{{rate}},"title":"Evening"}""");
        await PasswordAsync(stream, password);
        (await server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/tracks", """{"takes":"mix/viewers","name":"Blend"}""")).Status.ShouldBe(200);
        (await server.SendAsync(HttpMethod.Post, "/api/takes", "{}")).Status.ShouldBe(200);
        await OnAirAsync(stream);
        var mount = (await server.SendAsync(HttpMethod.Get, "/api/station")).Body["mounts"]!.AsArray().Single()!;
        ((string)mount["name"]!).ShouldBe("Evening");
        var isOgg = form.StartsWith("Ogg", StringComparison.Ordinal);
        string[] both = channels == 1 ? ["-af", "pan=stereo|c0=c0|c1=c0"] : [];
        var pulled = Listening.DecodeAsync(["-i", $"http://127.0.0.1:{port}{mount["path"]}", "-t", isOgg ? "9" : "4", .. both]);
        await RunningServer.UntilAsync(async () =>
        {
            await server.StepAsync(0.1);
            return pulled.IsCompleted;
        });
        var heard = await pulled;
        var take = (await server.SendAsync(HttpMethod.Post, "/api/takes/current/stop")).Body;
        var recorded = SoundFileReader.Read(Path.Combine((string)take["folder"]!, "01 Blend.wav")).Sound;

        // In Ogg it counts from where the stream began, and not from where it began to listen.
        (heard.Length / 2).ShouldBeInRange(isOgg ? 96_100 : (4 * 48_000) - 7_200, (isOgg ? 9 : 4) * 48_000);
        for (var c = 0; c < 2; c++)
        {
            var side = Enumerable.Range(0, heard.Length / 2).Select(n => heard[(2 * n) + c]).ToArray();
            var sent = channels == 2 ? c == 0 ? recorded.Left : recorded.Right! : [.. recorded.Left.Zip(recorded.Right!, (l, r) => (l + r) / 2)];
            var (differs, level) = Listening.Likeness(side, sent);
            differs.ShouldBeLessThan(form == "OggFlac" ? -120 : -9, $"channel {c}");
            Math.Abs(level).ShouldBeLessThan(form == "OggFlac" ? 0.01 : 0.15, $"channel {c}");
        }
    }

    [Theory]
    [InlineData("Put", "/live", "Mp3", 128)]
    [InlineData("FirstLine", "", "Mp3", 128)]
    [InlineData("Source", "/live", "OggOpus", 96)]
    public async Task What_listeners_get_is_heard_back_and_held_against_the_mix_with_how_late_it_is(string kind, string path, string form, int kilobits)
    {
        var (port, password) = await StationAsync();
        var stream = await StreamAsync(port, kind, path, $$"""{"form":"{{form}}","kilobits":{{kilobits}}}""");
        await PasswordAsync(stream, password);
        (await server.SendAsync(HttpMethod.Post, $"/api/air/{stream}/heard")).ShouldSayWhatWhereAndWhatIsAllowed(409, "stream");
        await OnAirAsync(stream);
        await server.StepAsync(3);
        var heard = await WhileSteppedAsync(server.SendAsync(HttpMethod.Post, $"/api/air/{stream}/heard"));
        heard.Status.ShouldBe(200, heard.Body.ToJsonString());
        ((bool)heard.Body["isMix"]!).ShouldBeTrue((string)heard.Body["words"]!);
        ((double)heard.Body["delaySeconds"]!).ShouldBeInRange(-0.1, 12);
        ((double)heard.Body["likeness"]!).ShouldBeGreaterThan(0.9);

        // Another program decodes what is passed on.
        var pulled = Listening.DecodeAsync(["-i", $"{server.Address}api/air/{stream}/return", "-t", "1"]);
        (await WhileSteppedAsync(pulled)).Max(Math.Abs).ShouldBeGreaterThan(0.001f);

        // What waits in the mix's place is not the mix.
        (await server.SendAsync(HttpMethod.Put, $"/api/air/{stream}/pause", "{}")).Status.ShouldBe(200);
        await server.StepAsync(7);
        heard = await WhileSteppedAsync(server.SendAsync(HttpMethod.Post, $"/api/air/{stream}/heard"));
        ((bool)heard.Body["isMix"]!).ShouldBeFalse((string)heard.Body["words"]!);
        (await server.SendAsync(HttpMethod.Post, "/api/air/nobody/heard")).ShouldSayWhatWhereAndWhatIsAllowed(404, "stream");
        (await server.SendAsync(HttpMethod.Get, "/api/air/nobody/return")).ShouldSayWhatWhereAndWhatIsAllowed(404, "stream");
    }

    private async Task<T> WhileSteppedAsync<T>(Task<T> task)
    {
        await RunningServer.UntilAsync(async () =>
        {
            await server.StepAsync(0.25);
            return task.IsCompleted;
        });
        return await task;
    }

    [Fact]
    public async Task A_wrong_password_is_told_in_the_servers_own_words_and_the_right_one_lets_in_and_is_nowhere_to_be_read()
    {
        var (port, password) = await StationAsync();
        var stream = await StreamAsync(port, "Put", "/live");
        await PasswordAsync(stream, "no such word here");
        (await server.SendAsync(HttpMethod.Post, $"/api/air/{stream}/start")).Status.ShouldBe(200);
        await UntilStateAsync(stream, "Refused");
        var refused = await OfAsync(stream);
        ((string)refused["words"]!).ShouldContain("You need to say who you are");
        ((string)refused["check"]!).ShouldBe("The password, and whether the user is “source”.");
        ((bool)refused["hasPassword"]!).ShouldBeTrue();
        (await OffAirAsync()).Single().ShouldContain("You need to say who you are");

        // Whoever gives up is told no more.
        (await server.SendAsync(HttpMethod.Post, $"/api/air/{stream}/stop")).Status.ShouldBe(200);
        (await OffAirAsync()).ShouldBeEmpty();

        await PasswordAsync(stream, password);
        await OnAirAsync(stream);
        foreach (var place in new[] { "/api/air", $"/api/shows/{await server.LiveAsync()}/file", "/api/shows/live", "/api/outputs" })
        {
            (await server.Http.GetStringAsync(place, Cancel)).ShouldNotContain(password);
        }

        (await File.ReadAllTextAsync(Path.Combine(server.Data, "streams.json"), Cancel)).ShouldNotContain(password);

        // It is still there after a restart, and the stream is off until somebody wants it.
        await server.StopAsync();
        await server.StartAsync();
        ((bool)(await OfAsync(stream))["hasPassword"]!).ShouldBeTrue();
        ((string)(await OfAsync(stream))["state"]!).ShouldBe("Off");
    }

    [Fact]
    public async Task A_station_that_is_restarted_costs_only_the_gap_that_is_named()
    {
        var (port, password) = await StationAsync();
        var stream = await StreamAsync(port, "Put", "/live", """{"form":"OggFlac","kilobits":0}""");
        await PasswordAsync(stream, password);
        await OnAirAsync(stream);
        await server.StepAsync(0.5);
        await RunningServer.UntilAsync(async () => (double)(await OfAsync(stream))["waitingSeconds"]! == 0);
        (await server.SendAsync(HttpMethod.Put, "/api/station", """{"isOn":false}""")).Status.ShouldBe(200);
        await UntilStateAsync(stream, "Reconnecting");
        await server.StepAsync(3);
        var away = await OfAsync(stream);
        ((string)away["words"]!).ShouldContain("tried again in");
        away["gaps"]!.AsArray().Single()!["seconds"].ShouldBeNull();
        (await OffAirAsync()).Single().ShouldStartWith("Viewers should be on air and is not: ");
        (await server.SendAsync(HttpMethod.Put, "/api/station", """{"isOn":true}""")).Status.ShouldBe(200);
        await RunningServer.UntilAsync(async () => (await server.SendAsync(HttpMethod.Get, "/api/station")).Body["mounts"]!.AsArray().Count == 1);
        await OnAirAsync(stream, start: false);
        var back = await OfAsync(stream);
        var gap = back["gaps"]!.AsArray().Single()!;
        (await OffAirAsync()).ShouldBeEmpty();
        ((double)gap["seconds"]!).ShouldBeInRange(2.9, 4);
        ((int)back["gapCount"]!).ShouldBe(1);

        // What was sent, what was not and what was missed are all that there was.
        await server.StepAsync(0.5);
        await RunningServer.UntilAsync(async () => (double)(await OfAsync(stream))["waitingSeconds"]! == 0);
        ((double)(await OfAsync(stream))["droppedSeconds"]!).ShouldBe(0);
    }

    [Fact]
    public async Task Before_a_start_it_is_told_what_is_there_and_what_is_not()
    {
        var (port, password) = await StationAsync();
        var stream = await StreamAsync(port, "Put", "/live");
        await server.StepAsync(4);
        (await StateAsync("Viewers")).ShouldStartWith("Look 127.0.0.1");
        (await StateAsync("Hush")).ShouldStartWith("Good");
        (await StateAsync("Level")).ShouldStartWith("Look Viewers is at −");
        (await StateAsync("Promises")).ShouldBe("Look Nothing is promised about who hears what.");
        (await StateAsync("Findings")).ShouldNotContain("should be on air");
        (await StateAsync("Room")).ShouldContain("free");
        await PasswordAsync(stream, password);
        (await StateAsync("Viewers")).ShouldBe($"Good 127.0.0.1, port {port}, answers.");
        (await server.SendAsync(HttpMethod.Put, "/api/station", """{"isOn":false}""")).Status.ShouldBe(200);
        (await StateAsync("Viewers")).ShouldStartWith("Wrong Nobody answers");
        (await server.SendAsync(HttpMethod.Put, "/api/hush", """{"on":true}""")).Status.ShouldBe(200);
        await server.StepAsync(4);
        (await StateAsync("Hush")).ShouldStartWith("Wrong");
        (await StateAsync("Level")).ShouldBe("Look Viewers is silent now.");
        (await server.SendAsync(HttpMethod.Put, "/api/hush", """{"on":false}""")).Status.ShouldBe(200);

        async Task<string> StateAsync(string what)
        {
            var check = (await server.SendAsync(HttpMethod.Get, "/api/air/checks?ask=true")).Body.AsArray().Single(c => (string)c!["what"]! == what)!;
            return $"{check["state"]} {check["words"]}";
        }
    }

    [Theory]
    [InlineData("PUT")]
    [InlineData("SOURCE")]
    public async Task Another_program_as_the_server_receives_what_is_sent(string method)
    {
        var port = FreePort();
        var received = Listening.DecodeAsync(["-listen", "1", "-method", method, "-f", "mp3", "-i", $"http://127.0.0.1:{port}/live", "-t", "3"]);
        var stream = await StreamAsync(port, method == "PUT" ? "Put" : "Source", "/live");
        await OnAirAsync(stream, () => received.IsCompleted);
        await RunningServer.UntilAsync(async () =>
        {
            await server.StepAsync(0.1);
            return received.IsCompleted;
        });
        var heard = await received;
        (heard.Length / 2).ShouldBeInRange((3 * 48_000) - 4_800, 3 * 48_000);
        heard.Max().ShouldBeGreaterThan(0.001);

        // It listens to one only, and goes: that is told, and tried again.
        await RunningServer.UntilAsync(async () =>
        {
            await server.StepAsync(0.1);
            return (string)(await OfAsync(stream))["state"]! == "Reconnecting";
        });
    }

    [Fact]
    public async Task Another_program_sends_to_the_station_and_its_listeners_have_that()
    {
        var (port, password) = await StationAsync();
        var client = await Listening.RadioClientAsync();
        var sent = Listening.DecodeAsync(
        [
            "-re", "-f", "lavfi", "-i", "sine=frequency=1000:duration=60", "-f", "lavfi", "-i", "anullsrc", "-map", "0:a", "-c:a", "libopus", "-b:a", "96k", "-content_type", "audio/ogg", "-ice_name", "Peer", "-f", "ogg",
            $"{client}://source:{password}@127.0.0.1:{port}/peer", "-map", "1:a", "-t", "0.1",
        ]);
        await RunningServer.UntilAsync(async () => (await server.SendAsync(HttpMethod.Get, "/api/station")).Body["mounts"]!.AsArray().Any(m => (string)m!["name"]! == "Peer" && (long)m["bytes"]! > 8_000));
        var heard = await Listening.PullAsync($"http://127.0.0.1:{port}/peer", seconds: 1);
        // Of one channel it makes two, each 3 dB softer.
        (heard.Length / 2).ShouldBeInRange(40_000, 48_000);
        Math.Sqrt(heard.Average(x => x * x)).ShouldBeInRange(0.055, 0.07);
        (await server.SendAsync(HttpMethod.Put, "/api/station", """{"isOn":false}""")).Status.ShouldBe(200);
        (await Record.ExceptionAsync(() => sent)).ShouldNotBeNull();
    }

    [Fact]
    public async Task A_slow_station_is_told_and_costs_nobody_else_anything()
    {
        var (port, password) = await StationAsync(""","bytesASecond":20000""");
        var stream = await StreamAsync(port, "Put", "/live", """{"kilobits":320}""");
        await PasswordAsync(stream, password);
        await OnAirAsync(stream);
        JsonNode? slow = null;
        await RunningServer.UntilAsync(async () =>
        {
            await server.StepAsync(20);
            slow = await OfAsync(stream);
            return (string)slow["state"]! == "TooSlow";
        });
        ((string)slow!["check"]!).ShouldContain("bit rate");
        await RunningServer.UntilAsync(async () =>
        {
            await server.StepAsync(20);
            slow = await OfAsync(stream);
            return (double)slow["waitingSeconds"]! > 8 && (double)slow["droppedSeconds"]! > 0;
        });
        ((string)slow["words"]!).ShouldContain("too slowly");
    }

    [Fact]
    public async Task A_pause_is_silence_or_a_source_and_a_song_is_known_to_the_station()
    {
        var (port, password) = await StationAsync();
        var stream = await StreamAsync(port, "Put", "/live");
        (await server.SendAsync(HttpMethod.Put, $"/api/air/{stream}/pause", "{}")).ShouldSayWhatWhereAndWhatIsAllowed(409, "stream");
        (await server.SendAsync(HttpMethod.Put, $"/api/air/{stream}/song", """{"song":"A"}""")).ShouldSayWhatWhereAndWhatIsAllowed(409, "stream");
        await PasswordAsync(stream, password);
        await OnAirAsync(stream);
        (await server.SendAsync(HttpMethod.Put, $"/api/air/{stream}/song", """{"song":"Ölsand & Reed – Tide"}""")).Status.ShouldBe(200);
        await RunningServer.UntilAsync(async () => (string?)(await server.SendAsync(HttpMethod.Get, "/api/station")).Body["mounts"]![0]!["song"] == "Ölsand & Reed – Tide");
        (await OfAsync(stream))["songTrouble"].ShouldBeNull();
        (await server.SendAsync(HttpMethod.Put, $"/api/air/{stream}/song", """{"song":"a\nb"}""")).ShouldSayWhatWhereAndWhatIsAllowed(422, "song");

        (await server.SendAsync(HttpMethod.Put, $"/api/air/{stream}/song", """{"song":""}""")).ShouldSayWhatWhereAndWhatIsAllowed(422, "song");
        (await server.SendAsync(HttpMethod.Put, "/api/station", """{"isOn":true,"refusal":""}""")).ShouldSayWhatWhereAndWhatIsAllowed(422, "refusal");
        (await server.SendAsync(HttpMethod.Put, "/api/station", """{"isOn":true,"bytesASecond":0}""")).ShouldSayWhatWhereAndWhatIsAllowed(422, "bytesASecond");
        (await server.SendAsync(HttpMethod.Get, "/api/air/forms?channels=7")).ShouldSayWhatWhereAndWhatIsAllowed(422, "channels");
        (await server.SendAsync(HttpMethod.Put, $"/api/air/{stream}/pause", """{"source":"nobody"}""")).ShouldSayWhatWhereAndWhatIsAllowed(404, "source");
        (await server.SendAsync(HttpMethod.Put, $"/api/air/{stream}/pause", "{}")).Status.ShouldBe(200);
        await server.StepAsync(1);
        await PullsAsync(port, highest => highest < 0.0005);
        (await server.SendAsync(HttpMethod.Delete, $"/api/air/{stream}/pause")).Status.ShouldBe(200);
        await PullsAsync(port, highest => highest > 0.001);
    }

    [Fact]
    public async Task What_the_music_program_says_that_it_plays_is_what_listeners_read_and_a_persons_words_stay_until_it_says_something_else()
    {
        var (port, password) = await StationAsync();
        var stream = await StreamAsync(port, "Put", "/live", """{"song":{"app":"record-shelf"}}""");
        await PasswordAsync(stream, password);
        (await server.ShowAsync())["streams"]![0]!["songFrom"]!.GetValue<string>().ShouldBe("record-shelf");

        // Its sound is in the show: it plays, and says what.
        (await server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/sources/taken", """{"input":{"type":"app","app":"record-shelf","port":"music"}}""")).Status.ShouldBe(200);
        await server.StepAsync(1);
        await OnAirAsync(stream);
        var first = await SongAsync(song => song is not null);
        first.ShouldContain(" – ");
        await RunningServer.UntilAsync(async () => (string?)(await server.SendAsync(HttpMethod.Get, "/api/station")).Body["mounts"]![0]!["song"] == first);
        (await server.SendAsync(HttpMethod.Put, $"/api/air/{stream}/song", """{"song":"A word from the captain"}""")).Status.ShouldBe(200);
        await server.StepAsync(2);
        await SongAsync(song => song == "A word from the captain");

        // Once round is less than a minute.
        for (var at = 0; at < 45; at += 3)
        {
            await server.StepAsync(3);
            await RunningServer.UntilAsync(async () => (double)(await OfAsync(stream))["waitingSeconds"]! < 3);
        }

        (await SongAsync(song => song != "A word from the captain")).ShouldNotBe(first);
        (await server.SendAsync(HttpMethod.Patch, $"/api/shows/LIVE/streams/{stream}", """{"song":{}}""")).Status.ShouldBe(200);
        (await server.ShowAsync())["streams"]![0]!["songFrom"].ShouldBeNull();
        (await server.SendAsync(HttpMethod.Patch, $"/api/shows/LIVE/streams/{stream}", """{"song":{"app":"No program"}}""")).ShouldSayWhatWhereAndWhatIsAllowed(422, "streams[0].songFrom");

        async Task<string> SongAsync(Func<string?, bool> isSo)
        {
            string? song = null;
            await RunningServer.UntilAsync(async () => isSo(song = (string?)(await OfAsync(stream))["song"]));
            return song!;
        }
    }

    [Fact]
    public async Task A_promise_that_a_stream_stays_on_air_is_kept_while_it_is_broken_once_it_is_lost_and_what_was_is_in_the_history()
    {
        var (port, password) = await StationAsync();
        var stream = await StreamAsync(port, "Put", "/live");
        await PasswordAsync(stream, password);
        (await server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/promises", $$"""{"promises":[{"kind":"staysOnAir","id":"new","stream":"{{stream}}"}]}""")).Status.ShouldBe(200);
        (await StateAsync()).ShouldBe("NotKnown Nobody has started it.");
        await OnAirAsync(stream);
        (await StateAsync()).ShouldStartWith("Kept It is on air");
        (await server.SendAsync(HttpMethod.Put, "/api/station", """{"isOn":false}""")).Status.ShouldBe(200);
        await StepsUntilAsync("Broken It is not on air: ");
        (await server.SendAsync(HttpMethod.Put, "/api/station", """{"isOn":true}""")).Status.ShouldBe(200);
        await StepsUntilAsync("Kept ");
        var show = (string)(await server.ShowAsync())["id"]!;
        await RunningServer.UntilAsync(async () =>
        {
            await server.StepAsync(0.5);
            var one = (await server.SendAsync(HttpMethod.Get, $"/api/shows/{show}/promises/breaks")).Body.AsArray().SingleOrDefault();
            return one is not null && (string)one["sentence"]! == "Viewers stays on air from its start to its end" && !(bool)one["bySound"]! && one["ended"] is not null;
        });

        // Ended by a person, it is no longer promised anything.
        (await server.SendAsync(HttpMethod.Post, $"/api/air/{stream}/stop")).Status.ShouldBe(200);
        (await StateAsync()).ShouldBe("NotKnown Nobody has started it.");

        async Task<string> StateAsync()
        {
            var one = (await server.SendAsync(HttpMethod.Get, "/api/shows/LIVE/promises")).Body["promises"]!.AsArray().Single()!;
            return $"{one["state"]} {one["routing"]!["why"]}";
        }

        async Task StepsUntilAsync(string begins) => await RunningServer.UntilAsync(async () =>
        {
            await server.StepAsync(0.5);
            return (await StateAsync()).StartsWith(begins, StringComparison.Ordinal);
        });
    }

    [Fact]
    public async Task A_source_that_waits_in_the_mixs_place_is_hushed_too_and_one_that_goes_leaves_silence_and_not_the_mix()
    {
        var (port, password) = await StationAsync();
        var stream = await StreamAsync(port, "Put", "/live", """{"form":"OggFlac","kilobits":0}""");
        var source = (string)(await server.ShowAsync())["sources"]![0]!["id"]!;
        await PasswordAsync(stream, password);
        await OnAirAsync(stream);
        (await server.SendAsync(HttpMethod.Put, $"/api/air/{stream}/pause", $$"""{"source":"{{source}}"}""")).Status.ShouldBe(200);
        await server.StepAsync(1);
        await HearsSoundAsync();
        (await server.SendAsync(HttpMethod.Put, "/api/hush", """{"on":true}""")).Status.ShouldBe(200);
        await server.StepAsync(1);
        await HearsNothingAsync();
        (await server.SendAsync(HttpMethod.Put, "/api/hush", """{"on":false}""")).Status.ShouldBe(200);
        await server.StepAsync(1);
        await HearsSoundAsync();

        // The source is removed, and the line is lost and comes back: nobody wanted the mix to go out.
        (await server.SendAsync(HttpMethod.Delete, $"/api/shows/LIVE/sources/{source}")).Status.ShouldBe(200);
        await server.StepAsync(1);
        await HearsNothingAsync();
        (await server.SendAsync(HttpMethod.Put, "/api/station", """{"isOn":false}""")).Status.ShouldBe(200);
        await UntilStateAsync(stream, "Reconnecting");
        (await server.SendAsync(HttpMethod.Put, "/api/station", """{"isOn":true}""")).Status.ShouldBe(200);
        await OnAirAsync(stream, start: false);
        await HearsAsync(port, (first, _) => first == 0);
        (await server.SendAsync(HttpMethod.Delete, $"/api/air/{stream}/pause")).Status.ShouldBe(200);
        await server.StepAsync(1);
        await HearsSoundAsync();

        // And with its mix the stream goes.
        (await server.SendAsync(HttpMethod.Delete, "/api/shows/LIVE/mixes/viewers")).Status.ShouldBe(200);
        await RunningServer.UntilAsync(async () =>
        {
            await server.StepAsync(0.1);
            return (await server.SendAsync(HttpMethod.Get, "/api/station")).Body["mounts"]!.AsArray().Count == 0;
        });

        Task HearsSoundAsync() => HearsAsync(port, (first, _) => first > 0.001);
        Task HearsNothingAsync() => HearsAsync(port, (_, last) => last == 0);
    }

    [Fact]
    public async Task A_song_in_ogg_begins_a_new_piece_of_it_and_no_sample_is_lost_between()
    {
        var (port, password) = await StationAsync();
        var stream = await StreamAsync(port, "Source", "/live", """{"form":"OggFlac","kilobits":0}""");
        await PasswordAsync(stream, password);
        (await server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/tracks", """{"takes":"mix/viewers","name":"Blend"}""")).Status.ShouldBe(200);
        (await server.SendAsync(HttpMethod.Post, "/api/takes", "{}")).Status.ShouldBe(200);
        await OnAirAsync(stream);
        using var listening = await server.Http.GetAsync(new Uri($"http://127.0.0.1:{port}/live"), HttpCompletionOption.ResponseHeadersRead, Cancel);
        using var bytes = new MemoryStream();
        await using var body = await listening.Content.ReadAsStreamAsync(Cancel);
        var all = body.CopyToAsync(bytes, Cancel);
        await server.StepAsync(2);
        (await server.SendAsync(HttpMethod.Put, $"/api/air/{stream}/song", """{"song":"Tide"}""")).Status.ShouldBe(200);
        await server.StepAsync(2);
        (await server.SendAsync(HttpMethod.Post, $"/api/air/{stream}/stop")).Status.ShouldBe(200);
        await all;
        var take = (await server.SendAsync(HttpMethod.Post, "/api/takes/current/stop")).Body;
        var recorded = SoundFileReader.Read(Path.Combine((string)take["folder"]!, "01 Blend.wav")).Sound.Left;
        Encoding.Latin1.GetString(bytes.ToArray()).Split("fLaC").Length.ShouldBe(3);
        Encoding.UTF8.GetString(bytes.ToArray()).ShouldContain("TITLE=Tide");
        var (left, buffer) = (new List<float>(), new float[4_096]);
        bytes.Position = 0;
        using var decoder = Kinetra.Media.Streaming.StreamDecoder.Open(bytes);
        for (int count; (count = decoder.Read(buffer)) > 0;)
        {
            left.AddRange(Enumerable.Range(0, count).Select(n => buffer[2 * n]));
        }

        // 4 s and what was on its way when it began; in it, all of what was recorded, one after the other.
        left.Count.ShouldBeGreaterThan(4 * 48_000);
        var (differs, _) = Listening.Likeness([.. left.Select(x => (double)x)], recorded);
        differs.ShouldBeLessThan(-120);
        var place = Enumerable.Range(0, recorded.Length - left.Count + 1).First(at => recorded.AsSpan(at, 4_000).ToArray().Zip(left).All(p => Math.Abs(p.First - p.Second) < 1e-6));
        recorded.AsSpan(place, left.Count).ToArray().Zip(left).Max(p => Math.Abs(p.First - p.Second)).ShouldBeLessThan(1e-6f);
    }

    [Fact]
    public async Task It_ends_with_its_show_and_with_its_removal_and_undo_brings_it_back_with_its_password()
    {
        var (port, password) = await StationAsync();
        var stream = await StreamAsync(port, "Put", "/live");
        await PasswordAsync(stream, password);
        await OnAirAsync(stream);
        (await server.SendAsync(HttpMethod.Delete, $"/api/shows/LIVE/streams/{stream}")).Status.ShouldBe(200);
        await StepUntilGoneAsync();
        (await server.UndoAsync()).Status.ShouldBe(200);
        await OnAirAsync(stream);
        await server.OpenFreshShowAsync();
        await StepUntilGoneAsync();
        (await server.SendAsync(HttpMethod.Get, "/api/air")).Body.AsArray().ShouldBeEmpty();

        async Task StepUntilGoneAsync() => await RunningServer.UntilAsync(async () =>
        {
            await server.StepAsync(0.1);
            return (await server.SendAsync(HttpMethod.Get, "/api/station")).Body["mounts"]!.AsArray().Count == 0;
        });
    }

    [Theory]
    [InlineData("Put", "HTTP/1.1 302 Found\r\nLocation: http://elsewhere.example/live\r\n\r\n", "points elsewhere, to http://elsewhere.example/live", "by itself")]
    [InlineData("Put", "HTTP/1.1 404 No such mount\r\n\r\n", "no such place", "/live")]
    [InlineData("Source", "HTTP/1.0 501 Not Implemented\r\n\r\n", "in this way", "kind of server")]
    [InlineData("Put", "220 mail.example ready\r\n", "no server for this kind of stream. It says: 220 mail.example ready", "port")]
    [InlineData("FirstLine", "HTTP/1.1 400 Bad Request\r\n\r\n", "no server of the oldest kind", "kind of server")]
    [InlineData("FirstLine", "invalid password\r\n", "invalid password", "The password.")]
    [InlineData("Put", "\u0015\u0003\u0001", "speaks TLS", "TLS")]
    [InlineData("Put", "", "without a word", "port")]
    public async Task What_a_server_says_that_is_none_is_told_with_what_to_look_at(string kind, string says, string words, string check)
    {
        using var other = new TcpListener(IPAddress.Loopback, 0);
        other.Start();
        var answering = AnswerAsync(other, says);
        var port = ((IPEndPoint)other.LocalEndpoint).Port;
        var stream = await StreamAsync(kind == "FirstLine" ? port - 1 : port, kind, kind == "FirstLine" ? "" : "/live");
        (await server.SendAsync(HttpMethod.Post, $"/api/air/{stream}/start")).Status.ShouldBe(200);
        await UntilStateAsync(stream, "Refused");
        var refused = await OfAsync(stream);
        ((string)refused["words"]!).ShouldContain(words);
        ((string)refused["check"]!).ShouldContain(check);
        await answering;
    }

    [Fact]
    public async Task An_answer_without_an_end_a_name_that_nobody_has_a_port_where_nobody_is_and_no_tls_are_told()
    {
        using var endless = new TcpListener(IPAddress.Loopback, 0);
        endless.Start();
        var answering = AnswerAsync(endless, "HTTP/1.1 200 OK\r\n" + string.Concat(Enumerable.Repeat("X-Filler: " + new string('x', 90) + "\r\n", 1_000)));
        var talkative = await StreamAsync(((IPEndPoint)endless.LocalEndpoint).Port, "Put", "/live");
        (await server.SendAsync(HttpMethod.Post, $"/api/air/{talkative}/start")).Status.ShouldBe(200);
        await UntilStateAsync(talkative, "Refused");
        ((string)(await OfAsync(talkative))["words"]!).ShouldContain("has no end");
        await answering;

        var nobody = await StreamAsync(FreePort(), "Put", "/live");
        (await server.SendAsync(HttpMethod.Post, $"/api/air/{nobody}/start")).Status.ShouldBe(200);
        await RunningServer.UntilAsync(async () => ((string)(await OfAsync(nobody))["words"]!).Contains("Nobody answers", StringComparison.Ordinal));
        ((string)(await OfAsync(nobody))["state"]!).ShouldBe("Connecting");

        (await server.SendAsync(HttpMethod.Patch, $"/api/shows/LIVE/streams/{nobody}", """{"server":{"kind":"Put","host":"no-such-name.invalid","port":8000,"path":"/live","user":"source"}}""")).Status.ShouldBe(200);
        (await server.SendAsync(HttpMethod.Post, $"/api/air/{nobody}/stop")).Status.ShouldBe(200);
        (await server.SendAsync(HttpMethod.Post, $"/api/air/{nobody}/start")).Status.ShouldBe(200);
        await RunningServer.UntilAsync(async () => ((string)(await OfAsync(nobody))["words"]!).Contains("no server called no-such-name.invalid", StringComparison.Ordinal));

        var (port, password) = await StationAsync();
        var secure = await StreamAsync(port, "Put", "/live", $$$"""{"server":{"kind":"Put","host":"127.0.0.1","port":{{{port}}},"path":"/live","user":"source","secure":true}}""");
        await PasswordAsync(secure, password);
        (await server.SendAsync(HttpMethod.Post, $"/api/air/{secure}/start")).Status.ShouldBe(200);
        await UntilStateAsync(secure, "Refused");
        ((string)(await OfAsync(secure))["words"]!).ShouldContain("no TLS");
    }

    [Theory]
    [InlineData("""{"kilobits":129}""", "kilobits")]
    [InlineData("""{"form":"Wav"}""", "form")]
    [InlineData("""{"form":"OggOpus","sampleRate":44100}""", "sampleRate")]
    [InlineData("""{"channels":3}""", "channels")]
    [InlineData("""{"title":"a\nb"}""", "title")]
    [InlineData("""{"mix":"nobody"}""", "mix")]
    [InlineData("""{"server":{"kind":"Put","host":"http://radio.example/","port":8000,"path":"/live","user":"source"}}""", "host")]
    [InlineData("""{"server":{"kind":"Put","host":"radio.example","port":70000,"path":"/live","user":"source"}}""", "port")]
    [InlineData("""{"server":{"kind":"Put","host":"radio.example","port":8000,"path":"live room","user":"source"}}""", "path")]
    [InlineData("""{"server":{"kind":"FirstLine","host":"radio.example","port":8000,"path":"/live","user":""}}""", "path")]
    [InlineData("""{"server":{"kind":"Put","host":"radio.example","port":8000,"path":"/live","user":"a:b"}}""", "user")]
    public async Task What_no_stream_can_be_is_said(string change, string where)
    {
        var stream = await StreamAsync(8_000, "Put", "/live");
        var (status, body) = await server.SendAsync(HttpMethod.Patch, $"/api/shows/LIVE/streams/{stream}", change);
        status.ShouldBe(422, body.ToJsonString());
        body.ToJsonString().ShouldContain(where);
    }

    private static async Task AnswerAsync(TcpListener listener, string says)
    {
        using var client = await listener.AcceptTcpClientAsync(Cancel);
        await using var line = client.GetStream();
        var request = new byte[4_096];
        _ = await line.ReadAsync(request, Cancel);
        try
        {
            await line.WriteAsync(Encoding.Latin1.GetBytes(says), Cancel);
            client.Client.Shutdown(SocketShutdown.Send);
            while (await line.ReadAsync(request, Cancel) > 0)
            {
            }
        }
        catch (IOException)
        {
            // The other side had enough.
        }
    }

    private static int FreePort()
    {
        using var listener = new TcpListener(IPAddress.Loopback, 0);
        listener.Start();
        return ((IPEndPoint)listener.LocalEndpoint).Port;
    }

    // The same of what begins anywhere: another program listens anew until the second that it hears is so.
    private async Task PullsAsync(int port, Func<double, bool> isSo) => await RunningServer.UntilAsync(async () =>
    {
        var pulled = Listening.PullAsync($"http://127.0.0.1:{port}/live", seconds: 1);
        await StepUntilAsync(() => pulled.IsCompleted);
        return isSo((await pulled).Select(Math.Abs).Max());
    });

    // Somebody listens until what he has heard is so: the highest sample of the first second, and of the last one. What was under way when he came
    // is of before, so that he listens for a while.
    private async Task HearsAsync(int port, Func<float, float, bool> isSo)
    {
        using var listening = await server.Http.GetAsync(new Uri($"http://127.0.0.1:{port}/live"), HttpCompletionOption.ResponseHeadersRead, Cancel);
        await using var body = await listening.Content.ReadAsStreamAsync(Cancel);
        var heard = Task.Run(
            () =>
            {
                using var decoder = Kinetra.Media.Streaming.StreamDecoder.Open(body);
                var (buffer, peaks, frames) = (new float[2 * 4_800], new List<float>(), 0);
                for (var second = 1; second <= 20; second++)
                {
                    var peak = 0f;
                    while (frames < second * decoder.SampleRate && decoder.Read(buffer) is > 0 and var count)
                    {
                        peak = Math.Max(peak, buffer.AsSpan(0, decoder.Channels * count).ToArray().Max(Math.Abs));
                        frames += count;
                    }

                    frames.ShouldBeGreaterThanOrEqualTo(second * decoder.SampleRate);
                    peaks.Add(peak);
                    if (isSo(peaks[0], peak))
                    {
                        return true;
                    }
                }

                return false;
            },
            Cancel);
        await StepUntilAsync(() => heard.IsCompleted);
        (await heard).ShouldBeTrue();
    }

    private async Task<(int Port, string Password)> StationAsync(string more = "")
    {
        var (status, body) = await server.SendAsync(HttpMethod.Put, "/api/station", $$"""{"isOn":true{{more}}}""");
        status.ShouldBe(200, body.ToJsonString());
        return ((int)body["port"]!, (string)body["password"]!);
    }

    private async Task<string> StreamAsync(int port, string kind, string path, string? change = null)
    {
        var user = kind == "FirstLine" ? "" : "source";
        var wanted = string.Create(CultureInfo.InvariantCulture, $$$"""{"mix":"viewers","server":{"kind":"{{{kind}}}","host":"127.0.0.1","port":{{{port}}},"path":"{{{path}}}","user":"{{{user}}}"}}""");
        var (status, body) = await server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/streams", wanted);
        status.ShouldBe(200, body.ToJsonString());
        var stream = (string)(await server.ShowAsync())["streams"]!.AsArray()[^1]!["id"]!;
        if (change is not null)
        {
            var (changed, answer) = await server.SendAsync(HttpMethod.Patch, $"/api/shows/LIVE/streams/{stream}", change);
            changed.ShouldBe(200, answer.ToJsonString());
        }

        return stream;
    }

    private async Task PasswordAsync(string stream, string password)
    {
        var (status, body) = await server.SendAsync(HttpMethod.Put, $"/api/air/{stream}/password", new JsonObject { ["password"] = password }.ToJsonString());
        status.ShouldBe(200, body.ToJsonString());
        body.ToJsonString().ShouldNotContain(password);
    }

    private async Task<List<string>> OffAirAsync() =>
        [.. (await server.SendAsync(HttpMethod.Get, "/api/shows/LIVE/findings")).Body["findings"]!.AsArray().Where(f => (string)f!["kind"]! == "OffAir").Select(f => (string)f!["sentence"]!)];

    private async Task<JsonNode> OfAsync(string stream) => (await server.SendAsync(HttpMethod.Get, "/api/air")).Body.AsArray().Single(a => (string)a!["stream"]! == stream)!;

    private Task UntilStateAsync(string stream, string state) => RunningServer.UntilAsync(async () => (string)(await OfAsync(stream))["state"]! == state);

    private Task StepUntilAsync(Func<bool> done) => RunningServer.UntilAsync(async () =>
    {
        await server.StepAsync(0.1);
        return done();
    });

    private async Task OnAirAsync(string stream, Func<bool>? over = null, bool start = true)
    {
        if (start)
        {
            (await server.SendAsync(HttpMethod.Post, $"/api/air/{stream}/start")).Status.ShouldBe(200);
        }

        await RunningServer.UntilAsync(async () =>
        {
            await server.StepAsync(0.05);
            return over?.Invoke() == true || (string)(await OfAsync(stream))["state"]! == "OnAir";
        });
    }
}

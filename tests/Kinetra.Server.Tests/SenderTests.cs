using System.Diagnostics;
using System.Net.Sockets;
using System.Text;
using System.Text.Json.Nodes;
using Kinetra.Media;

namespace Kinetra.Server.Tests;

/// <summary>Other programs send sound into cables by address; the independent one here is ffmpeg, also with its client for internet radio.</summary>
public sealed class SenderTests(RunningServer server) : IClassFixture<RunningServer>, IAsyncLifetime
{
    private string _cable = "";
    private string _key = "";

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    public async ValueTask InitializeAsync()
    {
        await server.OpenFreshShowAsync();
        var (_, show) = await server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/cables", """{"name":"Music in"}""");
        _cable = (string)show["cables"]!.AsArray().Single()!["id"]!;
        var (status, address) = await server.SendAsync(HttpMethod.Post, "/api/addresses", $$"""{"point":"cable/{{_cable}}"}""");
        status.ShouldBe(200);
        _key = (string)address["key"]!;
        ((string)address["into"]!).ShouldBe($"/live/{_key}");
    }

    public async ValueTask DisposeAsync()
    {
        await server.SendAsync(HttpMethod.Post, "/api/takes/current/stop");
        await server.SendAsync(HttpMethod.Delete, $"/api/addresses/{_key}");
    }

    [Theory]
    [InlineData("put", "pcm_s24le", "wav", "WAV, 24 bit", -100)]
    [InlineData("put", "flac", "flac", "FLAC", -100)]
    [InlineData("put", "libmp3lame", "mp3", "MP3", -50)]
    [InlineData("radio", "libmp3lame", "mp3", "MP3", -50)]
    [InlineData("older radio", "libmp3lame", "mp3", "MP3", -50)]
    [InlineData("radio", "libopus", "ogg", "Opus in Ogg", -50)]
    [InlineData("older radio", "libvorbis", "ogg", "Vorbis in Ogg", -50)]
    [InlineData("radio", "flac", "ogg", "FLAC in Ogg", -100)]
    public async Task What_another_program_sends_comes_out_of_the_cable_as_loud_and_whole(string way, string codec, string form, string format, double differs)
    {
        var sound = await NoiseAsync(6);
        (await server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/tracks", $$"""{"takes":"cable/{{_cable}}","name":"Cable"}""")).Status.ShouldBe(200);
        (await server.SendAsync(HttpMethod.Post, "/api/takes", "{}")).Status.ShouldBe(200);
        using var ffmpeg = await SendAsync(sound, way, codec, form);
        await RunningServer.UntilAsync(async () => (string?)(await AddressAsync())["sender"]?["format"] == format);
        var sender = (await AddressAsync())["sender"]!;
        ((string)sender["name"]!).ShouldBe(way == "put" ? "Sender to Music in" : "Evening music");
        await HearAsync(ffmpeg, seconds: 6);
        var take = (await server.SendAsync(HttpMethod.Post, "/api/takes/current/stop")).Body;
        var recorded = SoundFileReader.Read(Path.Combine((string)take["folder"]!, "01 Cable.wav")).Sound;
        // What it coded, as it understands that itself.
        var coded = Path.Combine(server.Data, $"coded.{form}");
        await FfmpegAsync(["-i", sound, .. Coded(codec), "-f", form, coded]);
        var sent = await Listening.DecodeAsync(["-i", coded]);
        for (var c = 0; c < 2; c++)
        {
            var side = Enumerable.Range(0, sent.Length / 2).Select(n => sent[(2 * n) + c]).ToArray();
            var (unlike, level) = Listening.Likeness(side, c == 0 ? recorded.Left : recorded.Right!);
            unlike.ShouldBeLessThan(differs, $"{way}, {codec}, channel {c}");
            Math.Abs(level).ShouldBeLessThan(0.1, $"{way}, {codec}, channel {c}");
        }
    }

    [Fact]
    public async Task A_sender_is_a_program_of_the_computer_while_it_sends_and_one_that_comes_twice_is_told_so()
    {
        using var ffmpeg = await SendAsync(await NoiseAsync(30), "put", "libmp3lame", "mp3");
        await RunningServer.UntilAsync(async () => (await ProgramsAsync()).Count == 1);
        var program = (await ProgramsAsync()).Single();
        ((string)program["ports"]![0]!["end"]!).ShouldBe($"cable/{_cable}");
        (await server.SendAsync(HttpMethod.Patch, $"/api/gear/apps/{program["id"]}", """{"isRunning":false}""")).ShouldSayWhatWhereAndWhatIsAllowed(422, "app");
        (await PutAsync("RIFF"u8.ToArray())).ShouldSayWhatWhereAndWhatIsAllowed(409, "address");
        (await RawAsync("SOURCE", "")).ShouldContain("409 Conflict");

        (await server.SendAsync(HttpMethod.Delete, $"/api/addresses/{_key}/sender")).Status.ShouldBe(204);
        await RunningServer.UntilAsync(async () => (await ProgramsAsync()).Count == 0);
        (await server.SendAsync(HttpMethod.Delete, $"/api/addresses/{_key}/sender")).ShouldSayWhatWhereAndWhatIsAllowed(404, "address");
        await ffmpeg.WaitForExitAsync(Cancel);

        // No key leaves with what the computer tells of it.
        (await server.SendAsync(HttpMethod.Get, "/api/gear")).Body.ToJsonString().ShouldNotContain(_key);
        (await server.SendAsync(HttpMethod.Get, "/api/gear/history")).Body.ToJsonString().ShouldNotContain(_key);

        // And with its address a sender goes.
        using var other = await SendAsync(await NoiseAsync(30), "put", "libmp3lame", "mp3");
        await RunningServer.UntilAsync(async () => (await ProgramsAsync()).Count == 1);
        (await server.SendAsync(HttpMethod.Delete, $"/api/addresses/{_key}")).Status.ShouldBe(204);
        await RunningServer.UntilAsync(async () => (await ProgramsAsync()).Count == 0);
        await other.WaitForExitAsync(Cancel);
    }

    [Fact]
    public async Task Whoever_sends_into_a_cable_sends_into_no_other_show_that_has_one_of_the_same_id()
    {
        using var ffmpeg = await SendAsync(await NoiseAsync(30), "put", "flac", "flac");
        await RunningServer.UntilAsync(async () => (await ProgramsAsync()).Count == 1);
        await server.StepAsync(0.5);
        var copy = (await server.SendAsync(HttpMethod.Post, "/api/shows", $$"""{"copyOf":"{{await server.LiveAsync()}}","name":"The other"}""")).Body;
        (await server.SendAsync(HttpMethod.Post, $"/api/shows/{copy["id"]}/open", "{}")).Status.ShouldBe(200);
        (await ProgramsAsync()).ShouldBeEmpty();
        (await server.ShowAsync())["cables"]!.AsArray().Select(c => (string)c!["id"]!).ShouldContain(_cable);
        (await PutAsync("RIFF"u8.ToArray())).ShouldSayWhatWhereAndWhatIsAllowed(409, "address");
        await ffmpeg.WaitForExitAsync(Cancel);
    }

    [Fact]
    public async Task Whoever_was_let_in_and_sends_only_once_another_show_is_open_is_heard_in_none()
    {
        var wav = await File.ReadAllBytesAsync(await NoiseAsync(2), Cancel);
        var copy = (await server.SendAsync(HttpMethod.Post, "/api/shows", $$"""{"copyOf":"{{await server.LiveAsync()}}","name":"The other"}""")).Body;
        using var client = new TcpClient();
        await client.ConnectAsync(server.Address.Host, server.Address.Port, Cancel);
        await using var line = client.GetStream();
        await line.WriteAsync(Encoding.ASCII.GetBytes($"SOURCE /live/{_key} HTTP/1.0\r\n\r\n"), Cancel);
        await RunningServer.UntilAsync(async () => (await AddressAsync())["sender"] is not null);
        var opened = server.SendAsync(HttpMethod.Post, $"/api/shows/{copy["id"]}/open", "{}");
        try
        {
            await line.WriteAsync(wav, Cancel);
        }
        catch (IOException)
        {
            // It was let go by then.
        }

        (await opened).Status.ShouldBe(200);
        for (var n = 0; n < 20; n++)
        {
            (await ProgramsAsync()).ShouldBeEmpty();
            await server.StepAsync(0.05);
        }
    }

    [Fact]
    public async Task A_sender_that_stalls_leaves_a_silence_that_is_counted_and_is_let_go_in_the_end()
    {
        var wav = await File.ReadAllBytesAsync(await NoiseAsync(2), Cancel);
        using var client = new TcpClient();
        await client.ConnectAsync(server.Address.Host, server.Address.Port, Cancel);
        await client.GetStream().WriteAsync(Encoding.ASCII.GetBytes($"SOURCE /live/{_key} HTTP/1.0\r\nice-name: Slow one\r\n\r\n"), Cancel);
        await client.GetStream().WriteAsync(wav.AsMemory(0, 44 + (6 * 48_000)), Cancel);
        await RunningServer.UntilAsync(async () => (double?)(await AddressAsync())["sender"]?["waitingSeconds"] > 0.7);
        await server.StepAsync(0.5);
        await RunningServer.UntilAsync(async () =>
        {
            await server.StepAsync(0.1);
            return (bool)(await AddressAsync())["sender"]!["isLate"]!;
        });
        var late = (await AddressAsync())["sender"]!;
        ((long)late["gaps"]!).ShouldBe(1);
        ((double)late["seconds"]!).ShouldBeGreaterThan(0.7);
        await RunningServer.UntilAsync(async () =>
        {
            await server.StepAsync(5);
            return (await AddressAsync())["sender"] is null;
        });
        ((string)(await AddressAsync())["refused"]!["what"]!).ShouldBe("Nothing came for 30 s.");
    }

    [Fact]
    public async Task What_is_no_sound_breaks_off_or_is_too_wide_is_told_with_what_is_allowed()
    {
        (await PutAsync(Encoding.ASCII.GetBytes(new string('x', 4_000)))).ShouldSayWhatWhereAndWhatIsAllowed(422, "body");
        ((string)(await AddressAsync())["refused"]!["what"]!).ShouldBe("What came is no sound that can be read.");
        (await PutAsync([])).ShouldSayWhatWhereAndWhatIsAllowed(422, "body");
        var surround = Path.Combine(server.Data, "six.wav");
        await FfmpegAsync(["-f", "lavfi", "-i", "anoisesrc=d=1:r=48000", "-ac", "6", surround]);
        (await PutAsync(await File.ReadAllBytesAsync(surround, Cancel))).ShouldSayWhatWhereAndWhatIsAllowed(422, "body");

        // It begins as what it is not: what it is, is what counts.
        var mp3 = Path.Combine(server.Data, "some.mp3");
        await FfmpegAsync(["-i", await NoiseAsync(2), mp3]);
        var bytes = await File.ReadAllBytesAsync(mp3, Cancel);
        using var request = new HttpRequestMessage(HttpMethod.Put, $"/live/{_key}.ogg") { Content = new ByteArrayContent(bytes) };
        request.Content.Headers.ContentType = new("audio/ogg");
        var sent = server.Http.SendAsync(request, Cancel);
        await RunningServer.UntilAsync(async () =>
        {
            await server.StepAsync(0.05);
            return sent.IsCompleted;
        });
        ((int)(await sent).StatusCode).ShouldBe(200);
        (await AddressAsync())["refused"].ShouldBeNull();
    }

    [Fact]
    public async Task Whoever_asks_for_what_there_is_not_is_told_and_a_head_that_never_ends_keeps_nobody_else_out()
    {
        (await RawAsync("SOURCE", "", key: _key[..^1])).ShouldContain("404 Not Found");
        (await RawAsync("PUT", "", key: "nothing")).ShouldContain("There is no such address.");
        var (_, mix) = await server.SendAsync(HttpMethod.Post, "/api/addresses", """{"point":"mix/viewers"}""");
        mix["into"].ShouldBeNull();
        (await RawAsync("PUT", "", key: (string)mix["key"]!)).ShouldContain("the address of a cable");
        (await server.SendAsync(HttpMethod.Delete, $"/api/addresses/{mix["key"]}")).Status.ShouldBe(204);

        using var slow = new TcpClient();
        await slow.ConnectAsync(server.Address.Host, server.Address.Port, Cancel);
        await slow.GetStream().WriteAsync(Encoding.ASCII.GetBytes($"SOURCE /live/{_key} HTTP/1.0\r\nx: "), Cancel);
        await slow.GetStream().WriteAsync(new byte[40_000], Cancel);
        (await AddressAsync())["sender"].ShouldBeNull();
        (await RawAsync("SOURCE", "nothing that is sound, and then no more")).ShouldContain("200 OK");
        await RunningServer.UntilAsync(async () => (await AddressAsync())["refused"] is not null);
    }

    // Until all of so many seconds has been heard: the clock goes on as long as enough waits, and once all is there, or no more comes.
    private async Task HearAsync(Process ffmpeg, double seconds)
    {
        var (last, since) = (0.0, Stopwatch.GetTimestamp());
        await RunningServer.UntilAsync(async () =>
        {
            var sender = (await AddressAsync())["sender"];
            if (sender is null)
            {
                // What the take has not been told yet comes with the next block.
                await server.StepAsync(0.1);
                return true;
            }

            var (waits, all) = ((double)sender["waitingSeconds"]!, (double)sender["seconds"]! + (double)sender["waitingSeconds"]!);
            (last, since) = all != last || !ffmpeg.HasExited ? (all, Stopwatch.GetTimestamp()) : (last, since);
            if (waits > 0.6 || all > seconds - 0.1 || Stopwatch.GetElapsedTime(since) > TimeSpan.FromSeconds(2))
            {
                await server.StepAsync(0.1);
            }

            return false;
        });
    }

    private async Task<JsonNode> AddressAsync() => (await server.SendAsync(HttpMethod.Get, "/api/addresses")).Body.AsArray().Single(a => (string)a!["key"]! == _key)!;

    private async Task<List<JsonNode>> ProgramsAsync() =>
        [.. (await server.SendAsync(HttpMethod.Get, "/api/gear")).Body["apps"]!.AsArray().Select(a => a!).Where(a => (string)a["kind"]! == "Sender")];

    private async Task<(int Status, JsonNode Body)> PutAsync(byte[] bytes)
    {
        using var request = new HttpRequestMessage(HttpMethod.Put, $"/live/{_key}") { Content = new ByteArrayContent(bytes) };
        return await server.SendAsync(request);
    }

    private async Task<string> RawAsync(string method, string body, string? key = null)
    {
        using var client = new TcpClient();
        await client.ConnectAsync(server.Address.Host, server.Address.Port, Cancel);
        await using var line = client.GetStream();
        await line.WriteAsync(Encoding.ASCII.GetBytes($"{method} /live/{key ?? _key} HTTP/1.1\r\nHost: 127.0.0.1\r\n\r\n{body}"), Cancel);
        client.Client.Shutdown(SocketShutdown.Send);
        using var reader = new StreamReader(line);
        return await reader.ReadToEndAsync(Cancel);
    }

    // Noise of two sides that are not alike, the same each time.
    private async Task<string> NoiseAsync(int seconds)
    {
        var path = Path.Combine(server.Data, $"noise-{seconds}.wav");
        if (!File.Exists(path))
        {
            await FfmpegAsync(["-f", "lavfi", "-i", $"anoisesrc=d={seconds}:c=pink:a=0.3:seed=5:r=48000", "-f", "lavfi", "-i", $"anoisesrc=d={seconds}:c=pink:a=0.2:seed=9:r=48000",
                "-filter_complex", "[0][1]amerge=inputs=2,lowpass=f=1500", "-c:a", "pcm_s24le", path]);
        }

        return path;
    }

    private async Task<Process> SendAsync(string sound, string way, string codec, string form)
    {
        var client = await Listening.RadioClientAsync();
        // The older way ends by a reset, which loses what is under way: it sends no faster than it is heard.
        var older = way == "older radio";
        string[] to = way switch
        {
            "put" => ["-f", form, "-method", "PUT", $"{server.Address}live/{_key}.{form}"],
            _ => [.. older ? [$"-legacy_{client}", "1"] : Array.Empty<string>(), "-content_type", form == "ogg" ? "audio/ogg" : "audio/mpeg", "-ice_name", "Evening music",
                "-f", form, $"{client}://any:thing@127.0.0.1:{server.Address.Port}/live/{_key}"],
        };
        return Process.Start(new ProcessStartInfo("ffmpeg", ["-v", "error", .. older ? ["-re"] : Array.Empty<string>(), "-i", sound, .. Coded(codec), .. to]))!;
    }

    private static string[] Coded(string codec) =>
        ["-c:a", codec, .. codec is "libmp3lame" or "libopus" ? ["-b:a", "256k"] : codec == "libvorbis" ? ["-q:a", "8"] : codec == "flac" ? ["-sample_fmt", "s16"] : Array.Empty<string>()];

    private static async Task FfmpegAsync(IReadOnlyList<string> arguments)
    {
        using var process = Process.Start(new ProcessStartInfo("ffmpeg", ["-v", "error", "-y", .. arguments]))!;
        await process.WaitForExitAsync(Cancel);
        process.ExitCode.ShouldBe(0);
    }
}

using System.Net.Sockets;
using System.Text;
using System.Text.Json.Nodes;
using Kinetra.Media;

namespace Kinetra.Server.Tests;

/// <summary>Other programs get at mixes and cables by address; the independent one here is ffmpeg.</summary>
public sealed class AddressTests(RunningServer server) : IClassFixture<RunningServer>, IAsyncLifetime
{
    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    public async ValueTask InitializeAsync()
    {
        await server.OpenFreshShowAsync();
        (await server.SendAsync(HttpMethod.Patch, "/api/shows/LIVE/mixes/viewers", """{"gain":-18}""")).Status.ShouldBe(200);
    }

    public async ValueTask DisposeAsync() => await server.SendAsync(HttpMethod.Post, "/api/takes/current/stop");

    [Theory]
    [InlineData("wav")]
    [InlineData("flac")]
    [InlineData("ogg")]
    [InlineData("mp3")]
    public async Task Another_program_gets_what_a_mix_gives_as_loud_and_whole_in_every_form(string ending)
    {
        var address = await OpenAsync("mix/viewers");
        (await server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/tracks", """{"takes":"mix/viewers","name":"Blend"}""")).Status.ShouldBe(200);
        (await server.SendAsync(HttpMethod.Post, "/api/takes", "{}")).Status.ShouldBe(200);
        await server.StepAsync(0.5);
        var pulled = Listening.PullAsync($"{server.Address}live/{address}.{ending}", seconds: 4);
        await RunningServer.UntilAsync(async () => (await ReadersAsync(address)).Count == 1);
        await RunningServer.UntilAsync(async () =>
        {
            await server.StepAsync(0.25);
            return pulled.IsCompleted;
        });
        var heard = await pulled;
        var take = (await server.SendAsync(HttpMethod.Post, "/api/takes/current/stop")).Body;
        var recorded = SoundFileReader.Read(Path.Combine((string)take["folder"]!, "01 Blend.wav")).Sound;

        // It counts from the time that stands on what it reads first, which some forms begin a little before their sound.
        (heard.Length / 2).ShouldBeInRange((4 * 48_000) - 4_800, 4 * 48_000);
        for (var c = 0; c < 2; c++)
        {
            var side = Enumerable.Range(0, heard.Length / 2).Select(n => heard[(2 * n) + c]).ToArray();
            var (differs, level) = Listening.Likeness(side, c == 0 ? recorded.Left : recorded.Right!);
            differs.ShouldBeLessThan(ending is "wav" or "flac" ? -120 : -12, $"{ending}, channel {c}");
            Math.Abs(level).ShouldBeLessThan(0.1, $"{ending}, channel {c}");
        }
    }

    [Fact]
    public async Task A_reader_that_never_reads_costs_only_itself_and_one_that_goes_is_gone()
    {
        var address = await OpenAsync("mix/viewers");
        using var stuck = new TcpClient();
        await stuck.ConnectAsync(server.Address.Host, server.Address.Port, Cancel);
        await stuck.GetStream().WriteAsync(Encoding.ASCII.GetBytes($"GET /live/{address}.wav HTTP/1.1\r\nHost: 127.0.0.1\r\n\r\n"), Cancel);
        await RunningServer.UntilAsync(async () => (await ReadersAsync(address)).Count == 1);
        var pulled = Listening.PullAsync($"{server.Address}live/{address}.flac", seconds: 60);
        await RunningServer.UntilAsync(async () => (await ReadersAsync(address)).Count == 2);
        await RunningServer.UntilAsync(async () =>
        {
            await server.StepAsync(1);
            return pulled.IsCompleted;
        });
        ((await pulled).Length / 2).ShouldBeInRange((60 * 48_000) - 4_800, 60 * 48_000);
        await RunningServer.UntilAsync(async () => (await ReadersAsync(address)).Count == 1);
        var left = (await ReadersAsync(address)).Single();
        ((double)left["lostSeconds"]!).ShouldBeGreaterThan(20);
        stuck.Close();
        await RunningServer.UntilAsync(async () =>
        {
            await server.StepAsync(0.1);
            return (await ReadersAsync(address)).Count == 0;
        });
    }

    [Fact]
    public async Task An_address_is_one_for_each_point_outlives_a_restart_and_is_closed_for_good()
    {
        var (address, other) = (await OpenAsync("mix/viewers"), await OpenAsync("mix/my-ears"));
        (await OpenAsync("mix/viewers")).ShouldBe(address);
        other.ShouldNotBe(address);
        address.Length.ShouldBe(22);
        await server.StopAsync();
        await server.StartAsync();
        var all = (await server.SendAsync(HttpMethod.Get, "/api/addresses")).Body.AsArray();
        all.Select(a => ((string)a!["key"]!, (string)a["point"]!, (string)a["name"]!)).ShouldBe([(address, "mix/viewers", "Viewers"), (other, "mix/my-ears", "My ears")]);
        all[0]!["paths"]!.AsArray().Select(p => (string)p!).ShouldContain($"/live/{address}.mp3");

        // No key leaves with the show, and none stands in what is exported of it.
        (await server.Http.GetStringAsync($"/api/shows/{await server.LiveAsync()}/file", Cancel)).ShouldNotContain(address);

        using var reading = await server.Http.GetAsync($"/live/{address}.flac", HttpCompletionOption.ResponseHeadersRead, Cancel);
        reading.Content.Headers.ContentType!.MediaType.ShouldBe("audio/flac");
        (await server.SendAsync(HttpMethod.Delete, $"/api/addresses/{address}")).Status.ShouldBe(204);
        await using var rest = await reading.Content.ReadAsStreamAsync(Cancel);
        try
        {
            await rest.CopyToAsync(Stream.Null, Cancel);
        }
        catch (HttpIOException)
        {
            // Cut off in mid-answer.
        }

        (await server.SendAsync(HttpMethod.Get, $"/live/{address}.flac")).ShouldSayWhatWhereAndWhatIsAllowed(404, "address");
        (await server.SendAsync(HttpMethod.Delete, $"/api/addresses/{address}")).ShouldSayWhatWhereAndWhatIsAllowed(404, "address");
        (await server.SendAsync(HttpMethod.Delete, $"/api/addresses/{other}")).Status.ShouldBe(204);
    }

    [Fact]
    public async Task Whoever_reads_hears_nothing_of_another_show_though_that_has_a_mix_of_the_same_id()
    {
        var address = await OpenAsync("mix/viewers");
        using var reading = await server.Http.GetAsync($"/live/{address}.wav", HttpCompletionOption.ResponseHeadersRead, Cancel);
        await server.StepAsync(0.5);
        await server.OpenFreshShowAsync();
        (await server.ShowAsync())["mixes"]!.AsArray().Select(m => (string)m!["id"]!).ShouldContain("viewers");
        await server.StepAsync(2);
        await using var rest = await reading.Content.ReadAsStreamAsync(Cancel);
        using var heard = new MemoryStream();
        await rest.CopyToAsync(heard, Cancel);

        // Stereo of 24 bit: the half second before, at most.
        heard.Length.ShouldBeLessThan(44 + (6 * 25_000));
        (await server.SendAsync(HttpMethod.Delete, $"/api/addresses/{address}")).Status.ShouldBe(204);
    }

    [Fact]
    public async Task A_row_of_the_note_that_is_damaged_leaves_the_others()
    {
        var address = await OpenAsync("mix/viewers");
        await server.StopAsync();
        var note = Path.Combine(server.Data, "addresses.json");
        var rows = JsonNode.Parse(await File.ReadAllTextAsync(note, Cancel))!;
        rows["Open"]!.AsArray().Insert(0, JsonNode.Parse("""{"Key":"","Show":"00000000-0000-0000-0000-000000000000","Point":"nowhere","Since":"2026-01-01T00:00:00Z"}"""));
        rows["Open"]!.AsArray().Insert(0, null);
        await File.WriteAllTextAsync(note, rows.ToJsonString(), Cancel);
        await server.StartAsync();
        (await server.SendAsync(HttpMethod.Get, "/api/addresses")).Body.AsArray().Select(a => (string)a!["key"]!).ShouldBe([address]);
        (await server.SendAsync(HttpMethod.Delete, $"/api/addresses/{address}")).Status.ShouldBe(204);
    }

    [Fact]
    public async Task What_cannot_be_had_is_said()
    {
        var address = await OpenAsync("mix/viewers");
        (await server.SendAsync(HttpMethod.Get, $"/live/{address}.aac")).ShouldSayWhatWhereAndWhatIsAllowed(404, "address");
        (await server.SendAsync(HttpMethod.Get, $"/live/{address[..^1]}.wav")).ShouldSayWhatWhereAndWhatIsAllowed(404, "address");
        (await server.SendAsync(HttpMethod.Post, "/api/addresses", """{"point":"source/host-mic"}""")).ShouldSayWhatWhereAndWhatIsAllowed(422, "point");
        (await server.SendAsync(HttpMethod.Post, "/api/addresses", """{"point":"mix/nobody"}""")).ShouldSayWhatWhereAndWhatIsAllowed(404, "point");
        (await server.SendAsync(HttpMethod.Get, $"/live/{address}.wav", null, ("Host", "somewhere.example"))).ShouldSayWhatWhereAndWhatIsAllowed(403, "Host");

        var readings = new List<HttpResponseMessage>();
        for (var n = 0; n < 8; n++)
        {
            readings.Add(await server.Http.GetAsync($"/live/{address}.wav", HttpCompletionOption.ResponseHeadersRead, Cancel));
        }

        (await server.SendAsync(HttpMethod.Get, $"/live/{address}.wav")).ShouldSayWhatWhereAndWhatIsAllowed(409, "address");
        readings.ForEach(r => r.Dispose());

        // Another show is open: what it stands for is not there.
        await server.OpenFreshShowAsync();
        (await server.SendAsync(HttpMethod.Get, $"/live/{address}.wav")).ShouldSayWhatWhereAndWhatIsAllowed(409, "address");
        (await server.SendAsync(HttpMethod.Get, "/api/addresses")).Body.AsArray().ShouldBeEmpty();
        (await server.SendAsync(HttpMethod.Delete, $"/api/addresses/{address}")).Status.ShouldBe(204);
    }

    private async Task<string> OpenAsync(string point)
    {
        var (status, body) = await server.SendAsync(HttpMethod.Post, "/api/addresses", $$"""{"point":"{{point}}"}""");
        status.ShouldBe(200, body.ToJsonString());
        return (string)body["key"]!;
    }

    private async Task<List<JsonNode>> ReadersAsync(string address) =>
        [.. (await server.SendAsync(HttpMethod.Get, "/api/addresses")).Body.AsArray().Single(a => (string)a!["key"]! == address)!["readers"]!.AsArray().Select(r => r!)];
}

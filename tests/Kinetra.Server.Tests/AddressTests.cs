using System.Net.Sockets;
using System.Text;
using System.Text.Json.Nodes;
using Kinetra.Core.Editing;
using Kinetra.Core.Rigs;
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

    [Theory]
    [InlineData("wav")]
    [InlineData("ogg")]
    public async Task What_an_address_gives_is_measured_and_rendered_by_the_command_line_as_another_program_measures_it(string ending)
    {
        var address = await OpenAsync("mix/viewers");
        var path = $"{server.Address}live/{address}.{ending}";
        var one = new Source { Id = new("one"), Name = "One", Kind = SourceKind.App, Input = new DeviceInput(new("none"), 0) };
        var rig = ((CommandResult.Applied)new AddSource(one).Apply(Rig.Empty)).Rig;
        rig = ((CommandResult.Applied)new AddMix(new Mix { Id = new("out"), Name = "Out", Purpose = MixPurpose.Other, Sends = [] }).Apply(rig)).Rig;
        var (show, folder) = (Path.Combine(server.Data, "one.json"), Path.Combine(server.Data, $"rendered-{ending}"));
        await File.WriteAllTextAsync(show, new ShowFile("One", rig).Write(), Cancel);

        // All three have come before any of them gets a sound, so that all have the same seconds.
        var heard = Listening.PullAsync(path, seconds: 3);
        var measured = Task.Run(() => Run(["measure", path, "--for", "3", "--json"]), Cancel);
        var rendered = Task.Run(() => Run(["render", show, "--input", $"One={path}", "--seconds", "3", "--sources", "--out", folder]), Cancel);
        await RunningServer.UntilAsync(async () => (await ReadersAsync(address)).Count == 3);
        await RunningServer.UntilAsync(async () =>
        {
            await server.StepAsync(0.25);
            return heard.IsCompleted && measured.IsCompleted && rendered.IsCompleted;
        });
        var level = 10 * Math.Log10((await heard).Average(s => (double)s * s) * 2);
        var (exit, output, errors) = await measured;
        exit.ShouldBe(0, errors);
        var report = JsonNode.Parse(output)!.AsArray().Single()!;
        ((double)report["seconds"]!).ShouldBe(3, 0.001);
        ((int)report["channels"]!).ShouldBe(2);
        ((double)report["rmsDbfs"]!).ShouldBe(level, 0.2);
        (exit, _, errors) = await rendered;
        exit.ShouldBe(0, errors);
        var file = SoundFileReader.Read(Path.Combine(folder, "source One.wav")).Sound;
        file.Frames.ShouldBe(3 * 48_000);
        (10 * Math.Log10(file.Left.Concat(file.Right ?? file.Left).Average(s => (double)s * s) * 2)).ShouldBe(level, 0.3);

        // The key of an address is nobody's to read.
        (await File.ReadAllTextAsync(Path.Combine(folder, "report.json"), Cancel)).ShouldNotContain(address);
    }

    [Theory]
    [InlineData("http://192.0.2.1/live/x.wav", "no address on this computer")]
    [InlineData("http://127.0.0.1:9/live/x.wav", "Nothing came")]
    [InlineData("http://", "no address on this computer")]
    public void An_address_that_is_elsewhere_or_gives_nothing_is_refused_with_what_is_allowed(string address, string words)
    {
        var (exit, _, errors) = Run(["measure", address]);
        exit.ShouldBe(1);
        errors.ShouldContain(words);
        errors.ShouldContain("Allowed: an address on this computer that gives sound");
    }

    [Fact]
    public void An_address_whose_key_is_wrong_is_told_by_what_it_answers_and_no_more_than_an_hour_is_taken()
    {
        Run(["measure", $"{server.Address}live/nobody.wav"]).Errors.ShouldContain("The address answers 404");
        Run(["measure", $"{server.Address}live/nobody.wav", "--for", "9999"]).Errors.ShouldContain("at most 3600 s");
        Run(["measure", $"{server.Address}live/nobody.wav", "--for", "0,5"]).Errors.ShouldContain("is not a number");
    }

    private static (int Exit, string Output, string Errors) Run(string[] arguments)
    {
        var (output, errors) = (new StringWriter(), new StringWriter());
        return (CommandLine.Commands.Run(arguments, output, errors), output.ToString(), errors.ToString());
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

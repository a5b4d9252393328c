using System.Diagnostics;
using System.Globalization;
using System.IO.Compression;
using System.Text.Json.Nodes;
using System.Text.RegularExpressions;

namespace Kinetra.Server.Tests;

/// <summary>What is done with a take once it is there.</summary>
public sealed partial class TakeAfterTests : IAsyncLifetime
{
    private readonly RunningServer _server = new();

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    public ValueTask InitializeAsync() => _server.InitializeAsync();

    public ValueTask DisposeAsync() => _server.DisposeAsync();

    [Fact]
    public async Task A_take_is_named_noted_and_trimmed_and_its_files_stay_whole_over_a_restart_too()
    {
        var take = await RecordAsync(3);
        var path = $"/api/takes/{take["id"]}";
        var before = Files(take).ToDictionary(f => f, File.ReadAllBytes);
        var (status, changed) = await _server.SendAsync(HttpMethod.Patch, path, """{"name":" The evening ","notes":"Guest at 0:40.\r\nCut the start","from":0.5,"to":2.25}""");
        status.ShouldBe(200, changed.ToJsonString());
        await _server.StopAsync();
        await _server.StartAsync();
        var told = (await _server.SendAsync(HttpMethod.Get, "/api/takes")).Body.AsArray().Single()!;
        ((string)told["name"]!, (string)told["notes"]!, (double)told["from"]!, (double)told["to"]!).ShouldBe(("The evening", "Guest at 0:40.\nCut the start", 0.5, 2.25));
        foreach (var (file, bytes) in before)
        {
            File.ReadAllBytes(file).ShouldBe(bytes);
        }

        // What other programs get is what is kept.
        (await _server.Http.GetStringAsync($"{path}/timeline/edl?rate=24", Cancel)).ShouldContain("00:00:00:12 00:00:02:06 01:00:00:00 01:00:01:18");
        (await _server.SendAsync(HttpMethod.Patch, path, $$"""{"from":0,"to":{{((double)take["seconds"]!).ToString(CultureInfo.InvariantCulture)}}}""")).Body["to"].ShouldBeNull();
    }

    [Theory]
    [InlineData("""{"name":""}""", "name")]
    [InlineData("""{"from":-1}""", "from")]
    [InlineData("""{"from":9}""", "from")]
    [InlineData("""{"to":0}""", "to")]
    [InlineData("""{"to":9}""", "to")]
    [InlineData("""{"from":0.9,"to":0.5}""", "to")]
    public async Task A_change_that_leaves_nothing_or_says_nothing_is_refused_and_changes_nothing(string change, string where)
    {
        var take = await RecordAsync(1);
        (await _server.SendAsync(HttpMethod.Patch, $"/api/takes/{take["id"]}", change)).ShouldSayWhatWhereAndWhatIsAllowed(422, where);
        var long_ = JsonNode.Parse("{}")!;
        long_["notes"] = new string('n', 4_001);
        (await _server.SendAsync(HttpMethod.Patch, $"/api/takes/{take["id"]}", long_.ToJsonString())).ShouldSayWhatWhereAndWhatIsAllowed(422, "notes");
        var told = (await _server.SendAsync(HttpMethod.Get, "/api/takes")).Body[0]!;
        ((double)told["from"]!, told["to"], (string)told["name"]!).ShouldBe((0, null, "Take"));
    }

    [Fact]
    public async Task A_take_that_is_deleted_is_nowhere_and_comes_back_whole_until_it_is_deleted_for_good()
    {
        var take = await RecordAsync(1);
        var (id, track) = ((string)take["id"]!, (string)take["tracks"]![0]!["id"]!);
        var before = Files(take).ToDictionary(f => f, File.ReadAllBytes);
        (await _server.SendAsync(HttpMethod.Delete, $"/api/takes/{id}")).Status.ShouldBe(204);
        (await _server.SendAsync(HttpMethod.Get, "/api/takes")).Body.AsArray().ShouldBeEmpty();

        // Whoever plays it, or has its address, is told.
        foreach (var address in new[] { $"tracks/{track}/sound?from=0&frames=100", $"tracks/{track}/file", "outlines", "timeline/edl" })
        {
            var (status, body) = await _server.SendAsync(HttpMethod.Get, $"/api/takes/{id}/{address}");
            (status, body.ToJsonString().Contains("deleted", StringComparison.Ordinal)).ShouldBe((404, true), address);
        }

        (await _server.SendAsync(HttpMethod.Post, $"/api/takes/{id}/check")).ShouldSayWhatWhereAndWhatIsAllowed(404, "take");
        (await _server.SendAsync(HttpMethod.Patch, $"/api/takes/{id}", """{"name":"x"}""")).Status.ShouldBe(422);
        await _server.StopAsync();
        await _server.StartAsync();
        ((string)(await _server.SendAsync(HttpMethod.Get, "/api/takes/deleted")).Body.AsArray().Single()!["id"]!).ShouldBe(id);
        (await _server.SendAsync(HttpMethod.Post, $"/api/takes/deleted/{id}/bring-back")).Status.ShouldBe(200);
        ((string)(await _server.SendAsync(HttpMethod.Get, "/api/takes")).Body.AsArray().Single()!["id"]!).ShouldBe(id);
        foreach (var (file, bytes) in before)
        {
            File.ReadAllBytes(file).ShouldBe(bytes);
        }

        // For good only what was deleted before.
        (await _server.SendAsync(HttpMethod.Delete, $"/api/takes/deleted/{id}")).ShouldSayWhatWhereAndWhatIsAllowed(404, "take");
        (await _server.SendAsync(HttpMethod.Delete, $"/api/takes/{id}")).Status.ShouldBe(204);
        (await _server.SendAsync(HttpMethod.Delete, $"/api/takes/deleted/{id}")).Status.ShouldBe(204);
        Directory.Exists(Path.Combine(_server.Data, "takes", id)).ShouldBeFalse();
        (await _server.SendAsync(HttpMethod.Get, "/api/takes/deleted")).Body.AsArray().ShouldBeEmpty();
        (await _server.SendAsync(HttpMethod.Post, $"/api/takes/deleted/{id}/bring-back")).ShouldSayWhatWhereAndWhatIsAllowed(404, "take");
    }

    [Fact]
    public async Task A_take_that_is_being_recorded_can_neither_be_deleted_nor_trimmed()
    {
        var (_, take) = await _server.SendAsync(HttpMethod.Post, "/api/takes", "{}");
        (await _server.SendAsync(HttpMethod.Delete, $"/api/takes/{take["id"]}")).ShouldSayWhatWhereAndWhatIsAllowed(409, "take");
        (await _server.SendAsync(HttpMethod.Patch, $"/api/takes/{take["id"]}", """{"from":0}""")).ShouldSayWhatWhereAndWhatIsAllowed(409, "take");
        (await _server.SendAsync(HttpMethod.Post, $"/api/takes/{take["id"]}/sound", Order(take, "Blend"))).ShouldSayWhatWhereAndWhatIsAllowed(409, "take");
        await _server.StepAsync(0.5);
        (await _server.SendAsync(HttpMethod.Post, "/api/takes/current/stop")).Status.ShouldBe(200);
    }

    [Fact]
    public async Task Tracks_apart_are_what_is_kept_of_each_to_the_bit_and_split_at_marks_they_make_up_the_whole()
    {
        var take = await RecordAsync(3, async () => await _server.SendAsync(HttpMethod.Post, "/api/takes/current/marks", """{"words":"Half: two"}"""));
        await _server.SendAsync(HttpMethod.Patch, $"/api/takes/{take["id"]}", """{"from":0.25,"to":2.5}""");
        var (words, name, bytes) = await ExportAsync(take, Order(take, "Apart"));
        name.ShouldBe("Take.zip");
        words.ShouldContain("files");
        var tracks = take["tracks"]!.AsArray().Select(t => (string)t!["name"]!).ToList();
        using (var zip = new ZipArchive(new MemoryStream(bytes)))
        {
            zip.Entries.Count.ShouldBe(tracks.Count);
            foreach (var entry in zip.Entries)
            {
                var whole = Decoded(Files(take).Single(f => Path.GetFileName(f) == entry.Name));
                var channels = whole.Length / (int)Math.Round((double)take["seconds"]! * 48_000);
                Decoded(Unpacked(entry)).ShouldBe(whole[(12_000 * channels)..(120_000 * channels)]);
            }
        }

        (_, _, bytes) = await ExportAsync(take, Order(take, "Apart", ",\"atMarks\":true"));
        using var parts = new ZipArchive(new MemoryStream(bytes));
        parts.Entries.Count.ShouldBe(2 * tracks.Count);
        parts.Entries.Select(e => e.FullName.Split('/')[0]).Distinct().Order().ShouldBe(["01", "02 Half- two"]);
        foreach (var both in parts.Entries.GroupBy(e => e.Name))
        {
            var whole = Decoded(Files(take).Single(f => Path.GetFileName(f) == both.Key));
            var channels = whole.Length / (int)Math.Round((double)take["seconds"]! * 48_000);
            both.OrderBy(e => e.FullName, StringComparer.Ordinal).SelectMany(e => Decoded(Unpacked(e))).ShouldBe(whole[(12_000 * channels)..(120_000 * channels)]);
        }
    }

    [Fact]
    public async Task What_was_recorded_with_loss_comes_trimmed_and_split_as_it_was_coded_to_the_sample()
    {
        foreach (var form in new[] { "Mp3", "Opus" })
        {
            var show = (await _server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/tracks", $$"""{"takes":"mix/viewers","name":"{{form}}"}""")).Body;
            (await _server.SendAsync(HttpMethod.Patch, $"/api/shows/LIVE/tracks/{show["tracks"]!.AsArray()[^1]!["id"]}", $$"""{"form":"{{form}}"}""")).Status.ShouldBe(200);
        }

        var take = await RecordAsync(3, async () => await _server.SendAsync(HttpMethod.Post, "/api/takes/current/marks", """{"words":"Two"}"""));
        (await _server.SendAsync(HttpMethod.Patch, $"/api/takes/{take["id"]}", """{"from":0.25,"to":2.5}""")).Status.ShouldBe(200);
        var (_, _, bytes) = await ExportAsync(take, Order(take, "Apart", ",\"atMarks\":true"));
        using var parts = new ZipArchive(new MemoryStream(bytes));
        foreach (var (ending, most) in new[] { (".mp3", 1e-6), (".opus", 1e-3) })
        {
            var whole = Decoded(Directory.GetFiles((string)take["folder"]!, "*" + ending).Single())[24_000..240_000];
            var given = parts.Entries.Where(e => Path.GetExtension(e.Name) == ending).OrderBy(e => e.FullName, StringComparer.Ordinal).SelectMany(e => Decoded(Unpacked(e))).ToArray();
            given.Length.ShouldBe(whole.Length);
            given.Zip(whole, (a, b) => Math.Abs((double)a - b) / int.MaxValue).Max().ShouldBeLessThan(most, ending);
        }
    }

    [Fact]
    public async Task A_blend_comes_as_loud_as_was_asked_for_as_another_program_measures_it_and_the_take_stays_as_it_was()
    {
        await _server.SendAsync(HttpMethod.Patch, "/api/shows/LIVE/mixes/viewers", """{"gain":-18}""");
        var take = await RecordAsync(12);
        var before = Files(take).ToDictionary(f => f, File.ReadAllBytes);
        var (words, name, bytes) = await ExportAsync(take, Order(take, "Blend", ",\"lufs\":-16,\"ceiling\":-1.5"));
        name.ShouldBe("Take.wav");
        var file = Path.Combine(_server.Data, "blend.wav");
        await File.WriteAllBytesAsync(file, bytes, Cancel);
        var (lufs, peak) = Measured(file);
        lufs.ShouldBe(-16, 0.15);
        peak.ShouldBeLessThanOrEqualTo(-1.5 + 0.05);
        words.ShouldContain("−16.0 LUFS");
        Decoded(file).Length.ShouldBe(2 * (int)Math.Round((double)take["seconds"]! * 48_000));

        // With loss it is told what the file has.
        (words, name, bytes) = await ExportAsync(take, Order(take, "Blend", ",\"lufs\":-19,\"form\":\"Mp3\""));
        name.ShouldBe("Take.mp3");
        file = Path.Combine(_server.Data, "blend.mp3");
        await File.WriteAllBytesAsync(file, bytes, Cancel);
        (lufs, peak) = Measured(file);
        lufs.ShouldBe(-19, 0.3);
        double.Parse(TruePeak().Match(words).Groups[1].Value.Replace('−', '-'), CultureInfo.InvariantCulture).ShouldBe(peak, 0.3);
        foreach (var (path, was) in before)
        {
            File.ReadAllBytes(path).ShouldBe(was);
        }
    }

    [Fact]
    public async Task One_file_of_all_tracks_has_each_on_its_channels_by_name_and_the_marks()
    {
        var take = await RecordAsync(1.5, async () => await _server.SendAsync(HttpMethod.Post, "/api/takes/current/marks", """{"words":"Hello there"}"""));
        var (_, name, bytes) = await ExportAsync(take, Order(take, "Channels"));
        name.ShouldBe("Take.wav");
        var text = System.Text.Encoding.UTF8.GetString(bytes);
        text.ShouldContain("<NAME>Host mic</NAME>");
        text.ShouldContain("Hello there");
        var file = Path.Combine(_server.Data, "all.wav");
        await File.WriteAllBytesAsync(file, bytes, Cancel);
        var all = Decoded(file);
        var sizes = take["tracks"]!.AsArray().Select(t => (int)t!["channels"]!).ToList();
        var first = 0;
        foreach (var (path, channels) in Files(take).Zip(sizes))
        {
            var single = Decoded(path);
            var frames = single.Length / channels;
            for (var c = 0; c < channels; c++)
            {
                Enumerable.Range(0, frames).Select(n => all[(n * sizes.Sum()) + first + c]).ShouldBe(Enumerable.Range(0, frames).Select(n => single[(n * channels) + c]));
            }

            first += channels;
        }
    }

    [Fact]
    public async Task A_take_of_ten_hours_with_16_tracks_is_seen_from_its_outlines_alone_whole_and_near()
    {
        const long frames = 10L * 3_600 * 48_000;
        var take = await RecordAsync(0.5);
        await _server.StopAsync();
        var (id, from) = (Guid.CreateVersion7().ToString(), Path.Combine(_server.Data, "takes", (string)take["id"]!));
        var folder = Path.Combine(_server.Data, "takes", id);
        Directory.CreateDirectory(Path.Combine(folder, "outlines"));
        var note = JsonNode.Parse(await File.ReadAllTextAsync(Path.Combine(from, "take.json"), Cancel))!;
        var one = note["tracks"]![0]!;
        (note["id"], note["name"], note["frames"], note["verdict"]) = (id, "Ten hours", frames, null);
        note["startedAt"] = DateTimeOffset.UtcNow.AddDays(1);
        note["tracks"] = new JsonArray([
            .. Enumerable.Range(1, 16).Select(n =>
            {
                var track = one.DeepClone();
                (track["id"], track["takeId"], track["ordinal"], track["name"], track["fileName"]) = (Guid.CreateVersion7().ToString(), id, n, $"Track {n}", $"{n:00}.wav");
                return (JsonNode)track;
            }),
        ]);
        await File.WriteAllTextAsync(Path.Combine(folder, "take.json"), note.ToJsonString(), Cancel);

        // Track n is loud for a second at hour n / 2 alone. There is no sound file at all: the longer the take, the longer that would be read.
        const int perSecond = 48_000 / 1_024;
        foreach (var n in Enumerable.Range(1, 16))
        {
            var peaks = new ushort[(frames + 1_023) / 1_024];
            peaks.AsSpan((int)(n * 1_800L * 48_000 / 1_024), perSecond).Fill(16_384);
            await File.WriteAllBytesAsync(Path.Combine(folder, "outlines", $"{n:00}.wav.peaks"), System.Runtime.InteropServices.MemoryMarshal.AsBytes(peaks.AsSpan()).ToArray(), Cancel);
        }

        await _server.StartAsync();
        var watch = Stopwatch.StartNew();
        var (status, outlines) = await _server.SendAsync(HttpMethod.Get, $"/api/takes/{id}/outlines?width=1200");
        var first = watch.Elapsed.TotalMilliseconds;
        watch.Restart();
        await _server.SendAsync(HttpMethod.Get, $"/api/takes/{id}/outlines?width=1200");
        TestContext.Current.SendDiagnosticMessage($"The outlines of ten hours of 16 tracks took {first:0} ms at first, {watch.Elapsed.TotalMilliseconds:0} ms then.");
        status.ShouldBe(200, outlines.ToJsonString());
        ((double)outlines["to"]!).ShouldBe(36_000);
        foreach (var n in Enumerable.Range(1, 16))
        {
            var peaks = outlines["tracks"]![n - 1]!["peaks"]!.AsArray().Select(p => (int)p!).ToList();
            peaks.Count.ShouldBe(1_200);
            Enumerable.Range(0, 1_200).Where(k => peaks[k] > 400).ShouldAllBe(k => Math.Abs(k - (n * 60)) <= 1);
            peaks.Max().ShouldBeInRange(499, 501);
            var near = (await _server.SendAsync(HttpMethod.Get, $"/api/takes/{id}/outlines?from={n * 1_800}&to={(n * 1_800) + 2}&width=200")).Body["tracks"]![n - 1]!["peaks"]!.AsArray().Select(p => (int)p!).ToList();
            near.Count(p => p > 400).ShouldBeInRange(95, 106);
        }
    }

    [Fact]
    public async Task What_cannot_be_exported_is_said_with_what_is_wrong()
    {
        var take = await RecordAsync(0.5);
        var path = $"/api/takes/{take["id"]}/sound";
        var track = (string)take["tracks"]![0]!["id"]!;
        (await _server.SendAsync(HttpMethod.Post, path, """{"shape":"Blend","tracks":[]}""")).ShouldSayWhatWhereAndWhatIsAllowed(422, "tracks");
        (await _server.SendAsync(HttpMethod.Post, path, $$"""{"shape":"Blend","tracks":[{"track":"{{Guid.NewGuid()}}"}]}""")).ShouldSayWhatWhereAndWhatIsAllowed(422, "tracks[0].track");
        (await _server.SendAsync(HttpMethod.Post, path, $$"""{"shape":"Blend","tracks":[{"track":"{{track}}"},{"track":"{{track}}"}]}""")).ShouldSayWhatWhereAndWhatIsAllowed(422, "tracks[1].track");
        (await _server.SendAsync(HttpMethod.Post, path, $$"""{"shape":"Blend","tracks":[{"track":"{{track}}","gain":13}]}""")).ShouldSayWhatWhereAndWhatIsAllowed(422, "tracks[0].gain");
        (await _server.SendAsync(HttpMethod.Post, path, Order(take, "Blend", ",\"lufs\":-5"))).ShouldSayWhatWhereAndWhatIsAllowed(422, "lufs");
        (await _server.SendAsync(HttpMethod.Post, path, Order(take, "Blend", ",\"lufs\":-16,\"ceiling\":1"))).ShouldSayWhatWhereAndWhatIsAllowed(422, "ceiling");
        (await _server.SendAsync(HttpMethod.Post, path, Order(take, "Apart", ",\"lufs\":-16"))).ShouldSayWhatWhereAndWhatIsAllowed(422, "lufs");
        (await _server.SendAsync(HttpMethod.Post, path, Order(take, "Channels", ",\"form\":\"Mp3\""))).ShouldSayWhatWhereAndWhatIsAllowed(422, "form");
        (await _server.SendAsync(HttpMethod.Post, $"/api/takes/{Guid.NewGuid()}/sound", Order(take, "Blend"))).ShouldSayWhatWhereAndWhatIsAllowed(404, "take");

        // A file that is gone ends the job with words, and leaves nothing behind.
        File.Delete(Files(take)[0]);
        (await EndAsync(await BegunAsync(take, Order(take, "Blend")))).State.ShouldBe("Failed");
        Directory.GetFileSystemEntries(Path.Combine(_server.Data, "exports")).ShouldBeEmpty();
    }

    private static string Order(JsonNode take, string shape, string more = "") =>
        $$"""{"shape":"{{shape}}","tracks":[{{string.Join(',', take["tracks"]!.AsArray().Select(t => $$"""{"track":"{{t!["id"]}}"}"""))}}]{{more}}}""";

    private async Task<JsonNode> RecordAsync(double seconds, Func<Task>? meanwhile = null)
    {
        (await _server.SendAsync(HttpMethod.Post, "/api/takes", """{"name":"Take"}""")).Status.ShouldBe(200);
        await _server.StepAsync(meanwhile is null ? seconds : seconds / 2);
        if (meanwhile is not null)
        {
            await meanwhile();
            await _server.StepAsync(seconds / 2);
        }

        var take = (await _server.SendAsync(HttpMethod.Post, "/api/takes/current/stop")).Body;
        while ((await _server.SendAsync(HttpMethod.Get, "/api/takes")).Body[0]!["verdict"] is null)
        {
            await Task.Yield();
        }

        return take;
    }

    private async Task<JsonNode> BegunAsync(JsonNode take, string order)
    {
        var (status, job) = await _server.SendAsync(HttpMethod.Post, $"/api/takes/{take["id"]}/sound", order);
        status.ShouldBe(202, job.ToJsonString());
        return job;
    }

    private async Task<(string State, string Words)> EndAsync(JsonNode begun)
    {
        while (true)
        {
            var job = (await _server.SendAsync(HttpMethod.Get, "/api/jobs")).Body.AsArray().Single(j => (string)j!["id"]! == (string)begun["id"]!)!;
            if (job["words"] is { } words)
            {
                return ((string)job["state"]!, (string)words!);
            }

            await Task.Yield();
        }
    }

    private async Task<(string Words, string Name, byte[] Bytes)> ExportAsync(JsonNode take, string order)
    {
        var begun = await BegunAsync(take, order);
        var (state, words) = await EndAsync(begun);
        state.ShouldBe("Done", words);
        using var response = await _server.Http.GetAsync($"/api/jobs/{begun["id"]}/file", Cancel);
        return (words, response.Content.Headers.ContentDisposition!.FileNameStar!, await response.Content.ReadAsByteArrayAsync(Cancel));
    }

    private List<string> Files(JsonNode take) => [.. Directory.GetFiles(Path.Combine(_server.Data, "takes", (string)take["id"]!), "*.wav").Order(StringComparer.Ordinal)];

    private string Unpacked(ZipArchiveEntry entry)
    {
        var path = Path.Combine(_server.Data, "unpacked" + Path.GetExtension(entry.Name));
        entry.ExtractToFile(path, overwrite: true);
        return path;
    }

    private static int[] Decoded(string path)
    {
        using var ffmpeg = Process.Start(new ProcessStartInfo("ffmpeg", ["-v", "error", "-i", path, "-f", "s32le", "-"]) { RedirectStandardOutput = true })!;
        using var output = new MemoryStream();
        ffmpeg.StandardOutput.BaseStream.CopyTo(output);
        ffmpeg.WaitForExit();
        return System.Runtime.InteropServices.MemoryMarshal.Cast<byte, int>(output.ToArray()).ToArray();
    }

    private static (double Lufs, double Peak) Measured(string path)
    {
        using var ffmpeg = Process.Start(new ProcessStartInfo("ffmpeg", ["-hide_banner", "-nostats", "-i", path, "-af", "ebur128=peak=true", "-f", "null", "-"]) { RedirectStandardError = true })!;
        var text = ffmpeg.StandardError.ReadToEnd();
        ffmpeg.WaitForExit();
        text = text[text.LastIndexOf("Summary:", StringComparison.Ordinal)..];
        return (double.Parse(Loud().Match(text).Groups[1].Value, CultureInfo.InvariantCulture), double.Parse(Peak().Match(text).Groups[1].Value, CultureInfo.InvariantCulture));
    }

    [GeneratedRegex(@"I:\s+(-?[\d.]+) LUFS")]
    private static partial Regex Loud();

    [GeneratedRegex(@"Peak:\s+(-?[\d.]+) dBFS")]
    private static partial Regex Peak();

    [GeneratedRegex(@"true peak (−?[\d.]+) dBTP")]
    private static partial Regex TruePeak();
}

using System.Text.Json.Nodes;
using Microsoft.EntityFrameworkCore;

namespace Kinetra.Server.Tests;

/// <summary>Takes that are written to two folders at once. What becomes of them when a disk is full is tried with real small disks, through the interface.</summary>
public sealed class SecondFolderTests : IAsyncLifetime
{
    private readonly RunningServer _server = new();
    private readonly DirectoryInfo _other = Directory.CreateTempSubdirectory("kinetra-other-");

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    public ValueTask InitializeAsync() => _server.InitializeAsync();

    public async ValueTask DisposeAsync()
    {
        await _server.DisposeAsync();
        _other.Delete(recursive: true);
    }

    [Fact]
    public async Task A_take_lies_in_both_folders_alike_to_the_bit_and_both_go_when_it_is_deleted_for_good()
    {
        await SetAsync(_other.FullName);
        (await _server.SendAsync(HttpMethod.Post, "/api/takes", """{"name":"Evening / one"}""")).Status.ShouldBe(200);
        await _server.StepAsync(1);
        (await _server.SendAsync(HttpMethod.Post, "/api/takes/current/marks", """{"words":"Here"}""")).Status.ShouldBe(200);
        await _server.StepAsync(1);
        var take = await EndedAsync();
        take["copy"]!["words"].ShouldBeNull();
        ((bool)take["copy"]!["isUsed"]!).ShouldBeFalse();
        var (own, copy) = ((string)take["folder"]!, (string)take["copy"]!["folder"]!);
        Path.GetDirectoryName(copy).ShouldBe(_other.FullName);
        Path.GetFileName(copy).ShouldStartWith("Evening - one ");
        var files = Directory.GetFiles(own, "*", SearchOption.AllDirectories).Select(f => Path.GetRelativePath(own, f)).Where(f => f != "report.txt").Order(StringComparer.Ordinal).ToList();
        files.Count(f => f.EndsWith(".wav", StringComparison.Ordinal)).ShouldBeGreaterThan(1);
        files.ShouldBe(Directory.GetFiles(copy, "*", SearchOption.AllDirectories).Select(f => Path.GetRelativePath(copy, f)).Order(StringComparer.Ordinal));
        foreach (var file in files.Where(f => f != "take.json"))
        {
            File.ReadAllBytes(Path.Combine(copy, file)).ShouldBe(File.ReadAllBytes(Path.Combine(own, file)), file);
        }

        var stranger = Directory.CreateDirectory(Path.Combine(_other.FullName, "Evening"));
        (await _server.SendAsync(HttpMethod.Delete, $"/api/takes/{take["id"]}")).Status.ShouldBe(204);
        Directory.Exists(copy).ShouldBeTrue();
        (await _server.SendAsync(HttpMethod.Delete, $"/api/takes/deleted/{take["id"]}")).Status.ShouldBe(204);
        (Directory.Exists(own), Directory.Exists(copy), stranger.Exists).ShouldBe((false, false, true));
    }

    [Theory]
    [InlineData("takes")]
    [InlineData("/tmp/a\\u0007b")]
    [InlineData("/proc/nothing/here")]
    [InlineData("DATA")]
    [InlineData("DATA/takes/there")]
    [InlineData("LONG")]
    public async Task What_is_no_folder_to_write_to_is_refused_with_words_and_the_one_before_stays(string path)
    {
        await SetAsync(_other.FullName);
        var wanted = path.Replace("DATA", _server.Data, StringComparison.Ordinal).Replace("LONG", "/" + new string('x', 1_000), StringComparison.Ordinal);
        (await _server.SendAsync(HttpMethod.Put, "/api/takes/second-folder", $$"""{"path":"{{wanted}}"}""")).ShouldSayWhatWhereAndWhatIsAllowed(422, "path");
        await _server.StopAsync();
        await _server.StartAsync();
        var now = (await _server.SendAsync(HttpMethod.Get, "/api/takes/second-folder")).Body;
        ((string)now["path"]!, (bool)now["isThere"]!).ShouldBe((_other.FullName, true));
        ((string)now["room"]!).ShouldContain("free");
        await SetAsync(null);
        (await _server.SendAsync(HttpMethod.Get, "/api/takes/second-folder")).Body["path"].ShouldBeNull();
    }

    [Fact]
    public async Task Of_a_disk_that_is_not_there_no_folder_is_made_on_this_one()
    {
        var folder = Path.Combine(_other.FullName, "disk", "takes");
        await SetAsync(folder);
        Directory.Delete(Path.Combine(_other.FullName, "disk"), recursive: true);
        (await _server.SendAsync(HttpMethod.Post, "/api/takes", "{}")).Status.ShouldBe(200);
        await _server.StepAsync(1);
        ((string)(await EndedAsync())["copy"]!["words"]!).ShouldContain("there is no copy");
        _other.GetFileSystemInfos().ShouldBeEmpty();
    }

    [Fact]
    public async Task Where_the_second_folder_cannot_be_written_when_a_take_begins_it_is_recorded_all_the_same_and_that_is_said()
    {
        var folder = Path.Combine(_other.FullName, "disk");
        await SetAsync(folder);
        Directory.Delete(folder);
        await File.WriteAllTextAsync(folder, "no folder any more", Cancel);
        (await _server.SendAsync(HttpMethod.Post, "/api/takes", "{}")).Status.ShouldBe(200);
        await _server.StepAsync(1);
        var take = await EndedAsync();
        ((string)take["state"]!, (double)take["seconds"]! >= 1).ShouldBe(("Done", true));
        ((string)take["copy"]!["words"]!).ShouldContain("there is no copy");
        take["marks"]!.AsArray().ShouldContain(m => ((string)m!["words"]!).Contains("second folder", StringComparison.Ordinal));
        ((bool)(await _server.SendAsync(HttpMethod.Get, "/api/takes/second-folder")).Body["isThere"]!).ShouldBeFalse();
    }

    [Fact]
    public async Task Of_a_take_that_was_cut_off_the_folder_that_has_more_of_it_counts()
    {
        await SetAsync(_other.FullName);
        (await _server.SendAsync(HttpMethod.Post, "/api/takes", "{}")).Status.ShouldBe(200);
        await _server.StepAsync(3);
        var take = await EndedAsync();
        var (own, copy) = ((string)take["folder"]!, (string)take["copy"]!["folder"]!);

        // As it lies there after the power went: noted as being recorded, its own disk full from the beginning.
        await _server.StopAsync();
        SayRecording(own);
        foreach (var file in Directory.GetFiles(own, "*.wav"))
        {
            File.Delete(file);
        }

        await using (var context = await _server.Database.Contexts.CreateDbContextAsync(Cancel))
        {
            (await context.Database.ExecuteSqlRawAsync("update takes set state = 'Recording', frames = 0", Cancel)).ShouldBe(1);
        }

        await _server.StartAsync();
        var found = (await _server.SendAsync(HttpMethod.Get, "/api/takes")).Body.AsArray().Single()!;
        ((string)found["state"]!, (string)found["folder"]!, (bool)found["copy"]!["isUsed"]!).ShouldBe(("Interrupted", copy, true));
        ((double)found["seconds"]!).ShouldBe((double)take["seconds"]!);
        var track = found["tracks"]![0]!["id"];
        (await _server.Http.GetByteArrayAsync($"/api/takes/{found["id"]}/tracks/{track}/sound?from=0&frames=4800", Cancel)).Length.ShouldBeGreaterThanOrEqualTo(4 * 4_800);
    }

    [Fact]
    public async Task A_take_that_ended_well_is_no_interrupted_one_since_a_full_disk_took_no_note_of_its_end()
    {
        (await _server.SendAsync(HttpMethod.Post, "/api/takes", "{}")).Status.ShouldBe(200);
        await _server.StepAsync(1);
        var take = await EndedAsync();
        await _server.StopAsync();
        SayRecording((string)take["folder"]!);
        await _server.StartAsync();
        var found = (await _server.SendAsync(HttpMethod.Get, "/api/takes")).Body.AsArray().Single()!;
        ((string)found["state"]!, (double)found["seconds"]!, found["endedBecause"]).ShouldBe(("Done", (double)take["seconds"]!, null));
    }

    private static void SayRecording(string folder)
    {
        var note = JsonNode.Parse(File.ReadAllText(Path.Combine(folder, "take.json")))!;
        note["state"] = 0;
        note["frames"] = 0;
        File.WriteAllText(Path.Combine(folder, "take.json"), note.ToJsonString());
    }

    private async Task SetAsync(string? path)
    {
        var (status, body) = await _server.SendAsync(HttpMethod.Put, "/api/takes/second-folder", new JsonObject { ["path"] = path }.ToJsonString());
        status.ShouldBe(200, body.ToJsonString());
    }

    // Ended and judged: until then its files are still written.
    private async Task<JsonNode> EndedAsync()
    {
        (await _server.SendAsync(HttpMethod.Post, "/api/takes/current/stop")).Status.ShouldBe(200);
        JsonNode? take = null;
        await RunningServer.UntilAsync(async () => (take = (await _server.SendAsync(HttpMethod.Get, "/api/takes")).Body[0]!)["verdict"] is not null);
        return take!;
    }
}

using Microsoft.EntityFrameworkCore;

namespace Kinetra.Server.Tests;

public sealed class DamageTests : IAsyncLifetime
{
    private readonly RunningServer _server = new();

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    public ValueTask InitializeAsync() => _server.InitializeAsync();

    public ValueTask DisposeAsync() => _server.DisposeAsync();

    [Theory]
    [InlineData("""{"sources": 7}""", 1)]
    [InlineData("""{"sources": [], "mixes": [{"id": "m"}], "cables": []}""", 1)]
    [InlineData("""{"sources": [], "mixes": [], "cables": []}""", 99)]
    public async Task Where_the_live_show_cannot_be_read_another_plays_and_the_list_says_why(string rig, int version)
    {
        var live = await _server.LiveAsync();
        await RestartAfterAsync($"update shows set rig = '{rig}', rig_version = {version} where id = '{live}'");
        ((string)(await _server.ShowAsync())["name"]!).ShouldBe("Tide Tables");
        var (_, shows) = await _server.SendAsync(HttpMethod.Get, "/api/shows");
        shows.AsArray().Count.ShouldBe(2);
        var damaged = shows.AsArray().Single(s => (Guid)s!["id"]! == live)!;
        ((string)damaged["damaged"]!).ShouldContain("The Lamp Room");
        (await _server.SendAsync(HttpMethod.Post, $"/api/shows/{live}/open")).ShouldSayWhatWhereAndWhatIsAllowed(422, "show");
        (await _server.SendAsync(HttpMethod.Patch, "/api/shows/LIVE/mixes/everyone", """{"gain":-1}""")).Status.ShouldBeOneOf(200, 404);
        (await _server.SendAsync(HttpMethod.Delete, $"/api/shows/{live}")).Status.ShouldBe(204);
    }

    [Fact]
    public async Task Where_no_show_can_be_read_a_new_one_plays()
    {
        await RestartAfterAsync("update shows set rig = '[]'");
        ((string)(await _server.ShowAsync())["name"]!).ShouldBe("New show");
        (await _server.SendAsync(HttpMethod.Get, "/api/shows")).Body.AsArray().Count.ShouldBe(3);
    }

    [Theory]
    [InlineData("update settings set value = 'nonsense'")]
    [InlineData("delete from settings where key = 'live-show'")]
    public async Task A_setting_that_names_no_show_stops_nothing(string sql)
    {
        await RestartAfterAsync(sql);
        (await _server.ShowAsync())["sources"]!.AsArray().ShouldNotBeEmpty();
    }

    [Theory]
    [InlineData("body = '{\"type\": \"fly\"}'")]
    [InlineData("kind = 'Sideways'")]
    [InlineData("version = 99")]
    public async Task A_step_that_cannot_be_read_ends_what_can_be_taken_back_and_nothing_else(string damage)
    {
        foreach (var gain in new[] { -1, -2, -3 })
        {
            (await _server.SendAsync(HttpMethod.Patch, "/api/shows/LIVE/mixes/viewers", $$"""{"gain":{{gain}}}""")).Status.ShouldBe(200);
        }

        await RestartAfterAsync($"update commands set {damage} where revision = 2");
        var (status, undone) = await _server.UndoAsync();
        status.ShouldBe(200);
        ((double)undone["mixes"]![1]!["gain"]!).ShouldBe(-2);
        undone["toUndo"].ShouldBeNull();
        (await _server.SendAsync(HttpMethod.Patch, "/api/shows/LIVE/mixes/viewers", """{"gain":-7}""")).Status.ShouldBe(200);
    }

    [Fact]
    public async Task A_copied_folder_a_note_that_is_cut_off_and_a_strange_file_are_told_and_stop_nothing()
    {
        await _server.SendAsync(HttpMethod.Post, "/api/takes", "{}");
        await _server.StepAsync(0.2);
        var (_, take) = await _server.SendAsync(HttpMethod.Post, "/api/takes/current/stop");
        var takes = Path.Combine(_server.Data, "takes");
        var folder = Path.Combine(takes, (string)take["id"]!);
        await _server.StopAsync();
        foreach (var (name, note) in new[] { ("copy of it", File.ReadAllText(Path.Combine(folder, "take.json"))), ("cut off", "{\"id\":"), ("empty", null) })
        {
            Directory.CreateDirectory(Path.Combine(takes, name));
            if (note is not null)
            {
                File.WriteAllText(Path.Combine(takes, name, "take.json"), note);
            }
        }

        File.WriteAllText(Path.Combine(takes, "a letter.txt"), "Dear harbour master");
        await _server.StartAsync();
        (await _server.SendAsync(HttpMethod.Get, "/api/takes")).Body.AsArray().Count.ShouldBe(1);
        var (_, damaged) = await _server.SendAsync(HttpMethod.Get, "/api/takes/damaged");
        damaged.AsArray().Select(d => (string)d!["folder"]!).ShouldBe(["copy of it", "cut off", "empty"]);
        damaged.AsArray().ShouldAllBe(d => !((string)d!["words"]!).Contains(_server.Data, StringComparison.Ordinal));
    }

    [Fact]
    public async Task A_take_in_a_state_that_nobody_knows_is_listed()
    {
        await _server.SendAsync(HttpMethod.Post, "/api/takes", "{}");
        await _server.StepAsync(0.2);
        await _server.SendAsync(HttpMethod.Post, "/api/takes/current/stop");
        await RestartAfterAsync("update takes set state = 'Dreaming'");
        (await _server.SendAsync(HttpMethod.Get, "/api/takes")).Body.AsArray().Count.ShouldBe(1);
    }

    private async Task RestartAfterAsync(string sql)
    {
        await _server.StopAsync();
        await using (var context = await _server.Database.Contexts.CreateDbContextAsync(Cancel))
        {
            (await context.Database.ExecuteSqlRawAsync(sql.Replace("{", "{{", StringComparison.Ordinal).Replace("}", "}}", StringComparison.Ordinal), Cancel)).ShouldBeGreaterThan(0);
        }

        await _server.StartAsync();
    }
}

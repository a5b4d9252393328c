using System.Text.Json.Nodes;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Time.Testing;

namespace Kinetra.Server.Tests;

public sealed class DatabaseDownTests : IAsyncLifetime
{
    private readonly RunningServer _server = new();

    public ValueTask InitializeAsync() => _server.InitializeAsync();

    public ValueTask DisposeAsync() => _server.DisposeAsync();

    [Fact]
    public async Task While_the_database_is_down_at_start_the_server_says_so_and_goes_on_once_it_is_back()
    {
        await _server.StopAsync();
        await _server.Database.AllowConnectionsAsync(false);
        await _server.StartAsync(untilReady: false);
        (await _server.SendAsync(HttpMethod.Get, "/api/shows/live")).ShouldSayWhatWhereAndWhatIsAllowed(503, "server");
        var (status, said) = await _server.SendAsync(HttpMethod.Get, "/api/status");
        status.ShouldBe(200);
        ((string?)said["waitingFor"]).ShouldNotBeNullOrEmpty();
        await _server.Database.AllowConnectionsAsync(true);
        await _server.Ready;
        (await _server.SendAsync(HttpMethod.Get, "/api/shows/live")).Status.ShouldBe(200);
    }

    [Fact]
    public async Task After_a_store_whose_outcome_is_in_doubt_what_the_database_has_counts_and_changes_go_on()
    {
        // As if a commit had gone through whose answer never arrived.
        await using (var context = await _server.Database.Contexts.CreateDbContextAsync(TestContext.Current.CancellationToken))
        {
            await context.Shows.ExecuteUpdateAsync(s => s.SetProperty(r => r.Revision, r => r.Revision + 1), TestContext.Current.CancellationToken);
        }

        (await _server.SendAsync(HttpMethod.Patch, "/api/shows/LIVE/mixes/viewers", """{"gain":-3}""")).ShouldSayWhatWhereAndWhatIsAllowed(503, "database");
        var (status, show) = await _server.SendAsync(HttpMethod.Patch, "/api/shows/LIVE/mixes/viewers", """{"gain":-4}""");
        status.ShouldBe(200);
        ((long)show["revision"]!).ShouldBe(2);
        await _server.StepAsync(1);
    }

    [Fact]
    public async Task While_the_database_is_away_edits_and_sound_go_on_and_once_it_is_back_all_is_stored_in_order_once()
    {
        await ChangeAsync(-1);
        await _server.Database.AllowConnectionsAsync(false);
        for (var gain = -2; gain >= -8; gain--)
        {
            await ChangeAsync(gain);
            await _server.StepAsync(0.1);
        }

        (await _server.UndoAsync()).Status.ShouldBe(200);
        var (_, status) = await _server.SendAsync(HttpMethod.Get, "/api/status");
        ((bool)status["databaseAway"]!).ShouldBeTrue();
        ((int)status["waitingSteps"]!).ShouldBe(8);
        (await _server.SendAsync(HttpMethod.Get, "/api/shows/LIVE/history")).Body.AsArray().Count.ShouldBe(9);
        (await _server.SendAsync(HttpMethod.Get, "/api/shows")).ShouldSayWhatWhereAndWhatIsAllowed(503, "database");

        await _server.Database.AllowConnectionsAsync(true);
        await BackAsync();
        await StoredIsAsync(revision: 9, gain: -7);
        await ChangeAsync(-9);
        await StoredIsAsync(revision: 10, gain: -9);
    }

    [Fact]
    public async Task What_waited_in_the_journal_when_the_server_ended_is_stored_with_its_next_start()
    {
        await _server.Database.AllowConnectionsAsync(false);
        await ChangeAsync(-3);
        await ChangeAsync(-4);
        await _server.StopAsync();
        await _server.Database.AllowConnectionsAsync(true);
        await _server.StartAsync();
        ((double)(await _server.ShowAsync())["mixes"]![1]!["gain"]!).ShouldBe(-4);
        await StoredIsAsync(revision: 2, gain: -4);
        File.Exists(Path.Combine(_server.Data, "journal.jsonl")).ShouldBeFalse();
    }

    [Fact]
    public async Task A_step_that_was_stored_though_its_answer_was_lost_is_not_stored_twice()
    {
        await _server.Database.AllowConnectionsAsync(false);
        await ChangeAsync(-3);
        var journal = await File.ReadAllTextAsync(Path.Combine(_server.Data, "journal.jsonl"), TestContext.Current.CancellationToken);
        await _server.Database.AllowConnectionsAsync(true);
        await BackAsync();
        await _server.StopAsync();

        // As if the server had been ended between the commit and the end of the journal.
        await File.WriteAllTextAsync(Path.Combine(_server.Data, "journal.jsonl"), journal, TestContext.Current.CancellationToken);
        await _server.StartAsync();
        await StoredIsAsync(revision: 1, gain: -3);
    }

    [Fact]
    public async Task A_journal_that_does_not_fit_is_set_aside_and_what_is_stored_counts()
    {
        await _server.Database.AllowConnectionsAsync(false);
        await ChangeAsync(-3);
        await ChangeAsync(-4);
        await _server.StopAsync();
        var path = Path.Combine(_server.Data, "journal.jsonl");
        var lines = await File.ReadAllLinesAsync(path, TestContext.Current.CancellationToken);
        await File.WriteAllTextAsync(path, lines[1] + "\n", TestContext.Current.CancellationToken);
        await _server.Database.AllowConnectionsAsync(true);
        await _server.StartAsync();
        await StoredIsAsync(revision: 0, gain: 0);
        Directory.GetFiles(_server.Data, "journal.jsonl.aside-*").Length.ShouldBe(1);
        await ChangeAsync(-5);
        await StoredIsAsync(revision: 1, gain: -5);
    }

    [Fact]
    public async Task A_take_that_begins_and_ends_while_the_database_is_away_is_listed_once_it_is_back()
    {
        await _server.Database.AllowConnectionsAsync(false);
        (await _server.SendAsync(HttpMethod.Post, "/api/takes", """{"name":"In the dark"}""")).Status.ShouldBe(200);
        await _server.StepAsync(1);
        (await _server.SendAsync(HttpMethod.Post, "/api/takes/current/stop")).Status.ShouldBe(200);
        await _server.Database.AllowConnectionsAsync(true);
        await BackAsync();
        JsonNode? take;
        while ((take = (await _server.SendAsync(HttpMethod.Get, "/api/takes")).Body.AsArray().FirstOrDefault()) is null)
        {
            TestContext.Current.CancellationToken.ThrowIfCancellationRequested();
        }

        ((string)take["name"]!).ShouldBe("In the dark");
        ((string)take["state"]!).ShouldBe("Done");
        ((double)take["seconds"]!).ShouldBe(1, 0.01);
    }

    [Fact]
    public async Task While_what_the_database_holds_is_not_known_nothing_is_put_into_the_journal_in_its_place()
    {
        // The database goes in mid-edit, before anybody has looked after it, and the journal cannot be written either.
        var time = new FakeTimeProvider(DateTimeOffset.UtcNow);
        await _server.StopAsync();
        await _server.StartAsync(time: time);
        var journal = Path.Combine(_server.Data, "journal.jsonl");
        Directory.CreateDirectory(journal);
        await _server.Database.AllowConnectionsAsync(false);
        (await _server.SendAsync(HttpMethod.Patch, "/api/shows/LIVE/mixes/viewers", """{"gain":-3}""")).Status.ShouldBeInRange(500, 507);
        Directory.Delete(journal);
        (await _server.SendAsync(HttpMethod.Patch, "/api/shows/LIVE/mixes/viewers", """{"gain":-4}""")).ShouldSayWhatWhereAndWhatIsAllowed(503, "database");
        await _server.Database.AllowConnectionsAsync(true);
        await BackAsync(time);
        await ChangeAsync(-5);
        await StoredIsAsync(revision: 1, gain: -5);
    }

    [Fact]
    public async Task A_take_of_a_show_that_this_database_does_not_have_does_not_keep_the_server_from_starting()
    {
        await _server.SendAsync(HttpMethod.Post, "/api/takes", "{}");
        await _server.StepAsync(0.5);
        await _server.SendAsync(HttpMethod.Post, "/api/takes/current/stop");
        await _server.StopAsync();
        await using (var context = await _server.Database.Contexts.CreateDbContextAsync(TestContext.Current.CancellationToken))
        {
            // As if the data folder had been kept, and the database made anew.
            await context.Shows.ExecuteDeleteAsync(TestContext.Current.CancellationToken);
            await context.Settings.ExecuteDeleteAsync(TestContext.Current.CancellationToken);
        }

        await _server.StartAsync();
        (await _server.SendAsync(HttpMethod.Get, "/api/takes")).Body.AsArray().ShouldBeEmpty();
        Directory.GetFiles(_server.Data, "take.json", SearchOption.AllDirectories).Length.ShouldBe(1);
    }

    private async Task ChangeAsync(double gain) =>
        (await _server.SendAsync(HttpMethod.Patch, "/api/shows/LIVE/mixes/viewers", $$"""{"gain":{{gain}}}""")).Status.ShouldBe(200);

    private async Task BackAsync(FakeTimeProvider? time = null)
    {
        while ((bool)(await _server.SendAsync(HttpMethod.Get, "/api/status")).Body["databaseAway"]!)
        {
            time?.Advance(TimeSpan.FromSeconds(1));
            TestContext.Current.CancellationToken.ThrowIfCancellationRequested();
        }
    }

    private async Task StoredIsAsync(long revision, double gain)
    {
        var store = new Kinetra.Data.ShowStore(_server.Database.Contexts, TimeProvider.System);
        var show = await store.LoadLiveAsync(TestContext.Current.CancellationToken);
        show.Revision.ShouldBe(revision);
        show.Rig.Mixes[1].Gain.Decibels.ShouldBe(gain);
        var steps = (await store.HistoryAsync(show.Id, TestContext.Current.CancellationToken)).Newest;
        steps.Select(s => s.Revision).ShouldBe(Enumerable.Range(1, (int)revision).Select(r => (long)r));
    }
}

using Microsoft.EntityFrameworkCore;

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
        (await _server.SendAsync(HttpMethod.Get, "/api/show")).ShouldSayWhatWhereAndWhatIsAllowed(503, "server");
        var (status, said) = await _server.SendAsync(HttpMethod.Get, "/api/status");
        status.ShouldBe(200);
        ((string?)said["waitingFor"]).ShouldNotBeNullOrEmpty();
        await _server.Database.AllowConnectionsAsync(true);
        await _server.Ready;
        (await _server.SendAsync(HttpMethod.Get, "/api/show")).Status.ShouldBe(200);
    }

    [Fact]
    public async Task After_a_store_whose_outcome_is_in_doubt_what_the_database_has_counts_and_changes_go_on()
    {
        // As if a commit had gone through whose answer never arrived.
        await using (var context = await _server.Database.Contexts.CreateDbContextAsync(TestContext.Current.CancellationToken))
        {
            await context.Shows.ExecuteUpdateAsync(s => s.SetProperty(r => r.Revision, r => r.Revision + 1), TestContext.Current.CancellationToken);
        }

        (await _server.SendAsync(HttpMethod.Patch, "/api/show/mixes/viewers", """{"gain":-3}""")).ShouldSayWhatWhereAndWhatIsAllowed(503, "database");
        var (status, show) = await _server.SendAsync(HttpMethod.Patch, "/api/show/mixes/viewers", """{"gain":-4}""");
        status.ShouldBe(200);
        ((long)show["revision"]!).ShouldBe(2);
        await _server.StepAsync(1);
    }

    [Fact]
    public async Task A_change_that_cannot_be_stored_is_not_acknowledged_and_the_sound_plays_on()
    {
        await _server.Database.AllowConnectionsAsync(false);
        (await _server.SendAsync(HttpMethod.Patch, "/api/show/mixes/viewers", """{"gain":-3}""")).ShouldSayWhatWhereAndWhatIsAllowed(503, "database");
        await _server.StepAsync(1);
        await _server.Database.AllowConnectionsAsync(true);
        ((double)(await _server.ShowAsync())["mixes"]![1]!["gain"]!).ShouldBe(0);
        (await _server.SendAsync(HttpMethod.Patch, "/api/show/mixes/viewers", """{"gain":-3}""")).Status.ShouldBe(200);
    }
}

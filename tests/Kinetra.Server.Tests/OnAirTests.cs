using System.Text.Json.Nodes;
using Microsoft.AspNetCore.SignalR;
using Microsoft.AspNetCore.SignalR.Client;

namespace Kinetra.Server.Tests;

/// <summary>A comparison on air is of the window that began it last, told to all, and refused with words where there is nothing to compare.</summary>
public sealed class OnAirTests(RunningServer server) : IClassFixture<RunningServer>, IAsyncLifetime
{
    private const string Shelf = "record-shelf";

    public async ValueTask InitializeAsync() => await server.OpenFreshShowAsync();

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    [Fact]
    public async Task Only_the_window_that_began_it_last_ends_it_and_any_may_by_request()
    {
        await server.SendAsync(HttpMethod.Post, $"/api/shows/LIVE/sources/{Shelf}/chain", """{"type":"utility"}""");
        await server.StepAsync(1);
        await using var mine = await ConnectAsync();
        await using var other = await ConnectAsync();
        await mine.InvokeAsync("CompareOnAir", await server.LiveAsync(), Shelf, null, null, false, Cancel);
        await server.StepAsync(2);
        await mine.InvokeAsync("CompareOnAir", await server.LiveAsync(), Shelf, null, null, true, Cancel);
        var now = (await ComparedAsync())!;
        ((bool)now["isWithout"]!).ShouldBeTrue();
        ((double)now["difference"]!).ShouldBe(0, 0.1);
        await other.InvokeAsync("EndOnAir", Cancel);
        (await ComparedAsync()).ShouldNotBeNull();
        await other.InvokeAsync("CompareOnAir", await server.LiveAsync(), Shelf, null, null, true, Cancel);
        await mine.InvokeAsync("EndOnAir", Cancel);
        (await ComparedAsync()).ShouldNotBeNull();
        (await server.SendAsync(HttpMethod.Delete, "/api/on-air")).Body["comparison"].ShouldBeNull();
        (await ComparedAsync()).ShouldBeNull();
    }

    [Fact]
    public async Task Another_show_is_not_compared_and_what_was_ends_with_its_show()
    {
        await server.SendAsync(HttpMethod.Post, $"/api/shows/LIVE/sources/{Shelf}/chain", """{"type":"utility"}""");
        await server.StepAsync(1);
        await using var mine = await ConnectAsync();
        await mine.InvokeAsync("CompareOnAir", await server.LiveAsync(), Shelf, null, null, true, Cancel);
        await server.OpenFreshShowAsync();
        await server.StepAsync(0.1);
        (await ComparedAsync()).ShouldBeNull();
        (await RefusedAsync(mine, Guid.NewGuid(), Shelf, null, null)).ShouldContain("not live");
    }

    [Theory]
    [InlineData("nobody", null, null)]
    [InlineData(null, "nobody", null)]
    [InlineData(null, null, null)]
    [InlineData(Shelf, null, "nothing")]
    public async Task What_has_no_such_chain_is_refused_with_words(string? source, string? mix, string? processor)
    {
        await using var mine = await ConnectAsync();
        (await RefusedAsync(mine, await server.LiveAsync(), source, mix, processor)).ShouldContain("Allowed:");
    }

    private static async Task<string> RefusedAsync(HubConnection window, Guid show, string? source, string? mix, string? processor) =>
        (await Should.ThrowAsync<HubException>(async () => await window.InvokeAsync("CompareOnAir", show, source, mix, processor, true, Cancel))).Message;

    private async Task<JsonNode?> ComparedAsync() => (await server.SendAsync(HttpMethod.Get, "/api/on-air")).Body["comparison"];

    private async Task<HubConnection> ConnectAsync()
    {
        var connection = new HubConnectionBuilder().WithUrl(new Uri(server.Address, "/api/live")).Build();
        await connection.StartAsync(Cancel);
        return connection;
    }
}

using System.Threading.Channels;
using Microsoft.AspNetCore.SignalR;
using Microsoft.AspNetCore.SignalR.Client;

namespace Kinetra.Server.Tests;

public sealed class PreviewTests(RunningServer server) : IClassFixture<RunningServer>, IAsyncLifetime
{
    public async ValueTask InitializeAsync() => await server.OpenFreshShowAsync();

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    [Fact]
    public async Task A_preview_is_told_to_the_others_and_stored_nowhere()
    {
        await using var mine = await ConnectAsync();
        await using var other = await ConnectAsync();
        var told = new TaskCompletionSource<(string, string, double)>();
        other.On<string, string, double>("SendPreviewed", (mix, source, gain) => told.TrySetResult((mix, source, gain)));
        var before = (long)(await server.ShowAsync())["revision"]!;
        await mine.InvokeAsync("PreviewSend", await server.LiveAsync(), "viewers", "sea-mic", -8.5, Cancel);
        (await told.Task.WaitAsync(TimeSpan.FromSeconds(10), Cancel)).ShouldBe(("viewers", "sea-mic", -8.5));
        ((long)(await server.ShowAsync())["revision"]!).ShouldBe(before);
    }

    [Theory]
    [InlineData("viewers", "sea-mic", 40.0)]
    [InlineData("nobody", "sea-mic", 0.0)]
    public async Task A_preview_that_breaks_a_rule_is_refused_with_words(string mix, string source, double gain)
    {
        await using var mine = await ConnectAsync();
        var refused = await Should.ThrowAsync<HubException>(async () => await mine.InvokeAsync("PreviewSend", await server.LiveAsync(), mix, source, gain, Cancel));
        refused.Message.ShouldContain("Allowed:");
    }

    [Fact]
    public async Task Every_window_is_told_of_a_change()
    {
        await using var other = await ConnectAsync();
        var told = new TaskCompletionSource<long>();
        other.On<System.Text.Json.Nodes.JsonNode>("ShowChanged", news => told.TrySetResult((long)news["sequence"]!));
        var (_, show) = await server.SendAsync(HttpMethod.Patch, "/api/shows/LIVE/mixes/viewers", """{"gain":-1.5}""");
        (await told.Task.WaitAsync(TimeSpan.FromSeconds(10), Cancel)).ShouldBe((long)show["sequence"]!);
    }

    [Theory]
    [InlineData("stored")]
    [InlineData("window closed")]
    public async Task The_others_are_told_when_a_preview_is_over_however_it_ends(string how)
    {
        var mine = await ConnectAsync();
        await using var other = await ConnectAsync();
        var heard = Channel.CreateUnbounded<string>();
        other.On<string, string, double>("SendPreviewed", (_, _, gain) => heard.Writer.TryWrite($"previewed {gain}"));
        other.On<System.Text.Json.Nodes.JsonNode>("ShowChanged", _ => heard.Writer.TryWrite("changed"));
        other.On<string, string>("PreviewEnded", (_, _) => heard.Writer.TryWrite("ended"));
        await mine.InvokeAsync("PreviewSend", await server.LiveAsync(), "viewers", "record-shelf", -8.5, Cancel);
        (await heard.Reader.ReadAsync(Cancel)).ShouldBe("previewed -8.5");
        if (how == "stored")
        {
            await server.SendAsync(HttpMethod.Patch, "/api/shows/LIVE/mixes/viewers/sends/record-shelf", """{"gain":-8.5}""", ("X-Client", mine.ConnectionId!));
            (await heard.Reader.ReadAsync(Cancel)).ShouldBe("changed");
        }

        await mine.DisposeAsync();
        (await heard.Reader.ReadAsync(Cancel)).ShouldBe("ended");
    }

    private async Task<HubConnection> ConnectAsync()
    {
        var connection = new HubConnectionBuilder().WithUrl(new Uri(server.Address, "/api/live")).Build();
        await connection.StartAsync(Cancel);
        return connection;
    }
}

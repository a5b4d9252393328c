using Microsoft.AspNetCore.SignalR;
using Microsoft.AspNetCore.SignalR.Client;

namespace Kinetra.Server.Tests;

public class PreviewTests(RunningServer server) : IClassFixture<RunningServer>
{
    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    [Fact]
    public async Task A_preview_is_told_to_the_others_and_stored_nowhere()
    {
        await using var mine = await ConnectAsync();
        await using var other = await ConnectAsync();
        var told = new TaskCompletionSource<(string, string, double)>();
        other.On<string, string, double>("SendPreviewed", (mix, source, gain) => told.TrySetResult((mix, source, gain)));
        var before = (long)(await server.ShowAsync())["revision"]!;
        await mine.InvokeAsync("PreviewSend", "viewers", "sea-mic", -8.5, Cancel);
        (await told.Task.WaitAsync(TimeSpan.FromSeconds(10), Cancel)).ShouldBe(("viewers", "sea-mic", -8.5));
        ((long)(await server.ShowAsync())["revision"]!).ShouldBe(before);
    }

    [Theory]
    [InlineData("viewers", "sea-mic", 40.0)]
    [InlineData("nobody", "sea-mic", 0.0)]
    public async Task A_preview_that_breaks_a_rule_is_refused_with_words(string mix, string source, double gain)
    {
        await using var mine = await ConnectAsync();
        var refused = await Should.ThrowAsync<HubException>(() => mine.InvokeAsync("PreviewSend", mix, source, gain, Cancel));
        refused.Message.ShouldContain("Allowed:");
    }

    [Fact]
    public async Task Every_window_is_told_of_a_change()
    {
        await using var other = await ConnectAsync();
        var told = new TaskCompletionSource<long>();
        other.On<System.Text.Json.Nodes.JsonNode, System.Text.Json.Nodes.JsonNode>("ShowChanged", (show, _) => told.TrySetResult((long)show["revision"]!));
        var (_, show) = await server.SendAsync(HttpMethod.Patch, "/api/show/mixes/viewers", """{"gain":-1.5}""");
        (await told.Task.WaitAsync(TimeSpan.FromSeconds(10), Cancel)).ShouldBe((long)show["revision"]!);
    }

    private async Task<HubConnection> ConnectAsync()
    {
        var connection = new HubConnectionBuilder().WithUrl(new Uri(server.Address, "/api/live")).Build();
        await connection.StartAsync(Cancel);
        return connection;
    }
}

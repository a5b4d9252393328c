namespace Kinetra.Server.Tests;

public sealed class HushTests : IAsyncLifetime
{
    private readonly RunningServer _server = new();

    public ValueTask InitializeAsync() => _server.InitializeAsync();

    public ValueTask DisposeAsync() => _server.DisposeAsync();

    [Fact]
    public async Task Who_hushed_the_show_is_not_heard_after_a_restart_either_until_the_hush_is_ended()
    {
        await HushAsync(true);
        await RestartAsync();
        ((bool)(await StatusAsync())["hushed"]!).ShouldBeTrue();
        await HushAsync(false);
        await RestartAsync();
        ((bool)(await StatusAsync())["hushed"]!).ShouldBeFalse();
    }

    [Fact]
    public async Task A_hush_that_cannot_be_noted_is_silent_all_the_same_and_says_so_without_a_path()
    {
        var mark = Path.Combine(_server.Data, "hushed");
        Directory.CreateDirectory(mark);
        try
        {
            var answer = await _server.SendAsync(HttpMethod.Put, "/api/hush", """{"on":true}""");
            answer.ShouldSayWhatWhereAndWhatIsAllowed(507, "disk");
            answer.Body.ToJsonString().ShouldNotContain(_server.Data);
            ((bool)(await StatusAsync())["hushed"]!).ShouldBeTrue();
        }
        finally
        {
            Directory.Delete(mark);
            await HushAsync(false);
        }
    }

    private async Task HushAsync(bool on) =>
        (await _server.SendAsync(HttpMethod.Put, "/api/hush", $$"""{"on":{{(on ? "true" : "false")}}}""")).Status.ShouldBe(200);

    private async Task<System.Text.Json.Nodes.JsonNode> StatusAsync() => (await _server.SendAsync(HttpMethod.Get, "/api/status")).Body;

    private async Task RestartAsync()
    {
        await _server.StopAsync();
        await _server.StartAsync();
    }
}

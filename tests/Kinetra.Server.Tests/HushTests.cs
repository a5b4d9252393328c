namespace Kinetra.Server.Tests;

public class HushTests(RunningServer server) : IClassFixture<RunningServer>
{
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
        var mark = Path.Combine(server.Data, "hushed");
        Directory.CreateDirectory(mark);
        try
        {
            var answer = await server.SendAsync(HttpMethod.Put, "/api/hush", """{"on":true}""");
            answer.ShouldSayWhatWhereAndWhatIsAllowed(507, "disk");
            answer.Body.ToJsonString().ShouldNotContain(server.Data);
            ((bool)(await StatusAsync())["hushed"]!).ShouldBeTrue();
        }
        finally
        {
            Directory.Delete(mark);
            await HushAsync(false);
        }
    }

    private async Task HushAsync(bool on) =>
        (await server.SendAsync(HttpMethod.Put, "/api/hush", $$"""{"on":{{(on ? "true" : "false")}}}""")).Status.ShouldBe(200);

    private async Task<System.Text.Json.Nodes.JsonNode> StatusAsync() => (await server.SendAsync(HttpMethod.Get, "/api/status")).Body;

    private async Task RestartAsync()
    {
        await server.StopAsync();
        await server.StartAsync();
    }
}

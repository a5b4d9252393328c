using Microsoft.AspNetCore.SignalR;
using Microsoft.AspNetCore.SignalR.Client;

namespace Kinetra.Server.Tests;

public sealed class WrongShowTests(RunningServer server) : IClassFixture<RunningServer>, IAsyncLifetime
{
    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    public ValueTask InitializeAsync() => server.OpenFreshShowAsync();

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    // A copy has all the ids of the show that it was copied from.
    [Theory]
    [InlineData("PATCH", "mixes/viewers/sends/sea-mic", """{"gain":-3}""")]
    [InlineData("DELETE", "sources/sea-mic", null)]
    [InlineData("POST", "mixes", """{"purpose":"Other"}""")]
    [InlineData("POST", "cables", "{}")]
    [InlineData("POST", "microphones", """{"client":"c","device":"d","label":"l","voices":[{"left":0}]}""")]
    [InlineData("POST", "undo", """{"step":1}""")]
    [InlineData("POST", "sources/sea-mic/play", null)]
    [InlineData("PUT", "sources/host-mic/chain", """{"preset":"voiceClose"}""")]
    [InlineData("POST", "findings/fix", """{"key":"k","label":"l"}""")]
    [InlineData("POST", "trace/cut", """{"source":"host-mic","listener":"mix/viewers","label":"l"}""")]
    public async Task A_command_to_a_show_that_does_not_play_changes_nothing_of_the_one_that_does(string method, string path, string? body)
    {
        var (_, other) = await server.SendAsync(HttpMethod.Post, "/api/shows", $$"""{"copyOf":"{{await server.LiveAsync()}}"}""");
        var before = (await server.ShowAsync()).ToJsonString();
        var answer = await server.SendAsync(new HttpMethod(method), $"/api/shows/{other["id"]}/{path}?revision=0", body);
        answer.ShouldSayWhatWhereAndWhatIsAllowed(409, "show");
        ((bool)answer.Body["notLive"]!).ShouldBeTrue();
        (await server.ShowAsync()).ToJsonString().ShouldBe(before);
    }

    [Fact]
    public async Task A_preview_for_a_show_that_does_not_play_is_not_heard()
    {
        await using var window = new HubConnectionBuilder().WithUrl(new Uri(server.Address, "/api/live")).Build();
        await window.StartAsync(Cancel);
        (await Should.ThrowAsync<HubException>(() => window.InvokeAsync("PreviewSend", Guid.NewGuid(), "viewers", "sea-mic", -6, Cancel)))
            .Message.ShouldContain("does not play");
    }

    [Theory]
    [InlineData("PATCH", "mixes/viewers", """{"gain":-3}""")]
    [InlineData("POST", "mixes", """{"purpose":"Other"}""")]
    [InlineData("POST", "undo", """{"step":1}""")]
    public async Task A_revision_that_the_show_has_not_reached_is_refused(string method, string path, string body)
    {
        var before = await server.ShowAsync();
        var answer = await server.SendAsync(new HttpMethod(method), $"/api/shows/LIVE/{path}?revision={(long)before["revision"]! + 1}", body);
        answer.ShouldSayWhatWhereAndWhatIsAllowed(409, "revision");
        (await server.ShowAsync()).ToJsonString().ShouldBe(before.ToJsonString());
    }

    [Theory]
    [InlineData("DELETE", "sources/sea-mic", null, "")]
    [InlineData("POST", "cables", "{}", "")]
    [InlineData("PATCH", "mixes/viewers", """{"gain":-3}""", "?revision=seven")]
    public async Task A_command_without_a_revision_is_refused_in_our_words(string method, string path, string? body, string query)
    {
        var answer = await server.SendAsync(new HttpMethod(method), $"/api/shows/{await server.LiveAsync()}/{path}{query}", body);
        answer.ShouldSayWhatWhereAndWhatIsAllowed(400, "revision");
        answer.Body.ToJsonString().ShouldNotContain("Int64");
        answer.Body.ToJsonString().ShouldNotContain("long");
    }

    [Fact]
    public async Task Twelve_new_cables_at_once_get_twelve_names()
    {
        var show = await server.ShowAsync();
        var answers = await Task.WhenAll(Enumerable.Range(0, 12).Select(_ => server.SendAsync(HttpMethod.Post, $"/api/shows/{show["id"]}/cables?revision={show["revision"]}", "{}")));
        answers.ShouldAllBe(a => a.Status == 200);
        (await server.ShowAsync())["cables"]!.AsArray().Select(c => (string)c!["name"]!).Distinct().Count().ShouldBe(12);
    }

    [Fact]
    public async Task Of_a_show_that_is_opened_and_put_away_at_once_one_of_both_happens()
    {
        var home = await server.LiveAsync();
        for (var n = 0; n < 10; n++)
        {
            var (_, other) = await server.SendAsync(HttpMethod.Post, "/api/shows", "{}");
            var both = await Task.WhenAll(
                server.SendAsync(HttpMethod.Post, $"/api/shows/{other["id"]}/open", "{}"), server.SendAsync(HttpMethod.Delete, $"/api/shows/{other["id"]}"));
            (both[0].Status, both[1].Status).ShouldBeOneOf((200, 409), (404, 204));
            var (_, shows) = await server.SendAsync(HttpMethod.Get, "/api/shows");
            shows.AsArray().Single(s => (bool)s!["live"]!)!["deletedAt"].ShouldBeNull();
            await server.SendAsync(HttpMethod.Post, $"/api/shows/{home}/open", "{}");
        }
    }
}

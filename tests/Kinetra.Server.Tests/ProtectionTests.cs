using System.Net.WebSockets;

namespace Kinetra.Server.Tests;

public sealed class ProtectionTests(RunningServer server) : IClassFixture<RunningServer>, IAsyncLifetime
{
    public async ValueTask InitializeAsync() => await server.OpenFreshShowAsync();

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    [Fact]
    public async Task A_foreign_Host_or_Origin_is_refused()
    {
        (await server.SendAsync(HttpMethod.Get, "/api/shows/live", null, ("Host", "elsewhere.example"))).ShouldSayWhatWhereAndWhatIsAllowed(403, "Host");
        (await server.SendAsync(HttpMethod.Get, "/api/shows/live", null, ("Origin", "http://elsewhere.example"))).ShouldSayWhatWhereAndWhatIsAllowed(403, "Origin");
        (await server.SendAsync(HttpMethod.Put, "/api/hush", """{"on":true}""", ("Origin", "null"))).ShouldSayWhatWhereAndWhatIsAllowed(403, "Origin");
        (await server.SendAsync(HttpMethod.Get, "/api/shows/live", null, ("Origin", $"http://{server.Address.Authority}"))).Status.ShouldBe(200);
    }

    [Fact]
    [System.Runtime.Versioning.UnsupportedOSPlatform("windows")]
    public async Task Nobody_else_on_this_computer_gets_into_the_data_folder()
    {
        const UnixFileMode own = UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute;
        await server.StopAsync();
        File.SetUnixFileMode(server.Data, own | UnixFileMode.GroupRead | UnixFileMode.GroupExecute | UnixFileMode.OtherRead | UnixFileMode.OtherExecute);
        await server.StartAsync();
        File.GetUnixFileMode(server.Data).ShouldBe(own);
    }

    [Theory]
    [InlineData("/api/analysis")]
    [InlineData("/api/listen")]
    [InlineData("/api/microphone")]
    [InlineData("/api/live")]
    public async Task Sockets_of_a_foreign_page_and_under_a_foreign_name_are_refused(string path)
    {
        var refused = await Should.ThrowAsync<WebSocketException>(() => server.ConnectAsync(path, "http://elsewhere.example"));
        refused.Message.ShouldContain("403");
        using var socket = new ClientWebSocket();
        socket.Options.SetRequestHeader("Host", "elsewhere.example");
        var address = new Uri($"ws://{server.Address.Authority}{path}");
        (await Should.ThrowAsync<WebSocketException>(() => socket.ConnectAsync(address, TestContext.Current.CancellationToken))).Message.ShouldContain("403");
    }

    [Theory]
    [InlineData("/")]
    [InlineData("/api/shows/live")]
    [InlineData("/api/nothing")]
    public async Task Every_answer_isolates_the_page_and_allows_nothing_from_elsewhere(string path)
    {
        using var response = await server.Http.GetAsync(path, TestContext.Current.CancellationToken);
        response.Headers.GetValues("Cross-Origin-Opener-Policy").ShouldBe(["same-origin"]);
        response.Headers.GetValues("Cross-Origin-Embedder-Policy").ShouldBe(["require-corp"]);
        response.Headers.GetValues("X-Content-Type-Options").ShouldBe(["nosniff"]);
        var policy = response.Headers.GetValues("Content-Security-Policy").Single();
        policy.ShouldContain("default-src 'none'");
        policy.ShouldContain("script-src 'self';");
        policy.ShouldNotContain("http:");
    }

    [Fact]
    public async Task A_socket_address_asked_for_as_a_page_says_so()
    {
        (await server.SendAsync(HttpMethod.Get, "/api/analysis")).ShouldSayWhatWhereAndWhatIsAllowed(400, "path");
    }
}

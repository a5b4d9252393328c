using System.Net;
using System.Net.NetworkInformation;
using System.Net.Sockets;
using System.Net.WebSockets;
using System.Security.Cryptography;
using System.Security.Cryptography.X509Certificates;
using System.Text;
using System.Text.Json.Nodes;

namespace Kinetra.Server.Tests;

/// <summary>Second screens: nobody is let in until that is switched on, nobody without the passphrase, nobody further than to what was given, and nobody who was thrown out.</summary>
public sealed class SecondScreenTests(RunningServer server) : IClassFixture<RunningServer>, IAsyncLifetime
{
    private const string Passphrase = "lantern-harbour-9";
    private readonly CookieContainer _cookies = new();
    private readonly int _port = FreePort();
    private string _fingerprint = "";

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    private Uri Address => new($"https://127.0.0.1:{_port}");

    public async ValueTask InitializeAsync() => await server.OpenFreshShowAsync();

    public async ValueTask DisposeAsync() => await server.SendAsync(HttpMethod.Patch, "/api/second-screen", """{"on":false}""");

    [Fact]
    public async Task Until_it_is_switched_on_nothing_listens_and_then_only_at_the_chosen_address()
    {
        Listeners().ShouldBeEmpty();
        (await server.SendAsync(HttpMethod.Get, "/api/second-screen")).Body["on"]!.GetValue<bool>().ShouldBeFalse();
        await OnAsync("""{"pads":true}""");
        Listeners().ShouldBe([IPAddress.Loopback]);
        await server.SendAsync(HttpMethod.Patch, "/api/second-screen", """{"on":false}""");
        Listeners().ShouldBeEmpty();
    }

    [Theory]
    [InlineData("""{"on":true,"addresses":["127.0.0.1"]}""", "passphrase")]
    [InlineData("""{"on":true,"passphrase":"short"}""", "passphrase")]
    [InlineData("""{"on":true,"passphrase":"long enough","addresses":[]}""", "addresses")]
    [InlineData("""{"on":true,"passphrase":"long enough","addresses":["192.0.2.1"]}""", "addresses")]
    [InlineData("""{"port":80}""", "port")]
    [InlineData("""{"rights":{"lanes":[""]}}""", "rights.lanes")]
    public async Task What_cannot_be_is_refused_with_words(string wish, string where)
    {
        File.Delete(Path.Combine(server.Data, "second-screen.json"));
        await server.StopAsync();
        await server.StartAsync();
        (await server.SendAsync(HttpMethod.Patch, "/api/second-screen", wish)).ShouldSayWhatWhereAndWhatIsAllowed(422, where);
    }

    [Fact]
    public async Task Nobody_is_let_in_without_the_passphrase_and_who_guesses_has_to_wait()
    {
        await OnAsync("""{"pads":true}""");
        using var http = Client();
        (await http.GetAsync("/api/board", Cancel)).StatusCode.ShouldBe(HttpStatusCode.Unauthorized);
        (await EnterAsync(http, Passphrase)).ShouldBe(HttpStatusCode.NoContent);
        foreach (var guess in new[] { "lantern-harbour-1", "x", new string('y', 300), "Lantern-harbour-9", "lantern harbour 9" })
        {
            (await EnterAsync(http, guess)).ShouldBe(HttpStatusCode.Unauthorized);
        }

        // Now not even the right one.
        (await EnterAsync(http, Passphrase)).ShouldBe(HttpStatusCode.TooManyRequests);

        // It stands nowhere.
        (await server.SendAsync(HttpMethod.Get, "/api/second-screen")).Body.ToJsonString().ShouldNotContain(Passphrase);
        (await File.ReadAllTextAsync(Path.Combine(server.Data, "second-screen.json"), Cancel)).ShouldNotContain(Passphrase);
    }

    [Fact]
    public async Task Of_many_guesses_at_once_no_more_are_tried_than_of_guesses_in_turn()
    {
        await OnAsync("""{"pads":true}""");
        using var http = Client();
        var answers = await Task.WhenAll(Enumerable.Range(0, 24).Select(n => EnterAsync(http, $"a guess, number {n}")));
        answers.Count(a => a == HttpStatusCode.Unauthorized).ShouldBe(5);
        answers.Count(a => a == HttpStatusCode.TooManyRequests).ShouldBe(19);
    }

    [Fact]
    public async Task What_a_device_holds_ends_when_that_is_taken_from_it()
    {
        var source = (string)(await server.ShowAsync())["sources"]![0]!["id"]!;
        await OnAsync($$"""{"voices":["{{source}}"]}""");
        using var socket = await BoardAsync();
        await ReadAsync(socket, "board");
        await ActAsync(socket, $$"""{"act":"source/{{source}}/cough","value":"on"}""");
        await RunningServer.UntilAsync(async () => (await HoldsAsync()) == 1);
        await server.SendAsync(HttpMethod.Patch, "/api/second-screen", """{"rights":{"voices":[]}}""");
        await RunningServer.UntilAsync(async () => (await HoldsAsync()) == 0);
    }

    [Fact]
    public async Task The_API_is_not_there_and_foreign_pages_and_names_are_refused()
    {
        await OnAsync("""{"pads":true,"hush":true}""");
        using var http = Client();
        await EnterAsync(http, Passphrase);
        foreach (var path in new[] { "/api/shows/live", "/api/hands", "/api/status", "/api/do/hush", "/api/second-screen", "/api/live" })
        {
            (await http.GetAsync(path, Cancel)).StatusCode.ShouldBe(HttpStatusCode.NotFound, path);
        }

        using var foreign = new HttpRequestMessage(HttpMethod.Get, "/api/board") { Headers = { { "Origin", "https://elsewhere.example" } } };
        (await http.SendAsync(foreign, Cancel)).StatusCode.ShouldBe(HttpStatusCode.Forbidden);
        using var named = new HttpRequestMessage(HttpMethod.Get, "/") { Headers = { Host = "elsewhere.example" } };
        (await http.SendAsync(named, Cancel)).StatusCode.ShouldBe(HttpStatusCode.Forbidden);
        await Should.ThrowAsync<HttpRequestException>(async () => await new HttpClient().GetAsync(new Uri($"https://127.0.0.1:{_port}/"), Cancel), "a certificate that nobody vouches for");
    }

    [Fact]
    public async Task It_is_told_and_may_do_what_it_was_given_and_nothing_else()
    {
        var source = (string)(await server.ShowAsync())["sources"]![0]!["id"]!;
        await OnAsync($$"""{"pads":false,"hush":true,"voices":["{{source}}"],"lanes":["viewers"]}""");
        using var socket = await BoardAsync();
        var board = await ReadAsync(socket, "board");
        board["lanes"]!.AsArray().Select(l => (string)l!["id"]!).ShouldBe(["viewers"]);
        board["pads"]!.AsArray().ShouldBeEmpty();
        board["voices"]!.AsArray().Count.ShouldBe(1);

        await ActAsync(socket, """{"act":"hush","value":"on"}""");
        (await ReadAsync(socket, "board"))["hushed"]!.GetValue<bool>().ShouldBeTrue();
        await ActAsync(socket, """{"act":"hush","value":"off"}""");
        (await ReadAsync(socket, "board"))["hushed"]!.GetValue<bool>().ShouldBeFalse();
        foreach (var act in new[]
        {
            """{"act":"record","value":"on"}""", """{"act":"mix/my-ears/level","value":"-6"}""", """{"act":"undo"}""", """{"act":"gear/put-back"}""", """{"act":"pad/none/press"}""", """{"act":"nothing"}""",
        })
        {
            await ActAsync(socket, act);
            ((string)(await ReadAsync(socket, "wrong"))!).ShouldContain("was not given it");
        }

        foreach (var act in new[] { "", "{", "[]", """{"act":3}""", "null", """{"value":"on"}""" })
        {
            await ActAsync(socket, act);
            ((string)(await ReadAsync(socket, "wrong"))!).ShouldContain("Allowed");
        }

        await ActAsync(socket, $$"""{"act":"mix/viewers/source/{{source}}/mute","value":"on"}""");
        (await ReadAsync(socket, "board"))["lanes"]![0]!["sends"]!.AsArray().Single(s => (string)s!["id"]! == source)!["muted"]!.GetValue<bool>().ShouldBeTrue();
        ((string)(await server.ShowAsync())["toUndo"]!["windowName"]!).ShouldBe("A phone");
    }

    [Fact]
    public async Task What_it_holds_ends_with_its_connection_and_when_it_is_thrown_out()
    {
        var source = (string)(await server.ShowAsync())["sources"]![0]!["id"]!;
        await OnAsync($$"""{"voices":["{{source}}"]}""");
        using (var socket = await BoardAsync())
        {
            await ReadAsync(socket, "board");
            await ActAsync(socket, $$"""{"act":"source/{{source}}/cough","value":"on"}""");
            (await ReadAsync(socket, "board"))["holds"]!.AsArray().Count.ShouldBe(1);
            socket.Abort();
        }

        await RunningServer.UntilAsync(async () => (await HoldsAsync()) == 0);
        using var again = await BoardAsync();
        await ReadAsync(again, "board");
        await ActAsync(again, $$"""{"act":"source/{{source}}/cough","value":"on"}""");
        await RunningServer.UntilAsync(async () => (await HoldsAsync()) == 1);
        foreach (var device in (await server.SendAsync(HttpMethod.Get, "/api/second-screen")).Body["devices"]!.AsArray())
        {
            (await server.SendAsync(HttpMethod.Delete, $"/api/second-screen/devices/{(string)device!["id"]!}")).Status.ShouldBe(204);
        }

        await RunningServer.UntilAsync(async () => (await HoldsAsync()) == 0);
        using var http = Client();
        (await http.GetAsync("/api/board", Cancel)).StatusCode.ShouldBe(HttpStatusCode.Unauthorized);
    }

    [Fact]
    public async Task Another_passphrase_throws_out_whom_the_one_before_let_in_and_other_rights_count_at_once()
    {
        await OnAsync("""{"hush":true}""");
        using var socket = await BoardAsync();
        await ReadAsync(socket, "board");
        await server.SendAsync(HttpMethod.Patch, "/api/second-screen", """{"rights":{"hush":false}}""");
        (await ReadAsync(socket, "board"))["rights"]!["hush"]!.GetValue<bool>().ShouldBeFalse();
        await ActAsync(socket, """{"act":"hush","value":"on"}""");
        await ReadAsync(socket, "wrong");
        await server.SendAsync(HttpMethod.Patch, "/api/second-screen", """{"passphrase":"quite another one"}""");
        await Should.ThrowAsync<Exception>(async () =>
        {
            while (true)
            {
                await ReadAsync(socket, "board");
            }
        });
    }

    [Fact]
    public async Task The_certificate_stays_over_a_restart_and_lies_where_nobody_else_reads_it()
    {
        await OnAsync("""{"pads":true}""");
        var before = (string)(await server.SendAsync(HttpMethod.Get, "/api/second-screen")).Body["fingerprint"]!;
        await server.StopAsync();
        await server.StartAsync();
        await RunningServer.UntilAsync(async () => (await server.SendAsync(HttpMethod.Get, "/api/second-screen")).Body["fingerprint"] is not null);
        ((string)(await server.SendAsync(HttpMethod.Get, "/api/second-screen")).Body["fingerprint"]!).ShouldBe(before);
        using var http = Client();
        (await EnterAsync(http, Passphrase)).ShouldBe(HttpStatusCode.NoContent);
        if (OperatingSystem.IsWindows())
        {
            return;
        }

        File.GetUnixFileMode(Path.Combine(server.Data, "second-screen.pfx")).ShouldBe(UnixFileMode.UserRead | UnixFileMode.UserWrite);
    }

    private async Task OnAsync(string rights)
    {
        var (status, body) = await server.SendAsync(
            HttpMethod.Patch, "/api/second-screen", $$"""{"on":true,"port":{{_port}},"addresses":["127.0.0.1"],"passphrase":"{{Passphrase}}","rights":{{rights}}}""");
        status.ShouldBe(200);
        _fingerprint = ((string)body["fingerprint"]!).Replace(" ", "", StringComparison.Ordinal);
    }

    // As a person does who holds what the device shows against what the screen shows.
    private bool IsOwn(X509Certificate? certificate) => certificate?.GetCertHashString(HashAlgorithmName.SHA256) == _fingerprint;

    private IEnumerable<IPAddress> Listeners() =>
        IPGlobalProperties.GetIPGlobalProperties().GetActiveTcpListeners().Where(e => e.Port == _port).Select(e => e.Address);

    private HttpClient Client() => new(new HttpClientHandler
    {
        CookieContainer = _cookies,
        ServerCertificateCustomValidationCallback = (_, certificate, _, _) => IsOwn(certificate),
    })
    {
        BaseAddress = Address,
    };

    private static async Task<HttpStatusCode> EnterAsync(HttpClient http, string passphrase) =>
        (await http.PostAsync("/api/enter", new StringContent($$"""{"passphrase":"{{passphrase}}","name":"A phone"}""", Encoding.UTF8, "application/json"), Cancel)).StatusCode;

    private async Task<ClientWebSocket> BoardAsync()
    {
        using var http = Client();
        (await EnterAsync(http, Passphrase)).ShouldBe(HttpStatusCode.NoContent);
        var socket = new ClientWebSocket();
        socket.Options.Cookies = _cookies;
        socket.Options.RemoteCertificateValidationCallback = (_, certificate, _, _) => IsOwn(certificate);
        await socket.ConnectAsync(new Uri($"wss://127.0.0.1:{_port}/api/board"), Cancel);
        return socket;
    }

    private static Task ActAsync(ClientWebSocket socket, string text) => RunningServer.SendTextAsync(socket, text);

    private static async Task<JsonNode> ReadAsync(ClientWebSocket socket, string what)
    {
        while (true)
        {
            var (type, data) = await RunningServer.ReceiveAsync(socket);
            if (type == WebSocketMessageType.Close)
            {
                throw new InvalidOperationException("It was closed.");
            }

            if (JsonNode.Parse(data)![what] is { } found)
            {
                return found;
            }
        }
    }

    private async Task<int> HoldsAsync() => (await server.SendAsync(HttpMethod.Get, "/api/hands")).Body["holds"]!.AsArray().Count;

    private static int FreePort()
    {
        using var socket = new TcpListener(IPAddress.Loopback, 0);
        socket.Start();
        return ((IPEndPoint)socket.LocalEndpoint).Port;
    }
}

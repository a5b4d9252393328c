using System.Net.WebSockets;
using System.Text.Json.Nodes;
using Kinetra.Core.Rigs;

namespace Kinetra.Server.Tests;

/// <summary>Outputs of browsers that mixes go to: one window plays each.</summary>
public sealed class PlayerTests : IAsyncLifetime
{
    // What waits for an answer that does not come must not wait for ever.
    private const int Patience = 120_000;

    private readonly RunningServer _server = new();

    private static string Output => $"device/{BrowserEnds.IdOf("a browser", "an output")}/out";

    public ValueTask InitializeAsync() => _server.InitializeAsync();

    public ValueTask DisposeAsync() => _server.DisposeAsync();

    [Fact]
    public void An_output_is_the_same_device_here_and_in_the_page() => BrowserEnds.IdOf("a browser", "an output").Value.ShouldBe("browser-895500ace5862252");

    [Fact(Timeout = Patience)]
    public async Task A_mix_sounds_on_a_browsers_output_at_its_own_level_in_one_window_alone()
    {
        await AddAsync();
        using var one = await PlayAsync("one");
        await _server.StepAsync(1);
        (await LoudestAsync(one)).ShouldBeGreaterThan(0.001f);
        (await PlayersAsync()).ShouldBe(["one"]);
        using var two = await PlayAsync("two");
        ((string)(await ProblemAsync(two))["what"]!).ShouldBe("Another window plays this output.");
        (await PlayersAsync()).ShouldBe(["one"]);
    }

    [Fact(Timeout = Patience)]
    public async Task Another_window_takes_it_over_on_purpose_and_one_that_closes_leaves_it_free()
    {
        await AddAsync();
        using var one = await PlayAsync("one");
        using (var two = await PlayAsync("two", takeOver: true))
        {
            ((string)(await ProblemAsync(one))["what"]!).ShouldBe("Another window plays this output.");
            (await PlayersAsync()).ShouldBe(["two"]);
        }

        using var three = await PlayAsync("three", takeOver: true);
        (await PlayersAsync()).ShouldBe(["three"]);
    }

    [Fact(Timeout = Patience)]
    public async Task Who_does_not_say_which_window_it_is_plays_nothing()
    {
        await AddAsync();
        using var socket = await _server.ConnectAsync("/api/listen");
        await RunningServer.SendTextAsync(socket, new JsonObject { ["point"] = Output }.ToJsonString());
        ((string)(await ProblemAsync(socket))["where"]!).ShouldBe("window");
    }

    private async Task AddAsync() =>
        (await _server.SendAsync(
            HttpMethod.Post,
            "/api/shows/LIVE/mixes/viewers/destinations",
            """{"end":{"type":"browser","client":"a browser","device":"an output","label":"Out"},"gain":-6}""")).Status.ShouldBe(200);

    private async Task<ClientWebSocket> PlayAsync(string window, bool takeOver = false)
    {
        var socket = await _server.ConnectAsync("/api/listen");
        await RunningServer.SendTextAsync(socket, new JsonObject { ["point"] = Output, ["window"] = window, ["takeOver"] = takeOver }.ToJsonString());
        if (takeOver)
        {
            // It plays once the server has heard of it.
            while (!(await PlayersAsync()).Contains(window))
            {
                await _server.StepAsync(0.01);
            }
        }

        return socket;
    }

    private async Task<List<string>> PlayersAsync() => [.. (await _server.SendAsync(HttpMethod.Get, "/api/players")).Body.AsArray().Select(p => (string)p!["window"]!)];

    // What comes first that is no sound.
    private static async Task<JsonNode> ProblemAsync(ClientWebSocket socket)
    {
        while (true)
        {
            var (type, data) = await RunningServer.ReceiveAsync(socket);
            if (type == WebSocketMessageType.Text)
            {
                return JsonNode.Parse(data)!;
            }
        }
    }

    private async Task<float> LoudestAsync(ClientWebSocket socket)
    {
        for (var n = 0; n < 200; n++)
        {
            // It comes as soon as the server has heard the wish.
            var receiving = RunningServer.ReceiveAsync(socket);
            while (!receiving.IsCompleted)
            {
                await _server.StepAsync(0.1);
            }

            var (type, data) = await receiving;
            var loudest = type == WebSocketMessageType.Binary ? System.Runtime.InteropServices.MemoryMarshal.Cast<byte, float>(data.AsSpan(16)).ToArray().Max() : 0;
            if (loudest > 0.001f)
            {
                return loudest;
            }
        }

        return 0;
    }
}

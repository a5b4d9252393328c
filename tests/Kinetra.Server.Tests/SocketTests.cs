using System.Buffers.Binary;
using System.Net.WebSockets;
using System.Runtime.InteropServices;
using System.Text.Json.Nodes;
using Kinetra.Core.Engine;

namespace Kinetra.Server.Tests;

public sealed class SocketTests(RunningServer server) : IClassFixture<RunningServer>, IAsyncLifetime
{
    public async ValueTask InitializeAsync() => await server.OpenFreshShowAsync();

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    private const int SourceValues = MeterLayout.SourceValues;

    [Fact]
    public async Task Meters_announce_their_layout_and_then_bring_measured_values()
    {
        using var socket = await server.LookAsync("levels");
        var (type, text) = await RunningServer.ReceiveAsync(socket);
        type.ShouldBe(WebSocketMessageType.Text);
        var layout = JsonNode.Parse(text)!["values"]!;
        var sources = layout["sources"]!.AsArray().Select(s => (string)s!).ToList();
        sources.ShouldContain("record-shelf");
        layout["mixes"]!.AsArray().Count.ShouldBe(3);
        await server.StepAsync(4);
        var frame = await NewestFrameAsync(socket, 3.5);
        var floats = MemoryMarshal.Cast<byte, float>(frame.AsSpan(40)).ToArray();
        floats.Length.ShouldBe((sources.Count * SourceValues) + (3 * (MeterLayout.MixValues + sources.Count)) + layout["buses"]!.AsArray().Sum(b => (int)b!["channels"]!));

        // Momentary loudness of the music, which plays all the time.
        floats[(sources.IndexOf("record-shelf") * SourceValues) + 3].ShouldBeInRange(-30, -12);
        floats.ShouldAllBe(f => !float.IsNaN(f));
    }

    [Fact]
    public async Task What_is_wished_is_heard_in_step_with_the_engine()
    {
        using var socket = await server.ConnectAsync("/api/listen");
        await RunningServer.SendTextAsync(socket, """{"mix":"viewers"}""");
        long? next = null;
        uint lostBefore = 0;
        double energy = 0;
        for (var n = 0; n < 12; n++)
        {
            // The first of them reach the listener as soon as its wish has.
            var receiving = RunningServer.ReceiveAsync(socket);
            while (!receiving.IsCompleted)
            {
                await server.StepAsync(0.1);
            }

            var (type, message) = await receiving;
            type.ShouldBe(WebSocketMessageType.Binary);
            var frame = (long)BinaryPrimitives.ReadDoubleLittleEndian(message);
            var count = (int)BinaryPrimitives.ReadUInt32LittleEndian(message.AsSpan(8));
            var lost = BinaryPrimitives.ReadUInt32LittleEndian(message.AsSpan(12));
            message.Length.ShouldBe(16 + (count * 8));
            if (next is not null)
            {
                // Each frame once and in order, but for those that are said to be lost.
                frame.ShouldBe(next.Value + (lost - lostBefore));
            }

            next = frame + count;
            lostBefore = lost;
            energy += MemoryMarshal.Cast<byte, float>(message.AsSpan(16)).ToArray().Sum(x => (double)x * x);
        }

        energy.ShouldBeGreaterThan(0);
    }

    [Fact]
    public async Task Whoever_takes_sound_is_listed_with_what_and_how_much_until_they_go()
    {
        using (var socket = await server.ConnectAsync("/api/listen"))
        {
            await RunningServer.SendTextAsync(socket, """{"mix":"viewers"}""");
            var ears = await OutputAsync(o => (string)o["kind"]! == "ears" && (long)o["frames"]! > 0);
            ((string)ears!["point"]!, (string)ears["state"]!, (long)ears["lostFrames"]!).ShouldBe(("mix/viewers", "Running", 0));
            await RunningServer.SendTextAsync(socket, "{}");
            await OutputAsync(o => (string)o["kind"]! == "ears" && o["point"] is null);
        }

        await server.SendAsync(HttpMethod.Post, "/api/takes", "{}");
        var track = await OutputAsync(o => (string?)o["point"] == "source/sea-mic" && (long)o["frames"]! > 48_000);
        ((string)track!["kind"]!, ((string)track["to"]!)[2..]).ShouldBe(("track", " Sea mic.wav"));
        await server.SendAsync(HttpMethod.Post, "/api/takes/current/stop");
        await OutputAsync(null);
    }

    // Steps until there is such an output; null: until there is none.
    private async Task<System.Text.Json.Nodes.JsonNode?> OutputAsync(Func<System.Text.Json.Nodes.JsonNode, bool>? wanted)
    {
        while (true)
        {
            await server.StepAsync(0.1);
            var all = (await server.SendAsync(HttpMethod.Get, "/api/outputs")).Body.AsArray();
            if (wanted is null ? all.Count == 0 : all.Any(o => wanted(o!)))
            {
                return wanted is null ? null : all.First(o => wanted(o!));
            }
        }
    }

    [Theory]
    [InlineData("loud please")]
    [InlineData("""{"mix":"nobody"}""")]
    [InlineData("""{"mix":"viewers","source":"sea-mic"}""")]
    [InlineData("""{"mox":"viewers"}""")]
    [InlineData("""{"mix":7}""")]
    public async Task A_wish_that_cannot_be_is_answered_with_words_and_the_socket_stays(string wish)
    {
        using var socket = await server.ConnectAsync("/api/listen");
        await RunningServer.SendTextAsync(socket, wish);
        var (type, text) = await RunningServer.ReceiveAsync(socket);
        type.ShouldBe(WebSocketMessageType.Text);
        var words = JsonNode.Parse(text)!;
        foreach (var part in new[] { "where", "what", "allowed" })
        {
            ((string)words[part]!).ShouldNotBeNullOrWhiteSpace();
        }

        socket.State.ShouldBe(WebSocketState.Open);
    }

    [Theory]
    [InlineData("/api/listen")]
    [InlineData("/api/analysis")]
    public async Task An_oversized_or_binary_frame_closes_that_socket_with_words_and_nothing_else(string path)
    {
        using var large = await server.ConnectAsync(path);
        await RunningServer.SendTextAsync(large, new string('x', 5000));
        (await CloseOf(large)).ShouldBe((WebSocketCloseStatus.MessageTooBig, "A message here has at most 1024 bytes."));
        using var binary = await server.ConnectAsync(path);
        await binary.SendAsync(new byte[100], WebSocketMessageType.Binary, endOfMessage: true, TestContext.Current.CancellationToken);
        (await CloseOf(binary)).ShouldBe((WebSocketCloseStatus.InvalidMessageType, "Messages to this socket are JSON text."));
        (await server.SendAsync(HttpMethod.Get, "/api/shows/live")).Status.ShouldBe(200);
    }

    [Fact]
    public async Task Random_frames_on_every_socket_never_bring_the_server_down()
    {
        var random = new Random(3);
        for (var round = 0; round < 150; round++)
        {
            using var socket = await server.ConnectAsync(round % 2 == 0 ? "/api/listen" : "/api/analysis");
            var bytes = new byte[random.Next(1, 3000)];
            random.NextBytes(bytes);
            var type = random.Next(2) == 0 ? WebSocketMessageType.Binary : WebSocketMessageType.Text;
            await socket.SendAsync(bytes, type, random.Next(3) > 0, TestContext.Current.CancellationToken);
            socket.Abort();
        }

        await server.StepAsync(0.5);
        (await server.SendAsync(HttpMethod.Get, "/api/shows/live")).Status.ShouldBe(200);
    }

    private static async Task<(WebSocketCloseStatus? Status, string? Words)> CloseOf(ClientWebSocket socket)
    {
        while ((await RunningServer.ReceiveAsync(socket)).Type != WebSocketMessageType.Close)
        {
        }

        return (socket.CloseStatus, socket.CloseStatusDescription);
    }

    private static async Task<byte[]> NewestFrameAsync(ClientWebSocket socket, double fromSecond)
    {
        while (true)
        {
            var (type, data) = await RunningServer.ReceiveAsync(socket);
            if (type == WebSocketMessageType.Binary && BinaryPrimitives.ReadDoubleLittleEndian(data.AsSpan(8)) >= fromSecond * 48_000)
            {
                return data;
            }
        }
    }
}

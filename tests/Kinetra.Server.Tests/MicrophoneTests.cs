using System.Buffers.Binary;
using System.Net.WebSockets;
using System.Runtime.InteropServices;
using System.Text;
using System.Text.Json.Nodes;
using Kinetra.Core.Engine;

namespace Kinetra.Server.Tests;

/// <summary>A browser's microphone, played by the test: 256 frames with each block of the stepped clock.</summary>
public sealed class MicrophoneTests(RunningServer server) : IClassFixture<RunningServer>, IAsyncLifetime
{
    public async ValueTask InitializeAsync() => await server.OpenFreshShowAsync();

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    [Fact]
    public async Task A_microphone_is_a_source_that_is_heard_by_viewers_and_waits_in_the_dock_for_my_ears()
    {
        var (status, show) = await AddAsync("c1", "Desk mic", """[{"left":0}]""");
        status.ShouldBe(200);
        var source = show["sources"]!.AsArray()[^1]!;
        ((string)source["name"]!).ShouldBe("Desk mic");
        ((string)source["kind"]!).ShouldBe("Microphone");
        ((bool)show["mixes"]![0]!["sends"]!.AsArray()[^1]!["heard"]!).ShouldBeFalse();
        ((bool)show["mixes"]![1]!["sends"]!.AsArray()[^1]!["heard"]!).ShouldBeTrue();
        ((string)(await StateAsync("c1"))["state"]!).ShouldBe("NotHere");

        using var socket = await JoinAsync("c1", "w1", "joined");
        ((string)(await StateAsync("c1"))["state"]!).ShouldBe("Live");
        await PlayAsync("c1", socket, seconds: 2, n => 0.5f * MathF.Sin(n / 20f));
        var state = await StateAsync("c1");
        ((double)state["latencyMs"]!).ShouldBe(26, 1);
        ((long)state["gaps"]!).ShouldBe(0);
        ((bool)state["granted"]!["echoCancellation"]!).ShouldBeFalse();
        (await LevelOf((string)source["id"]!)).ShouldBe(20 * Math.Log10(0.5), 0.1);
    }

    [Fact]
    public async Task Two_people_on_one_input_are_two_sources_and_one_step_of_undo()
    {
        var before = (await server.ShowAsync())["sources"]!.AsArray().Count;
        var (_, show) = await AddAsync("c2", "Box", """[{"name":"Ann","left":0},{"name":"Bo","left":1}]""");
        show["sources"]!.AsArray().Skip(before).Select(s => (string)s!["name"]!).ShouldBe(["Ann", "Bo"]);
        using var socket = await JoinAsync("c2", "w1", "joined", channels: 2);
        await PlayAsync("c2", socket, 1, n => 0.5f, channels: 2);
        (await LevelOf((string)show["sources"]!.AsArray()[^2]!["id"]!)).ShouldBe(20 * Math.Log10(0.5), 0.1);
        (await LevelOf((string)show["sources"]!.AsArray()[^1]!["id"]!)).ShouldBe(20 * Math.Log10(0.25), 0.1);
        var (_, undone) = await server.UndoAsync();
        undone["sources"]!.AsArray().Count.ShouldBe(before);
    }

    [Fact]
    public async Task Another_window_takes_over_on_purpose_only_and_the_first_is_told()
    {
        await AddAsync("c3", "Mic", """[{"left":0}]""");
        using var first = await JoinAsync("c3", "w1", "joined");
        using var second = await JoinAsync("c3", "w2", "held");
        using var third = await JoinAsync("c3", "w2", "joined", takeOver: true);
        Text(await RunningServer.ReceiveAsync(first)).ShouldBe("""{"kind":"taken"}""");
        ((string)(await StateAsync("c3"))["window"]!).ShouldBe("w2");

        // Sound that still comes from the first does not count.
        await first.SendAsync(Sound(0, [1, 1], 1), WebSocketMessageType.Binary, true, Cancel);
        await PlayAsync("c3", third, 0.2, _ => 0.25f);
    }

    [Fact]
    public async Task A_window_that_goes_says_why_and_the_same_one_rejoins_with_its_sends_kept()
    {
        var (_, show) = await AddAsync("c4", "Mic", """[{"left":0}]""");
        var id = (string)show["sources"]!.AsArray()[^1]!["id"]!;
        await server.SendAsync(HttpMethod.Patch, $"/api/shows/LIVE/mixes/viewers/sends/{id}", """{"gain":-4.5}""");
        using (var socket = await JoinAsync("c4", "w1", "joined"))
        {
            await PlayAsync("c4", socket, 0.5, _ => 0.5f);
            await RunningServer.SendTextAsync(socket, """{"because":"Unplugged"}""");
            await socket.CloseAsync(WebSocketCloseStatus.NormalClosure, "", Cancel);
        }

        await UntilAsync("c4", s => (string)s["state"]! == "Unplugged");
        ((string)(await StateAsync("c4"))["words"]!).ShouldContain("is unplugged");
        await server.StepAsync(4);
        (await LevelOf(id)).ShouldBe(double.NegativeInfinity);

        using (var socket = await JoinAsync("c4", "w1", "joined"))
        {
            await PlayAsync("c4", socket, 1, _ => 0.5f);
            (await LevelOf(id)).ShouldBe(20 * Math.Log10(0.5), 0.1);
            socket.Abort();
        }

        await UntilAsync("c4", s => (string)s["state"]! == "WindowClosed");
        var sends = (await server.ShowAsync())["mixes"]![1]!["sends"]!.AsArray();
        ((double)sends.Single(s => (string)s!["source"]! == id)!["gain"]!).ShouldBe(-4.5);
    }

    [Theory]
    [InlineData(44_100, true)]
    [InlineData(96_000, true)]
    [InlineData(48_000, false)]
    [InlineData(48_040, false)]
    public void An_input_that_gives_another_rate_than_it_says_is_told_and_one_whose_clock_is_only_off_is_not(int rate, bool lies)
    {
        var device = new Features.Microphones.BrowserDevice("c", "d", new Microsoft.Extensions.Time.Testing.FakeTimeProvider());
        void Give(double seconds)
        {
            var lease = device.Join("w", new(48_000, 1, null, null, null, null), takeOver: false, () => { })!;
            for (long frame = 0; frame < seconds * rate; frame += 480)
            {
                device.Write(lease, frame, new float[480], 1, frame * 48_000.0 / rate).ShouldBeTrue();
            }
        }

        Give(11);
        device.State.ShouldBe(lies ? Features.Microphones.DeviceState.OffRate : Features.Microphones.DeviceState.Live);
        device.Rate.ShouldBe(rate, rate / 100.0);

        // Given anew, it is looked at anew.
        Give(4);
        device.State.ShouldBe(Features.Microphones.DeviceState.Live);
    }

    [Fact]
    public async Task Sound_that_is_shared_is_a_source_that_says_so_and_is_asked_for_anew()
    {
        var (status, show) = await server.SendAsync(
            HttpMethod.Post, "/api/shows/LIVE/microphones", """{"client":"c8","device":"shared-1","label":"A tab","stillPlays":true,"voices":[{"left":0,"right":1}]}""");
        status.ShouldBe(200);
        var source = show["sources"]!.AsArray()[^1]!;
        ((string)source["kind"]!).ShouldBe("App");
        ((bool)source["input"]!["stillPlays"]!).ShouldBeTrue();
        ((string)(await StateAsync("c8"))["words"]!).ShouldBe("A tab is not shared now. Share it again in the browser that it was added in.");
        (await AddAsync("c7", "Mic", """[{"left":0}]""")).Body["sources"]!.AsArray()[^1]!["input"]!["stillPlays"].ShouldBeNull();
    }

    [Fact]
    public async Task Two_people_on_two_inputs_of_one_device_are_two_sources_and_one_step_of_undo()
    {
        var before = (await server.ShowAsync())["sources"]!.AsArray().Count;
        var (status, show) = await server.SendAsync(
            HttpMethod.Post,
            "/api/shows/LIVE/sources/taken",
            """{"input":{"type":"device","device":"desk-interface","left":4},"name":"Cy","and":[{"input":{"type":"device","device":"desk-interface","left":5},"name":"Di"}]}""");
        status.ShouldBe(200);
        show["sources"]!.AsArray().Skip(before).Select(s => (string)s!["name"]!).ShouldBe(["Cy", "Di"]);
        (await server.UndoAsync()).Body["sources"]!.AsArray().Count.ShouldBe(before);
        (await server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/sources/taken", """{"input":{"type":"everythingElse"},"and":[null]}""")).ShouldSayWhatWhereAndWhatIsAllowed(422, "and");
    }

    [Theory]
    [InlineData("""{"client":"c9","window":"w","device":"d","granted":{"channels":1}}""", "device")]
    [InlineData("""{"client":"","window":"w","device":"d","granted":{"channels":1}}""", "client")]
    [InlineData("""{"client":"c","window":"w","device":"d","granted":{"channels":9}}""", "granted.channels")]
    [InlineData("""{"client":"c","window":"w","device":"d"}""", "granted.channels")]
    [InlineData("""[1]""", "message")]
    [InlineData("""hello""", "message")]
    public async Task A_hello_that_cannot_be_is_answered_with_words(string hello, string where)
    {
        using var socket = await server.ConnectAsync("/api/microphone");
        await RunningServer.SendTextAsync(socket, hello);
        var answer = JsonNode.Parse(Text(await RunningServer.ReceiveAsync(socket)))!;
        ((string)answer["where"]!).ShouldBe(where);
        ((string)answer["allowed"]!).ShouldNotBeNullOrEmpty();
        await RunningServer.SendTextAsync(socket, hello);
        (await RunningServer.ReceiveAsync(socket)).Type.ShouldBe(WebSocketMessageType.Text);
    }

    [Fact]
    public async Task Sound_before_the_hello_or_of_a_wrong_form_closes_the_socket_with_words()
    {
        await AddAsync("c5", "Mic", """[{"left":0}]""");
        byte[][] wrong = [[], [1, 2, 3], Sound(-1, [0], 1), Sound(double.NaN, [0], 1), Sound(0, [0, 0, 0], 2), Sound(0, new float[18], 9), Sound(0, new float[1025], 1)];
        foreach (var message in wrong)
        {
            using var socket = await JoinAsync("c5", "w1", "joined");
            await socket.SendAsync(message, WebSocketMessageType.Binary, true, Cancel);
            (await RunningServer.ReceiveAsync(socket)).Type.ShouldBe(WebSocketMessageType.Close);
            socket.CloseStatusDescription.ShouldNotBeNullOrEmpty();
        }

        using var early = await server.ConnectAsync("/api/microphone");
        await early.SendAsync(Sound(0, [0], 1), WebSocketMessageType.Binary, true, Cancel);
        (await RunningServer.ReceiveAsync(early)).Type.ShouldBe(WebSocketMessageType.Close);
    }

    [Theory]
    [InlineData("""{"client":"c","device":"d","label":"x","voices":[]}""", "voices")]
    [InlineData("""{"client":"c","device":"d","label":"x","voices":[{"left":8}]}""", "sources[6].input.left")]
    [InlineData("""{"client":"c","device":"d","label":"x","voices":[{"left":1,"right":1}]}""", "sources[6].input.left")]
    [InlineData("""{"client":"","device":"d","label":"x","voices":[{"left":0}]}""", "sources[6].input.client")]
    public async Task An_input_that_cannot_be_is_refused_with_words(string body, string where)
    {
        (await server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/microphones", body)).ShouldSayWhatWhereAndWhatIsAllowed(422, where);
    }

    private Task<(int Status, JsonNode Body)> AddAsync(string client, string label, string voices) => server.SendAsync(
        HttpMethod.Post, "/api/shows/LIVE/microphones", $$"""{"client":"{{client}}","device":"in","label":"{{label}}","voices":{{voices}}}""");

    private async Task<ClientWebSocket> JoinAsync(string client, string window, string expected, int channels = 1, bool takeOver = false)
    {
        var socket = await server.ConnectAsync("/api/microphone");
        var hello = $$$"""
            {"client":"{{{client}}}","window":"{{{window}}}","device":"in","takeOver":{{{(takeOver ? "true" : "false")}}},
            "granted":{"sampleRate":48000,"channels":{{{channels}}},"echoCancellation":false,"noiseSuppression":false,"autoGainControl":false,"latencyMs":null}}
            """;
        await RunningServer.SendTextAsync(socket, hello);
        Text(await RunningServer.ReceiveAsync(socket)).ShouldBe($$"""{"kind":"{{expected}}"}""");
        return socket;
    }

    [Fact]
    public async Task A_probe_that_is_refused_leaves_nothing_behind()
    {
        var sockets = new List<ClientWebSocket>();
        try
        {
            for (var n = 0; n <= Live.Playing.MaxProbes; n++)
            {
                var socket = await server.ConnectAsync("/api/microphone");
                sockets.Add(socket);
                await RunningServer.SendTextAsync(socket, $$$"""{"client":"c","window":"probing-{{{n}}}","device":"probe","granted":{"sampleRate":48000,"channels":1}}""");
                Text(await RunningServer.ReceiveAsync(socket)).ShouldContain(n < Live.Playing.MaxProbes ? "joined" : "too many probes");
            }

            (await server.SendAsync(HttpMethod.Get, "/api/microphones/probe/probing-0")).Status.ShouldBe(200);
            (await server.SendAsync(HttpMethod.Get, $"/api/microphones/probe/probing-{Live.Playing.MaxProbes}")).Status.ShouldBe(404);
        }
        finally
        {
            sockets.ForEach(s => s.Dispose());
        }
    }

    /// <summary>Sends and steps in turn; the second channel is half of the first.</summary>
    private async Task PlayAsync(string client, ClientWebSocket socket, double seconds, Func<long, float> sound, int channels = 1)
    {
        const int frames = 256;
        var arrived = (long)(await StateAsync(client))["arrivedFrames"]!;
        for (long frame = 0; frame < seconds * 48_000; frame += frames)
        {
            var samples = Enumerable.Range(0, channels * frames).Select(n => sound(frame + (n % frames)) / (1 + (n / frames))).ToArray();
            await socket.SendAsync(Sound(frame, samples, channels), WebSocketMessageType.Binary, true, Cancel);
            arrived += frames;
            await UntilAsync(client, s => (long)s["arrivedFrames"]! >= arrived);
            await server.StepAsync(frames / 48_000.0);
        }
    }

    private Task UntilAsync(string client, Func<JsonNode, bool> holds) => RunningServer.UntilAsync(async () => holds(await StateAsync(client)));

    private async Task<JsonNode> StateAsync(string client) =>
        ((JsonArray)(await server.SendAsync(HttpMethod.Get, "/api/microphones")).Body).Single(m => (string)m!["client"]! == client)!;

    /// <summary>The highest sample of a source in the newest meter frame, dBFS.</summary>
    private async Task<double> LevelOf(string source)
    {
        await server.StepAsync(0.1);
        using var meters = await server.LookAsync("levels");
        var layout = JsonNode.Parse(Text(await RunningServer.ReceiveAsync(meters)))!["values"]!;
        var index = layout["sources"]!.AsArray().Select(s => (string)s!).ToList().IndexOf(source);
        var (_, data) = await RunningServer.ReceiveAsync(meters);

        // The held peak: the last of the sound may have ended with the test's last packet.
        return MemoryMarshal.Cast<byte, float>(data.AsSpan(40))[(index * MeterLayout.SourceValues) + (int)SourceMeter.PeakHold];
    }

    private static byte[] Sound(double frame, float[] samples, int channels)
    {
        var message = new byte[16 + (samples.Length * sizeof(float))];
        BinaryPrimitives.WriteDoubleLittleEndian(message, frame);
        BinaryPrimitives.WriteUInt32LittleEndian(message.AsSpan(8), (uint)channels);
        BinaryPrimitives.WriteUInt32LittleEndian(message.AsSpan(12), (uint)(samples.Length / channels));
        MemoryMarshal.AsBytes(samples.AsSpan()).CopyTo(message.AsSpan(16));
        return message;
    }

    private static string Text((WebSocketMessageType Type, byte[] Data) message) => Encoding.UTF8.GetString(message.Data);
}

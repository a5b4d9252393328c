using System.Buffers.Binary;
using System.Net.WebSockets;
using System.Text;
using System.Text.Json.Nodes;
using Kinetra.Server.Hosting;

namespace Kinetra.Server.Tests;

/// <summary>
/// Whatever is sent: an error in words, no crash, and the engine plays on, on the machine's clock. As often as
/// KINETRA_HOSTILE says, else 10 000 times on each socket and 10 000 times on all endpoints together.
/// </summary>
public sealed class HostileTests : IAsyncLifetime
{
    private static readonly int Times = int.Parse(Environment.GetEnvironmentVariable("KINETRA_HOSTILE") ?? "10000", System.Globalization.CultureInfo.InvariantCulture);
    private readonly RunningServer _server = new();
    private readonly Random _random = new(20_260);

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    public async ValueTask InitializeAsync()
    {
        await _server.InitializeAsync();
        await _server.StopAsync();
        await _server.StartAsync(clock: ClockKind.Real);
    }

    public ValueTask DisposeAsync() => _server.DisposeAsync();

    [Fact]
    public async Task Hostile_frames_on_the_microphones_socket_are_answered_with_words_each()
    {
        await _server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/microphones", """{"client":"c","device":"d","label":"x","voices":[{"left":0}]}""");
        const string hello = """{"client":"c","window":"w","device":"d","granted":{"channels":1},"takeOver":true}""";
        await PlaysOnAsync(async () =>
        {
            ClientWebSocket? socket = null;
            var joined = false;
            for (var n = 0; n < Times; n++)
            {
                if (socket is not { State: WebSocketState.Open })
                {
                    socket?.Dispose();
                    socket = await _server.ConnectAsync("/api/microphone");
                    joined = _random.Next(2) == 0;
                    if (joined)
                    {
                        await RunningServer.SendTextAsync(socket, hello);
                        await RunningServer.ReceiveAsync(socket);
                    }
                }

                if (joined && _random.Next(4) == 0)
                {
                    // Of the right form, but with numbers that no sound has: taken, and made harmless.
                    await socket.SendAsync(Sound(_random.NextInt64(1L << 50), OddNumbers(256)), WebSocketMessageType.Binary, true, Cancel);
                    continue;
                }

                await SendOneAsync(socket, hello);
                await AnsweredAsync(socket);
            }

            socket?.Dispose();
        });
    }

    [Theory]
    [InlineData("/api/listen", """{"mix":"viewers"}""")]
    [InlineData("/api/analysis", """{"close":7}""")]
    public async Task Hostile_frames_on_the_sockets_down_change_nothing_for_anybody(string path, string valid)
    {
        await PlaysOnAsync(async () =>
        {
            ClientWebSocket? socket = null;
            for (var n = 0; n < Times; n++)
            {
                if (socket is not { State: WebSocketState.Open })
                {
                    socket?.Dispose();
                    socket = await _server.ConnectAsync(path);
                }

                // What closes the socket says why; what does not, is answered among the rest that comes down.
                try
                {
                    if (!await SendOneAsync(socket, valid))
                    {
                        await ClosedWithWordsAsync(socket);
                    }
                }
                catch (WebSocketException)
                {
                    // The one before has ended it: text that is no UTF-8.
                    socket.Abort();
                    n--;
                }
            }

            socket?.Dispose();
        });
    }

    [Fact]
    public async Task Hostile_messages_to_the_hub_are_answered_with_words_or_end_that_connection_alone()
    {
        string[] methods = ["PreviewSend", "EndPreview", "MicrophoneAbsent", "Nothing", ""];
        await PlaysOnAsync(async () =>
        {
            ClientWebSocket? socket = null;
            for (var n = 0; n < Times; n++)
            {
                if (socket is not { State: WebSocketState.Open })
                {
                    socket?.Dispose();
                    socket = await _server.ConnectAsync("/api/live");
                    await RunningServer.SendTextAsync(socket, "{\"protocol\":\"json\",\"version\":1}\u001e");
                    await RunningServer.ReceiveAsync(socket);
                }

                var arguments = string.Join(',', Enumerable.Range(0, _random.Next(4)).Select(_ => OddJson(2)));
                var call = $$"""{"type":1,"invocationId":"{{n}}","target":"{{methods[_random.Next(methods.Length)]}}","arguments":[{{arguments}}]}""";
                if (_random.Next(4) == 0)
                {
                    call = call[.._random.Next(call.Length)];
                }

                await RunningServer.SendTextAsync(socket, call + "\u001e");
                await CompletedAsync(socket, $"\"invocationId\":\"{n}\"");
            }

            socket?.Dispose();
        });
    }

    [Fact]
    public async Task Hostile_bodies_on_every_endpoint_are_answered_with_words_each()
    {
        var document = JsonNode.Parse(await _server.Http.GetStringAsync("/api/openapi.json", Cancel))!;
        var endpoints = document["paths"]!.AsObject()
            .SelectMany(p => p.Value!.AsObject().Where(m => m.Value!["requestBody"] is not null).Select(m => (Method: m.Key, Path: p.Key))).ToList();
        endpoints.Count.ShouldBeGreaterThan(12);
        await PlaysOnAsync(async () =>
        {
            for (var n = 0; n < Times; n++)
            {
                var (method, path) = endpoints[n % endpoints.Count];
                using var request = new HttpRequestMessage(new HttpMethod(method.ToUpperInvariant()), Fill(path)) { Content = OddContent() };
                var (status, body) = await _server.SendAsync(request);
                status.ShouldBeInRange(200, 499, $"{method} {path}: {body}");
                if (status >= 400)
                {
                    var problem = body["problems"]?[0] ?? throw new InvalidOperationException($"{method} {request.RequestUri}: {status} {body.ToJsonString()}");
                    ((string?)problem["what"]).ShouldNotBeNullOrWhiteSpace();
                    ((string?)problem["where"]).ShouldNotBeNullOrWhiteSpace();
                    ((string?)problem["allowed"]).ShouldNotBeNullOrWhiteSpace();
                }
            }
        });
    }

    /// <summary>Meanwhile the engine plays on: hardly a block is late, whatever else the machine does; and the show is whole after it.</summary>
    private async Task PlaysOnAsync(Func<Task> attack)
    {
        const int blocksEachSecond = 188;
        var (taken, before) = (Stolen(), (await _server.SendAsync(HttpMethod.Get, "/api/status")).Body);
        await attack();
        var after = (await _server.SendAsync(HttpMethod.Get, "/api/status")).Body;
        var blocks = ((long)after["frame"]! - (long)before["frame"]!) / 256;
        var late = (long)after["lateBlocks"]! - (long)before["lateBlocks"]!;
        TestContext.Current.TestOutputHelper?.WriteLine($"{late} late of {blocks} blocks");
        blocks.ShouldBeGreaterThan(0);

        // While the machine's host gives a processor to others, nothing can be in time; and what waited then is late after it.
        late.ShouldBeLessThan(1 + (blocks / 20) + (long)(4 * blocksEachSecond * (Stolen() - taken)));
        (await _server.SendAsync(HttpMethod.Get, "/api/shows/live")).Status.ShouldBe(200);
        (await _server.SendAsync(HttpMethod.Put, "/api/hush", """{"on":false}""")).Status.ShouldBe(200);
    }

    /// <summary>Seconds, of all processors together, that this machine's host has given to others.</summary>
    private static double Stolen() => double.Parse(File.ReadLines("/proc/stat").First().Split(' ', StringSplitOptions.RemoveEmptyEntries)[8], System.Globalization.CultureInfo.InvariantCulture) / 100;

    /// <summary>Sends something that nobody should. False: it must close the socket.</summary>
    private async Task<bool> SendOneAsync(ClientWebSocket socket, string valid)
    {
        switch (_random.Next(6))
        {
            case 0:
                await socket.SendAsync(RandomBytes(), WebSocketMessageType.Binary, true, Cancel);
                return false;
            case 1:
                var sound = Sound(_random.Next(), OddNumbers(64));
                await socket.SendAsync(sound.AsMemory(0, _random.Next(sound.Length)), WebSocketMessageType.Binary, true, Cancel);
                return false;
            case 2:
                await RunningServer.SendTextAsync(socket, new string('x', 1025 + _random.Next(40_000)));
                return false;
            case 3:
                await RunningServer.SendTextAsync(socket, valid[.._random.Next(valid.Length)]);
                return true;
            case 4:
                await RunningServer.SendTextAsync(socket, Cut(OddJson(3), 1000));
                return true;
            default:
                await socket.SendAsync(RandomBytes().Take(1000).ToArray(), WebSocketMessageType.Text, true, Cancel);

                // Bytes that are no UTF-8 end a WebSocket by its own law.
                return true;
        }
    }

    /// <summary>The call was answered, or the connection ended.</summary>
    private static async Task CompletedAsync(ClientWebSocket socket, string invocation)
    {
        try
        {
            while (true)
            {
                var (type, data) = await RunningServer.ReceiveAsync(socket);
                var text = Encoding.UTF8.GetString(data);
                if (type == WebSocketMessageType.Close || text.Contains(invocation, StringComparison.Ordinal) || text.Contains("\"type\":7", StringComparison.Ordinal))
                {
                    break;
                }
            }
        }
        catch (WebSocketException)
        {
            socket.Abort();
        }
    }

    private static async Task AnsweredAsync(ClientWebSocket socket)
    {
        try
        {
            var (type, data) = await RunningServer.ReceiveAsync(socket);
            if (type == WebSocketMessageType.Close)
            {
                socket.CloseStatusDescription.ShouldNotBeNull();
            }
            else
            {
                var kind = (string)JsonNode.Parse(data)!["kind"]!;
                new[] { "wrong", "joined" }.ShouldContain(kind);
            }
        }
        catch (WebSocketException)
        {
            // It was cut off: text that is no UTF-8.
        }
    }

    private static async Task ClosedWithWordsAsync(ClientWebSocket socket)
    {
        try
        {
            while ((await RunningServer.ReceiveAsync(socket)).Type != WebSocketMessageType.Close)
            {
                // What was on its way down already.
            }

            if (socket.CloseStatus != WebSocketCloseStatus.InvalidPayloadData)
            {
                socket.CloseStatusDescription.ShouldNotBeNullOrEmpty();
            }
        }
        catch (WebSocketException)
        {
            // It was cut off.
        }

        socket.Abort();
    }

    private byte[] RandomBytes()
    {
        var bytes = new byte[_random.Next(20) == 0 ? _random.Next(70_000) : _random.Next(200)];
        _random.NextBytes(bytes);
        return bytes;
    }

    private float[] OddNumbers(int count)
    {
        float[] odd = [float.NaN, float.PositiveInfinity, float.NegativeInfinity, float.MaxValue, float.MinValue, float.Epsilon, -0f, 1e30f, 0.5f];
        return [.. Enumerable.Range(0, count).Select(_ => odd[_random.Next(odd.Length)])];
    }

    private static byte[] Sound(long frame, float[] samples)
    {
        var message = new byte[16 + (samples.Length * sizeof(float))];
        BinaryPrimitives.WriteDoubleLittleEndian(message, frame);
        BinaryPrimitives.WriteUInt32LittleEndian(message.AsSpan(8), 1);
        BinaryPrimitives.WriteUInt32LittleEndian(message.AsSpan(12), (uint)samples.Length);
        System.Runtime.InteropServices.MemoryMarshal.AsBytes(samples.AsSpan()).CopyTo(message.AsSpan(16));
        return message;
    }

    private string OddJson(int depth)
    {
        string[] names = ["gain", "heard", "name", "client", "mix", "source", "look", "voices", "revision", "x", "frames", "index"];
        return _random.Next(depth > 0 ? 12 : 9) switch
        {
            0 => "null",
            1 => "1e999",
            2 => "-99999999999999999999999",
            3 => "true",
            4 => "\"\\u0000\\ud800\"",
            5 => $"\"{new string('ä', _random.Next(300))}\"",
            6 => "\"viewers\"",
            7 => "{",
            8 => "0.1",
            9 => $"[{string.Join(',', Enumerable.Range(0, _random.Next(4)).Select(_ => OddJson(depth - 1)))}]",
            10 => new string('[', 80),
            _ => $"{{{string.Join(',', Enumerable.Range(0, _random.Next(4)).Select(_ => $"\"{names[_random.Next(names.Length)]}\":{OddJson(depth - 1)}"))}}}",
        };
    }

    private HttpContent OddContent()
    {
        HttpContent content = _random.Next(8) switch
        {
            0 => new ByteArrayContent(RandomBytes()),
            1 => new StringContent(OddJson(4), Encoding.UTF8, "text/plain"),
            2 => new MultipartFormDataContent { { new ByteArrayContent(RandomBytes()), "file", "x.wav" }, { new StringContent(OddJson(1)), "loop" } },
            _ => new StringContent(OddJson(4), Encoding.UTF8, "application/json"),
        };
        return content;
    }

    private string Fill(string path)
    {
        string[] odd = ["viewers", "sea-mic", "%01", "..%2F..", "%F0%9F%98%80", new string('a', 300), "0", Guid.NewGuid().ToString()];
        return string.Join('/', path.Split('/').Select(part => part.StartsWith('{') ? odd[_random.Next(odd.Length)] : part));
    }

    private static string Cut(string text, int length) => text[..Math.Min(text.Length, length)];
}

using System.Buffers.Binary;
using System.Net.WebSockets;
using System.Runtime.InteropServices;
using System.Text.Json;
using Kinetra.Core.Clocks;
using Kinetra.Core.Editing;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Server.Live;
using Kinetra.Server.Sockets;

namespace Kinetra.Server.Features.Microphones;

/// <summary>
/// Sound up, of one input of a browser. First a text message that says which (<see cref="Hello"/>); the answer is
/// <c>{"kind": "joined"}</c>, <c>{"kind": "held"}</c> where another window gives it, or <c>{"kind": "wrong", "where", "what",
/// "allowed"}</c>. The device <c>probe</c> is no source: it can be listened to as <c>probe-WINDOW</c>, and is in no mix. Then binary messages of little-endian values: the device's count of the first frame (f64), channels (u32),
/// frames (u32), then each channel's floats. A text message <c>{"because": "Unplugged"}</c> says why it ends. Where another
/// window takes over, <c>{"kind": "taken"}</c> comes down.
/// </summary>
sealed class MicrophoneSocket(EngineHost host, Playing playing, BrowserDevices devices, MicrophoneNews news)
{
    private const string ProbeDevice = "probe";
    private const int HeaderBytes = 16;
    private const int MaxFrames = 1024;
    private const int MaxBytes = HeaderBytes + (MaxFrames * DriftingInput.MaxChannels * sizeof(float));

    public Task ServeAsync(HttpContext context) => SocketEndpoint.ServeAsync(context, async (socket, cancel) =>
    {
        var session = new Session(host, playing, devices, news, socket);
        try
        {
            await SocketEndpoint.ReadAsync(socket, MaxBytes, m => session.HearTextAsync(m, cancel), session.HearSound, cancel);
        }
        finally
        {
            session.Leave();
            await news.TellAsync();
        }
    });

    private sealed record Hello(string Client, string Window, string Device, Granted Granted, bool TakeOver = false);

    private sealed record Goodbye(DeviceState Because);

    private sealed record Answer(string Kind, string? Where = null, string? What = null, string? Allowed = null);

    private sealed class Session(EngineHost host, Playing playing, BrowserDevices devices, MicrophoneNews news, WebSocket socket)
    {
        private BrowserDevice? _device;
        private object? _lease;
        private SourceId? _probe;
        private DeviceState _because = DeviceState.WindowClosed;

        public async Task HearTextAsync(string message, CancellationToken cancel)
        {
            try
            {
                if (_lease is null)
                {
                    await JoinAsync(JsonSerializer.Deserialize<Hello>(message, RigJson.Options), cancel);
                }
                else if (JsonSerializer.Deserialize<Goodbye>(message, RigJson.Options)?.Because is
                    DeviceState.Unplugged or DeviceState.Refused or DeviceState.WindowClosed)
                {
                    _because = JsonSerializer.Deserialize<Goodbye>(message, RigJson.Options)!.Because;
                }
                else
                {
                    await WrongAsync("because", "This is not understood.", "Unplugged, Refused or WindowClosed", cancel);
                }
            }
            catch (JsonException)
            {
                await WrongAsync("message", "This is not understood.", "{client, window, device, granted, takeOver}, then {because}", cancel);
            }
        }

        public string? HearSound(ReadOnlyMemory<byte> message)
        {
            if (_lease is null || _device is null)
            {
                return "Sound comes after the message that says whose it is.";
            }

            var bytes = message.Span;
            if (bytes.Length < HeaderBytes)
            {
                return $"A sound message begins with {HeaderBytes} bytes of header.";
            }

            var frame = BinaryPrimitives.ReadDoubleLittleEndian(bytes);
            var channels = BinaryPrimitives.ReadUInt32LittleEndian(bytes[8..]);
            var frames = BinaryPrimitives.ReadUInt32LittleEndian(bytes[12..]);
            if (frame is not (>= 0 and < 1L << 53) || channels is < 1 or > DriftingInput.MaxChannels || frames is < 1 or > MaxFrames)
            {
                return $"Allowed: a frame count from 0, 1–{DriftingInput.MaxChannels} channels, 1–{MaxFrames} frames.";
            }

            var samples = MemoryMarshal.Cast<byte, float>(bytes[HeaderBytes..]);
            if (bytes.Length != HeaderBytes + (channels * frames * sizeof(float)))
            {
                return "The message's length does not fit its channels and frames.";
            }

            _device.Write(_lease, (long)frame, samples, (int)channels, host.Now);
            return null;
        }

        public void Leave()
        {
            if (_probe is { } probe)
            {
                playing.Probe(probe, null);
                devices.EndProbe(_device!.Device);
            }

            if (_lease is not null)
            {
                _device?.Leave(_lease, _because);
            }
        }

        private async Task JoinAsync(Hello? hello, CancellationToken cancel)
        {
            if (Problem(hello) is { } problem)
            {
                await WrongAsync(problem.Where, problem.What, problem.Allowed, cancel);
                return;
            }

            var isProbe = hello!.Device == ProbeDevice;
            if ((isProbe ? devices.Probe(hello.Window) : devices.Find(hello.Client, hello.Device)) is not { } device)
            {
                await WrongAsync("device", "No source of the show has this input.", "an input that was added as a source", cancel);
                return;
            }

            _device = device;
            _lease = device.Join(hello.Window, hello.Granted, hello.TakeOver, () => _ = EvictAsync(cancel));
            if (isProbe && _lease is not null)
            {
                var probe = new SourceId($"probe-{hello.Window}");
                if (!playing.Probe(probe, device.Inlet(0, null)))
                {
                    // Nothing of it stays: whoever asks often must not fill the memory with inputs that nobody hears.
                    device.Leave(_lease, _because);
                    (_device, _lease) = (null, null);
                    devices.EndProbe(hello.Window);
                    await WrongAsync("device", "There are too many probes.", $"at most {Playing.MaxProbes} at a time", cancel);
                    await SocketEndpoint.CloseAsync(socket, WebSocketCloseStatus.PolicyViolation, "There are too many probes.", cancel);
                    return;
                }

                _probe = probe;
            }

            await SocketEndpoint.SendJsonAsync(socket, new Answer(_lease is null ? "held" : "joined"), cancel);
            if (_lease is null)
            {
                await SocketEndpoint.CloseAsync(socket, WebSocketCloseStatus.PolicyViolation, "Another window gives it.", cancel);
            }

            await news.TellAsync();
        }

        private async Task EvictAsync(CancellationToken cancel)
        {
            try
            {
                await SocketEndpoint.SendJsonAsync(socket, new Answer("taken"), cancel);
                await SocketEndpoint.CloseAsync(socket, WebSocketCloseStatus.PolicyViolation, "Another window took over.", cancel);
            }
            catch (Exception e) when (e is OperationCanceledException or WebSocketException or IOException or ObjectDisposedException)
            {
                // It has gone by itself.
            }
        }

        private Task WrongAsync(string where, string what, string allowed, CancellationToken cancel) =>
            SocketEndpoint.SendJsonAsync(socket, new Answer("wrong", where, what, allowed), cancel);

        private static RigProblem? Problem(Hello? hello) => hello is null
            ? new RigProblem("message", "This is not understood.", "{client, window, device, granted, takeOver}")
            : RigRules.CheckText("client", hello.Client, 64)
                ?? RigRules.CheckText("window", hello.Window, 64)
                ?? RigRules.CheckText("device", hello.Device, 128)
                ?? (hello.Granted is { Channels: >= 1 and <= DriftingInput.MaxChannels }
                    ? null
                    : new RigProblem("granted.channels", "The channels are not allowed.", $"1 to {DriftingInput.MaxChannels}"));
    }
}

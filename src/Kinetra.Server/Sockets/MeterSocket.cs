using System.Buffers.Binary;
using System.Net.WebSockets;
using System.Runtime.InteropServices;
using Kinetra.Core.Engine;
using Kinetra.Core.Signal;
using Kinetra.Server.Features.Takes;
using Kinetra.Server.Live;

namespace Kinetra.Server.Sockets;

/// <summary>
/// Meters down. Binary messages of little-endian values: engine frame (f64), load (f32), late blocks (u32), flags (u32:
/// 1 hushed, 2 recording), layout number (u32), seconds recorded (f64), then the floats of <see cref="MeterLayout"/>.
/// Before the first of a layout, a text message <c>{"layout": number, "sources": […], "mixes": […], "processors": […]}</c>.
/// </summary>
sealed class MeterSocket(EngineHost host, LiveShow live, TakeRecorder recorder)
{
    private const int HeaderBytes = 32;
    private static readonly TimeSpan Every = TimeSpan.FromMilliseconds(8);

    public Task ServeAsync(HttpContext context) => SocketEndpoint.ServeAsync(context, async (socket, cancel) =>
    {
        // Whoever sends something here has misunderstood, but does no harm.
        var reading = SocketEndpoint.ReadAsync(socket, _ => Task.CompletedTask, cancel);
        var writing = WriteAsync(socket, cancel);
        await await Task.WhenAny(reading, writing);
    });

    private async Task WriteAsync(WebSocket socket, CancellationToken cancel)
    {
        using var timer = new PeriodicTimer(Every);
        MeterBoard? board = null;
        uint layout = 0;
        long sent = 0;
        byte[] message = [];
        while (socket.State == WebSocketState.Open && await timer.WaitForNextTickAsync(cancel))
        {
            if (!host.IsRunning)
            {
                continue;
            }

            var current = host.Engine.Plan.Meters;
            if (current != board)
            {
                board = current;
                layout++;
                sent = 0;
                message = new byte[HeaderBytes + (board.Layout.Length * sizeof(float))];
                await SocketEndpoint.SendJsonAsync(socket, new Layout(layout, board.Layout.Sources, board.Layout.Mixes, board.Layout.Processors), cancel);
            }

            var sequence = board.Sequence;
            if (sequence != sent)
            {
                sent = sequence;
                Fill(message, board, layout);

                // Sending waits for the other side; meanwhile newer frames replace older ones, so nothing queues up.
                await socket.SendAsync(message, WebSocketMessageType.Binary, endOfMessage: true, cancel);
            }
        }
    }

    private void Fill(Span<byte> message, MeterBoard board, uint layout)
    {
        var frame = board.Read(MemoryMarshal.Cast<byte, float>(message[HeaderBytes..]));
        var recording = recorder.Current is not null;
        BinaryPrimitives.WriteDoubleLittleEndian(message, frame);
        BinaryPrimitives.WriteSingleLittleEndian(message[8..], (float)host.Load);
        BinaryPrimitives.WriteUInt32LittleEndian(message[12..], (uint)host.LateBlocks);
        BinaryPrimitives.WriteUInt32LittleEndian(message[16..], (live.Hushed ? 1u : 0) | (recording ? 2u : 0));
        BinaryPrimitives.WriteUInt32LittleEndian(message[20..], layout);
        BinaryPrimitives.WriteDoubleLittleEndian(message[24..], (double)recorder.FramesSoFar(frame) / AudioFormat.SampleRate);
    }

    private sealed record Layout(
        [property: System.Text.Json.Serialization.JsonPropertyName("layout")] uint Number, IReadOnlyList<SourceId> Sources, IReadOnlyList<MixId> Mixes, IReadOnlyList<ProcessorId> Processors);
}

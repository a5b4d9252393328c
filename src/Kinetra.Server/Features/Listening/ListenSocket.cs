using System.Buffers.Binary;
using System.Net.WebSockets;
using System.Runtime.InteropServices;
using System.Text.Json;
using Kinetra.Core.Editing;
using Kinetra.Core.Engine;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Core.Voice;
using Kinetra.Server.Features.Bench;
using Kinetra.Server.Live;
using Kinetra.Server.Outputs;
using Kinetra.Server.Sockets;

namespace Kinetra.Server.Features.Listening;

/// <summary>
/// Sound down, for one window's ears. The client says what it wants to hear with <c>{"mix": id}</c>, <c>{"source": id}</c>
/// or <c>{}</c> for nothing; <c>{"audition": …}</c> for a form of a chain's sound that only it hears (<see cref="AuditionWish"/>): by how many LU that was louder with than
/// without is told with <c>{"difference": LU}</c>; <c>{"bench": …}</c> for a loop on the bench (<see cref="BenchWish"/>). Binary messages of little-endian values: engine frame of the first sample (f64), frames (u32),
/// frames lost so far (u32), then the left channel's floats and the right channel's. What cannot be understood is answered
/// with a text message <c>{"where", "what", "allowed"}</c>, and what is heard goes on.
/// </summary>
sealed class ListenSocket(EngineHost host, Playing playing, OutputList outputs, BrowserPlayers players, Loops loops, BlindComparisons blind, TimeProvider time)
{
    private const int HeaderBytes = 16;
    private const int MaxFrames = 2048;
    private static readonly TimeSpan Every = TimeSpan.FromMilliseconds(2);

    // A tenth of a unit is told.
    private const double LeastNews = 0.05;
    private static readonly RigProblem NotUnderstood = new(
        "message", "This is not understood.", "{\"mix\": id}, {\"source\": id}, {\"point\": point}, {\"audition\": {\"place\", \"kind\", \"processor\", \"part\"}}, {\"bench\": {\"loop\", \"variant\"} or {\"loop\", \"blind\", \"which\"}}, or {} for nothing");

    private static readonly RigProblem Held = new("output", "Another window plays this output.", "that window; or taking it over");

    public Task ServeAsync(HttpContext context) => SocketEndpoint.ServeAsync(context, async (socket, cancel) =>
    {
        using var session = new Session(host, playing, outputs, players, loops, blind, time);
        var reading = SocketEndpoint.ReadAsync(socket, session.HandleAsync, cancel);
        var writing = session.WriteAsync(socket, cancel);
        await await Task.WhenAny(reading, writing);
    });

    private sealed record Wish(string? Mix = null, string? Source = null, Point? Point = null, AuditionWish? Audition = null, BenchWish? Bench = null, string? Window = null, bool TakeOver = false)
    {
        public int Count => (Mix is null ? 0 : 1) + (Source is null ? 0 : 1) + (Point is null ? 0 : 1) + (Audition is null ? 0 : 1) + (Bench is null ? 0 : 1);
    }

    /// <summary>What is heard of a loop on the bench.</summary>
    /// <param name="Loop">Which loop.</param>
    /// <param name="Variant">Which variant, or “plain”; not with <paramref name="Blind"/>.</param>
    /// <param name="Blind">A blind comparison of it.</param>
    /// <param name="Which">Of that, the one (1) or the other (2).</param>
    private sealed record BenchWish(Guid Loop, string? Variant = null, Guid? Blind = null, int? Which = null);

    private sealed record Matched(double Difference);

    // The reader of messages and the writer of sound meet in two fields, each written by one of them.
    private sealed class Session : IDisposable
    {
        private readonly EngineHost _host;
        private readonly Ears _ears;
        private readonly Playing _playing;
        private readonly BrowserPlayers _players;
        private readonly Loops _loops;
        private readonly BlindComparisons _blind;
        private volatile Wish _wish = new();
        private volatile RigProblem? _problem;

        public Session(EngineHost host, Playing playing, OutputList outputs, BrowserPlayers players, Loops loops, BlindComparisons blind, TimeProvider time)
        {
            (_host, _playing, _ears, _players, _loops, _blind) = (host, playing, new Ears(host, time), players, loops, blind);
            _ears.Enter(outputs);
        }

        public void Dispose()
        {
            _players.Release(this);
            _ears.Dispose();
        }

        public Task HandleAsync(string message)
        {
            try
            {
                var wish = JsonSerializer.Deserialize<Wish>(message, RigJson.Options) ?? new Wish();
                if (wish.Count > 1)
                {
                    _problem = NotUnderstood;
                    return Task.CompletedTask;
                }

                // What the engine was told last, which it plays in a moment: who adds a destination plays it at once.
                if (PointOf(wish) is { } point && (!_host.IsRunning || _playing.Plan.ChannelsOf(point) == 0))
                {
                    _problem = new RigProblem(
                        wish switch { { Mix: not null } => "mix", { Source: not null } => "source", _ => "point" },
                        $"There is no “{wish.Mix ?? wish.Source ?? wish.Point!.ToString()}”.",
                        "what the show or the computer has now");
                    return Task.CompletedTask;
                }

                if (wish.Audition is { } audition && (!_host.IsRunning || !audition.FitsIn(_playing.Plan)))
                {
                    _problem = new RigProblem(
                        "audition",
                        "This cannot be heard of that chain.",
                        "a source or a mix of the show that has processors: without one of them or all, what one changes, or a part that it has");
                    return Task.CompletedTask;
                }

                if (wish.Bench is { } bench && (VariantOf(bench) is not { } variant || !_loops.Has(bench.Loop, variant)))
                {
                    _problem = new RigProblem("bench", "There is no such loop, or not that variant of it.", "a loop of the show with a variant of it, or plain; or a blind comparison of it that goes on, with which: 1 or 2");
                    return Task.CompletedTask;
                }

                if (MayPlay(wish))
                {
                    _wish = wish;
                }
            }
            catch (JsonException)
            {
                _problem = NotUnderstood;
            }

            return Task.CompletedTask;
        }

        // What mixes give to a browser's output is played by one window.
        private bool MayPlay(Wish wish)
        {
            if (wish.Point is not DevicePoint { Side: Side.Out, Id.Value: var id } output || !id.StartsWith(BrowserPlayers.Prefix, StringComparison.Ordinal))
            {
                _players.Release(this);
                return true;
            }

            if (RigRules.CheckText("window", wish.Window, 64) is { } problem)
            {
                _problem = problem;
                return false;
            }

            if (_players.TryTake(output.Id, wish.Window!, this, wish.TakeOver, Lose))
            {
                return true;
            }

            _problem = Held;
            return false;
        }

        private void Lose() => (_wish, _problem) = (new Wish(), Held);

        public async Task WriteAsync(WebSocket socket, CancellationToken cancel)
        {
            using var timer = new PeriodicTimer(Every);
            var left = new float[MaxFrames];
            var right = new float[MaxFrames];
            var message = new byte[HeaderBytes + (2 * MaxFrames * sizeof(float))];
            (AuditionWish? Of, double Difference) told = default;
            while (socket.State == WebSocketState.Open && _ears.State != OutputState.Ended && await timer.WaitForNextTickAsync(cancel))
            {
                if (Interlocked.Exchange(ref _problem, null) is { } problem)
                {
                    await SocketEndpoint.SendJsonAsync(socket, problem, cancel);
                }

                if (_host.IsRunning && _wish.Audition is { } audition)
                {
                    _ears.Turn(audition);
                    if (_ears.Difference is { } difference && (told.Of != audition || Math.Abs(difference - told.Difference) >= LeastNews))
                    {
                        told = (audition, difference);
                        await SocketEndpoint.SendJsonAsync(socket, new Matched(Math.Round(difference, 2)), cancel);
                    }
                }
                else if (_host.IsRunning && _wish.Bench is { } bench)
                {
                    told = default;
                    if (VariantOf(bench) is { } variant)
                    {
                        _ears.Turn(bench.Loop, variant, _loops);
                    }
                }
                else
                {
                    told = default;
                    _ears.Turn(_host.IsRunning ? PointOf(_wish) : null);
                }

                await _ears.GiveAsync(async () =>
                {
                    int count;
                    while ((count = _ears.Read(left, right, out var frame)) > 0)
                    {
                        await socket.SendAsync(Message(message, frame, left.AsSpan(0, count), right), WebSocketMessageType.Binary, endOfMessage: true, cancel);
                    }
                });
            }
        }

        private ReadOnlyMemory<byte> Message(byte[] message, long frame, ReadOnlySpan<float> left, ReadOnlySpan<float> right)
        {
            BinaryPrimitives.WriteDoubleLittleEndian(message, frame);
            BinaryPrimitives.WriteUInt32LittleEndian(message.AsSpan(8), (uint)left.Length);
            BinaryPrimitives.WriteUInt32LittleEndian(message.AsSpan(12), (uint)_ears.Lost);
            var samples = MemoryMarshal.Cast<byte, float>(message.AsSpan(HeaderBytes));
            left.CopyTo(samples);
            right[..left.Length].CopyTo(samples[left.Length..]);
            return message.AsMemory(0, HeaderBytes + (2 * left.Length * sizeof(float)));
        }

        // Of a comparison that has ended, nothing is told: what was heard last goes on.
        private SourceId? VariantOf(BenchWish wish) => wish switch
        {
            { Variant: { } variant, Blind: null } => new SourceId(variant),
            { Variant: null, Blind: { } id, Which: 1 or 2 } when _blind.Find(id) is { } found && found.Loop == wish.Loop => found.Heard(wish.Which.Value),
            _ => null,
        };

        private static Point? PointOf(Wish wish) => wish switch
        {
            { Mix: { } mix } => new MixPoint(new(mix)),
            { Source: { } source } => new SourcePoint(new(source)),
            { Point: { } point } => point,
            _ => null,
        };
    }
}

using System.Buffers;
using System.Buffers.Binary;
using System.Diagnostics;
using System.Net.WebSockets;
using System.Text.Json;
using System.Threading.Channels;
using Kinetra.Core.Editing;
using Kinetra.Core.Rigs;
using Kinetra.Server.Sockets;

namespace Kinetra.Server.Features.Analysis;

/// <summary>
/// Live data down, by topic. A window asks with <c>{"open": n, "topic": name, "of": what, "rate": times a second}</c>, where n is a number
/// of its own, and ends it with <c>{"close": n}</c>. Text messages down: <c>{"id": n, "layout": m, "values": …}</c> before values that stand
/// otherwise than those before, and <c>{"id", "where", "what", "allowed"}</c> for what cannot be. Binary messages: n (u32), m (u32), then the
/// topic's values. Of values that a window is too slow for, the newest replace the others.
/// </summary>
sealed class AnalysisSocket(IEnumerable<IAnalysisTopic> topics)
{
    /// <summary>What stands before a topic's values, bytes.</summary>
    public const int HeaderBytes = 8;

    /// <summary>The most looks of one window.</summary>
    public const int MostOpen = 64;

    private const double MostOften = 125;
    private static readonly TimeSpan Every = TimeSpan.FromMilliseconds(8);
    private readonly Dictionary<string, IAnalysisTopic> _topics = topics.ToDictionary(t => t.Name);

    public Task ServeAsync(HttpContext context) => SocketEndpoint.ServeAsync(context, async (socket, cancel) =>
    {
        using var session = new Session(_topics);
        using var ending = CancellationTokenSource.CreateLinkedTokenSource(cancel);
        var reading = SocketEndpoint.ReadAsync(socket, text => session.HandleAsync(text, ending.Token), ending.Token);
        var writing = session.WriteAsync(socket, ending.Token);
        try
        {
            await await Task.WhenAny(reading, writing);
        }
        finally
        {
            // What is looked at is let go once nobody writes of it any more.
            await ending.CancelAsync();
            await Task.WhenAny(writing);
        }
    });

    /// <summary>What a window says: one of the two numbers.</summary>
    private sealed record Wish(uint? Open = null, uint? Close = null, string? Topic = null, string? Of = null, double? Rate = null);

    private sealed record Announcement(uint Id, uint Layout, object Values);

    private sealed record Refusal(uint? Id, string Where, string What, string Allowed)
    {
        public Refusal(uint? id, RigProblem problem)
            : this(id, problem.Where, problem.What, problem.Allowed)
        {
        }
    }

    // What is opened and closed is done by the one that writes: nothing is shared but the queue.
    private sealed class Session(Dictionary<string, IAnalysisTopic> topics) : IDisposable
    {
        private readonly Channel<object> _wishes = Channel.CreateBounded<object>(MostOpen);
        private readonly Dictionary<uint, Look> _open = [];
        private readonly ArrayBufferWriter<byte> _message = new();

        public void Dispose()
        {
            foreach (var look in _open.Values)
            {
                look.Analysis.Dispose();
            }
        }

        public async Task HandleAsync(string text, CancellationToken cancel)
        {
            object said;
            try
            {
                said = JsonSerializer.Deserialize<Wish>(text, RigJson.Options) is { } wish && wish.Open is null != wish.Close is null
                    ? wish
                    : new Refusal(null, NotUnderstood);
            }
            catch (JsonException)
            {
                said = new Refusal(null, NotUnderstood);
            }

            // Who asks faster than it can be done, waits.
            await _wishes.Writer.WriteAsync(said, cancel);
        }

        public async Task WriteAsync(WebSocket socket, CancellationToken cancel)
        {
            using var timer = new PeriodicTimer(Every);
            while (socket.State == WebSocketState.Open && await timer.WaitForNextTickAsync(cancel))
            {
                while (_wishes.Reader.TryRead(out var said))
                {
                    if ((said as Refusal ?? Do((Wish)said)) is { } refusal)
                    {
                        await SocketEndpoint.SendJsonAsync(socket, refusal, cancel);
                    }
                }

                foreach (var (id, look) in _open)
                {
                    if (!look.IsDue())
                    {
                        continue;
                    }

                    if (look.Analysis.NextLayout() is { } layout)
                    {
                        await SocketEndpoint.SendJsonAsync(socket, new Announcement(id, ++look.Layout, layout), cancel);
                    }

                    _message.ResetWrittenCount();
                    BinaryPrimitives.WriteUInt32LittleEndian(_message.GetSpan(HeaderBytes), id);
                    BinaryPrimitives.WriteUInt32LittleEndian(_message.GetSpan(HeaderBytes)[4..], look.Layout);
                    _message.Advance(HeaderBytes);
                    if (look.Analysis.TryWrite(_message))
                    {
                        look.IsWritten();

                        // Sending waits for the other side; meanwhile newer values replace older ones, so nothing queues up.
                        await socket.SendAsync(_message.WrittenMemory, WebSocketMessageType.Binary, endOfMessage: true, cancel);
                    }
                }
            }
        }

        private Refusal? Do(Wish wish)
        {
            if (wish.Close is { } close)
            {
                if (_open.Remove(close, out var look))
                {
                    look.Analysis.Dispose();
                }

                return null;
            }

            var id = wish.Open!.Value;
            if (_open.ContainsKey(id))
            {
                return new(id, new RigProblem("open", $"{id} is open already.", "a number that is not open"));
            }

            if (_open.Count == MostOpen)
            {
                return new(id, new RigProblem("open", "So much is not looked at at once.", $"at most {MostOpen} of one window"));
            }

            if (wish.Rate is not null and not (>= 1 and <= MostOften))
            {
                return new(id, new RigProblem("rate", "So often is not possible.", $"1 to {MostOften} times a second"));
            }

            if (!topics.TryGetValue(wish.Topic ?? "", out var topic))
            {
                return new(id, new RigProblem("topic", $"There is no topic “{wish.Topic}”.", string.Join(", ", topics.Keys.Order())));
            }

            if (topic.Open(wish.Of, out var problem) is not { } analysis)
            {
                return new(id, problem!);
            }

            _open.Add(id, new Look(analysis, wish.Rate ?? MostOften));
            return null;
        }

        private static readonly RigProblem NotUnderstood = new(
            "message", "This is not understood.", "{\"open\": number, \"topic\": name, \"of\": what, \"rate\": times a second}, or {\"close\": number}");
    }

    private sealed class Look(IAnalysis analysis, double rate)
    {
        private readonly double _pause = (1 / rate) - (Every.TotalSeconds / 2);
        private long _written;

        public IAnalysis Analysis { get; } = analysis;

        public uint Layout { get; set; }

        public bool IsDue() => _written == 0 || Stopwatch.GetElapsedTime(_written).TotalSeconds >= _pause;

        public void IsWritten() => _written = Stopwatch.GetTimestamp();
    }
}

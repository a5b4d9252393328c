using System.Threading.Channels;
using Kinetra.Core.Engine;
using Kinetra.Core.Signal;
using Kinetra.Server.Live;

namespace Kinetra.Server.Outputs;

/// <summary>Some of a point's sound, one after the other.</summary>
/// <param name="Left">Left, or the only channel.</param>
/// <param name="Right">Right; null: there is one channel.</param>
/// <param name="Lost">Frames before it that were lost, since whoever takes it was too slow.</param>
public sealed record PointChunk(float[] Left, float[]? Right, long Lost);

/// <summary>
/// A point's sound for somebody who takes it at a pace of its own, over a network or through an encoder: what waits is bounded, and what does
/// not fit into that is lost to it alone, counted, and told in its place.
/// </summary>
/// <param name="kind">Its sort, a word of the API.</param>
/// <param name="to">Where the sound goes, in words.</param>
/// <param name="held">The point; released with this.</param>
/// <param name="from">The engine frame with which it begins.</param>
/// <param name="time">What its age goes by.</param>
public sealed class FollowedPoint(string kind, string to, HeldTap held, long from, TimeProvider time) : Output(kind, to, retry: null, time)
{
    /// <summary>The most that waits, frames: ten seconds.</summary>
    public const int MostFrames = 10 * AudioFormat.SampleRate;

    private const int ChunkFrames = 2_048;

    private readonly TapCursor _cursor = new(held, from);
    private readonly Channel<PointChunk> _chunks = Channel.CreateUnbounded<PointChunk>(new UnboundedChannelOptions { SingleReader = true, SingleWriter = true });
    private readonly Lock _taking = new();
    private readonly float[] _left = new float[ChunkFrames];
    private readonly float[] _right = new float[ChunkFrames];
    private long _waiting;
    private long _frames;
    private long _lost;
    private long _untold;
    private bool _isOver;

    /// <inheritdoc/>
    public override Point Point => held.Tapped.Point;

    /// <inheritdoc/>
    public override long Frames => Interlocked.Read(ref _frames);

    /// <inheritdoc/>
    public override long Lost => Interlocked.Read(ref _lost);

    /// <summary>1 or 2.</summary>
    public int Channels => held.Ring.Channels;

    /// <summary>Frames that wait to be taken. Any thread.</summary>
    public long Waiting => Interlocked.Read(ref _waiting);

    /// <summary>Takes what the engine has made. Any thread.</summary>
    public void CatchUp()
    {
        lock (_taking)
        {
            while (!_isOver)
            {
                var count = _cursor.Read(_left, _right, out var lost);
                Lose(lost);
                if (count == 0)
                {
                    return;
                }

                if (Waiting + count > MostFrames)
                {
                    Lose(count);
                    continue;
                }

                Interlocked.Add(ref _waiting, count);
                _chunks.Writer.TryWrite(new PointChunk(_left[..count], Channels == 1 ? null : _right[..count], _untold));
                _untold = 0;
            }
        }
    }

    /// <summary>What comes next; waits for it.</summary>
    public async ValueTask<PointChunk> ReadAsync(CancellationToken cancel)
    {
        var chunk = await _chunks.Reader.ReadAsync(cancel);
        Interlocked.Add(ref _waiting, -chunk.Left.Length);
        Interlocked.Add(ref _frames, chunk.Left.Length);
        return chunk;
    }

    /// <inheritdoc/>
    protected override void Release()
    {
        lock (_taking)
        {
            _isOver = true;
            _cursor.Dispose();
        }
    }

    private void Lose(long frames)
    {
        Interlocked.Add(ref _lost, frames);
        _untold += frames;
    }
}

/// <summary>All queues of points that somebody takes now, filled with whatever the engine makes.</summary>
public sealed class FollowedPoints(Lazy<EngineHost> host, OutputList outputs, TimeProvider time) : IFollower
{
    private volatile FollowedPoint[] _all = [];
    private readonly Lock _changing = new();

    /// <summary>Begins to queue a point's sound from now on.</summary>
    /// <param name="kind">Its sort, a word of the API.</param>
    /// <param name="to">Where the sound goes, in words.</param>
    /// <param name="point">What; the engine plays it.</param>
    /// <returns>The queue; <see cref="End"/> ends it.</returns>
    public FollowedPoint Begin(string kind, string to, Point point)
    {
        var queue = new FollowedPoint(kind, to, host.Value.Engine.Hold(point), host.Value.Engine.Frame, time);
        queue.Enter(outputs);
        lock (_changing)
        {
            _all = [.. _all, queue];
        }

        return queue;
    }

    /// <summary>Nobody takes it any more.</summary>
    public void End(FollowedPoint queue)
    {
        ArgumentNullException.ThrowIfNull(queue);
        lock (_changing)
        {
            _all = [.. _all.Where(q => q != queue)];
        }

        queue.Dispose();
    }

    /// <inheritdoc/>
    public void CatchUp()
    {
        foreach (var queue in _all)
        {
            queue.CatchUp();
        }
    }
}

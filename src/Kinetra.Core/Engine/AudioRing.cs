using Kinetra.Core.Signal;

namespace Kinetra.Core.Engine;

/// <summary>
/// The newest seconds of one signal, written by the engine and read by anyone at their own pace. One writer, any number of
/// readers, no locks: a reader that falls behind loses its own data and is told how much; the writer never waits.
/// </summary>
public sealed class AudioRing
{
    /// <summary>Frames that are kept: 2.7 s. A power of two, a whole number of blocks.</summary>
    public const int Capacity = 131_072;

    /// <summary>Frames that are kept where more of the past is wanted: 10.9 s.</summary>
    public const int LongCapacity = 524_288;

    private const long NotBegun = -1;

    // What the writer may be touching while a reader copies.
    private const int Guard = 4 * AudioFormat.BlockFrames;

    private readonly float[] _left;
    private readonly float[] _right;
    private readonly int _capacity;
    private long _start = NotBegun;
    private long _written;

    /// <summary>A ring that has not begun: nothing can be read from it yet.</summary>
    /// <param name="channels">1 or 2.</param>
    /// <param name="capacity">Frames that are kept: a power of two, <see cref="Capacity"/> or more.</param>
    public AudioRing(int channels, int capacity = Capacity)
    {
        Channels = channels;
        _capacity = capacity;
        _left = new float[capacity];
        _right = channels == 2 ? new float[capacity] : _left;
    }

    /// <summary>1 or 2.</summary>
    public int Channels { get; }

    /// <summary>True: it keeps <see cref="LongCapacity"/> frames.</summary>
    public bool IsLong => _capacity >= LongCapacity;

    /// <summary>The engine frame up to which frames can be read.</summary>
    public long End => Volatile.Read(ref _written);

    /// <summary>The engine frame that it begins with; −1 before that.</summary>
    public long Beginning => Volatile.Read(ref _start);

    /// <summary>Engine thread only: the next block written is that of this frame. False where the ring had begun already.</summary>
    public bool Begin(long frame)
    {
        if (_start != NotBegun)
        {
            return false;
        }

        Volatile.Write(ref _start, frame);
        Volatile.Write(ref _written, frame);
        return true;
    }

    /// <summary>Engine thread only: appends a block. <paramref name="right"/> is ignored for mono.</summary>
    public void Write(ReadOnlySpan<float> left, ReadOnlySpan<float> right)
    {
        Begin(0);
        var at = (int)(_written & (_capacity - 1));
        left.CopyTo(_left.AsSpan(at));
        if (Channels == 2)
        {
            right.CopyTo(_right.AsSpan(at));
        }

        Volatile.Write(ref _written, _written + left.Length);
    }

    /// <summary>
    /// Copies frames from <paramref name="position"/> on, and moves it. Where they have been overwritten already, it first
    /// moves to the oldest that are sure to stay.
    /// </summary>
    /// <param name="position">Engine frame of the next one wanted.</param>
    /// <param name="left">As many frames as are wanted.</param>
    /// <param name="right">The same length; for a mono ring it gets the same samples as left.</param>
    /// <param name="lost">Frames that were skipped since they are gone.</param>
    /// <returns>Frames copied, 0 … the length of <paramref name="left"/>.</returns>
    public int Read(ref long position, Span<float> left, Span<float> right, out long lost)
    {
        lost = 0;
        while (true)
        {
            var end = End;

            // What was before the ring's beginning was never there to be lost.
            position = Math.Max(position, Volatile.Read(ref _start));
            var oldest = end - _capacity + Guard;
            if (position < oldest)
            {
                lost += oldest - position;
                position = oldest;
            }

            var count = (int)Math.Clamp(end - position, 0, left.Length);
            Copy(_left, position, left[..count]);
            Copy(_right, position, right[..count]);

            // What was copied must not be read after the end is looked at again.
            Thread.MemoryBarrier();
            if (End - position <= _capacity - AudioFormat.BlockFrames)
            {
                position += count;
                return count;
            }
        }
    }

    private void Copy(float[] from, long position, Span<float> to)
    {
        var at = (int)(position & (_capacity - 1));
        var first = Math.Min(to.Length, _capacity - at);
        from.AsSpan(at, first).CopyTo(to);
        from.AsSpan(0, to.Length - first).CopyTo(to[first..]);
    }
}

using Kinetra.Core.Dsp;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Engine;

/// <summary>
/// Follows one ring after another for somebody's ears: from one to the next by a <see cref="Fade"/>,
/// in step with the engine, so that nothing clicks and nothing is heard twice. Not safe for several threads.
/// </summary>
public sealed class Listener
{
    /// <summary>A reader that is further behind than this jumps to the newest sound, frames: half a second.</summary>
    public const int MaxBacklog = AudioFormat.SampleRate / 2;

    private readonly float[] _oldLeft = new float[Fade.Frames];
    private readonly float[] _oldRight = new float[Fade.Frames];
    private readonly Crossing<AudioRing?> _ring = new(null);
    private long _position;

    /// <summary>What is listened to, once the fade to it is over; null: nothing.</summary>
    public AudioRing? Ring => _ring.Wanted;

    /// <summary>True while it fades from one ring to another, or is about to: both must go on.</summary>
    public bool IsTurning => !_ring.IsSettled;

    /// <summary>Frames that this listener lost so far, since it was too slow.</summary>
    public long Lost { get; private set; }

    /// <summary>Turns to another ring, or to silence (null).</summary>
    public void Select(AudioRing? ring) => _ring.Set(ring);

    /// <summary>Copies the next frames.</summary>
    /// <param name="left">Room for at least <see cref="Fade.Frames"/> frames.</param>
    /// <param name="right">The same length.</param>
    /// <param name="frame">The engine frame of the first one.</param>
    /// <returns>How many; 0 where there is nothing yet.</returns>
    public int Read(Span<float> left, Span<float> right, out long frame)
    {
        var wasCrossing = _ring.IsCrossing;
        _ring.Begin();
        if (_ring.IsCrossing && !wasCrossing && _ring.Old is null)
        {
            _position = _ring.Now!.End;
        }

        frame = _position;
        if (_ring.Now is null && _ring.Old is null)
        {
            return 0;
        }

        SkipBacklog();
        frame = _position;
        return _ring.IsCrossing ? ReadBoth(left, right) : ReadOne(left, right, ref frame);
    }

    private void SkipBacklog()
    {
        var end = Math.Max(_ring.Now?.End ?? 0, _ring.Old?.End ?? 0);
        if (end - _position > MaxBacklog)
        {
            Lost += end - AudioFormat.BlockFrames - _position;
            _position = end - AudioFormat.BlockFrames;
        }
    }

    private int ReadOne(Span<float> left, Span<float> right, ref long frame)
    {
        var count = _ring.Now!.Read(ref _position, left, right, out var lost);
        Lost += lost;
        frame = _position - count;
        return count;
    }

    private int ReadBoth(Span<float> left, Span<float> right)
    {
        // A ring that has ended, since its mix was removed, must not hold up the other.
        var end = (_ring.Old, _ring.Now) switch
        {
            (null, { } to) => to.End,
            ({ } from, null) => from.End,
            var (from, to) => to!.End > from!.End + MaxBacklog ? to.End : Math.Min(from.End, to.End),
        };
        var count = (int)Math.Clamp(end - _position, 0, Math.Min(left.Length, Fade.Frames));
        left = left[..count];
        right = right[..count];
        var oldLeft = _oldLeft.AsSpan(0, count);
        var oldRight = _oldRight.AsSpan(0, count);
        Copy(_ring.Now, left, right);
        Copy(_ring.Old, oldLeft, oldRight);
        _ring.Blend(oldLeft, left);
        _ring.Blend(oldRight, right);
        _position += count;
        _ring.End(count);
        return count;
    }

    private void Copy(AudioRing? ring, Span<float> left, Span<float> right)
    {
        var position = _position;
        var count = ring?.Read(ref position, left, right, out _) ?? 0;
        left[count..].Clear();
        right[count..].Clear();
    }
}

using Kinetra.Core.Dsp;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Engine;

/// <summary>
/// Follows one ring after another for somebody's ears: from one to the next by a fade of <see cref="GainRamp.Frames"/>
/// frames, in step with the engine, so that nothing clicks and nothing is heard twice. Not safe for several threads.
/// </summary>
public sealed class Listener
{
    /// <summary>A reader that is further behind than this jumps to the newest sound, frames: half a second.</summary>
    public const int MaxBacklog = AudioFormat.SampleRate / 2;

    private readonly float[] _otherLeft = new float[GainRamp.Frames];
    private readonly float[] _otherRight = new float[GainRamp.Frames];
    private readonly float[] _factors = new float[GainRamp.Frames];
    private AudioRing? _from;
    private AudioRing? _to;
    private AudioRing? _wanted;
    private GainRamp _fade = new(1);
    private long _position;

    /// <summary>What is listened to, once the fade to it is over; null: nothing.</summary>
    public AudioRing? Ring => _wanted;

    /// <summary>Frames that this listener lost so far, since it was too slow.</summary>
    public long Lost { get; private set; }

    /// <summary>Turns to another ring, or to silence (null).</summary>
    public void Select(AudioRing? ring) => _wanted = ring;

    /// <summary>Copies the next frames.</summary>
    /// <param name="left">Room for at least <see cref="GainRamp.Frames"/> frames.</param>
    /// <param name="right">The same length.</param>
    /// <param name="frame">The engine frame of the first one.</param>
    /// <returns>How many; 0 where there is nothing yet.</returns>
    public int Read(Span<float> left, Span<float> right, out long frame)
    {
        if (_fade.IsSettled && _to != _wanted)
        {
            _from = _to;
            _to = _wanted;
            _fade = new GainRamp(0) { Target = 1 };
            if (_from is null)
            {
                _position = _to!.End;
            }
        }

        frame = _position;
        if (_to is null && _from is null)
        {
            return 0;
        }

        SkipBacklog();
        frame = _position;
        return _fade.IsSettled ? ReadOne(left, right, ref frame) : ReadFade(left, right);
    }

    private void SkipBacklog()
    {
        var end = Math.Max(_to?.End ?? 0, _from?.End ?? 0);
        if (end - _position > MaxBacklog)
        {
            Lost += end - AudioFormat.BlockFrames - _position;
            _position = end - AudioFormat.BlockFrames;
        }
    }

    private int ReadOne(Span<float> left, Span<float> right, ref long frame)
    {
        var count = _to!.Read(ref _position, left, right, out var lost);
        Lost += lost;
        frame = _position - count;
        return count;
    }

    private int ReadFade(Span<float> left, Span<float> right)
    {
        // A ring that has ended, since its mix was removed, must not hold up the other.
        var end = (_from, _to) switch
        {
            (null, { } to) => to.End,
            ({ } from, null) => from.End,
            var (from, to) => to!.End > from!.End + MaxBacklog ? to.End : Math.Min(from.End, to.End),
        };
        var count = (int)Math.Clamp(end - _position, 0, Math.Min(left.Length, GainRamp.Frames));
        left = left[..count];
        right = right[..count];
        var otherLeft = _otherLeft.AsSpan(0, count);
        var otherRight = _otherRight.AsSpan(0, count);
        Copy(_to, left, right);
        Copy(_from, otherLeft, otherRight);
        var factors = _factors.AsSpan(0, count);
        _fade.Fill(factors);
        for (var n = 0; n < count; n++)
        {
            left[n] = (left[n] * factors[n]) + (otherLeft[n] * (1 - factors[n]));
            right[n] = (right[n] * factors[n]) + (otherRight[n] * (1 - factors[n]));
        }

        _position += count;
        if (_fade.IsSettled)
        {
            _from = null;
        }

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

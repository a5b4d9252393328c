using Kinetra.Core.Dsp;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Engine;

/// <summary>A sound at the engine's rate, wherever it lies.</summary>
public interface ISoundReader
{
    /// <summary>1 or 2.</summary>
    int Channels { get; }

    /// <summary>Length; 1 or more.</summary>
    int Frames { get; }

    /// <summary>Engine thread: copies frames. Neither waits nor allocates; what is not at hand is silence.</summary>
    /// <param name="position">The first one, 0 … <see cref="Frames"/>.</param>
    /// <param name="left">As many as are wanted and there are.</param>
    /// <param name="right">The same length; left as it is for mono.</param>
    void Copy(int position, Span<float> left, Span<float> right);
}

/// <summary>A sound in memory, at the engine's rate.</summary>
/// <param name="Left">Left, or the only channel.</param>
/// <param name="Right">Right, of the same length; null for mono.</param>
public sealed record SoundBuffer(float[] Left, float[]? Right) : ISoundReader
{
    /// <summary>1 or 2.</summary>
    public int Channels => Right is null ? 1 : 2;

    /// <summary>Length.</summary>
    public int Frames => Left.Length;

    /// <summary>Frames of one channel that goes round and round, from a time on.</summary>
    /// <param name="samples">The channel.</param>
    /// <param name="frame">The first one, 0 or more; the channel begins at 0.</param>
    /// <param name="to">Any number.</param>
    public static void CopyRound(ReadOnlySpan<float> samples, long frame, Span<float> to)
    {
        for (var done = 0; done < to.Length;)
        {
            var position = (int)((frame + done) % samples.Length);
            var count = Math.Min(to.Length - done, samples.Length - position);
            samples.Slice(position, count).CopyTo(to[done..]);
            done += count;
        }
    }

    /// <inheritdoc/>
    public void Copy(int position, Span<float> left, Span<float> right)
    {
        Left.AsSpan(position, left.Length).CopyTo(left);
        Right?.AsSpan(position, left.Length).CopyTo(right);
    }
}

/// <summary>Plays a sound, looped or once.</summary>
/// <param name="sound">What to play; at least one frame.</param>
/// <param name="loop">True: over and over. False: once, then exact silence.</param>
/// <param name="beginsWithSource">See <see cref="IInlet.BeginsWithSource"/>.</param>
/// <param name="offset">Frame to start at, 0 … frames; a sound that plays once and starts at its end waits to be played.</param>
public sealed class SoundInlet(ISoundReader sound, bool loop, bool beginsWithSource, int offset = 0) : IInlet
{
    private readonly GainRamp _leaving = new(0);
    private readonly float[] _factors = new float[AudioFormat.BlockFrames];
    private readonly float[] _oldLeft = new float[AudioFormat.BlockFrames];
    private readonly float[] _oldRight = new float[AudioFormat.BlockFrames];
    private int _position = offset;
    private int _leavingPosition;
    private bool _isLeaving;
    private bool _restartWanted;

    /// <inheritdoc/>
    public int Channels => sound.Channels;

    /// <inheritdoc/>
    public bool BeginsWithSource => beginsWithSource;

    /// <inheritdoc/>
    public void Read(long frame, Span<float> left, Span<float> right)
    {
        if (_restartWanted && !_isLeaving)
        {
            Begin();
        }

        _position = Copy(_position, left, right);
        if (_isLeaving)
        {
            AddWhatLeaves(left, right);
        }
    }

    /// <inheritdoc/>
    public void Restart() => _restartWanted = true;

    // What was playing fades out under the new beginning, which starts as it is.
    private void Begin()
    {
        _restartWanted = false;
        _leavingPosition = _position;
        _isLeaving = _position > 0;
        _position = 0;
    }

    private void AddWhatLeaves(Span<float> left, Span<float> right)
    {
        if (_leaving.IsSilent)
        {
            // A ramp down from 1 begins with this block.
            _leaving.Target = 1;
            SkipToTarget();
            _leaving.Target = 0;
        }

        var oldLeft = _oldLeft.AsSpan(0, left.Length);
        var oldRight = _oldRight.AsSpan(0, left.Length);
        var factors = _factors.AsSpan(0, left.Length);
        _leavingPosition = Copy(_leavingPosition, oldLeft, oldRight);
        _leaving.Fill(factors);
        Mixdown.Add(left, oldLeft, factors);
        if (Channels == 2)
        {
            Mixdown.Add(right, oldRight, factors);
        }

        _isLeaving = !_leaving.IsSilent;
    }

    private void SkipToTarget()
    {
        while (!_leaving.IsSettled)
        {
            _leaving.Fill(_factors);
        }
    }

    private int Copy(int position, Span<float> left, Span<float> right)
    {
        var done = 0;
        while (done < left.Length)
        {
            var count = Math.Min(left.Length - done, sound.Frames - position);
            sound.Copy(position, left.Slice(done, count), Channels == 2 ? right.Slice(done, count) : default);
            done += count;
            position += count;
            if (position < sound.Frames)
            {
                continue;
            }

            if (!loop)
            {
                left[done..].Clear();
                if (Channels == 2)
                {
                    right[done..].Clear();
                }

                return sound.Frames;
            }

            position = 0;
        }

        return position;
    }
}

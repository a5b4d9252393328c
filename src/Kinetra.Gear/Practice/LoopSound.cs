using Kinetra.Core.Dsp;
using Kinetra.Core.Engine;
using Kinetra.Core.Signal;

namespace Kinetra.Gear.Practice;

/// <summary>
/// What one output of a program plays: a sound over and over, at a level that glides. It stands still where nobody plays it. Asked twice for one
/// block it gives the same; engine thread, but for its level, which anyone may set.
/// </summary>
/// <param name="sound">What it plays.</param>
sealed class LoopSound(SoundBuffer sound) : IPortSound
{
    private readonly float[] _left = new float[AudioFormat.BlockFrames];
    private readonly float[] _right = new float[AudioFormat.BlockFrames];
    private readonly float[] _factors = new float[AudioFormat.BlockFrames];
    private readonly GainRamp _level = new(0);
    private volatile float _wanted;
    private long _frame = -1;
    private int _round;
    private int _position = -1;

    /// <summary>How loud, as a factor; 0: it is paused, or its program does not run.</summary>
    public float Level
    {
        get => _wanted;
        set => _wanted = value;
    }

    /// <summary>How often it has come round. Any thread.</summary>
    public int Round => Volatile.Read(ref _round);

    /// <inheritdoc/>
    public void Process(long frame, float[][] block)
    {
        if (frame != _frame)
        {
            Compute(frame);
            _frame = frame;
        }

        if (_level.IsSilent)
        {
            return;
        }

        Mixdown.Add(block[0], _left, 1);
        if (block.Length > 1)
        {
            Mixdown.Add(block[1], sound.Channels == 2 ? _right : _left, 1);
        }
    }

    private void Compute(long frame)
    {
        if (_position < 0)
        {
            // In the very first block it is under way already.
            _position = (int)(frame % sound.Frames);
            _round = (int)(frame / sound.Frames);
            _level.Target = _wanted;
            _level.Arrive();
        }

        _level.Target = _wanted;
        if (_level.IsSilent)
        {
            return;
        }

        SoundBuffer.CopyRound(sound.Left, _position, _left);
        if (sound.Right is { } other)
        {
            SoundBuffer.CopyRound(other, _position, _right);
        }

        _position += _left.Length;
        if (_position >= sound.Frames)
        {
            _position %= sound.Frames;
            Volatile.Write(ref _round, _round + 1);
        }

        if (_level.IsSettled && _level.Current == 1)
        {
            return;
        }

        _level.Fill(_factors);
        Mixdown.Scale(_left, _factors);
        if (sound.Channels == 2)
        {
            Mixdown.Scale(_right, _factors);
        }
    }
}

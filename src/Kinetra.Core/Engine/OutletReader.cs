using Kinetra.Core.Dsp;

namespace Kinetra.Core.Engine;

/// <summary>Reads an outlet late by some frames. Another delay is faded in: for the length of a <see cref="Fade"/> both are heard.</summary>
/// <param name="delay">The delay that it starts with, frames.</param>
sealed class OutletReader(int delay)
{
    private readonly float[] _before = new float[AudioFormat.BlockFrames];
    private int _old = delay;
    private int _now = delay;
    private int _wanted = delay;
    private int _faded = Fade.Frames;

    /// <summary>True where it reads what is given in this very block, and nothing else.</summary>
    public bool IsDirect => _now == 0 && _wanted == 0 && _faded == Fade.Frames;

    /// <summary>Changes the delay, 0 … <see cref="Outlet.MaxDelay"/> frames: faded where it is heard, else at once.</summary>
    public void Set(int frames, bool isHeard)
    {
        _wanted = Math.Min(frames, Outlet.MaxDelay);
        if (!isHeard)
        {
            (_old, _now, _faded) = (_wanted, _wanted, Fade.Frames);
        }
    }

    /// <summary>Once a block, before it is read: takes the change.</summary>
    public void Begin()
    {
        if (_wanted != _now && _faded == Fade.Frames)
        {
            (_old, _now, _faded) = (_now, _wanted, 0);
        }
    }

    /// <summary>One channel of the block of that frame.</summary>
    public void Read(Outlet from, int channel, long frame, Span<float> block)
    {
        from.Read(channel, frame - _now, block);
        if (_faded == Fade.Frames)
        {
            return;
        }

        from.Read(channel, frame - _old, _before);
        var curve = Fade.Curve[_faded..];
        for (var n = 0; n < block.Length; n++)
        {
            block[n] = n < curve.Length ? _before[n] + ((block[n] - _before[n]) * curve[n]) : block[n];
        }
    }

    /// <summary>Once a block, after all channels have been read.</summary>
    public void End() => _faded = Math.Min(Fade.Frames, _faded + AudioFormat.BlockFrames);
}

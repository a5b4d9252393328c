using Kinetra.Core.Dsp;
using Kinetra.Core.Rigs;

namespace Kinetra.Core.Engine;

/// <summary>A source's sound, recorded from a cable of the same engine.</summary>
sealed class CableReader : ISourceFeed
{
    private readonly GainRamp _gain = new(0);
    private readonly OutletReader _reader = new(0);
    private readonly float[] _factors = new float[AudioFormat.BlockFrames];

    public CableReader(CableNode cable, CableInput input)
    {
        (Cable, Left, Right) = (cable, input.Left, input.Right);
    }

    public CableNode Cable { get; }

    public int Left { get; }

    public int? Right { get; }

    public int Channels => Right is null ? 1 : 2;

    // What is under way already is faded in here.
    public bool BeginsWithSource => true;

    /// <summary>True once nothing of the cable comes through.</summary>
    public bool IsSilent => _gain.IsSilent;

    /// <summary>Lets the cable through, or holds it muted.</summary>
    public void SetHeld(bool held) => _gain.Target = held ? 0 : 1;

    /// <summary>Begins so, without a change.</summary>
    public void Start(int delay, bool held)
    {
        SetDelay(delay);
        SetHeld(held);
        _gain.Arrive();
    }

    /// <summary>How late it reads, frames.</summary>
    public void SetDelay(int frames) => _reader.Set(frames, isHeard: !_gain.IsSilent);

    public void Read(long frame, Span<float> left, Span<float> right)
    {
        _reader.Begin();
        Read(Left, frame, left);
        if (Right is { } channel)
        {
            Read(channel, frame, right);
        }

        _reader.End();
        if (_gain.IsSettled && _gain.Current == 1)
        {
            return;
        }

        _gain.Fill(_factors);
        Scale(left);
        if (Right is not null)
        {
            Scale(right);
        }
    }

    public void Restart()
    {
    }

    private void Read(int channel, long frame, Span<float> block) => _reader.Read(Cable.Outlet, channel, frame, block);

    // What is held is exact silence, never −0.
    private void Scale(Span<float> block)
    {
        if (_gain.IsSilent && _factors[0] == 0)
        {
            block.Clear();
        }
        else
        {
            Mixdown.Scale(block, _factors);
        }
    }
}

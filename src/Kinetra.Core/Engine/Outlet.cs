using Kinetra.Core.Dsp;
using Kinetra.Core.Metering;
using Kinetra.Core.Processors;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Engine;

/// <summary>
/// What a node gives at a point: the block that was computed last, and, while somebody reads later, what it has given lately, the last 0.68 s of
/// each channel by the engine's frames. Most is read at once and kept by nobody: it has no room for that until a plan is built that reads later.
/// Engine thread only; before the node began there was silence.
/// </summary>
sealed class Outlet
{
    /// <summary>The longest delay that can be read, frames.</summary>
    public const int MaxDelay = Length - AudioFormat.BlockFrames;

    // A power of two, a whole number of blocks.
    private const int Length = 32_768;

    private readonly float[][] _now;
    private float[][]? _kept;
    private bool _isNeeded;
    private bool _isOnRequest;
    private bool _isWanted;
    private bool _hasGiven;
    private long _until;
    private long _since;

    /// <summary>An outlet of the blocks that the node computes in.</summary>
    public Outlet(params float[][] now) => _now = now;

    /// <summary>How many channels it has.</summary>
    public int Channels => _now.Length;

    /// <summary>K-weighted energy of the block's frames up to the hop's end, and of those after it, where <see cref="IsMeasured"/>.</summary>
    public (KEnergy Before, KEnergy After) Energy { get; private set; }

    /// <summary>True where the node's meter has weighed what it gives here.</summary>
    public bool IsMeasured { get; private set; }

    /// <summary>The block that was computed last: left or the only channel, and right.</summary>
    public Frames Heard => new(_now[0], Channels > 1 ? _now[1] : default(ReadOnlySpan<float>));

    /// <summary>One channel of the block that was computed last.</summary>
    public ReadOnlySpan<float> Now(int channel) => _now[channel];

    /// <summary>True where there is a block that nobody has taken yet; of one that is given on request, only where it was asked for and has been computed since.</summary>
    public bool IsGiven { get; private set; } = true;

    /// <summary>An outlet that is given only on request, to one that takes it.</summary>
    public static Outlet OnRequest(params float[][] now) => new(now) { IsGiven = false, _isOnRequest = true };

    /// <summary>Asks for the next block. Of one that is given on request, what was there is over: a chain that computes no more gives nothing, and not the same again.</summary>
    public void Want()
    {
        if (_isOnRequest)
        {
            (_isWanted, IsGiven) = (true, false);
        }
    }

    /// <summary>Of one that is given on request: true where this block was asked for, and so is given.</summary>
    public bool GivesNow()
    {
        (IsGiven, _isWanted) = (_isWanted, false);
        return IsGiven;
    }

    /// <summary>While a plan is built that reads later: there is room to keep. One thread; the plan's turn comes after it.</summary>
    public void MakeRoom() => _kept ??= [.. _now.Select(_ => new float[Length])];

    /// <summary>From this frame on what it gives is kept; there is room.</summary>
    public void Need(long frame)
    {
        if (!_isNeeded && frame >= _until)
        {
            // Of a node that is new, what was before is silence, and is there.
            _since = _hasGiven ? frame : long.MinValue / 2;
        }

        _isNeeded = true;
    }

    /// <summary>Nobody reads later any more, once what is fading now has faded.</summary>
    public void Release(long frame)
    {
        if (_isNeeded)
        {
            (_isNeeded, _until) = (false, frame + (2 * Fade.Frames));
        }
    }

    /// <summary>True where what it gave so many frames before that one has been kept.</summary>
    public bool HasKept(long frame, int delay) => frame - _since >= delay;

    /// <summary>Once it has given the block of that frame: keeps it, where anybody reads later.</summary>
    public void Keep(long frame)
    {
        _hasGiven = true;
        if (!_isNeeded && frame >= _until)
        {
            return;
        }

        var (at, kept) = ((int)(frame & (Length - 1)), _kept!);
        for (var c = 0; c < _now.Length; c++)
        {
            _now[c].CopyTo(kept[c].AsSpan(at));
        }
    }

    /// <summary>Notes what the node's meter has weighed.</summary>
    public void Measured(KEnergy before, KEnergy after) => (Energy, IsMeasured) = ((before, after), true);

    /// <summary>Reads a block that was kept so many frames before that one.</summary>
    public void Read(int channel, long frame, Span<float> block)
    {
        var at = (int)(frame & (Length - 1));
        var first = Math.Min(block.Length, Length - at);
        var kept = _kept![channel];
        kept.AsSpan(at, first).CopyTo(block);
        kept.AsSpan(0, block.Length - first).CopyTo(block[first..]);
    }
}

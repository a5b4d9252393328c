using Kinetra.Core.Engine;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Pads;

/// <summary>
/// One way of pads into the engine: all that is played through one source. In stereo; a pad of one channel is in both alike, 3 dB
/// down: as loud as by itself.
/// </summary>
public sealed class PadInlet : IInlet, IDimming
{
    private readonly PadPlayer _player;
    private readonly float[] _left = new float[AudioFormat.BlockFrames];
    private readonly float[] _right = new float[AudioFormat.BlockFrames];
    private bool _isEmpty = true;

    internal PadInlet(PadPlayer player, SourceId source) => (_player, Source) = (player, source);

    /// <summary>The source.</summary>
    public SourceId Source { get; }

    /// <inheritdoc/>
    public int Channels => 2;

    /// <inheritdoc/>
    public bool BeginsWithSource => false;

    internal PadDim Dims { get; } = new();

    /// <inheritdoc/>
    public void Read(long frame, Span<float> left, Span<float> right)
    {
        _player.Advance(frame);
        _left.AsSpan(0, left.Length).CopyTo(left);
        _right.AsSpan(0, left.Length).CopyTo(right);
    }

    /// <inheritdoc/>
    public ReadOnlySpan<float> DimAt(long frame)
    {
        _player.Advance(frame);
        return Dims.Block;
    }

    /// <inheritdoc/>
    public void Restart()
    {
        // Pads begin where they are pressed.
    }

    internal void Begin()
    {
        if (!_isEmpty)
        {
            _left.AsSpan().Clear();
            _right.AsSpan().Clear();
            _isEmpty = true;
        }

        Dims.Begin();
    }

    internal (Memory<float> Left, Memory<float> Right) Block
    {
        get
        {
            _isEmpty = false;
            return (_left, _right);
        }
    }
}

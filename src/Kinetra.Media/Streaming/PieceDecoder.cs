namespace Kinetra.Media.Streaming;

/// <summary>A decoder whose library makes pieces of its own length: they are given as they are asked for.</summary>
abstract class PieceDecoder : StreamDecoder
{
    private int _at;

    /// <summary>The piece that was made last, interleaved.</summary>
    private protected float[] Made { get; set; } = [];

    /// <summary>How many of its samples count.</summary>
    private protected int Count { get; private set; }

    public override int Read(Span<float> interleaved)
    {
        if (_at == Count && !More())
        {
            return 0;
        }

        var part = Math.Min(interleaved.Length / Channels * Channels, Count - _at);
        Made.AsSpan(_at, part).CopyTo(interleaved);
        _at += part;
        return part / Channels;
    }

    /// <summary>Makes the next piece, of one frame at least. False: it is over.</summary>
    private protected abstract bool More();

    /// <summary>These samples of <see cref="Made"/> are the next piece.</summary>
    private protected void Give(int from, int to) => (_at, Count) = (from, to);
}

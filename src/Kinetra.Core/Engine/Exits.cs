using Kinetra.Core.Dsp;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Engine;

/// <summary>
/// What all sound passes on its way out, at mixes and at cables alike: the rise of a show that is being opened, then the hush. Engine thread,
/// but for the wish for a hush, which anyone may set and nothing holds up.
/// </summary>
sealed class Exits
{
    private readonly float[] _hush = new float[AudioFormat.BlockFrames];
    private readonly float[] _rise = new float[AudioFormat.BlockFrames];
    private volatile bool _hushWanted;
    private bool _isHushed;
    private bool _hushMoves;

    /// <summary>True where silence is wanted.</summary>
    public bool HushWanted
    {
        get => _hushWanted;
        set => _hushWanted = value;
    }

    /// <summary>True while a show is being opened.</summary>
    public bool IsOpening { get; private set; }

    /// <summary>Once a block: how far the hush and the opening have come. A hush is there, or gone, within the block.</summary>
    /// <param name="opened">Frames since a show began to be opened; null: none is.</param>
    /// <param name="length">How many frames an opening takes.</param>
    public void Begin(int? opened, int length)
    {
        var wanted = _hushWanted;
        _hushMoves = wanted != _isHushed;
        for (var n = 0; _hushMoves && n < _hush.Length; n++)
        {
            var gone = Fade.At((n + 1f) / _hush.Length);
            _hush[n] = wanted ? 1 - gone : gone;
        }

        _isHushed = wanted;
        IsOpening = opened is not null;
        for (var n = 0; IsOpening && n < _rise.Length; n++)
        {
            _rise[n] = Fade.At(Math.Min(1, (opened!.Value + n + 1f) / length));
        }
    }

    /// <summary>What leaves, in place: out of what the same listener got before, or out of silence.</summary>
    /// <param name="block">One channel of what leaves.</param>
    /// <param name="before">That of what it follows, while a show is opened; empty: silence.</param>
    /// <param name="isLeaving">True: it is of the show before, which does not rise.</param>
    public void Pass(Span<float> block, ReadOnlySpan<float> before, bool isLeaving)
    {
        Rise(block, before, isLeaving);
        Hush(block);
    }

    /// <summary>The same without the hush.</summary>
    public void Rise(Span<float> block, ReadOnlySpan<float> before, bool isLeaving)
    {
        if (IsOpening && !isLeaving)
        {
            for (var n = 0; n < block.Length; n++)
            {
                var old = before.IsEmpty ? 0 : before[n];
                block[n] = old + ((block[n] - old) * _rise[n]);
            }
        }
    }

    /// <summary>What still leaves of the show before: it falls silent where nothing follows.</summary>
    public void Fall(Span<float> block)
    {
        for (var n = 0; n < block.Length; n++)
        {
            block[n] *= 1 - _rise[n];
        }
    }

    private void Hush(Span<float> block)
    {
        if (_hushMoves)
        {
            Mixdown.Scale(block, _hush);
        }
        else if (_isHushed)
        {
            // Exact zeros, never −0.
            block.Clear();
        }
    }
}

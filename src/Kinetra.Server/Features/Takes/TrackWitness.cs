using Kinetra.Core.Engine;
using Kinetra.Core.Rigs;
using Kinetra.Core.Takes;

namespace Kinetra.Server.Features.Takes;

/// <summary>
/// Stands beside a track that is recorded: hears the engine's ring by itself, and takes prints of it second by second, from the track's own zero. What it heard is held against what is in the
/// file when the take has ended. Not safe for several threads.
/// </summary>
sealed class TrackWitness : IDisposable
{
    private const int ChunkFrames = 8_192;

    private readonly TapCursor _cursor;
    private readonly Printing _printing;
    private readonly int _channels;
    private readonly float[] _left = new float[ChunkFrames];
    private readonly float[] _right = new float[ChunkFrames];

    /// <summary>A witness.</summary>
    /// <param name="tap">What the track takes, held as long as this is there.</param>
    /// <param name="position">The engine frame that is the track's zero.</param>
    /// <param name="channels">How many channels the track has.</param>
    /// <param name="form">What its file is written as.</param>
    public TrackWitness(HeldTap tap, long position, int channels, TakeForm form)
    {
        _cursor = new TapCursor(tap, position);
        _channels = channels;
        _printing = new Printing(channels, form);
    }

    /// <summary>What it heard so far, in whole seconds.</summary>
    public IReadOnlyList<SecondPrint> Heard => _printing.Seconds;

    /// <summary>Hears all that there is.</summary>
    public void CatchUp()
    {
        var ring = _cursor.Ring;
        if (ring.Beginning > _cursor.Position)
        {
            _printing.AppendSilence(ring.Beginning - _cursor.Position);
            _cursor.Position = ring.Beginning;
        }

        while (_cursor.Position < ring.End)
        {
            var count = _cursor.Read(_left, _right, out var lost);
            _printing.AppendUnknown(lost);
            if (count == 0)
            {
                return;
            }

            for (var n = 0; n < count && _channels < ring.Channels; n++)
            {
                _left[n] = (_left[n] + _right[n]) * 0.5f;
            }

            _printing.Append(_left.AsSpan(0, count), _right.AsSpan(0, count));
        }
    }

    public void Dispose() => _cursor.Dispose();
}

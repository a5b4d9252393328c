using Kinetra.Core.Dsp;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Pads;

/// <summary>
/// How far something is dimmed, frame by frame: down within 60 ms of the frame at which a pad begins that dims it, up again within 300 ms of its end.
/// A change that comes during another begins where that has come to.
/// </summary>
sealed class PadDim
{
    /// <summary>How long it takes down and up again, frames.</summary>
    public const int Down = 60 * AudioFormat.SampleRate / 1000, Up = 300 * AudioFormat.SampleRate / 1000;

    private readonly float[] _block = new float[AudioFormat.BlockFrames];
    private float _from = 1;
    private float _now = 1;
    private float _to = 1;
    private int _position;
    private int _length;
    private bool _isWritten;

    /// <summary>The factors of the block; empty: all are 1.</summary>
    public ReadOnlySpan<float> Block => _isWritten ? _block : default(ReadOnlySpan<float>);

    /// <summary>The factor that it has come to.</summary>
    public float Now => _now;

    /// <summary>True where it stands at its aim.</summary>
    public bool IsSettled => _position == _length;

    public void Begin() => _isWritten = false;

    /// <summary>It goes to another factor from here on.</summary>
    public void Aim(float to)
    {
        if (to != _to)
        {
            (_from, _to, _position, _length) = (_now, to, 0, to < _now ? Down : Up);
        }
    }

    /// <summary>It is there at once: of what begins now.</summary>
    public void Be(float at) => (_from, _now, _to, _position, _length) = (at, at, at, 0, 0);

    /// <summary>Writes the factors of some frames of the block.</summary>
    public void Fill(int at, int count)
    {
        if (!_isWritten)
        {
            if (IsSettled && _now == 1)
            {
                return;
            }

            _block.AsSpan(0, at).Fill(1);
            _isWritten = true;
        }

        Fill(_block.AsSpan(at, count));
    }

    /// <summary>Writes the factors of the next frames.</summary>
    public void Fill(Span<float> factors)
    {
        var moving = Math.Min(factors.Length, _length - _position);
        for (var i = 0; i < moving; i++)
        {
            _position++;
            factors[i] = _from + ((_to - _from) * Fade.At((float)_position / _length));
        }

        _now = IsSettled ? _to : factors[moving - 1];
        factors[moving..].Fill(_to);
    }
}

using System.Runtime.CompilerServices;

namespace Kinetra.Core.Dsp;

/// <summary>
/// A value that never jumps, such as a gain. A change takes <see cref="Frames"/> frames along <see cref="Fade"/>: a 100 Hz
/// sine that is cut leaves less than −100 dBFS above 5 kHz.
/// A target that is set during a change waits for its end; only the last one set counts.
/// </summary>
public class GainRamp
{
    /// <summary>Length of one change, frames.</summary>
    public const int Frames = Fade.Frames;

    private float _from;
    private float _to;
    private int _position = Frames;

    /// <summary>Starts settled at a value.</summary>
    public GainRamp(float initial)
    {
        _from = _to = Target = initial;
    }

    /// <summary>The value it goes to. Finite. May be set between blocks at any time.</summary>
    public float Target { get; set; }

    /// <summary>True where the factor is constant: the target is reached.</summary>
    public bool IsSettled => _position == Frames && _to == Target;

    /// <summary>The factor now; where it changes, that of the last frame that was made.</summary>
    public float Current => _position == Frames ? _to : At(_position);

    /// <summary>True where it is settled at exactly 0.</summary>
    public bool IsSilent => IsSettled && _to == 0;

    /// <summary>
    /// Writes the factors of the next frames. Any length; changes begin at a call's first frame only.
    /// </summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public void Fill(Span<float> factors)
    {
        if (_position == Frames && _to != Target)
        {
            _from = _to;
            _to = Target;
            _position = 0;
        }

        var moving = Math.Min(factors.Length, Frames - _position);
        var curve = Fade.Curve.Slice(_position, moving);
        var range = _to - _from;
        for (var i = 0; i < curve.Length; i++)
        {
            factors[i] = _from + (range * curve[i]);
        }

        _position += moving;
        if (_position == Frames && moving > 0)
        {
            // Exactly the target, not the target less rounding.
            factors[moving - 1] = _to;
        }

        factors[moving..].Fill(_to);
    }

    /// <summary>Is at its target at once. For what nobody hears.</summary>
    public void Arrive() => (_from, _to, _position) = (Target, Target, Frames);

    private float At(int position) => position == 0 ? _from : _from + ((_to - _from) * Fade.Curve[position - 1]);
}

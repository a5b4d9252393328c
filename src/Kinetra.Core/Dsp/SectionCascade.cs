using System.Runtime.CompilerServices;
using System.Runtime.Intrinsics;

namespace Kinetra.Core.Dsp;

/// <summary>
/// Second-order sections one after the other, on left and right alike, with 64-bit state (transposed direct form II). New
/// coefficients are faded in: for the length of a <see cref="Fade"/> the old and the new filter run side by side.
/// </summary>
sealed class SectionCascade
{
    // Below this the state is inaudible and on its way to denormal numbers, which are slow.
    private const double Tiny = 1e-24;

    private readonly int _sections;
    private Bank _now;
    private Bank _next;
    private readonly BiquadCoefficients[] _wanted;
    private readonly Vector128<double>[] _other = new Vector128<double>[Engine.AudioFormat.BlockFrames];
    private bool _isWanted;
    private int _faded = Fade.Frames;

    /// <summary>Starts with these coefficients; their number stays.</summary>
    public SectionCascade(ReadOnlySpan<BiquadCoefficients> sections)
    {
        _sections = sections.Length;
        _now = new Bank(_sections);
        _next = new Bank(_sections);
        _wanted = new BiquadCoefficients[_sections];
        sections.CopyTo(_now.Coefficients);
    }

    /// <summary>Changes to these coefficients, as many as there were. A change that comes during another waits; only the last counts.</summary>
    public void Set(ReadOnlySpan<BiquadCoefficients> sections)
    {
        sections.CopyTo(_wanted);
        _isWanted = true;
    }

    /// <summary>Filters frames in place, at most a block of them.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public void Process(Span<Vector128<double>> frames)
    {
        if (_isWanted && _faded == Fade.Frames)
        {
            _isWanted = false;
            _faded = 0;
            _wanted.CopyTo(_next.Coefficients.AsSpan());
            _now.State.CopyTo(_next.State.AsSpan());
        }

        var fading = Math.Min(frames.Length, Fade.Frames - _faded);
        if (fading == 0)
        {
            _now.Process(frames);
            return;
        }

        var other = _other.AsSpan(0, frames.Length);
        frames.CopyTo(other);
        _now.Process(frames[..fading]);
        _next.Process(other);
        var curve = Fade.Curve.Slice(_faded, fading);
        for (var n = 0; n < fading; n++)
        {
            frames[n] += (other[n] - frames[n]) * curve[n];
        }

        other[fading..].CopyTo(frames[fading..]);
        _faded += fading;
        if (_faded == Fade.Frames)
        {
            (_now, _next) = (_next, _now);
        }
    }

    /// <summary>Forgets all it has heard, and ends a change.</summary>
    public void Reset()
    {
        if (_faded < Fade.Frames)
        {
            (_now, _next) = (_next, _now);
            _faded = Fade.Frames;
        }

        if (_isWanted)
        {
            _wanted.CopyTo(_now.Coefficients.AsSpan());
            _isWanted = false;
        }

        Array.Clear(_now.State);
    }

    private sealed class Bank(int sections)
    {
        public readonly BiquadCoefficients[] Coefficients = new BiquadCoefficients[sections];
        public readonly (Vector128<double> S1, Vector128<double> S2)[] State = new (Vector128<double>, Vector128<double>)[sections];

        [MethodImpl(MethodImplOptions.AggressiveOptimization)]
        public void Process(Span<Vector128<double>> frames)
        {
            for (var i = 0; i < Coefficients.Length; i++)
            {
                var c = Coefficients[i];
                var (s1, s2) = State[i];
                Vector128<double> b0 = Vector128.Create(c.B0), b1 = Vector128.Create(c.B1), b2 = Vector128.Create(c.B2);
                Vector128<double> a1 = Vector128.Create(c.A1), a2 = Vector128.Create(c.A2);
                for (var n = 0; n < frames.Length; n++)
                {
                    var x = frames[n];
                    var y = (b0 * x) + s1;
                    s1 = (b1 * x) - (a1 * y) + s2;
                    s2 = (b2 * x) - (a2 * y);
                    frames[n] = y;
                }

                var tiny = Vector128.Create(Tiny);
                var dead = Vector128.LessThan(Vector128.Abs(s1), tiny) & Vector128.LessThan(Vector128.Abs(s2), tiny);
                State[i] = (Vector128.AndNot(s1, dead), Vector128.AndNot(s2, dead));
            }
        }
    }
}

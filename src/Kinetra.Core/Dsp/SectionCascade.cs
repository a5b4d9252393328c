using System.Runtime.CompilerServices;
using System.Runtime.Intrinsics;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Dsp;

/// <summary>
/// Second-order sections one after the other, on left and right alike, with 64-bit state (transposed direct form II). New
/// coefficients are faded in: for the length of a <see cref="Fade"/> the old and the new filter run side by side.
/// </summary>
sealed class SectionCascade
{
    private readonly int _sections;
    private SectionBank _now;
    private SectionBank _next;
    private readonly BiquadCoefficients[] _wanted;
    private readonly Vector128<double>[] _other = new Vector128<double>[AudioFormat.BlockFrames];
    private bool _isWanted;
    private int _faded = Fade.Frames;

    /// <summary>Starts with these coefficients; their number stays.</summary>
    public SectionCascade(ReadOnlySpan<BiquadCoefficients> sections)
    {
        _sections = sections.Length;
        _now = new SectionBank(_sections);
        _next = new SectionBank(_sections);
        _wanted = new BiquadCoefficients[_sections];
        _now.Set(sections);
    }

    /// <summary>True where it changes nothing, and will not before it is told to.</summary>
    public bool IsThrough => _now.IsThrough && !_isWanted && _faded == Fade.Frames;

    /// <summary>What filters now; null while one filter fades into another.</summary>
    public SectionBank? Steady => !_isWanted && _faded == Fade.Frames ? _now : null;

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
            _next.Set(_wanted);
            _next.TakeState(_now);
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
            _now.Set(_wanted);
            _isWanted = false;
        }

        _now.Reset();
    }
}

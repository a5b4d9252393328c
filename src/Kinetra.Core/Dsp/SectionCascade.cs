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
    private readonly Vector128<double>[] _old = new Vector128<double>[AudioFormat.BlockFrames];

    // Of each change its number: the coefficients themselves lie in the banks.
    private readonly Crossing<int> _change = new(0);

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
    public bool IsThrough => _now.IsThrough && _change.IsSettled;

    /// <summary>What filters now; null while one filter fades into another.</summary>
    public SectionBank? Steady => _change.IsSettled ? _now : null;

    /// <summary>Changes to these coefficients, as many as there were. A change that comes during another waits; only the last counts.</summary>
    public void Set(ReadOnlySpan<BiquadCoefficients> sections)
    {
        sections.CopyTo(_wanted);
        _change.Set(_change.Wanted + 1);
    }

    /// <summary>Filters frames in place, at most a block of them.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public void Process(Span<Vector128<double>> frames)
    {
        if (_change.IsSettled)
        {
            _now.Process(frames);
            return;
        }

        if (!_change.IsCrossing)
        {
            _change.Begin();
            _next.Set(_wanted);
            _next.TakeState(_now);
        }

        var old = _old.AsSpan(0, frames.Length);
        frames.CopyTo(old);
        _now.Process(old);
        _next.Process(frames);
        _change.Blend(old, frames);
        _change.End(frames.Length);
        if (!_change.IsCrossing)
        {
            (_now, _next) = (_next, _now);
        }
    }

    /// <summary>Forgets all it has heard, and ends a change.</summary>
    public void Reset()
    {
        if (_change.IsCrossing)
        {
            (_now, _next) = (_next, _now);
        }

        if (_change.Now != _change.Wanted)
        {
            _now.Set(_wanted);
        }

        _change.Arrive();
        _now.Reset();
    }
}

using System.Runtime.Intrinsics;
using Kinetra.Core.Dsp;
using Kinetra.Core.Engine;

namespace Kinetra.Core.Processors;

/// <summary>Turns the values of a type's parameters into its filter, always as many sections.</summary>
public delegate void SectionDesign(ReadOnlySpan<double> values, Span<BiquadCoefficients> sections);

/// <summary>A processor that is nothing but second-order sections.</summary>
sealed class Filtering : IProcessor
{
    private readonly SectionDesign _design;
    private readonly double[] _values;
    private readonly BiquadCoefficients[] _designed;
    private readonly SectionCascade _sections;
    private readonly Vector128<double>[] _frames = new Vector128<double>[AudioFormat.BlockFrames];
    private bool _isChanged;

    public Filtering(ProcessorSettings settings, SectionDesign design, int sections)
    {
        _design = design;
        _values = [.. settings.Values];
        _designed = new BiquadCoefficients[sections];
        design(_values, _designed);
        _sections = new SectionCascade(_designed);
    }

    /// <inheritdoc/>
    public int Latency => 0;

    /// <inheritdoc/>
    public double Reduction => 0;

    /// <inheritdoc/>
    public void Set(int parameter, double value)
    {
        _isChanged |= _values[parameter] != value;
        _values[parameter] = value;
    }

    /// <inheritdoc/>
    public void Process(Frames input, RoomForFrames output, Frames key)
    {
        TakeChange();
        var frames = _frames.AsSpan(0, input.Length);
        Pairs.Load(input.Left, input.Right, frames);
        _sections.Process(frames);
        Pairs.Store(frames, output.Left, output.Right);
    }

    /// <inheritdoc/>
    public void Reset()
    {
        TakeChange();
        _sections.Reset();
    }

    private void TakeChange()
    {
        if (_isChanged)
        {
            _isChanged = false;
            _design(_values, _designed);
            _sections.Set(_designed);
        }
    }
}

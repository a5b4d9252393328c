using System.Collections.Immutable;
using System.Runtime.CompilerServices;
using System.Runtime.Intrinsics;
using Kinetra.Core.Dsp;
using Kinetra.Core.Signal;

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

    /// <summary>The response of a type of filters with these values; each section alone too, where those are its bands.</summary>
    /// <param name="type">It has a design.</param>
    /// <param name="values">One for each parameter.</param>
    /// <param name="isInBands">Whether each section is a band of its own.</param>
    public static ResponseCurve Response(ProcessorType type, ImmutableArray<double> values, bool isInBands = false)
    {
        var sections = new BiquadCoefficients[type.Sections];
        type.Design!(values.AsSpan(), sections);
        return ResponseCurve.Of(sections, isInBands ? sections.Select(s => new[] { s }) : null);
    }

    /// <inheritdoc/>
    public int Latency => 0;

    /// <inheritdoc/>
    public double Reduction => 0;

    /// <inheritdoc/>
    public bool IsSteady => !_isChanged && _sections.Steady is not null;

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

    /// <summary>Filters side by side.</summary>
    /// <param name="sections">How many sections each has.</param>
    public sealed class SideBySide(int sections) : ISideBySide
    {
        private readonly SectionLanes _sections = new(sections);

        /// <inheritdoc/>
        [MethodImpl(MethodImplOptions.AggressiveOptimization)]
        public void Process(LaneGroup group)
        {
            _sections.Begin();
            for (var i = 0; i < group.Count; i++)
            {
                _sections.Take(i, Bank(group, i));
            }

            if (_sections.IsThrough)
            {
                return;
            }

            Span<Vector512<double>> left = stackalloc Vector512<double>[Lanes.Part], right = stackalloc Vector512<double>[Lanes.Part];
            for (var at = 0; at < AudioFormat.BlockFrames; at += Lanes.Part)
            {
                Lanes.Load(group.Left, at, left);
                Lanes.Load(group.Right, at, right);
                _sections.Process(left, right);
                Lanes.Store(left, group.Left, at);
                Lanes.Store(right, group.Right, at);
            }

            for (var i = 0; i < group.Count; i++)
            {
                _sections.GiveBack(i, Bank(group, i));
            }
        }

        private static SectionBank Bank(LaneGroup group, int lane) => ((Filtering)group[lane])._sections.Steady!;
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

using System.Numerics.Tensors;
using System.Runtime.CompilerServices;
using System.Runtime.Intrinsics;
using Kinetra.Core.Dsp;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Processors;

/// <summary>
/// What a dynamics processor listens to: its key, or else its own input, filtered for its ears alone, and of left and right
/// the greater (linked, so that the picture stands still).
/// </summary>
sealed class LevelDetector
{
    /// <summary>Filters at these ends of the range are off, Hz.</summary>
    public const double LowestCut = 20, HighestCut = 20_000;

    private readonly SectionCascade _filter;
    private readonly BiquadCoefficients[] _design = new BiquadCoefficients[2];
    private readonly Vector128<double>[] _frames = new Vector128<double>[AudioFormat.BlockFrames];
    private double _lowCut;
    private double _highCut;

    /// <summary>What filters now; null while one filter fades into another.</summary>
    public SectionBank? Steady => _filter.Steady;

    /// <summary>Starts with these filters, Hz.</summary>
    public LevelDetector(double lowCut = LowestCut, double highCut = HighestCut)
    {
        (_lowCut, _highCut) = (lowCut, highCut);
        Design();
        _filter = new SectionCascade(_design);
    }

    /// <summary>Changes the filters.</summary>
    public void Set(double lowCut, double highCut = HighestCut)
    {
        if (lowCut != _lowCut || highCut != _highCut)
        {
            (_lowCut, _highCut) = (lowCut, highCut);
            Design();
            _filter.Set(_design);
        }
    }

    /// <summary>The magnitude of each frame, 0 or more.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public void Magnitudes(Frames sound, Span<float> magnitudes)
    {
        if (_filter.IsThrough)
        {
            TensorPrimitives.Abs(sound.Left, magnitudes);
            if (sound.Right.Length > 0)
            {
                TensorPrimitives.MaxMagnitude(magnitudes, sound.Right, magnitudes);
                TensorPrimitives.Abs(magnitudes, magnitudes);
            }

            return;
        }

        var frames = _frames.AsSpan(0, sound.Length);
        Pairs.Load(sound.Left, sound.Right, frames);
        _filter.Process(frames);
        for (var n = 0; n < frames.Length; n++)
        {
            var magnitude = Vector128.Abs(frames[n]);
            magnitudes[n] = (float)Math.Max(magnitude.GetElement(0), magnitude.GetElement(1));
        }
    }

    /// <summary>Detectors side by side.</summary>
    public sealed class SideBySide
    {
        private readonly SectionLanes _filters = new(2);

        /// <summary>Begins a block; the detectors of it are taken next.</summary>
        public void Begin() => _filters.Begin();

        /// <summary>Takes a detector into a lane.</summary>
        public void Take(int lane, LevelDetector detector) => _filters.Take(lane, detector.Steady!);

        /// <summary>Gives a lane's state back.</summary>
        public void GiveBack(int lane, LevelDetector detector) => _filters.GiveBack(lane, detector.Steady!);

        /// <summary>The magnitudes of a part of a block, eight for each frame.</summary>
        [MethodImpl(MethodImplOptions.AggressiveOptimization)]
        public void Magnitudes(LaneGroup group, int at, Span<float> magnitudes)
        {
            Span<Vector512<double>> left = stackalloc Vector512<double>[Lanes.Part], right = stackalloc Vector512<double>[Lanes.Part];
            Lanes.Load(group.Left, at, left);
            Lanes.Load(group.Right, at, right);
            _filters.Process(left, right);
            for (var n = 0; n < Lanes.Part; n++)
            {
                Lanes.Put(Vector512.MaxNative(Vector512.Abs(left[n]), Vector512.Abs(right[n])), magnitudes, n);
            }
        }
    }

    /// <summary>Forgets all it has heard.</summary>
    public void Reset() => _filter.Reset();

    private void Design()
    {
        _design[0] = _lowCut > LowestCut ? FilterDesign.HighPass(_lowCut, Math.Sqrt(0.5)) : FilterDesign.Through;
        _design[1] = _highCut < HighestCut ? FilterDesign.LowPass(_highCut, Math.Sqrt(0.5)) : FilterDesign.Through;
    }
}

using System.Numerics.Tensors;
using System.Runtime.CompilerServices;
using System.Runtime.Intrinsics;
using Kinetra.Core.Dsp;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Processors;

public sealed partial class Compressor
{
    /// <summary>Compressors side by side: the lanes of <see cref="Process"/>, whose parameters stand still.</summary>
    private sealed class Beside : ISideBySide
    {
        private readonly LevelDetector.SideBySide _detectors = new();
        private readonly float[][] _gains = new float[Lanes.Count][];
        private readonly float[] _nobody = new float[AudioFormat.BlockFrames];

        // Eight values for each of two frames.
        private readonly float[] _threshold = new float[2 * Lanes.Count];
        private readonly float[] _slope = new float[2 * Lanes.Count];
        private readonly float[] _knee = new float[2 * Lanes.Count];
        private readonly float[] _makeUp = new float[2 * Lanes.Count];
        private readonly float[] _blend = new float[2 * Lanes.Count];

        /// <inheritdoc/>
        [MethodImpl(MethodImplOptions.AggressiveOptimization)]
        public void Process(LaneGroup group)
        {
            var branching = new BranchingLanes();
            _detectors.Begin();
            for (var i = 0; i < Lanes.Count; i++)
            {
                _gains[i] = _nobody;
                if (i < group.Count)
                {
                    var one = (Compressor)group[i];
                    _gains[i] = one._gains;
                    _detectors.Take(i, one._detector);
                    branching.Take(i, one._reduction, one._attack, one._release);
                    _threshold[i] = _threshold[i + Lanes.Count] = one._threshold.Current;
                    _slope[i] = _slope[i + Lanes.Count] = one._slope.Current;
                    _knee[i] = _knee[i + Lanes.Count] = one._knee.Current;
                    _makeUp[i] = _makeUp[i + Lanes.Count] = one._makeUp.Current;
                    _blend[i] = _blend[i + Lanes.Count] = one._blend.Current;
                }
            }

            Span<float> values = stackalloc float[Lanes.Part * Lanes.Count];
            for (var at = 0; at < AudioFormat.BlockFrames; at += Lanes.Part)
            {
                _detectors.Magnitudes(group, at, values);
                Decibels.OfMagnitudes(values);
                for (var n = 0; n < values.Length; n += 2 * Lanes.Count)
                {
                    StaticCurve(values.Slice(n, 2 * Lanes.Count), _threshold, _slope, _knee);
                }

                branching.Process(values);
                Negate(values);
                Decibels.ToFactors(values);
                Blend(values);
                Lanes.Store(values, _gains, at);
            }

            for (var i = 0; i < group.Count; i++)
            {
                var one = (Compressor)group[i];
                _detectors.GiveBack(i, one._detector);
                one.Keep(branching.LastOf(i));
                one.Reduction = branching.MostOf(i);
                TensorPrimitives.Multiply(group.Left[i], one._gains, group.Left[i]);
                if (one._channels == 2)
                {
                    TensorPrimitives.Multiply(group.Right[i], one._gains, group.Right[i]);
                }
            }
        }

        private void Negate(Span<float> reductions)
        {
            var makeUp = Vector512.Create(_makeUp);
            for (var n = 0; n < reductions.Length; n += 2 * Lanes.Count)
            {
                (-Vector512.Create<float>(reductions[n..]) + makeUp).CopyTo(reductions[n..]);
            }
        }

        private void Blend(Span<float> gains)
        {
            var blend = Vector512.Create(_blend);
            for (var n = 0; n < gains.Length; n += 2 * Lanes.Count)
            {
                (((Vector512.Create<float>(gains[n..]) - Vector512<float>.One) * blend) + Vector512<float>.One).CopyTo(gains[n..]);
            }
        }
    }
}

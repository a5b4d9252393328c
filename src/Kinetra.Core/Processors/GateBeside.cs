using System.Runtime.CompilerServices;
using System.Runtime.Intrinsics;
using Kinetra.Core.Dsp;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Processors;

public sealed partial class Gate
{
    /// <summary>Gates side by side: the lanes of <see cref="Move"/> and of what comes before it.</summary>
    private sealed class Beside : ISideBySide
    {
        private readonly LevelDetector.SideBySide _detectors = new();
        private readonly float[][] _gains = new float[Lanes.Count][];
        private readonly float[] _nobody = new float[AudioFormat.BlockFrames];

        /// <inheritdoc/>
        [MethodImpl(MethodImplOptions.AggressiveOptimization)]
        public void Process(LaneGroup group)
        {
            var lanes = new Parameters();
            Vector512<double> envelope = default, hold = default, reduction = default, most = default;
            Vector512<double> isOpen = default, isAbove = default;
            _detectors.Begin();
            for (var i = 0; i < Lanes.Count; i++)
            {
                _gains[i] = _nobody;
                if (i < group.Count)
                {
                    var gate = (Gate)group[i];
                    _gains[i] = gate._gains;
                    _detectors.Take(i, gate._detector);
                    lanes.Take(i, gate);
                    envelope = envelope.WithElement(i, gate._envelope.Value);
                    hold = hold.WithElement(i, gate._hold);
                    reduction = reduction.WithElement(i, gate._reduction);
                    isOpen = isOpen.WithElement(i, gate._isOpen ? 1 : 0);
                }
            }

            isOpen = Vector512.Equals(isOpen, Vector512<double>.One);
            Span<float> values = stackalloc float[Lanes.Part * Lanes.Count];
            for (var at = 0; at < AudioFormat.BlockFrames; at += Lanes.Part)
            {
                _detectors.Magnitudes(group, at, values);
                Follow(values, ref envelope);
                Decibels.OfMagnitudes(values);
                Move(values, lanes, ref hold, ref reduction, ref isOpen, ref isAbove, ref most);
                Decibels.ToFactors(values);
                Lanes.Store(values, _gains, at);
            }

            for (var i = 0; i < group.Count; i++)
            {
                var gate = (Gate)group[i];
                _detectors.GiveBack(i, gate._detector);
                gate._envelope.Value = envelope.GetElement(i);
                gate._hold = Math.Max(hold.GetElement(i), -1);
                gate._reduction = reduction.GetElement(i);
                gate._isOpen = isOpen.AsInt64().GetElement(i) != 0;
                gate._isHolding = gate._isOpen && isAbove.AsInt64().GetElement(i) == 0;
                gate.Reduction = most.GetElement(i);
                var right = gate._channels == 2 ? group.Right[i] : [];
                gate.Apply(gate._gains, new Frames(group.Left[i], right), new RoomForFrames(group.Left[i], right));
            }
        }

        [MethodImpl(MethodImplOptions.AggressiveOptimization)]
        private static void Follow(Span<float> values, ref Vector512<double> envelope)
        {
            var (value, memory) = (envelope, Vector512.Create(PeakEnvelope.Memory));
            for (var n = 0; n < Lanes.Part; n++)
            {
                value = Vector512.MaxNative(Lanes.Get(values, n), value * memory);
                Lanes.Put(value, values, n);
            }

            envelope = value;
        }

        [MethodImpl(MethodImplOptions.AggressiveOptimization)]
        private static void Move(
            Span<float> values,
            in Parameters p,
            ref Vector512<double> holdBefore,
            ref Vector512<double> reductionBefore,
            ref Vector512<double> openBefore,
            ref Vector512<double> aboveBefore,
            ref Vector512<double> mostBefore)
        {
            var (hold, reduction, isOpen, isAbove, most) = (holdBefore, reductionBefore, openBefore, aboveBefore, mostBefore);
            var (threshold, shutsBelow, range, slope) = (p.Threshold, p.ShutsBelow, p.Range, p.Slope);
            var (opening, shutting, holds) = (p.Opening, p.Shutting, p.Holds);
            for (var n = 0; n < Lanes.Part; n++)
            {
                var level = Lanes.Get(values, n);
                isAbove = Vector512.GreaterThanOrEqual(level, Vector512.ConditionalSelect(isOpen, shutsBelow, threshold));
                hold = Vector512.ConditionalSelect(isAbove, holds, hold - Vector512<double>.One);
                isOpen = isAbove | (isOpen & Vector512.GreaterThanOrEqual(hold, Vector512<double>.Zero));
                var shut = Vector512.MinNative(Vector512.MaxNative((threshold - level) * slope, Vector512<double>.Zero), range);
                var wanted = Vector512.AndNot(shut, isOpen);
                reduction = Vector512.MinNative(Vector512.MaxNative(wanted, reduction - opening), reduction + shutting);
                most = Vector512.MaxNative(most, reduction);
                Lanes.Put(-reduction, values, n);
            }

            (holdBefore, reductionBefore, openBefore, aboveBefore, mostBefore) = (hold, reduction, isOpen, isAbove, most);
        }

        /// <summary>What <see cref="Move"/> needs of each gate for a block.</summary>
        private struct Parameters
        {
            public Vector512<double> Threshold;
            public Vector512<double> ShutsBelow;
            public Vector512<double> Range;
            public Vector512<double> Slope;
            public Vector512<double> Opening;
            public Vector512<double> Shutting;
            public Vector512<double> Holds;

            public void Take(int lane, Gate gate)
            {
                var pace = gate.Pace();
                Threshold = Threshold.WithElement(lane, gate.Value(At.Threshold));
                ShutsBelow = ShutsBelow.WithElement(lane, gate.Value(At.Threshold) - gate.Value(At.Hysteresis));
                Range = Range.WithElement(lane, gate.Value(At.Range));
                Slope = Slope.WithElement(lane, gate.Value(At.Ratio) - 1);
                Opening = Opening.WithElement(lane, pace.Opening);
                Shutting = Shutting.WithElement(lane, pace.Shutting);
                Holds = Holds.WithElement(lane, Ballistics.Frames(gate.Value(At.Hold)));
            }
        }
    }
}

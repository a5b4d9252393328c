using System.Numerics.Tensors;
using System.Runtime.CompilerServices;
using System.Runtime.Intrinsics;
using Kinetra.Core.Dsp;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Processors;

public sealed partial class DeEsser
{
    /// <summary>De-essers side by side: the lanes of <see cref="Process"/> and <see cref="Listen"/>.</summary>
    private sealed class Beside : ISideBySide
    {
        private readonly SectionLanes _sibilance = new(2);
        private readonly SectionLanes _rest = new(2);

        /// <inheritdoc/>
        [MethodImpl(MethodImplOptions.AggressiveOptimization)]
        public void Process(LaneGroup group)
        {
            Vector512<double> highPower = default, lowPower = default;
            Vector256<float> threshold = default, range = default;
            var branching = new BranchingLanes();
            _sibilance.Begin();
            _rest.Begin();
            for (var i = 0; i < group.Count; i++)
            {
                var one = (DeEsser)group[i];
                _sibilance.Take(i, one._sibilance.Steady!);
                _rest.Take(i, one._rest.Steady!);
                highPower = highPower.WithElement(i, one._highPower);
                lowPower = lowPower.WithElement(i, one._lowPower);
                threshold = threshold.WithElement(i, (float)one.Value(At.Threshold));
                range = range.WithElement(i, (float)one.Value(At.Range));
                branching.Take(i, one._reduction, Ballistics.Memory(one.Value(At.Attack)), Ballistics.Memory(one.Value(At.Release)));
            }

            var memory = Vector512.Create(((DeEsser)group[0])._powerMemory);
            Span<Vector512<double>> left = stackalloc Vector512<double>[Lanes.Part], right = stackalloc Vector512<double>[Lanes.Part];
            Span<Vector512<double>> highLeft = stackalloc Vector512<double>[Lanes.Part], highRight = stackalloc Vector512<double>[Lanes.Part];
            Span<float> values = stackalloc float[Lanes.Part * Lanes.Count];
            for (var at = 0; at < AudioFormat.BlockFrames; at += Lanes.Part)
            {
                Lanes.Load(group.Left, at, left);
                Lanes.Load(group.Right, at, right);
                left.CopyTo(highLeft);
                right.CopyTo(highRight);
                _sibilance.Process(highLeft, highRight);
                _rest.Process(left, right);
                Ratios(highLeft, highRight, left, right, memory, ref highPower, ref lowPower, values);
                Decibels.OfMagnitudes(values);
                Wanted(values, threshold, range);
                branching.Process(values);
                TensorPrimitives.Negate(values, values);
                Decibels.ToFactors(values);
                for (var n = 0; n < Lanes.Part; n++)
                {
                    var gain = Lanes.Get(values, n);
                    left[n] += highLeft[n] * gain;
                    right[n] += highRight[n] * gain;
                }

                Lanes.Store(left, group.Left, at);
                Lanes.Store(right, group.Right, at);
            }

            for (var i = 0; i < group.Count; i++)
            {
                var one = (DeEsser)group[i];
                _sibilance.GiveBack(i, one._sibilance.Steady!);
                _rest.GiveBack(i, one._rest.Steady!);
                one.Keep(highPower.GetElement(i), lowPower.GetElement(i), branching.LastOf(i));
                one.Reduction = branching.MostOf(i);
            }
        }

        // By how much the sibilance stands above the rest, as powers.
        [MethodImpl(MethodImplOptions.AggressiveOptimization)]
        private static void Ratios(
            ReadOnlySpan<Vector512<double>> highLeft,
            ReadOnlySpan<Vector512<double>> highRight,
            ReadOnlySpan<Vector512<double>> left,
            ReadOnlySpan<Vector512<double>> right,
            Vector512<double> memory,
            ref Vector512<double> highPower,
            ref Vector512<double> lowPower,
            Span<float> ratios)
        {
            var (high, low) = (highPower, lowPower);
            var (fresh, nothing) = (Vector512.Create(1 - memory.GetElement(0)), Vector512.Create(Nothing));
            for (var n = 0; n < Lanes.Part; n++)
            {
                high = Vector512.FusedMultiplyAdd(memory, high, fresh * ((highLeft[n] * highLeft[n]) + (highRight[n] * highRight[n])));
                low = Vector512.FusedMultiplyAdd(memory, low, fresh * ((left[n] * left[n]) + (right[n] * right[n])));
                Lanes.Put((high + nothing) / (low + nothing), ratios, n);
            }

            (highPower, lowPower) = (high, low);
        }

        [MethodImpl(MethodImplOptions.AggressiveOptimization)]
        private static void Wanted(Span<float> decibels, Vector256<float> threshold, Vector256<float> range)
        {
            for (var at = 0; at < decibels.Length; at += Lanes.Count)
            {
                var above = (Vector256.Create<float>(decibels[at..]) * 0.5f) - threshold;
                Vector256.MinNative(Vector256.MaxNative(above, Vector256<float>.Zero), range).CopyTo(decibels[at..]);
            }
        }
    }
}

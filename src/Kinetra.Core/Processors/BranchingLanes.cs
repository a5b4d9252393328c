using System.Runtime.CompilerServices;
using System.Runtime.Intrinsics;
using Kinetra.Core.Dsp;

namespace Kinetra.Core.Processors;

/// <summary>Eight smooth branching detectors side by side, each as <see cref="Recursions.Branching"/>, to the bit.</summary>
struct BranchingLanes
{
    private Vector512<double> _last;
    private Vector512<double> _most;
    private Vector512<double> _attack;
    private Vector512<double> _release;

    /// <summary>Takes one into a lane: what it had reached, and its memories.</summary>
    public void Take(int lane, double last, double attack, double release)
    {
        _last = _last.WithElement(lane, last);
        _attack = _attack.WithElement(lane, attack);
        _release = _release.WithElement(lane, release);
    }

    /// <summary>What a lane has reached.</summary>
    public readonly double LastOf(int lane) => _last.GetElement(lane);

    /// <summary>The largest that a lane has reached, 0 or more.</summary>
    public readonly double MostOf(int lane) => _most.GetElement(lane);

    /// <summary>Eight values for each frame: what is wanted becomes what is reached.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public void Process(Span<float> values)
    {
        var (y, most, attack, release) = (_last, _most, _attack, _release);
        var (newOfAttack, newOfRelease) = (Vector512<double>.One - attack, Vector512<double>.One - release);
        var takesLarger = Vector512.LessThanOrEqual(attack, release);
        for (var n = 0; n < values.Length / Lanes.Count; n++)
        {
            var x = Lanes.Get(values, n);
            var attacked = Vector512.FusedMultiplyAdd(attack, y, newOfAttack * x);
            var released = Vector512.FusedMultiplyAdd(release, y, newOfRelease * x);
            y = Vector512.ConditionalSelect(takesLarger, Vector512.MaxNative(attacked, released), Vector512.MinNative(attacked, released));
            most = Vector512.MaxNative(most, y);
            Lanes.Put(y, values, n);
        }

        (_last, _most) = (y, most);
    }
}

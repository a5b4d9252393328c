using System.Collections.Immutable;
using System.Runtime.CompilerServices;
using System.Runtime.Intrinsics;
using Kinetra.Core.Dsp;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Metering;

/// <summary>A meter and the block that it measures; of mono sound, right is not looked at.</summary>
readonly record struct MeterWork(LevelMeter Meter, float[] Left, float[] Right);

/// <summary>Meters whose K-weighting is computed side by side, eight at a time.</summary>
sealed class MeterWave
{
    private readonly MeterWork[] _meters;
    private readonly SectionLanes _sections = new(2);
    private readonly float[][] _left = new float[Lanes.Count][];
    private readonly float[][] _right = new float[Lanes.Count][];
    private readonly float[] _nobody = new float[AudioFormat.BlockFrames];
    private readonly KEnergy[] _before;
    private readonly KEnergy[] _after;

    public MeterWave(ImmutableArray<MeterWork> meters)
    {
        _meters = [.. meters];
        _before = new KEnergy[_meters.Length];
        _after = new KEnergy[_meters.Length];
    }

    /// <summary>K-weighted energy of each block's frames up to the hop's end.</summary>
    public ReadOnlySpan<KEnergy> Before => _before;

    /// <summary>That of the frames after it.</summary>
    public ReadOnlySpan<KEnergy> After => _after;

    /// <summary>Measures the block; each meter's hop is closed where it ends.</summary>
    public void Process(HopSplit hop)
    {
        for (var at = 0; at < _meters.Length; at += Lanes.Count)
        {
            var some = _meters.AsSpan(at, Math.Min(Lanes.Count, _meters.Length - at));
            Weigh(some, hop, _before.AsSpan(at), _after.AsSpan(at));
        }

        for (var i = 0; i < _meters.Length; i++)
        {
            var (meter, left, right) = _meters[i];
            meter.Add(left.AsSpan(0, hop.End), right.AsSpan(0, hop.End), _before[i]);
            if (hop.Closes)
            {
                meter.CloseHop();
            }

            meter.Add(left.AsSpan(hop.End), right.AsSpan(hop.End), _after[i]);
        }
    }

    private void Weigh(ReadOnlySpan<MeterWork> meters, HopSplit hop, Span<KEnergy> before, Span<KEnergy> after)
    {
        if (meters.Length < Lanes.Fewest)
        {
            for (var i = 0; i < meters.Length; i++)
            {
                before[i] = meters[i].Meter.Weigh(meters[i].Left.AsSpan(0, hop.End), meters[i].Right.AsSpan(0, hop.End));
                after[i] = meters[i].Meter.Weigh(meters[i].Left.AsSpan(hop.End), meters[i].Right.AsSpan(hop.End));
            }

            return;
        }

        Array.Fill(_left, _nobody);
        Array.Fill(_right, _nobody);
        _sections.Begin();
        for (var i = 0; i < meters.Length; i++)
        {
            _sections.Take(i, meters[i].Meter.Weighting);
            _left[i] = meters[i].Left;
            _right[i] = meters[i].Meter.Channels == 2 ? meters[i].Right : _nobody;
        }

        Energies(0, hop.End, before);
        Energies(hop.End, AudioFormat.BlockFrames, after);
        for (var i = 0; i < meters.Length; i++)
        {
            _sections.GiveBack(i, meters[i].Meter.Weighting);
        }
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private void Energies(int from, int to, Span<KEnergy> energies)
    {
        Span<Vector512<double>> left = stackalloc Vector512<double>[Lanes.Part], right = stackalloc Vector512<double>[Lanes.Part];
        Vector512<double> leftSum = default, rightSum = default;
        for (var at = from; at < to; at += Lanes.Part)
        {
            Lanes.Load(_left, at, left);
            Lanes.Load(_right, at, right);
            _sections.Process(left, right);
            for (var n = 0; n < Lanes.Part; n++)
            {
                leftSum += left[n] * left[n];
                rightSum += right[n] * right[n];
            }
        }

        for (var i = 0; i < Math.Min(Lanes.Count, energies.Length); i++)
        {
            energies[i] = new KEnergy(leftSum.GetElement(i), rightSum.GetElement(i));
        }
    }
}

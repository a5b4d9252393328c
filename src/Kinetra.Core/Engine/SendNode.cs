using Kinetra.Core.Dsp;
using Kinetra.Core.Metering;

namespace Kinetra.Core.Engine;

/// <summary>The running state of one source's send in one mix: its two gains and its meter.</summary>
public sealed class SendNode
{
    private readonly GainRamp _left;
    private readonly GainRamp _right;
    private readonly float[] _factors = new float[AudioFormat.BlockFrames];
    private readonly SendMeter _meter = new();

    internal SendNode(SourceNode source, float left, float right)
    {
        Source = source;
        _left = new GainRamp(left);
        _right = new GainRamp(right);
    }

    internal SourceNode Source { get; }

    internal bool IsSilent => _left.IsSilent && _right.IsSilent;

    internal double Momentary => _meter.Momentary;

    internal void SetGains(double left, double right)
    {
        _left.Target = (float)left;
        _right.Target = (float)right;
    }

    internal void AddTo(Span<float> left, Span<float> right, HopSplit hop)
    {
        // The gain at the block's middle stands for the block in the meter; the sound itself gets every frame's own.
        var gainLeft = Add(_left, left, Source.Left);
        var gainRight = Add(_right, right, Source.Right);
        _meter.Add(Energy(Source.BeforeHop, gainLeft, gainRight));
        if (hop.Closes)
        {
            _meter.CloseHop();
            _meter.Add(Energy(Source.AfterHop, gainLeft, gainRight));
        }
    }

    private double Energy(KEnergy energy, double left, double right) =>
        (energy.Left * left * left) + ((Source.Channels == 2 ? energy.Right : energy.Left) * right * right);

    private float Add(GainRamp gain, Span<float> sum, ReadOnlySpan<float> samples)
    {
        if (!gain.IsSettled)
        {
            gain.Fill(_factors);
            Mixdown.Add(sum, samples, _factors);
            return _factors[_factors.Length / 2];
        }

        if (gain.Current != 0)
        {
            Mixdown.Add(sum, samples, gain.Current);
        }

        return gain.Current;
    }
}

using Kinetra.Core.Dsp;
using Kinetra.Core.Metering;
using Kinetra.Core.Rigs;

namespace Kinetra.Core.Engine;

/// <summary>The running state of one source's send in one mix: its two gains and its meter.</summary>
public sealed class SendNode
{
    private readonly GainRamp _left;
    private readonly GainRamp _right;
    private readonly float[] _factors = new float[AudioFormat.BlockFrames];
    private readonly SendMeter _meter = new();
    private readonly float[] _tappedLeft = new float[AudioFormat.BlockFrames];
    private readonly float[] _tappedRight = new float[AudioFormat.BlockFrames];
    private KWeighting _leftWeighting;
    private KWeighting _rightWeighting;

    // Before or after the chain: from one to the other it fades.
    private readonly GainRamp _clean = new(0);

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

    internal void SetTap(Tap tap) => _clean.Target = tap == Tap.BeforeChain ? 1 : 0;

    /// <summary>Begins settled at a tap.</summary>
    internal void StartAt(Tap tap)
    {
        SetTap(tap);
        _clean.Arrive();
    }

    internal void AddTo(Span<float> left, Span<float> right, ChainRun? ducker, HopSplit hop)
    {
        if (ducker is null && _clean.IsSilent)
        {
            // As the source itself: its energy is known.
            var gains = Add(left, right, Source.Left, Source.Right);
            _meter.Add(Energy(Source.BeforeHop, gains));
            if (hop.Closes)
            {
                _meter.CloseHop();
                _meter.Add(Energy(Source.AfterHop, gains));
            }

            return;
        }

        var isStereo = Source.Channels == 2;
        Span<float> tappedLeft = _tappedLeft, tappedRight = isStereo ? _tappedRight : default;
        TapInto(tappedLeft, tappedRight);
        ducker?.Process(tappedLeft, tappedRight);
        var tapped = Add(left, right, tappedLeft, isStereo ? tappedRight : tappedLeft);
        _meter.Add(Energy(Measure(tappedLeft[..hop.End], isStereo ? tappedRight[..hop.End] : default), tapped));
        if (hop.Closes)
        {
            _meter.CloseHop();
            _meter.Add(Energy(Measure(tappedLeft[hop.End..], isStereo ? tappedRight[hop.End..] : default), tapped));
        }
    }

    private void TapInto(Span<float> left, Span<float> right)
    {
        Source.Sound(Tap.AfterChain).Left.CopyTo(left);
        Source.Sound(Tap.AfterChain).Right.CopyTo(right);
        if (_clean.IsSilent)
        {
            return;
        }

        _clean.Fill(_factors);
        Blend(left, Source.Sound(Tap.BeforeChain).Left);
        Blend(right, Source.Sound(Tap.BeforeChain).Right);
    }

    private void Blend(Span<float> after, ReadOnlySpan<float> before)
    {
        for (var n = 0; n < after.Length; n++)
        {
            after[n] = _factors[n] == 1 ? before[n] : after[n] + ((before[n] - after[n]) * _factors[n]);
        }
    }

    private KEnergy Measure(ReadOnlySpan<float> left, ReadOnlySpan<float> right) =>
        new(_leftWeighting.SumOfSquares(left), right.IsEmpty ? 0 : _rightWeighting.SumOfSquares(right));

    // The gain at the block's middle stands for the block in the meter; the sound itself gets every frame's own.
    private (double Left, double Right) Add(Span<float> left, Span<float> right, ReadOnlySpan<float> fromLeft, ReadOnlySpan<float> fromRight) =>
        (Add(_left, left, fromLeft), Add(_right, right, fromRight));

    private double Energy(KEnergy energy, (double Left, double Right) gains) =>
        (energy.Left * gains.Left * gains.Left) + ((Source.Channels == 2 ? energy.Right : energy.Left) * gains.Right * gains.Right);

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

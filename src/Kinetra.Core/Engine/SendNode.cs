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

    // Before or after the chain: from one to the other it fades. Each waits in its own time.
    private readonly GainRamp _clean = new(0);
    private readonly OutletReader _afterChain = new(0);
    private readonly OutletReader _beforeChain = new(0);
    private readonly float[] _cleanBlock = new float[AudioFormat.BlockFrames];

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

    /// <summary>Where the sound is taken, and by how many frames it waits for others.</summary>
    internal void SetTap(Tap tap, int wait)
    {
        _clean.Target = tap == Tap.BeforeChain ? 1 : 0;
        (tap == Tap.BeforeChain ? _beforeChain : _afterChain).Set(wait, isHeard: !IsSilent);
    }

    /// <summary>Begins settled at a tap.</summary>
    internal void StartAt(Tap tap, int wait)
    {
        SetTap(tap, wait);
        _clean.Arrive();
        _beforeChain.Set(tap == Tap.BeforeChain ? wait : 0, isHeard: false);
        _afterChain.Set(tap == Tap.AfterChain ? wait : 0, isHeard: false);
    }

    internal void AddTo(Span<float> left, Span<float> right, ChainRun? ducker, long frame, HopSplit hop)
    {
        _afterChain.Begin();
        _beforeChain.Begin();
        if (ducker is null && _clean.IsSilent)
        {
            // As the source itself, some milliseconds later perhaps: its energy is known.
            var gains = _afterChain.IsDirect ? Add(left, right, Source.Left, Source.Right) : AddLater(left, right, frame);
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
        TapInto(tappedLeft, tappedRight, frame);
        _afterChain.End();
        _beforeChain.End();
        ducker?.Process(tappedLeft, tappedRight);
        var tapped = Add(left, right, tappedLeft, isStereo ? tappedRight : tappedLeft);
        _meter.Add(Energy(Measure(tappedLeft[..hop.End], isStereo ? tappedRight[..hop.End] : default), tapped));
        if (hop.Closes)
        {
            _meter.CloseHop();
            _meter.Add(Energy(Measure(tappedLeft[hop.End..], isStereo ? tappedRight[hop.End..] : default), tapped));
        }
    }

    private (double Left, double Right) AddLater(Span<float> left, Span<float> right, long frame)
    {
        if (IsSilent)
        {
            _afterChain.End();
            return (0, 0);
        }

        _afterChain.Read(Source.Given, 0, frame, _tappedLeft);
        if (Source.Channels == 2)
        {
            _afterChain.Read(Source.Given, 1, frame, _tappedRight);
        }

        _afterChain.End();
        return Add(left, right, _tappedLeft, Source.Channels == 2 ? _tappedRight : _tappedLeft);
    }

    private void TapInto(Span<float> left, Span<float> right, long frame)
    {
        _clean.Fill(_factors);
        Tapped(0, left, frame);
        if (right.Length > 0)
        {
            Tapped(1, right, frame);
        }
    }

    private void Tapped(int channel, Span<float> block, long frame)
    {
        _afterChain.Read(Source.Given, channel, frame, block);
        if (_clean.IsSilent && _factors[0] == 0)
        {
            return;
        }

        _beforeChain.Read(Source.Clean, channel, frame, _cleanBlock);
        for (var n = 0; n < block.Length; n++)
        {
            block[n] = _factors[n] == 1 ? _cleanBlock[n] : block[n] + ((_cleanBlock[n] - block[n]) * _factors[n]);
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

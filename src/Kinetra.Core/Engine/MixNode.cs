using Kinetra.Core.Dsp;
using Kinetra.Core.Metering;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Engine;

/// <summary>
/// The running state of one mix, in the order in which its sound goes: the sum of its sends; its gain; the chain, which the plan runs on
/// <see cref="Block"/>; what leaves. Lives as long as the mix does.
/// </summary>
public sealed class MixNode
{
    private readonly GainRamp _gain;
    private readonly float[][] _block = [new float[AudioFormat.BlockFrames], new float[AudioFormat.BlockFrames]];
    private readonly float[][] _clean = [new float[AudioFormat.BlockFrames], new float[AudioFormat.BlockFrames]];
    private readonly float[] _factors = new float[AudioFormat.BlockFrames];
    private readonly TruePeakMeter _truePeak = new(2);
    private readonly CorrelationMeter _correlation = new();
    private readonly ProgrammeLoudness _programme = new();

    internal MixNode(MixId id, double gain)
    {
        Id = id;
        _gain = new GainRamp((float)gain);
        (Clean, Given) = (new Outlet(_clean), new Outlet(_block));
    }

    /// <summary>Which mix it is.</summary>
    public MixId Id { get; }

    internal LevelMeter Meter { get; } = new(2);

    /// <summary>The block, which the chain processes in place.</summary>
    internal (float[] Left, float[] Right) Block => (_block[0], _block[1]);

    /// <summary>By how much look-ahead makes it late.</summary>
    internal int LatencyFrames { get; set; }

    /// <summary>What it gives before its chain, and what leaves.</summary>
    internal Outlet Clean { get; }

    internal Outlet Given { get; }

    /// <summary>Engine thread: the mix of the show before that this one rises out of, while a show is being opened.</summary>
    internal MixNode? Follows { get; set; }

    /// <summary>The chain that the plan runs on the block, or null.</summary>
    internal ChainRun? Chain { get; set; }

    /// <summary>True once its chain has failed: it gives silence from then on.</summary>
    internal bool IsBroken { get; private set; }

    internal Outlet At(Tap tap) => tap == Tap.AfterChain ? Given : Clean;

    internal void SetGain(double factor) => _gain.Target = (float)factor;

    /// <summary>Sums the block.</summary>
    internal void Sum(ReadOnlySpan<LinkNode> sends, in BlockWork work)
    {
        foreach (var block in _block)
        {
            block.AsSpan().Clear();
        }

        foreach (var send in sends)
        {
            send.AddTo(_block, work);
        }
    }

    /// <summary>The gain; then the block is where the chain takes it.</summary>
    internal void Gain(in BlockWork work)
    {
        var isSettled = _gain.IsSettled;
        if (!isSettled)
        {
            _gain.Fill(_factors);
        }

        for (var c = 0; c < 2; c++)
        {
            if (IsBroken || (isSettled && _gain.Current == 0))
            {
                // Exact zeros, never −0.
                _block[c].AsSpan().Clear();
            }
            else if (isSettled)
            {
                Mixdown.Scale(_block[c], _gain.Current);
            }
            else
            {
                Mixdown.Scale(_block[c], _factors);
            }

            _block[c].CopyTo(_clean[c].AsSpan());
        }

        Clean.Keep(work.Frame);
    }

    /// <summary>After the chain: what leaves.</summary>
    internal void Give(in BlockWork work)
    {
        if (!IsBroken && Chain?.Failure is { } failure)
        {
            IsBroken = true;
            work.Faults.Add(new MixPoint(Id), work.Frame, failure);
        }

        for (var c = 0; c < 2; c++)
        {
            if (IsBroken)
            {
                _block[c].AsSpan().Clear();
            }

            work.Exits.Pass(_block[c], Follows is null ? default : Follows._block[c], work.IsLeaving);
        }

        Given.Keep(work.Frame);
    }

    /// <summary>Of a show that is being left: falls silent, unless a mix follows it.</summary>
    internal void Fall(Exits exits)
    {
        foreach (var block in _block)
        {
            exits.Fall(block);
        }
    }

    /// <summary>After <see cref="Meter"/> has measured the block.</summary>
    internal void Measured(HopSplit hop)
    {
        Measure(_block[0].AsSpan(0, hop.End), _block[1].AsSpan(0, hop.End));
        if (hop.Closes)
        {
            _truePeak.CloseHop();
            _correlation.CloseHop();
            _programme.CloseHop(Meter.Momentary, Meter.ShortTerm);
        }

        Measure(_block[0].AsSpan(hop.End), _block[1].AsSpan(hop.End));
    }

    internal void WriteMeters(Span<float> values, ReadOnlySpan<LinkNode> sends)
    {
        values[(int)MixMeter.Peak] = (float)Meter.TakePeak();
        values[(int)MixMeter.PeakHold] = (float)Meter.PeakHold;
        values[(int)MixMeter.Rms] = (float)Meter.Rms;
        values[(int)MixMeter.Momentary] = (float)Meter.Momentary;
        values[(int)MixMeter.ShortTerm] = (float)Meter.ShortTerm;
        values[(int)MixMeter.TruePeakHold] = (float)_truePeak.Hold;
        values[(int)MixMeter.TruePeakMost] = (float)_truePeak.Most;
        values[(int)MixMeter.Integrated] = (float)_programme.Integrated;
        values[(int)MixMeter.Range] = (float)_programme.Range;
        values[(int)MixMeter.Correlation] = (float)_correlation.Correlation;
        values[(int)MixMeter.Latency] = LatencyFrames;
        values[(int)MixMeter.Predicted] = (float)Predicted(sends);
    }

    private double Predicted(ReadOnlySpan<LinkNode> sends)
    {
        var power = 0.0;
        foreach (var send in sends)
        {
            power += Math.Pow(10, send.Momentary / 10);
        }

        return 10 * Math.Log10(power * _gain.Current * _gain.Current);
    }

    internal void ResetMeters()
    {
        _truePeak.Reset();
        _programme.Reset();
    }

    private void Measure(ReadOnlySpan<float> left, ReadOnlySpan<float> right)
    {
        _truePeak.Add(left, right);
        _correlation.Add(left, right);
    }
}

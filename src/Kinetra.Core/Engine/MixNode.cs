using Kinetra.Core.Dsp;
using Kinetra.Core.Metering;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;

namespace Kinetra.Core.Engine;

/// <summary>The running state of one mix: its gain, meter and ring. Lives as long as the mix does.</summary>
public sealed class MixNode
{
    private readonly GainRamp _gain;
    private GainRamp _hush = new(1);
    private readonly float[] _left = new float[AudioFormat.BlockFrames];
    private readonly float[] _right = new float[AudioFormat.BlockFrames];
    private readonly float[] _cleanLeft = new float[AudioFormat.BlockFrames];
    private readonly float[] _cleanRight = new float[AudioFormat.BlockFrames];
    private readonly float[] _hushedLeft = new float[AudioFormat.BlockFrames];
    private readonly float[] _hushedRight = new float[AudioFormat.BlockFrames];
    private readonly float[] _hushes = new float[AudioFormat.BlockFrames];
    private readonly float[] _factors = new float[AudioFormat.BlockFrames];
    private readonly TruePeakMeter _truePeak = new(2);
    private readonly CorrelationMeter _correlation = new();
    private readonly ProgrammeLoudness _programme = new();

    internal MixNode(MixId id, double gain)
    {
        Id = id;
        _gain = new GainRamp((float)gain);
    }

    /// <summary>Which mix it is.</summary>
    public MixId Id { get; }

    /// <summary>What its listener gets, for takes and listeners.</summary>
    public AudioRing Ring { get; } = new(2);

    internal LevelMeter Meter { get; } = new(2);

    /// <summary>The block, which the chain processes in place.</summary>
    internal (float[] Left, float[] Right) Block => (_left, _right);

    /// <summary>By how much look-ahead makes it late.</summary>
    internal int LatencyFrames { get; set; }

    /// <summary>What it gives after its chain, and before it.</summary>
    internal Outlet Given { get; } = new(2);

    internal Outlet Clean { get; } = new(2);

    /// <summary>Engine thread: the mix of the show before that this one rises out of, while a show is being opened.</summary>
    internal MixNode? Follows { get; set; }

    internal void Begin(long frame, bool hushed)
    {
        if (Ring.Begin(frame))
        {
            _hush = new GainRamp(hushed ? 0 : 1);
        }
    }

    internal void SetGain(double factor) => _gain.Target = (float)factor;

    internal void SetHush(bool on) => _hush.Target = on ? 0 : 1;

    /// <summary>The block's sound at a tap.</summary>
    internal Frames Sound(Tap tap) => tap == Tap.AfterChain ? new Frames(_left, _right) : new Frames(_cleanLeft, _cleanRight);

    /// <summary>Sums the block, up to the gain.</summary>
    internal void Sum(ReadOnlySpan<SendNode> sends, ReadOnlySpan<ChainRun?> duckers, long frame, HopSplit hop)
    {
        _left.AsSpan().Clear();
        _right.AsSpan().Clear();
        for (var s = 0; s < sends.Length; s++)
        {
            sends[s].AddTo(_left, _right, duckers[s], frame, hop);
        }

        _gain.Fill(_factors);
        Apply(_gain, _factors, _left, _right);
        _left.CopyTo(_cleanLeft.AsSpan());
        _right.CopyTo(_cleanRight.AsSpan());

        // Whoever listens along this block hears it before the hush; a cable leads to listeners.
        _hush.Fill(_hushes);
        _cleanLeft.CopyTo(_hushedLeft, 0);
        _cleanRight.CopyTo(_hushedRight, 0);
        Apply(_hush, _hushes, _hushedLeft, _hushedRight);
        Clean.Write(0, frame, _hushedLeft);
        Clean.Write(1, frame, _hushedRight);
    }

    /// <summary>After the chain; nobody but cables gets the block before <see cref="Publish"/>.</summary>
    internal void Give(long frame)
    {
        Apply(_hush, _hushes, _left, _right);
        Given.Write(0, frame, _left);
        Given.Write(1, frame, _right);
    }

    /// <summary>Lets the block rise by these factors, out of what the mix that it follows has summed, or out of silence.</summary>
    internal void RiseOutOf(MixNode? old, ReadOnlySpan<float> factors)
    {
        for (var n = 0; n < factors.Length; n++)
        {
            var (left, right) = old is null ? (0, 0) : (old._left[n], old._right[n]);
            _left[n] = left + ((_left[n] - left) * factors[n]);
            _right[n] = right + ((_right[n] - right) * factors[n]);
        }
    }

    /// <summary>Lets the block fall by these factors, into silence, or into what the mix that follows gives: whoever still reads here hears the same.</summary>
    internal void FallInto(MixNode? next, ReadOnlySpan<float> factors)
    {
        if (next is not null)
        {
            next._left.CopyTo(_left.AsSpan());
            next._right.CopyTo(_right.AsSpan());
            return;
        }

        for (var n = 0; n < factors.Length; n++)
        {
            _left[n] *= 1 - factors[n];
            _right[n] *= 1 - factors[n];
        }
    }

    /// <summary>Lets whoever reads have the block, which <see cref="Meter"/> has measured.</summary>
    internal void Publish(HopSplit hop)
    {
        Measure(_left.AsSpan(0, hop.End), _right.AsSpan(0, hop.End));
        if (hop.Closes)
        {
            _truePeak.CloseHop();
            _correlation.CloseHop();
            _programme.CloseHop(Meter.Momentary, Meter.ShortTerm);
        }

        Measure(_left.AsSpan(hop.End), _right.AsSpan(hop.End));

        Ring.Write(_left, _right);
    }

    internal void WriteMeters(Span<float> values)
    {
        values[0] = (float)Meter.TakePeak();
        values[1] = (float)Meter.PeakHold;
        values[2] = (float)Meter.Rms;
        values[3] = (float)Meter.Momentary;
        values[4] = (float)Meter.ShortTerm;
        values[5] = (float)_truePeak.Hold;
        values[6] = (float)_truePeak.Most;
        values[7] = (float)_programme.Integrated;
        values[8] = (float)_programme.Range;
        values[9] = (float)_correlation.Correlation;
        values[10] = LatencyFrames;
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

    // The gain's factors of this block.
    private static void Apply(GainRamp gain, ReadOnlySpan<float> factors, Span<float> left, Span<float> right)
    {
        if (gain.IsSilent && factors[0] == 0)
        {
            // Exact zeros, never −0.
            left.Clear();
            right.Clear();
        }
        else if (!gain.IsSettled || gain.Current != 1 || factors[0] != 1)
        {
            Mixdown.Scale(left, factors);
            Mixdown.Scale(right, factors);
        }
    }
}

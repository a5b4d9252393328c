using Kinetra.Core.Dsp;
using Kinetra.Core.Metering;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;

namespace Kinetra.Core.Engine;

/// <summary>The running state of one source: its feed, trim, meter and ring. Lives as long as the source and its feed do.</summary>
public sealed class SourceNode
{
    private readonly GainRamp _trim;
    private readonly float[] _left = new float[AudioFormat.BlockFrames];
    private readonly float[] _right;
    private readonly float[] _cleanLeft = new float[AudioFormat.BlockFrames];
    private readonly float[] _cleanRight;
    private readonly float[] _factors = new float[AudioFormat.BlockFrames];
    private readonly ReferenceLoudness _reference = new();
    private readonly ClipCounter _leftClips = new();
    private readonly ClipCounter _rightClips = new();

    internal SourceNode(SourceId id, ISourceFeed feed, double trim)
    {
        Id = id;
        Feed = feed;
        Channels = feed.Channels;
        _trim = new GainRamp((float)trim);
        _right = Channels == 2 ? new float[AudioFormat.BlockFrames] : _left;
        _cleanRight = Channels == 2 ? new float[AudioFormat.BlockFrames] : _cleanLeft;
        Meter = new LevelMeter(Channels);
        Ring = new AudioRing(Channels);
        Given = new Outlet(Channels);
        Clean = new Outlet(Channels);
    }

    /// <summary>Which source it is.</summary>
    public SourceId Id { get; }

    /// <summary>1 or 2.</summary>
    public int Channels { get; }

    /// <summary>Its sound after trim and chain, for takes and listeners.</summary>
    public AudioRing Ring { get; }

    internal ISourceFeed Feed { get; }

    /// <summary>What it gives after its chain, and before it.</summary>
    internal Outlet Given { get; }

    internal Outlet Clean { get; }

    internal LevelMeter Meter { get; }

    internal ReadOnlySpan<float> Left => _left;

    internal ReadOnlySpan<float> Right => _right;

    /// <summary>The block, which the chain processes in place; right is empty for mono.</summary>
    internal (float[] Left, float[] Right) Block => (_left, Channels == 2 ? _right : []);

    /// <summary>K-weighted energy of the block's frames up to the hop's end, and of those after it.</summary>
    internal KEnergy BeforeHop { get; private set; }

    internal KEnergy AfterHop { get; private set; }

    internal void SetTrim(double factor) => _trim.Target = (float)factor;

    /// <summary>The block's sound at a tap.</summary>
    internal Frames Sound(Tap tap)
    {
        var (left, right) = tap == Tap.AfterChain ? (_left, _right) : (_cleanLeft, _cleanRight);
        return new Frames(left, Channels == 2 ? right : default(ReadOnlySpan<float>));
    }

    /// <summary>Takes in the block, up to the trim.</summary>
    internal void Read(long frame)
    {
        Feed.Read(frame, _left, _right);
        SampleGuard.MakeFinite(_left);
        if (Channels == 2)
        {
            SampleGuard.MakeFinite(_right);
        }

        if (_trim.IsSettled)
        {
            ScaleBy(_trim.Current);
        }
        else
        {
            _trim.Fill(_factors);
            ScaleBy(_factors);
        }

        _left.CopyTo(_cleanLeft.AsSpan());
        Clean.Write(0, frame, _left);
        if (Channels == 2)
        {
            _right.CopyTo(_cleanRight.AsSpan());
            Clean.Write(1, frame, _right);
        }
    }

    /// <summary>Lets whoever reads have the block as it is after the chain.</summary>
    internal void Publish(long frame)
    {
        _leftClips.Add(_left);
        Given.Write(0, frame, _left);
        if (Channels == 2)
        {
            _rightClips.Add(_right);
            Given.Write(1, frame, _right);
        }

        Ring.Write(_left, _right);
    }

    /// <summary>After <see cref="Meter"/> has measured the block, with these energies.</summary>
    internal void Measured(HopSplit hop, KEnergy before, KEnergy after)
    {
        (BeforeHop, AfterHop) = (before, after);
        if (hop.Closes)
        {
            _reference.CloseHop(Meter.Momentary, Meter.ShortTerm);
        }
    }

    internal void WriteMeters(Span<float> values)
    {
        values[0] = (float)Meter.TakePeak();
        values[1] = (float)Meter.PeakHold;
        values[2] = (float)Meter.Rms;
        values[3] = (float)Meter.Momentary;
        values[4] = (float)Meter.ShortTerm;
        values[5] = (float)_reference.Lufs;
        values[6] = _leftClips.Clips + _rightClips.Clips;
    }

    internal void ResetMeters()
    {
        _leftClips.Reset();
        _rightClips.Reset();
    }

    private void ScaleBy(float factor)
    {
        Mixdown.Scale(_left, factor);
        if (Channels == 2)
        {
            Mixdown.Scale(_right, factor);
        }
    }

    private void ScaleBy(ReadOnlySpan<float> factors)
    {
        Mixdown.Scale(_left, factors);
        if (Channels == 2)
        {
            Mixdown.Scale(_right, factors);
        }
    }
}

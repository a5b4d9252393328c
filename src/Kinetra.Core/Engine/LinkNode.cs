using Kinetra.Core.Dsp;
using Kinetra.Core.Metering;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Engine;

/// <summary>The running state of one cell of a link: one channel into one other, by a factor that never jumps.</summary>
sealed class LinkCell(int from, int to, float initial) : GainRamp(initial)
{
    public int From { get; } = from;

    public int To { get; } = to;

    /// <summary>What it would be where the link's factor is 1: the pan's, or the map's.</summary>
    public double Unit { get; private set; }

    /// <summary>The link's factor.</summary>
    public double Factor { get; private set; }

    /// <summary>What it goes to. Engine thread.</summary>
    public void Set(double unit, double factor) => (Unit, Factor, Target) = (unit, factor, (float)(unit * factor));
}

/// <summary>Room in which links compute, one after the other: a thousand of them share it, so that what each keeps lies close together.</summary>
sealed class LinkRoom
{
    /// <summary>A block for each channel that a point may have.</summary>
    public float[][] Blocks { get; } = [.. Enumerable.Range(0, RigLimits.CableChannels).Select(_ => new float[AudioFormat.BlockFrames])];

    /// <summary>A block of what is read at the time before.</summary>
    public float[] Before { get; } = new float[AudioFormat.BlockFrames];

    /// <summary>A block of factors.</summary>
    public float[] Factors { get; } = new float[AudioFormat.BlockFrames];
}

/// <summary>
/// The running state of one link: what a point gives, read so late as the link says, through the link's chain, each channel into the
/// channels that it goes to. Sends, what plays into a cable and what records from one are all of this kind. Lives as long as both ends do.
/// </summary>
sealed class LinkNode
{
    private readonly Point _point;
    private readonly LinkReader _reader;
    private readonly SendMeter? _meter;
    private readonly LinkRoom _room;
    private readonly int _channels;
    private KWeighting _left;
    private KWeighting _right;
    private LinkCell[] _cells;
    private ChainRun? _chain;

    /// <summary>Makes a link that starts at what it reads.</summary>
    /// <param name="point">What it is called where it fails: the point that it is, or to which it leads.</param>
    /// <param name="room">Where it computes.</param>
    /// <param name="cells">Its cells.</param>
    /// <param name="from">What it reads.</param>
    /// <param name="delay">How late, frames.</param>
    /// <param name="isMetered">Whether the loudness that it gives is measured; of one or two channels.</param>
    public LinkNode(Point point, LinkRoom room, LinkCell[] cells, Outlet from, int delay, bool isMetered)
    {
        _point = point;
        _cells = cells;
        _reader = new LinkReader(new Reading(from, Math.Min(delay, Outlet.MaxDelay)));
        _meter = isMetered ? new SendMeter() : null;
        (_room, _channels) = (room, from.Channels);
    }

    /// <summary>True once nothing comes through, whatever is read.</summary>
    public bool IsSilent
    {
        get
        {
            foreach (var cell in _cells)
            {
                if (!cell.IsSilent)
                {
                    return false;
                }
            }

            return true;
        }
    }

    /// <summary>Its cells.</summary>
    public LinkCell[] Cells => _cells;

    /// <summary>True once it has failed: it gives nothing from then on.</summary>
    public bool IsBroken { get; private set; }

    /// <summary>Momentary loudness of what it gives, LUFS.</summary>
    public double Momentary => _meter?.Momentary ?? double.NegativeInfinity;

    /// <summary>What makes it quieter for as long as that sounds, or null.</summary>
    public MixDims? Dims { get; set; }

    /// <summary>Takes what a plan wants of it: these cells, and this chain on the way.</summary>
    public void Take(LinkCell[] cells, ChainRun? chain) => (_cells, _chain) = (cells, chain);

    /// <summary>Reads something else, or at another time.</summary>
    public void SetReading(Outlet from, int delay) => _reader.Set(from, delay, isHeard: !IsSilent);

    /// <summary>Adds the block to what is summed at its end, channel by channel.</summary>
    public void AddTo(float[][] sums, in BlockWork work)
    {
        if (IsBroken)
        {
            return;
        }

        try
        {
            Add(sums, work);
        }
        catch (Exception e)
        {
            IsBroken = true;
            work.Faults.Add(_point, work.Frame, e);
        }
    }

    private void Add(float[][] sums, in BlockWork work)
    {
        var (frame, hop) = (work.Frame, work.Hop);
        if (_chain is null && _reader.IsDirect)
        {
            AddDirect(sums, frame, hop);
            return;
        }

        _reader.Begin();
        if (_chain is null && IsSilent)
        {
            _reader.End();
            Measure(0, 0, hop);
            return;
        }

        // As the source itself, some milliseconds later perhaps: its energy is known.
        var isKnown = _chain is null && _reader.IsSettled && _reader.From.IsMeasured;
        var blocks = _room.Blocks;
        for (var c = 0; c < _channels; c++)
        {
            _reader.Read(c, frame, blocks[c], _room.Before);
        }

        _reader.End();
        _chain?.Process(blocks[0], _channels > 1 ? blocks[1] : default(Span<float>));
        var (before, after) = isKnown ? _reader.From.Energy : Weigh(hop);
        var (sumBefore, sumAfter) = (0.0, 0.0);
        var dim = DimAt(frame);
        foreach (var cell in _cells)
        {
            var gain = Add(cell, sums[cell.To], blocks[cell.From], dim);
            sumBefore += EnergyOf(before, cell.From) * gain * gain;
            sumAfter += EnergyOf(after, cell.From) * gain * gain;
        }

        Measure(sumBefore, sumAfter, hop);
    }

    private void AddDirect(float[][] sums, long frame, HopSplit hop)
    {
        var from = _reader.From;
        var dim = DimAt(frame);
        var (before, after) = (0.0, 0.0);
        var isKnown = from.IsMeasured;
        foreach (var cell in _cells)
        {
            var gain = Add(cell, sums[cell.To], from.Now(cell.From), dim);
            if (isKnown)
            {
                before += EnergyOf(from.Energy.Before, cell.From) * gain * gain;
                after += EnergyOf(from.Energy.After, cell.From) * gain * gain;
            }
        }

        if (!isKnown && _meter is not null)
        {
            for (var c = 0; c < _channels; c++)
            {
                from.Now(c).CopyTo(_room.Blocks[c]);
            }

            var weighed = Weigh(hop);
            foreach (var cell in _cells)
            {
                var gain = cell.Current * (dim.IsEmpty ? 1 : dim[AudioFormat.BlockFrames / 2]);
                before += EnergyOf(weighed.Before, cell.From) * gain * gain;
                after += EnergyOf(weighed.After, cell.From) * gain * gain;
            }
        }

        Measure(before, after, hop);
    }

    private ReadOnlySpan<float> DimAt(long frame) => Dims is null ? default : Dims.At(frame);

    // Only what is metered is weighed.
    private (KEnergy Before, KEnergy After) Weigh(HopSplit hop)
    {
        if (_meter is null)
        {
            return default;
        }

        ReadOnlySpan<float> left = _room.Blocks[0], right = _channels > 1 ? _room.Blocks[1] : default(ReadOnlySpan<float>);
        var before = new KEnergy(_left.SumOfSquares(left[..hop.End]), right.IsEmpty ? 0 : _right.SumOfSquares(right[..hop.End]));
        var after = new KEnergy(_left.SumOfSquares(left[hop.End..]), right.IsEmpty ? 0 : _right.SumOfSquares(right[hop.End..]));
        return (before, after);
    }

    private static double EnergyOf(KEnergy energy, int channel) => channel == 0 ? energy.Left : energy.Right;

    private void Measure(double before, double after, HopSplit hop)
    {
        if (_meter is null)
        {
            return;
        }

        _meter.Add(before);
        if (hop.Closes)
        {
            _meter.CloseHop();
            _meter.Add(after);
        }
    }

    // The factor at the block's middle stands for the block in the meter; the sound itself gets every frame's own.
    private float Add(LinkCell cell, Span<float> sum, ReadOnlySpan<float> samples, ReadOnlySpan<float> dim)
    {
        if (!cell.IsSettled || (!dim.IsEmpty && cell.Target != 0))
        {
            cell.Fill(_room.Factors);
            if (!dim.IsEmpty)
            {
                Mixdown.Scale(_room.Factors, dim);
            }

            Mixdown.Add(sum, samples, _room.Factors);
            return _room.Factors[AudioFormat.BlockFrames / 2];
        }

        var gain = cell.Target;
        if (gain != 0)
        {
            Mixdown.Add(sum, samples, gain);
        }

        return gain;
    }
}

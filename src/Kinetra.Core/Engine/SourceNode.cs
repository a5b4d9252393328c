using System.Numerics.Tensors;
using Kinetra.Core.Dsp;
using Kinetra.Core.Metering;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Engine;

/// <summary>
/// The running state of one source, in the order in which its sound goes: what comes in, from its inlet or from a cable; the trim; the chain,
/// which the plan runs on <see cref="Block"/>; what it gives. Lives as long as the source has as many channels; its inlet can be exchanged.
/// </summary>
public sealed class SourceNode
{
    // Devices give whole numbers of 16 bits or more: their largest positive one is a little below 1.
    private const float DeviceFullScale = 1 - (1f / 32_768);

    private readonly GainRamp _trim;
    private readonly Crossing<IInlet?> _inlet;
    private readonly float[][] _raw;
    private readonly float[][] _clean;
    private readonly float[][] _block;
    private readonly float[][] _leaving;
    private readonly float[] _factors = new float[AudioFormat.BlockFrames];
    private readonly ReferenceLoudness _reference = new();
    private readonly ClipCounter[] _clips;
    private readonly ClipCounter[] _clipsIn;

    /// <param name="id">Which source it is.</param>
    /// <param name="channels">1 or 2.</param>
    /// <param name="inlet">What gives it its sound; null: a cable does.</param>
    /// <param name="trim">Factor.</param>
    /// <param name="isFadedIn">True: it comes in while others sound, and its inlet is under way. Faded here, since who reads it late reads the silence before it first.</param>
    internal SourceNode(SourceId id, int channels, IInlet? inlet, double trim, bool isFadedIn = false)
    {
        Id = id;
        Channels = channels;
        _inlet = new Crossing<IInlet?>(isFadedIn ? null : inlet);
        _inlet.Set(inlet);
        _trim = new GainRamp((float)trim);
        (_raw, _clean, _block, _leaving) = (Blocks(channels), Blocks(channels), Blocks(channels), Blocks(channels));
        _clips = [.. _block.Select(_ => new ClipCounter(DeviceFullScale))];
        _clipsIn = [.. _block.Select(_ => new ClipCounter(DeviceFullScale))];
        Meter = new LevelMeter(channels);
        (Raw, Clean, Given) = (new Outlet(_raw), new Outlet(_clean), new Outlet(_block));
    }

    /// <summary>Which source it is.</summary>
    public SourceId Id { get; }

    /// <summary>1 or 2.</summary>
    public int Channels { get; }

    /// <summary>What gives it its sound, unless that comes from a cable.</summary>
    internal IInlet? Inlet => _inlet.Wanted;

    /// <summary>What it gives as it comes in, after the trim, and after the chain.</summary>
    internal Outlet Raw { get; }

    internal Outlet Clean { get; }

    internal Outlet Given { get; }

    internal LevelMeter Meter { get; }

    /// <summary>The chain that the plan runs on the block, or null.</summary>
    internal ChainRun? Chain { get; set; }

    /// <summary>True once it has failed: it gives silence from then on.</summary>
    internal bool IsBroken { get; private set; }

    /// <summary>The block, which the chain processes in place; right is empty for mono.</summary>
    internal (float[] Left, float[] Right) Block => (_block[0], Channels == 2 ? _block[1] : []);

    internal Outlet At(Tap tap) => tap switch { Tap.Raw => Raw, Tap.BeforeChain => Clean, _ => Given };

    internal void SetTrim(double factor) => _trim.Target = (float)factor;

    internal void SetInlet(IInlet? inlet) => _inlet.Set(inlet);

    /// <summary>It has failed, and is told so, once: silence from now on.</summary>
    internal void Break(Exception cause, in BlockWork work)
    {
        IsBroken = true;
        work.Faults.Add(new SourcePoint(Id), work.Frame, cause);
    }

    /// <summary>Takes in the block, from the inlet and from what plays into the source.</summary>
    internal void Read(ReadOnlySpan<LinkNode> inputs, in BlockWork work)
    {
        if (IsBroken)
        {
            return;
        }

        _inlet.Begin();
        Take(_inlet.Now, work.Frame, _raw);
        if (_inlet.IsCrossing)
        {
            Take(_inlet.Old, work.Frame, _leaving);
            for (var c = 0; c < Channels; c++)
            {
                // What begins by itself begins as it is.
                if (_inlet.Now is null or { BeginsWithSource: true })
                {
                    _inlet.Leave(_leaving[c], _raw[c]);
                }
                else
                {
                    _inlet.Blend(_leaving[c], _raw[c]);
                }
            }
        }

        _inlet.End(AudioFormat.BlockFrames);
        foreach (var input in inputs)
        {
            input.AddTo(_raw, work);
        }

        for (var c = 0; c < Channels; c++)
        {
            SampleGuard.MakeFinite(_raw[c]);
            _clipsIn[c].Add(_raw[c]);
        }
    }

    /// <summary>The trim; then the block is where the chain takes it.</summary>
    internal void Trim(in BlockWork work)
    {
        var isSettled = _trim.IsSettled;
        if (!isSettled)
        {
            _trim.Fill(_factors);
        }

        for (var c = 0; c < Channels; c++)
        {
            if (IsBroken)
            {
                _raw[c].AsSpan().Clear();
            }

            if (!isSettled)
            {
                TensorPrimitives.Multiply(_raw[c], _factors, _clean[c]);
            }
            else if (_trim.Current != 1)
            {
                TensorPrimitives.Multiply(_raw[c], _trim.Current, _clean[c]);
            }
            else
            {
                _raw[c].CopyTo(_clean[c].AsSpan());
            }

            _clean[c].CopyTo(_block[c].AsSpan());
        }

        Clean.Keep(work.Frame);
    }

    /// <summary>Lets whoever reads have the block as it is after the chain.</summary>
    internal void Publish(in BlockWork work)
    {
        if (!IsBroken && Chain?.Failure is { } failure)
        {
            Break(failure, work);
        }

        for (var c = 0; c < Channels; c++)
        {
            if (IsBroken)
            {
                _block[c].AsSpan().Clear();
            }

            _clips[c].Add(_block[c]);
        }

        Given.Keep(work.Frame);
    }

    /// <summary>After <see cref="Meter"/> has measured the block, with these energies.</summary>
    internal void Measured(HopSplit hop, KEnergy before, KEnergy after)
    {
        Given.Measured(before, after);
        if (hop.Closes)
        {
            _reference.CloseHop(Meter.Momentary, Meter.ShortTerm);
        }
    }

    internal void WriteMeters(Span<float> values)
    {
        values[(int)SourceMeter.Peak] = (float)Meter.TakePeak();
        values[(int)SourceMeter.PeakHold] = (float)Meter.PeakHold;
        values[(int)SourceMeter.Rms] = (float)Meter.Rms;
        values[(int)SourceMeter.Momentary] = (float)Meter.Momentary;
        values[(int)SourceMeter.ShortTerm] = (float)Meter.ShortTerm;
        values[(int)SourceMeter.Reference] = (float)_reference.Lufs;
        values[(int)SourceMeter.Clips] = Sum(_clips);
        values[(int)SourceMeter.ClipsIn] = Sum(_clipsIn);
    }

    internal void ResetMeters()
    {
        for (var c = 0; c < Channels; c++)
        {
            _clips[c].Reset();
            _clipsIn[c].Reset();
        }
    }

    private void Take(IInlet? inlet, long frame, float[][] blocks)
    {
        if (inlet is null)
        {
            foreach (var block in blocks)
            {
                block.AsSpan().Clear();
            }
        }
        else if (Channels == 1 && inlet.Channels == 2)
        {
            // Folded: the mean.
            inlet.Read(frame, blocks[0], _factors);
            Mixdown.Add(blocks[0], _factors, 1);
            Mixdown.Scale(blocks[0], 0.5f);
        }
        else
        {
            inlet.Read(frame, blocks[0], blocks[^1]);
        }
    }

    private static float Sum(ClipCounter[] counters)
    {
        long sum = 0;
        foreach (var counter in counters)
        {
            sum += counter.Clips;
        }

        return sum;
    }

    private static float[][] Blocks(int channels) => [.. Enumerable.Range(0, channels).Select(_ => new float[AudioFormat.BlockFrames])];
}

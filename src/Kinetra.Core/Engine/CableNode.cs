using Kinetra.Core.Dsp;
using Kinetra.Core.Rigs;

namespace Kinetra.Core.Engine;

/// <summary>The running state of one cable: what is played into it, summed. Lives as long as the cable keeps its channels.</summary>
public sealed class CableNode
{
    private readonly float[][] _sums;

    internal CableNode(CableId id, int channels)
    {
        Id = id;
        _sums = [.. Enumerable.Range(0, channels).Select(_ => new float[AudioFormat.BlockFrames])];
        Outlet = new Outlet(channels);
    }

    /// <summary>Which cable it is.</summary>
    public CableId Id { get; }

    /// <summary>1 … 16.</summary>
    public int Channels => _sums.Length;

    internal Outlet Outlet { get; }

    internal void Sum(ReadOnlySpan<CableFeedNode> feeds, long frame)
    {
        foreach (var sum in _sums)
        {
            sum.AsSpan().Clear();
        }

        foreach (var feed in feeds)
        {
            feed.AddTo(_sums, frame);
        }

        for (var c = 0; c < _sums.Length; c++)
        {
            SampleGuard.MakeFinite(_sums[c]);
            Outlet.Write(c, frame, _sums[c]);
        }
    }
}

/// <summary>The running state of one thing that plays into a cable, on some of its channels.</summary>
sealed class CableFeedNode
{
    private readonly GainRamp _gain;
    private readonly OutletReader _reader;
    private readonly float[] _block = new float[AudioFormat.BlockFrames];
    private readonly float[] _other = new float[AudioFormat.BlockFrames];
    private readonly float[] _factors = new float[AudioFormat.BlockFrames];

    public CableFeedNode(CableNode cable, Origin origin, Outlet from, CableChannels into, int delay)
    {
        (Cable, Origin, From, Into) = (cable, origin, from, into);
        _gain = new GainRamp(0);
        _reader = new OutletReader(delay);
    }

    public CableNode Cable { get; }

    public Origin Origin { get; }

    public Outlet From { get; }

    public CableChannels Into { get; }

    public bool IsSilent => _gain.IsSilent;

    public void Start(int delay, double factor)
    {
        SetDelay(delay);
        SetGain(factor);
        _gain.Arrive();
    }

    public void SetGain(double factor) => _gain.Target = (float)factor;

    public void SetDelay(int frames) => _reader.Set(frames, isHeard: !_gain.IsSilent);

    public void AddTo(float[][] sums, long frame)
    {
        _reader.Begin();
        _gain.Fill(_factors);
        if (!_gain.IsSilent || _factors[0] != 0)
        {
            Add(sums, frame);
        }

        _reader.End();
    }

    private void Add(float[][] sums, long frame)
    {
        if (Origin.Cable is not null)
        {
            for (var c = 0; c < From.Channels && Into.Left + c < sums.Length; c++)
            {
                AddChannel(c, sums[Into.Left + c], frame);
            }
        }
        else if (Into.Right is not { } right)
        {
            _reader.Read(From, 0, frame, _block);
            if (From.Channels == 2)
            {
                _reader.Read(From, 1, frame, _other);
                Mixdown.Add(_block, _other, 1);
                Mixdown.Scale(_block, 0.5f);
            }

            Mixdown.Add(sums[Into.Left], _block, _factors);
        }
        else
        {
            AddChannel(0, sums[Into.Left], frame);
            AddChannel(From.Channels - 1, sums[right], frame);
        }
    }

    private void AddChannel(int channel, Span<float> sum, long frame)
    {
        _reader.Read(From, channel, frame, _block);
        Mixdown.Add(sum, _block, _factors);
    }
}

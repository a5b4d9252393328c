using Kinetra.Core.Dsp;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Engine;

/// <summary>The running state of one cable: what is played into it, summed, as it leaves. Lives as long as the cable keeps its channels.</summary>
public sealed class CableNode
{
    private readonly float[][] _sums;

    internal CableNode(CableId id, int channels)
    {
        Id = id;
        _sums = [.. Enumerable.Range(0, channels).Select(_ => new float[AudioFormat.BlockFrames])];
        Given = new Outlet(_sums);
    }

    /// <summary>Which cable it is.</summary>
    public CableId Id { get; }

    /// <summary>1 … 16.</summary>
    public int Channels => _sums.Length;

    internal Outlet Given { get; }

    /// <summary>Engine thread: the cable of the show before that this one rises out of, while a show is being opened.</summary>
    internal CableNode? Follows { get; set; }

    internal void Sum(ReadOnlySpan<LinkNode> links, in BlockWork work)
    {
        foreach (var sum in _sums)
        {
            sum.AsSpan().Clear();
        }

        foreach (var link in links)
        {
            link.AddTo(_sums, work);
        }

        for (var c = 0; c < _sums.Length; c++)
        {
            SampleGuard.MakeFinite(_sums[c]);
            work.Exits.Pass(_sums[c], Follows is { } before && c < before.Channels ? before._sums[c] : default(ReadOnlySpan<float>), work.IsLeaving);
        }

        Given.Keep(work.Frame);
    }
}

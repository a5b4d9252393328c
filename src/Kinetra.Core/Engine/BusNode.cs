using System.Numerics.Tensors;
using Kinetra.Core.Dsp;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Engine;

/// <summary>
/// The running state of one cable, or of a point of the computer: what plays into it, summed, and what it does itself. Lives as long as it keeps
/// its channels.
/// </summary>
public sealed class BusNode
{
    private readonly IPortSound? _sound;
    private readonly float[][] _sums;
    private readonly float[] _peaks;

    internal BusNode(Point point, int channels, IPortSound? sound = null)
    {
        (Point, _sound) = (point, sound);
        _sums = [.. Enumerable.Range(0, channels).Select(_ => new float[AudioFormat.BlockFrames])];
        _peaks = new float[channels];
        Given = new Outlet(_sums);
    }

    /// <summary>Which it is.</summary>
    public Point Point { get; }

    /// <summary>1 or more.</summary>
    public int Channels => _sums.Length;

    internal Outlet Given { get; }

    /// <summary>Engine thread: that of the show before that this one rises out of, while a show is being opened.</summary>
    internal BusNode? Follows { get; set; }

    /// <summary>True once it has failed: it gives silence from then on.</summary>
    internal bool IsBroken { get; private set; }

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

        Sound(work);
        for (var c = 0; c < _sums.Length; c++)
        {
            SampleGuard.MakeFinite(_sums[c]);
            var before = Follows is { } node && c < node.Channels ? node._sums[c] : default(ReadOnlySpan<float>);
            if (Point is CablePoint)
            {
                work.Exits.Pass(_sums[c], before, work.IsLeaving);
                continue;
            }

            // What is not the desk's own is not the desk's to hush.
            work.Exits.Rise(_sums[c], before, work.IsLeaving);
            if (Point is DevicePoint)
            {
                SampleGuard.HoldFullScale(_sums[c]);
            }
        }

        for (var c = 0; c < _sums.Length; c++)
        {
            _peaks[c] = Math.Max(_peaks[c], Math.Abs(TensorPrimitives.MaxMagnitude<float>(_sums[c])));
        }

        Given.Keep(work.Frame);
    }

    /// <summary>The highest sample of each channel since it was asked last, dBFS.</summary>
    internal void TakePeaks(Span<float> values)
    {
        for (var c = 0; c < _peaks.Length; c++)
        {
            values[c] = _peaks[c] > 0 ? 20 * MathF.Log10(_peaks[c]) : float.NegativeInfinity;
            _peaks[c] = 0;
        }
    }

    // What a device or a program does comes from elsewhere, and may fail.
    private void Sound(in BlockWork work)
    {
        if (_sound is null)
        {
            return;
        }

        try
        {
            if (!IsBroken)
            {
                _sound.Process(work.Frame, _sums);
                return;
            }
        }
        catch (Exception e)
        {
            IsBroken = true;
            work.Faults.Add(Point, work.Frame, e);
        }

        foreach (var sum in _sums)
        {
            sum.AsSpan().Clear();
        }
    }
}

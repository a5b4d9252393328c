using Kinetra.Core.Dsp;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Metering;

/// <summary>
/// True peak of one mono or stereo signal at 48 kHz, with eight values for each sample, flat to 20 kHz: on a full-scale sine
/// up to there it reads at most 0.13 dB too little. It follows the sound by 16 frames.
/// Source: ITU-R BS.1770-5, Annex 2.
/// </summary>
public sealed class TruePeakMeter
{
    private readonly PeakInterpolator[] _channels;
    private readonly HopWindow _hops = new(Hop.ShortTerm);
    private float _hop;
    private float _most;

    /// <summary>A meter that has heard nothing.</summary>
    /// <param name="channels">1 or 2.</param>
    public TruePeakMeter(int channels)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(channels, 1);
        ArgumentOutOfRangeException.ThrowIfGreaterThan(channels, 2);
        _channels = [.. Enumerable.Range(0, channels).Select(_ => new PeakInterpolator())];
    }

    /// <summary>The highest of the last 3 s, dBTP.</summary>
    public double Hold { get; private set; } = double.NegativeInfinity;

    /// <summary>The highest since the start, dBTP.</summary>
    public double Most => Level.FromPeak(_most);

    /// <summary>Measures frames that lie within one hop, at most a block. <paramref name="right"/> is ignored for mono.</summary>
    public void Add(ReadOnlySpan<float> left, ReadOnlySpan<float> right)
    {
        if (left.IsEmpty)
        {
            return;
        }

        for (var c = 0; c < _channels.Length; c++)
        {
            _hop = _channels[c].Highest(c == 0 ? left : right, _hop);
        }
    }

    /// <summary>Ends the hop.</summary>
    public void CloseHop()
    {
        _hops.Push(_hop);
        _most = MathF.Max(_most, _hop);
        _hop = 0;
        Hold = Level.FromPeak(_hops.Max());
    }

    /// <summary>The highest since the start starts over.</summary>
    public void Reset() => _most = 0;
}

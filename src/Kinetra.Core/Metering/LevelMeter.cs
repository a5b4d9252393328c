using System.Numerics.Tensors;
using Kinetra.Core.Dsp;

namespace Kinetra.Core.Metering;

/// <summary>K-weighted energy of a few frames, channel by channel: sums of squares.</summary>
/// <param name="Left">Left, or the only channel.</param>
/// <param name="Right">Right; 0 for mono.</param>
public readonly record struct KEnergy(double Left, double Right);

/// <summary>
/// Sample peak, RMS, momentary and short-term loudness of one mono or stereo signal at 48 kHz.
/// Feed it with <see cref="Add"/>, never across a hop's end, and close each hop of <see cref="Hop.Frames"/> frames.
/// Allocates only when made. Not safe for several threads.
/// </summary>
public sealed class LevelMeter
{
    private readonly HopWindow _kEnergy = new(Hop.ShortTerm);
    private readonly HopWindow _squares = new(Hop.Momentary);
    private readonly HopWindow _peaks = new(Hop.ShortTerm);
    private readonly int _channels;
    private readonly StereoKWeighting _weighting = new();
    private double _hopK;
    private double _hopSquares;
    private float _hopPeak;
    private float _peakSinceRead;

    /// <summary>A meter that has heard nothing.</summary>
    /// <param name="channels">1 or 2.</param>
    public LevelMeter(int channels)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(channels, 1);
        ArgumentOutOfRangeException.ThrowIfGreaterThan(channels, 2);
        _channels = channels;
    }

    /// <summary>RMS over the last 400 ms, dBFS after AES17, mean of the channels' powers.</summary>
    public double Rms { get; private set; } = double.NegativeInfinity;

    /// <summary>Loudness over the last 400 ms, LUFS (BS.1770-5).</summary>
    public double Momentary { get; private set; } = double.NegativeInfinity;

    /// <summary>Loudness over the last 3 s, LUFS (BS.1770-5).</summary>
    public double ShortTerm { get; private set; } = double.NegativeInfinity;

    /// <summary>Largest sample magnitude of the last 3 s, dBFS.</summary>
    public double PeakHold { get; private set; } = double.NegativeInfinity;

    /// <summary>Measures frames that lie within one hop. <paramref name="right"/> is ignored for mono.</summary>
    public KEnergy Add(ReadOnlySpan<float> left, ReadOnlySpan<float> right)
    {
        var energy = Weigh(left, right);
        Add(left, right, energy);
        return energy;
    }

    /// <summary>The K-weighted energy of the next frames.</summary>
    internal KEnergy Weigh(ReadOnlySpan<float> left, ReadOnlySpan<float> right) => _weighting.Energy(left, _channels == 2 ? right : default);

    /// <summary>What weights it, to be computed side by side with those of others.</summary>
    internal SectionBank Weighting => _weighting.Sections;

    /// <summary>1 or 2.</summary>
    internal int Channels => _channels;

    /// <summary>Measures frames that lie within one hop, and whose energy has been computed with <see cref="Weighting"/>.</summary>
    internal void Add(ReadOnlySpan<float> left, ReadOnlySpan<float> right, KEnergy energy)
    {
        if (left.IsEmpty)
        {
            return;
        }

        _hopK += energy.Left + energy.Right;
        _hopSquares += TensorPrimitives.SumOfSquares(left) + (_channels == 2 ? TensorPrimitives.SumOfSquares(right) : 0);
        var peak = Recursions.LargestMagnitude(left);
        if (_channels == 2)
        {
            peak = MathF.Max(peak, Recursions.LargestMagnitude(right));
        }

        _hopPeak = MathF.Max(_hopPeak, peak);
        _peakSinceRead = MathF.Max(_peakSinceRead, peak);
    }

    /// <summary>Ends the hop: the windows move on by 20 ms.</summary>
    public void CloseHop()
    {
        _kEnergy.Push(_hopK);
        _squares.Push(_hopSquares);
        _peaks.Push(_hopPeak);
        _hopK = _hopSquares = 0;
        _hopPeak = 0;
        Momentary = Level.FromKWeighted(_kEnergy.Sum(Hop.Momentary) / (Hop.Momentary * Hop.Frames));
        ShortTerm = Level.FromKWeighted(_kEnergy.Sum(Hop.ShortTerm) / (Hop.ShortTerm * Hop.Frames));
        Rms = Level.FromMeanSquare(_squares.Sum(Hop.Momentary) / (Hop.Momentary * Hop.Frames * _channels));
        PeakHold = Level.FromPeak(_peaks.Max());
    }

    /// <summary>The largest sample magnitude since the last call, dBFS; starts anew.</summary>
    public double TakePeak()
    {
        var peak = Level.FromPeak(_peakSinceRead);
        _peakSinceRead = 0;
        return peak;
    }
}

/// <summary>Momentary loudness of one send: a source's K-weighted energy times the gains that were applied to it.</summary>
public sealed class SendMeter
{
    private readonly HopWindow _energy = new(Hop.Momentary);
    private double _hop;

    /// <summary>Loudness of what this send adds to its mix over the last 400 ms, LUFS.</summary>
    public double Momentary { get; private set; } = double.NegativeInfinity;

    /// <summary>Adds the K-weighted energy of frames within one hop.</summary>
    public void Add(double energy) => _hop += energy;

    /// <summary>Ends the hop.</summary>
    public void CloseHop()
    {
        _energy.Push(_hop);
        _hop = 0;
        Momentary = Level.FromKWeighted(_energy.Sum(Hop.Momentary) / (Hop.Momentary * Hop.Frames));
    }
}

using System.Numerics.Tensors;
using System.Runtime.CompilerServices;
using Kinetra.Core.Dsp;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Processors;

/// <summary>
/// Lowers one sound by a fixed depth while another, its key, sounds: music makes room for speech. The gain moves in dB at an
/// even pace, the whole depth in the attack or in the release, and it is down by exactly the depth in between. The key's
/// level is that of peaks, which fall with 10 ms. Left and right share one gain. No latency.
/// </summary>
public sealed class Ducker : IProcessor
{
    private enum At
    {
        Depth,
        Threshold,
        Attack,
        Hold,
        Release,
    }

    /// <summary>What can be set.</summary>
    public static readonly ProcessorType Type = new(
        "ducker",
        "Ducker",
        "Lowers this sound while somebody talks, and brings it back after.",
        "The music leaps up in every pause for breath, or vanishes whenever somebody coughs.",
        [
            new("depth", "Depth", "dB", 0, 60, 12, ParameterScale.Decibels, "By how much it lowers, exactly."),
            new("threshold", "Threshold", "dB", -80, 0, -40, ParameterScale.Decibels, "From this level of the key on, it lowers."),
            new("attack", "Attack", "ms", 1, 1_000, 40, ParameterScale.Logarithmic, "How long it takes to go down by the whole depth."),
            new("hold", "Hold", "ms", 0, 5_000, 500, ParameterScale.Linear, "How long it stays down after the key has gone quiet."),
            new("release", "Release", "ms", 10, 5_000, 800, ParameterScale.Logarithmic, "How long it takes to come back by the whole depth."),
        ])
    {
        Usually = "Last on music and games; on a send instead, where only one listener's copy should step back.",
        Plain =
        [
            PlainControl.Of("depth", "How far it steps back", "a little", "far", ("depth", 3, 24)),
            PlainControl.Of("return", "How soon it comes back", "at once", "slowly", ("hold", 100, 1_200), ("release", 250, 2_500)),
        ],
        Curve = v => new(Transfer: TransferCurve.Of(
            "level of what it listens to, dB", "what it does, dB", -90, 0, level => level >= v[(int)At.Threshold] ? -v[(int)At.Depth] : 0)),
        KeyUse = KeyUse.Needed,
        Reduces = true,
        Make = s => new Ducker(s),
    };

    private readonly double[] _values;
    private readonly LevelDetector _detector = new();
    private readonly float[] _gains = new float[AudioFormat.BlockFrames];
    private PeakEnvelope _envelope;
    private double _hold;
    private double _reduction;

    private Ducker(ProcessorSettings settings) => _values = [.. settings.Values];

    /// <inheritdoc/>
    public int Latency => 0;

    /// <inheritdoc/>
    public double Reduction { get; private set; }

    /// <inheritdoc/>
    public double Heard { get; private set; } = double.NaN;

    /// <inheritdoc/>
    public void Set(int parameter, double value) => _values[parameter] = value;

    /// <inheritdoc/>
    public void Process(Frames input, RoomForFrames output, Frames key)
    {
        var gains = _gains.AsSpan(0, input.Length);
        if (key.Length > 0)
        {
            _detector.Magnitudes(key, gains);
        }
        else
        {
            // Without a key nobody talks.
            gains.Clear();
        }

        _envelope.Follow(gains);
        Decibels.OfMagnitudes(gains);
        Heard = TensorPrimitives.Max<float>(gains);
        Move(gains);
        Decibels.ToFactors(gains);
        TensorPrimitives.Multiply(input.Left, gains, output.Left);
        if (input.Right.Length > 0)
        {
            TensorPrimitives.Multiply(input.Right, gains, output.Right);
        }
    }

    /// <inheritdoc/>
    public void Reset()
    {
        _detector.Reset();
        _envelope = default;
        _hold = _reduction = Reduction = 0;
    }

    // Levels in dB become gains in dB.
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private void Move(Span<float> values)
    {
        var (depth, threshold) = (Value(At.Depth), Value(At.Threshold));

        // A depth that has just been made smaller is left at the pace of the larger one.
        var span = Math.Max(depth, _reduction);
        var down = span / Math.Max(1, Ballistics.Frames(Value(At.Attack)));
        var up = span / Math.Max(1, Ballistics.Frames(Value(At.Release)));
        var holds = Ballistics.Frames(Value(At.Hold));
        double most = 0;
        var (hold, reduction) = (_hold, _reduction);
        Span<double> levels = stackalloc double[values.Length];
        TensorPrimitives.ConvertTruncating<float, double>(values, levels);
        foreach (ref var value in levels)
        {
            var talks = value >= threshold;
            hold = talks ? holds : hold - 1;
            var wanted = talks | hold >= 0 ? depth : 0;
            reduction = double.MinNative(double.MaxNative(wanted, reduction - up), reduction + down);
            most = double.MaxNative(most, reduction);
            value = -reduction;
        }

        TensorPrimitives.ConvertTruncating<double, float>(levels, values);
        (_hold, _reduction) = (Math.Max(hold, -1), reduction);
        Reduction = most;
    }

    private double Value(At parameter) => _values[(int)parameter];
}

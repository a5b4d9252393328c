using System.Collections.Immutable;
using System.Numerics.Tensors;
using System.Runtime.CompilerServices;
using Kinetra.Core.Dsp;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Processors;

/// <summary>
/// A gate, or with a low ratio a downward expander. It opens where the level reaches the threshold, and once open it shuts
/// only where the level has been below the threshold less the hysteresis for the length of the hold. The gain moves in dB at
/// an even pace: the whole range in the attack, or in the release. With look-ahead the sound waits, and the gain does not.
/// The level is that of peaks, which fall with 10 ms. Left and right share one gain. Latency: the look-ahead.
/// Source of the terms: U. Zölzer (ed.), DAFX, 2nd ed. 2011, section 4.2 (noise gate with hysteresis and hold).
/// </summary>
public sealed partial class Gate : IProcessor
{
    private enum At
    {
        Threshold,
        Hysteresis,
        Range,
        Ratio,
        Attack,
        Hold,
        Release,
        LookAhead,
        KeyLowCut,
        KeyHighCut,
    }

    /// <summary>What can be set.</summary>
    public static readonly ProcessorType Type = new(
        "gate",
        "Gate",
        "Shuts in pauses, so that room noise, key clicks and other people's voices stay out.",
        "Words begin and end chopped; the room breathes in and out between sentences.",
        [
            new("threshold", "Threshold", "dB", -80, 0, -45, ParameterScale.Decibels, "At this level it opens."),
            new("hysteresis", "Hysteresis", "dB", 0, 20, 6, ParameterScale.Decibels, "Once open, it shuts only so far below the threshold, so that it does not flutter."),
            new("range", "Range", "dB", 0, 80, 24, ParameterScale.Decibels, "By how much it lowers when it is shut."),
            new("ratio", "Ratio", ":1", 1.5, 100, 100, ParameterScale.Logarithmic, "Below the threshold, so many dB less for each dB less that comes in. At 100:1 it is shut at once; at 2:1 it is an expander."),
            new("attack", "Attack", "ms", 0.1, 50, 2, ParameterScale.Logarithmic, "How long it takes to open by the whole range."),
            new("hold", "Hold", "ms", 0, 1_000, 120, ParameterScale.Linear, "How long it stays open after the sound has gone."),
            new("release", "Release", "ms", 5, 2_000, 200, ParameterScale.Logarithmic, "How long it takes to shut by the whole range."),
            new("lookAhead", "Look-ahead", "ms", 0, 10, 3, ParameterScale.Linear, "The sound waits so long, and the gate does not: with at least the attack here, no first consonant is lost."),
            new("keyLowCut", "Key low cut", "Hz", LevelDetector.LowestCut, 2_000, 100, ParameterScale.Logarithmic, "What it listens to loses what is below this. At 20 Hz it hears all."),
            new("keyHighCut", "Key high cut", "Hz", 500, LevelDetector.HighestCut, LevelDetector.HighestCut, ParameterScale.Logarithmic, "What it listens to loses what is above this. At 20 kHz it hears all."),
        ])
    {
        Usually = "Early, before a compressor: after one, quiet and loud are closer together, and the room is louder.",
        Plain =
        [
            PlainControl.Of("room", "What it takes for room", "only near silence", "all but loud words", ("threshold", -65, -25)),
            PlainControl.Of("shut", "How much of the room is shut out", "a little", "all of it", ("range", 3, 60)),
        ],
        Curve = Draw,
        Neutral = ProcessorType.Nothing(("range", 0)),
        KeyUse = KeyUse.Optional,
        Reduces = true,
        LatencyOf = v => Ballistics.WholeFrames(v[(int)At.LookAhead]),
        Make = s => new Gate(s),
        SideBySide = () => new Beside(),
    };

    private static ProcessorCurve Draw(ImmutableArray<double> values)
    {
        var (threshold, range, slope) = (values[(int)At.Threshold], values[(int)At.Range], values[(int)At.Ratio] - 1);
        var shutsBelow = threshold - values[(int)At.Hysteresis];
        return new(Transfer: TransferCurve.Of(
            "level that it hears, dB",
            "level that leaves, dB",
            -90,
            0,
            level => level >= threshold ? level : level - Shut(level, threshold, range, slope),
            level => level >= shutsBelow ? level : level - Shut(level, threshold, range, slope)));
    }

    // By how much it lowers where it is shut, dB.
    private static double Shut(double level, double threshold, double range, double slope) =>
        double.MinNative(double.MaxNative((threshold - level) * slope, 0), range);

    private const int MaxLookAhead = 480;

    private readonly double[] _values;
    private readonly int _channels;
    private readonly LevelDetector _detector;
    private readonly SteppedDelay _left;
    private readonly SteppedDelay _right;
    private readonly float[] _gains = new float[AudioFormat.BlockFrames];
    private PeakEnvelope _envelope;
    private bool _isOpen;
    private bool _isHolding;
    private double _hold;
    private double _reduction;

    private Gate(ProcessorSettings settings)
    {
        _values = [.. settings.Values];
        _channels = settings.Channels;
        _detector = new LevelDetector(Value(At.KeyLowCut), Value(At.KeyHighCut));
        _left = new SteppedDelay(MaxLookAhead, Latency);
        _right = new SteppedDelay(MaxLookAhead, Latency);
        _reduction = Value(At.Range);
    }

    /// <inheritdoc/>
    public int Latency => Ballistics.WholeFrames(Value(At.LookAhead));

    /// <inheritdoc/>
    public double Reduction { get; private set; }

    /// <inheritdoc/>
    public double Heard { get; private set; } = double.NaN;

    /// <inheritdoc/>
    GateState IProcessor.Gate => !_isOpen ? GateState.Shut : _isHolding ? GateState.Holding : GateState.Open;

    /// <inheritdoc/>
    public bool IsSteady => _detector.Steady is not null;

    /// <inheritdoc/>
    public void Set(int parameter, double value)
    {
        _values[parameter] = value;
        _detector.Set(Value(At.KeyLowCut), Value(At.KeyHighCut));
        _left.Set(Latency);
        _right.Set(Latency);
    }

    /// <inheritdoc/>
    public void Process(Frames input, RoomForFrames output, Frames key)
    {
        var gains = _gains.AsSpan(0, input.Length);
        _detector.Magnitudes(key.Length > 0 ? key : input, gains);
        _envelope.Follow(gains);
        Decibels.OfMagnitudes(gains);
        Heard = TensorPrimitives.Max<float>(gains);
        Move(gains);
        Decibels.ToFactors(gains);
        Apply(gains, input, output);
    }

    /// <inheritdoc/>
    public void Reset()
    {
        _detector.Reset();
        _left.Reset();
        _right.Reset();
        _envelope = default;
        _isOpen = false;
        _hold = 0;
        _reduction = Value(At.Range);
        Reduction = 0;
    }

    private void Apply(ReadOnlySpan<float> gains, Frames input, RoomForFrames output)
    {
        _left.Process(input.Left, output.Left);
        TensorPrimitives.Multiply(output.Left, gains, output.Left);
        if (input.Right.Length > 0)
        {
            _right.Process(input.Right, output.Right);
            TensorPrimitives.Multiply(output.Right, gains, output.Right);
        }
    }

    // Levels in dB become gains in dB.
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private void Move(Span<float> values)
    {
        var (threshold, range, slope) = (Value(At.Threshold), Value(At.Range), Value(At.Ratio) - 1);
        var shutsBelow = threshold - Value(At.Hysteresis);

        var (opening, shutting) = Pace();
        var holds = Ballistics.Frames(Value(At.Hold));
        double most = 0;

        // Local copies keep the state in registers; no branch depends on the sound.
        var (isOpen, hold, reduction) = (_isOpen, _hold, _reduction);
        var isAbove = false;
        Span<double> levels = stackalloc double[values.Length];
        TensorPrimitives.ConvertTruncating<float, double>(values, levels);
        foreach (ref var value in levels)
        {
            var level = value;
            isAbove = level >= (isOpen ? shutsBelow : threshold);
            hold = isAbove ? holds : hold - 1;
            isOpen = isAbove | (isOpen & (hold >= 0));
            var shut = Shut(level, threshold, range, slope);
            var wanted = isOpen ? 0 : shut;
            reduction = double.MinNative(double.MaxNative(wanted, reduction - opening), reduction + shutting);
            most = double.MaxNative(most, reduction);
            value = -reduction;
        }

        TensorPrimitives.ConvertTruncating<double, float>(levels, values);
        (_isOpen, _isHolding, _hold, _reduction) = (isOpen, isOpen && !isAbove, Math.Max(hold, -1), reduction);
        Reduction = most;
    }

    // By how many dB it may open or shut in a frame. A range that has just been made smaller is left at the pace of the larger one.
    private (double Opening, double Shutting) Pace()
    {
        var span = Math.Max(Value(At.Range), _reduction);
        return (span / Math.Max(1, Ballistics.Frames(Value(At.Attack))), span / Math.Max(1, Ballistics.Frames(Value(At.Release))));
    }

    private double Value(At parameter) => _values[(int)parameter];
}

using System.Collections.Immutable;
using System.Numerics.Tensors;
using System.Runtime.CompilerServices;
using System.Runtime.Intrinsics;
using Kinetra.Core.Dsp;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Processors;

/// <summary>
/// A feed-forward compressor in the log domain with a soft knee and a smooth branching detector: the gain that the static
/// curve asks for is smoothed in dB, with one time constant while it grows and another while it falls. Left and right share
/// one gain. No latency.
/// Source: D. Giannoulis, M. Massberg, J. D. Reiss, "Digital Dynamic Range Compressor Design", JAES 60 (6), 2012: equations
/// 4 (static curve) and 17 (detector).
/// </summary>
public sealed partial class Compressor : IProcessor
{
    private enum At
    {
        Threshold,
        Ratio,
        Knee,
        Attack,
        Release,
        MakeUp,
        Blend,
        KeyLowCut,
    }

    /// <summary>What can be set.</summary>
    public static readonly ProcessorType Type = new(
        "compressor",
        "Compressor",
        "Brings loud and quiet closer together, so that a voice stays in its place.",
        "Lifeless and tiring: breaths as loud as words, and a level that pumps with every syllable.",
        [
            new("threshold", "Threshold", "dB", -60, 0, -20, ParameterScale.Decibels, "From this level on, it lowers."),
            new("ratio", "Ratio", ":1", 1, 20, 3, ParameterScale.Logarithmic, "So many dB more going in make one dB more coming out."),
            new("knee", "Knee", "dB", 0, 24, 6, ParameterScale.Decibels, "How wide the part around the threshold is in which the ratio sets in bit by bit."),
            new("attack", "Attack", "ms", 0.1, 200, 10, ParameterScale.Logarithmic, "How soon it lowers: after this time, 63 % of the way is done."),
            new("release", "Release", "ms", 5, 2_000, 150, ParameterScale.Logarithmic, "How soon it lets go: after this time, 63 % of the way is done."),
            new("makeUp", "Make-up", "dB", -12, 24, 0, ParameterScale.Decibels, "Gain after it, to make up for what it took."),
            new("blend", "Blend", "%", 0, 100, 100, ParameterScale.Linear, "How much of the result is compressed sound; the rest is the sound as it came."),
            new("keyLowCut", "Key low cut", "Hz", LevelDetector.LowestCut, 1_000, LevelDetector.LowestCut, ParameterScale.Logarithmic, "What it listens to loses what is below this, so that a low note does not press the rest down. At 20 Hz it hears all."),
        ])
    {
        Usually = "After the gate, the de-esser and the equaliser: it lifts what is left, so let that be what is wanted.",
        Plain = [PlainControl.Of("even", "How even", "lively", "even", ("threshold", -16, -36), ("ratio", 1.5, 5), ("makeUp", 1, 11))],
        Curve = Draw,
        Neutral = ProcessorType.Nothing(("ratio", 1), ("makeUp", 0)),
        KeyUse = KeyUse.Optional,
        Reduces = true,
        MostGain = s => 1 + (s.Values[(int)At.Blend] / 100 * (Ballistics.Factor(s.Values[(int)At.MakeUp]) - 1)),
        Make = s => new Compressor(s),
        SideBySide = () => new Beside(),
    };

    private static ProcessorCurve Draw(ImmutableArray<double> values)
    {
        var (threshold, slope, knee) = ((float)values[(int)At.Threshold], SlopeOf(values[(int)At.Ratio]), (float)values[(int)At.Knee]);
        var (makeUp, blend) = (values[(int)At.MakeUp], values[(int)At.Blend] / 100);
        return new(Transfer: TransferCurve.Of(
            "level that it hears, dB",
            "level that leaves, dB",
            -80,
            6,
            level => level + Decibels.Of(1 + (blend * (Ballistics.Factor(makeUp - Reduced((float)level, threshold, slope, knee)) - 1)))));
    }

    private readonly double[] _values;
    private readonly int _channels;
    private readonly LevelDetector _detector;
    private readonly GainRamp _threshold;
    private readonly GainRamp _slope;
    private readonly GainRamp _knee;
    private readonly GainRamp _makeUp;
    private readonly GainRamp _blend;
    private readonly float[] _gains = new float[AudioFormat.BlockFrames];
    private readonly float[] _thresholds = new float[AudioFormat.BlockFrames];
    private readonly float[] _slopes = new float[AudioFormat.BlockFrames];
    private readonly float[] _knees = new float[AudioFormat.BlockFrames];
    private readonly float[] _steady = new float[AudioFormat.BlockFrames];
    private double _attack;
    private double _release;
    private double _reduction;

    private Compressor(ProcessorSettings settings)
    {
        _values = [.. settings.Values];
        _channels = settings.Channels;
        _detector = new LevelDetector(Value(At.KeyLowCut));
        _threshold = new GainRamp((float)Value(At.Threshold));
        _slope = new GainRamp(SlopeOf(Value(At.Ratio)));
        _knee = new GainRamp((float)Value(At.Knee));
        _makeUp = new GainRamp((float)Value(At.MakeUp));
        _blend = new GainRamp((float)Value(At.Blend) / 100);
        SetTimes();
    }

    /// <inheritdoc/>
    public int Latency => 0;

    /// <inheritdoc/>
    public double Reduction { get; private set; }

    /// <inheritdoc/>
    public double Heard { get; private set; } = double.NaN;

    /// <inheritdoc/>
    public bool IsSteady => _detector.Steady is not null
        && _threshold.IsSettled && _slope.IsSettled && _knee.IsSettled && _makeUp.IsSettled && _blend.IsSettled;

    /// <inheritdoc/>
    public void Set(int parameter, double value)
    {
        _values[parameter] = value;
        _threshold.Target = (float)Value(At.Threshold);
        _slope.Target = SlopeOf(Value(At.Ratio));
        _knee.Target = (float)Value(At.Knee);
        _makeUp.Target = (float)Value(At.MakeUp);
        _blend.Target = (float)Value(At.Blend) / 100;
        _detector.Set(Value(At.KeyLowCut));
        SetTimes();
    }

    /// <inheritdoc/>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public void Process(Frames input, RoomForFrames output, Frames key)
    {
        var length = input.Length;
        var gains = _gains.AsSpan(0, length);
        var thresholds = _thresholds.AsSpan(0, length);
        var slopes = _slopes.AsSpan(0, length);
        var knees = _knees.AsSpan(0, length);
        _threshold.Fill(thresholds);
        _slope.Fill(slopes);
        _knee.Fill(knees);
        _detector.Magnitudes(key.Length > 0 ? key : input, gains);
        Decibels.OfMagnitudes(gains);
        Heard = TensorPrimitives.Max<float>(gains);

        // The static curve without a branch: how far into the knee, squared, then the rest beyond it.
        StaticCurve(gains, thresholds, slopes, knees);
        Reduction = Recursions.Branching(gains, ref _reduction, _attack, _release);
        Keep(_reduction);
        TensorPrimitives.Negate(gains, gains);
        _makeUp.Fill(thresholds);
        TensorPrimitives.Add(gains, thresholds, gains);
        Decibels.ToFactors(gains);
        var blend = _steady.AsSpan(0, length);
        _blend.Fill(blend);

        // 1 + blend · (gain − 1)
        TensorPrimitives.Subtract(gains, 1, gains);
        TensorPrimitives.Multiply(gains, blend, gains);
        TensorPrimitives.Add(gains, 1, gains);
        TensorPrimitives.Multiply(input.Left, gains, output.Left);
        if (input.Right.Length > 0)
        {
            TensorPrimitives.Multiply(input.Right, gains, output.Right);
        }
    }

    /// <inheritdoc/>
    public void Reset()
    {
        _reduction = Reduction = 0;
        _detector.Reset();
        _threshold.Arrive();
        _slope.Arrive();
        _knee.Arrive();
        _makeUp.Arrive();
        _blend.Arrive();
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static void StaticCurve(Span<float> levels, ReadOnlySpan<float> thresholds, ReadOnlySpan<float> slopes, ReadOnlySpan<float> knees)
    {
        var n = 0;
        for (; n <= levels.Length - Vector512<float>.Count; n += Vector512<float>.Count)
        {
            var width = Vector512.MaxNative(Vector512.Create(knees[n..]), Vector512.Create(1e-3f));
            var over = Vector512.Create<float>(levels[n..]) - Vector512.Create(thresholds[n..]);
            var within = Vector512.MinNative(Vector512.MaxNative(over + (width * 0.5f), Vector512<float>.Zero), width);
            var reduced = Vector512.Create(slopes[n..]) * ((within * within / (width * 2)) + Vector512.MaxNative(over - (width * 0.5f), Vector512<float>.Zero));
            reduced.CopyTo(levels[n..]);
        }

        for (; n < levels.Length; n++)
        {
            levels[n] = Reduced(levels[n], thresholds[n], slopes[n], knees[n]);
        }
    }

    // By how much the static curve lowers a level, dB.
    private static float Reduced(float level, float threshold, float slope, float knee)
    {
        var width = Math.Max(knee, 1e-3f);
        var over = level - threshold;
        var within = Math.Clamp(over + (width / 2), 0, width);
        return slope * ((within * within / (2 * width)) + Math.Max(over - (width / 2), 0));
    }

    // What cannot be heard any more is nothing.
    private void Keep(double reduction) => _reduction = reduction < 1e-9 ? 0 : reduction;

    private static float SlopeOf(double ratio) => (float)(1 - (1 / ratio));

    private double Value(At parameter) => _values[(int)parameter];

    private void SetTimes() => (_attack, _release) = (Ballistics.Memory(Value(At.Attack)), Ballistics.Memory(Value(At.Release)));
}

using System.Numerics.Tensors;
using System.Runtime.CompilerServices;
using Kinetra.Core.Dsp;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Processors;

/// <summary>
/// A limiter for the true peak: whatever comes in, what leaves reaches at most 0.1 dB above the ceiling, between samples too,
/// by a meter of sixteen values a sample that is flat to 21 kHz (what lies above that is no tone that anybody reproduces).
/// A changing gain makes new peaks between samples, so three passes follow each other (<see cref="LimiterStage"/>): the first
/// with the look-ahead and release that are set, the other two, of 2 ms, for the little that the one before left over.
/// Left and right share one gain. Latency: the look-ahead and 5.4 ms.
/// Source of the true peak: ITU-R BS.1770-5, Annex 2.
/// </summary>
public sealed class Limiter : IProcessor
{
    private enum At
    {
        Drive,
        Ceiling,
        Release,
        LookAhead,
    }

    // What the grid of eight values between two samples may miss (0.12 dB at 20 kHz), and what a third pass leaves over.
    private const double Margin = 0.1;
    private const int SmallLookAhead = 96;
    private const double SmallRelease = 15;

    // Another look-ahead is heard only once its pass knows what has come before.
    private const int WarmFrames = 1_024;

    /// <summary>What can be set.</summary>
    public static readonly ProcessorType Type = new(
        "limiter",
        "Limiter",
        "Holds a ceiling that nothing exceeds; with drive, makes a mix louder.",
        "Flat and breathless; loud moments sound squashed, and the noise of the room comes up with everything else.",
        [
            new("drive", "Drive", "dB", 0, 24, 0, ParameterScale.Decibels, "Gain before it. All that stays below the ceiling comes out so much louder, the noise of the room too."),
            new("ceiling", "Ceiling", "dBTP", -20, 0, -1, ParameterScale.Decibels, "The true peak that nothing exceeds by more than 0.1 dB, as a meter reads it that is flat to 21 kHz; what lies above that may stand higher."),
            new("release", "Release", "ms", 10, 1_000, 120, ParameterScale.Logarithmic, "How soon it lets go: after this time, 63 % of the way is done."),
            new("lookAhead", "Look-ahead", "ms", 1, 10, 3, ParameterScale.Linear, "How long before a peak it begins to lower; longer sounds softer and takes more time."),
        ])
    {
        Usually = "Last: nothing after it may raise a peak again.",
        Plain = [PlainControl.Of("loud", "How much louder", "as it is", "much louder", ("drive", 0, 12))],
        Curve = v => new(Transfer: TransferCurve.Of(
            "peak that comes in, dB",
            "peak that leaves, dB",
            -60,
            12,
            level => Math.Min(level + v[(int)At.Drive], v[(int)At.Ceiling] - Margin))),
        Reduces = true,
        LatencyOf = v => LimiterStage.LatencyOf(Ballistics.WholeFrames(v[(int)At.LookAhead]), isStrict: false)
            + LimiterStage.LatencyOf(SmallLookAhead, isStrict: false) + LimiterStage.LatencyOf(SmallLookAhead, isStrict: true),
        MostGain = s => Ballistics.Factor(s.Values[(int)At.Drive]),
        Make = s => new Limiter(s),
    };

    private readonly double[] _values;
    private readonly GainRamp _drive;
    private readonly GainRamp _ceiling;
    private readonly LimiterStage _second;
    private readonly LimiterStage _third;
    private readonly float[] _factors = new float[AudioFormat.BlockFrames];
    private readonly float[] _ceilings = new float[AudioFormat.BlockFrames];
    private readonly float[] _newLeft = new float[AudioFormat.BlockFrames];
    private readonly float[] _newRight = new float[AudioFormat.BlockFrames];
    private readonly double _smallRelease = Ballistics.Memory(SmallRelease);
    private LimiterStage _first;
    private LimiterStage _next;
    private int _nextLookAhead;
    private int _change = -1;

    private Limiter(ProcessorSettings settings)
    {
        _values = [.. settings.Values];
        _drive = new GainRamp(Factor(Value(At.Drive)));
        _ceiling = new GainRamp(Factor(Value(At.Ceiling) - Margin));
        _nextLookAhead = LookAhead();
        _first = new LimiterStage(settings.Channels, _nextLookAhead);
        _next = new LimiterStage(settings.Channels, _nextLookAhead);
        _second = new LimiterStage(settings.Channels, SmallLookAhead);
        _third = new LimiterStage(settings.Channels, SmallLookAhead, isStrict: true);
    }

    /// <inheritdoc/>
    public int Latency => (_change < 0 ? _first : _next).Latency + _second.Latency + _third.Latency;

    /// <inheritdoc/>
    public double Reduction { get; private set; }

    /// <inheritdoc/>
    public double Heard { get; private set; } = double.NaN;

    /// <inheritdoc/>
    public void Set(int parameter, double value)
    {
        _values[parameter] = value;
        _drive.Target = Factor(Value(At.Drive));
        _ceiling.Target = Factor(Value(At.Ceiling) - Margin);
    }

    /// <inheritdoc/>
    public void Process(Frames input, RoomForFrames output, Frames key)
    {
        var length = input.Length;
        var factors = _factors.AsSpan(0, length);
        var ceilings = _ceilings.AsSpan(0, length);
        Heard = Decibels.Of(Math.Max(Peak(input.Left), Peak(input.Right)));
        _drive.Fill(factors);
        _ceiling.Fill(ceilings);
        TensorPrimitives.Multiply(input.Left, factors, output.Left);
        if (input.Right.Length > 0)
        {
            TensorPrimitives.Multiply(input.Right, factors, output.Right);
        }

        var release = Ballistics.Memory(Value(At.Release));
        First(output, ceilings, release, factors);
        TensorPrimitives.Multiply(factors, _second.Process(output.Left, output.Right, ceilings, _smallRelease), factors);
        TensorPrimitives.Multiply(factors, _third.Process(output.Left, output.Right, ceilings, _smallRelease), factors);
        Reduction = Math.Max(0, -20 * Math.Log10(TensorPrimitives.Min<float>(factors)));
    }

    /// <inheritdoc/>
    public void Reset()
    {
        _nextLookAhead = LookAhead();
        _change = -1;
        _first.Start(_nextLookAhead);
        _second.Start(SmallLookAhead);
        _third.Start(SmallLookAhead);
        _drive.Arrive();
        _ceiling.Arrive();
        Reduction = 0;
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static float Peak(ReadOnlySpan<float> samples) => samples.IsEmpty ? 0 : Math.Abs(TensorPrimitives.MaxMagnitude(samples));

    private void First(RoomForFrames sound, ReadOnlySpan<float> ceilings, double release, Span<float> gains)
    {
        if (_change < 0 && LookAhead() != _nextLookAhead)
        {
            _nextLookAhead = LookAhead();
            _next.Start(_nextLookAhead);
            _change = 0;
        }

        if (_change < 0)
        {
            _first.Process(sound.Left, sound.Right, ceilings, release).CopyTo(gains);
            return;
        }

        var left = _newLeft.AsSpan(0, sound.Left.Length);
        var right = _newRight.AsSpan(0, sound.Right.Length);
        sound.Left.CopyTo(left);
        sound.Right.CopyTo(right);
        _first.Process(sound.Left, sound.Right, ceilings, release).CopyTo(gains);
        _next.Process(left, right, ceilings, release);
        for (var n = 0; n < left.Length; n++)
        {
            var faded = _change + n - WarmFrames;
            var share = faded < 0 ? 0 : faded < Fade.Frames ? Fade.Curve[faded] : 1;
            sound.Left[n] += (left[n] - sound.Left[n]) * share;
            if (right.Length > 0)
            {
                sound.Right[n] += (right[n] - sound.Right[n]) * share;
            }
        }

        _change += left.Length;
        if (_change >= WarmFrames + Fade.Frames)
        {
            (_first, _next) = (_next, _first);
            _change = -1;
        }
    }

    private static float Factor(double decibels) => (float)Ballistics.Factor(decibels);

    private int LookAhead() => Ballistics.WholeFrames(Value(At.LookAhead));

    private double Value(At parameter) => _values[(int)parameter];
}

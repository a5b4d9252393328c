using System.Collections.Immutable;
using System.Numerics.Tensors;
using System.Runtime.CompilerServices;
using System.Runtime.Intrinsics;
using Kinetra.Core.Dsp;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Processors;

/// <summary>
/// Lowers sibilance and nothing else. The sound is split by a crossover of 24 dB per octave, whose two bands add up to the
/// sound at its level at every frequency, with the phase turned once around the split; only the high band is lowered. What
/// it listens to is how one band stands against the other, in dB of power over about 3 ms: so it works at any level.
/// Left and right share one gain. No latency.
/// Sources: S. H. Linkwitz, "Active Crossover Networks for Noncoincident Drivers", JAES 24 (1), 1976; the smooth branching
/// detector of Giannoulis, Massberg, Reiss, JAES 60 (6), 2012.
/// </summary>
public sealed partial class DeEsser : IProcessor
{
    private enum At
    {
        Frequency,
        Threshold,
        Range,
        Attack,
        Release,
    }

    /// <summary>What can be set.</summary>
    public static readonly ProcessorType Type = new(
        "deEsser",
        "De-esser",
        "Lowers sharp s and sh sounds, and only while they sound.",
        "A lisp: s turns into th, and the voice goes dull at every consonant.",
        [
            new("frequency", "Frequency", "Hz", 2_000, 12_000, 5_500, ParameterScale.Logarithmic, "Where sibilance begins: what is above is lowered."),
            new("threshold", "Threshold", "dB", -30, 30, 3, ParameterScale.Decibels, "How far sibilance may stand above the rest of the voice before it is lowered, whatever the level."),
            new("range", "Range", "dB", 0, 24, 8, ParameterScale.Decibels, "By how much it lowers at most."),
            new("attack", "Attack", "ms", 0.1, 20, 1, ParameterScale.Logarithmic, "How soon it lowers: after this time, 63 % of the way is done."),
            new("release", "Release", "ms", 5, 500, 50, ParameterScale.Logarithmic, "How soon it lets go: after this time, 63 % of the way is done."),
        ])
    {
        Usually = "Before an equaliser that raises the top, and before the compressor, which would bring sharp sounds up again.",
        Plain = [PlainControl.Of("soft", "Sharp s and sh", "as they are", "soft", ("threshold", 12, -6), ("range", 2, 14))],
        Curve = Draw,
        Neutral = ProcessorType.Nothing(("range", 0)),
        Reduces = true,
        Make = s => new DeEsser(s),
        SideBySide = () => new Beside(),
    };

    private static ProcessorCurve Draw(ImmutableArray<double> values)
    {
        var (frequency, threshold, range) = (values[(int)At.Frequency], values[(int)At.Threshold], values[(int)At.Range]);
        var (high, low) = (new BiquadCoefficients[2], new BiquadCoefficients[2]);
        Design(frequency, high, low);
        return new(
            ResponseCurve.Of([FilterDesign.Through], [low, high]),
            TransferCurve.Of("sibilance over the rest, dB", "what it does to it, dB", -30, 36, over => -Math.Clamp(over - threshold, 0, range)));
    }

    private const double PowerMilliseconds = 3;

    // −120 dBFS: in silence neither stands above the other.
    private const double Nothing = 1e-12;
    private const double Forgotten = 1e-30;

    private readonly double[] _values;
    private readonly SectionCascade _sibilance;
    private readonly SectionCascade _rest;
    private readonly BiquadCoefficients[] _highDesign = new BiquadCoefficients[2];
    private readonly BiquadCoefficients[] _lowDesign = new BiquadCoefficients[2];
    private readonly Vector128<double>[] _high = new Vector128<double>[AudioFormat.BlockFrames];
    private readonly Vector128<double>[] _low = new Vector128<double>[AudioFormat.BlockFrames];
    private readonly float[] _wanted = new float[AudioFormat.BlockFrames];
    private readonly double _powerMemory = Ballistics.Memory(PowerMilliseconds);
    private double _highPower;
    private double _lowPower;
    private double _reduction;
    private double _designed;

    private DeEsser(ProcessorSettings settings)
    {
        _values = [.. settings.Values];
        Design();
        _sibilance = new SectionCascade(_highDesign);
        _rest = new SectionCascade(_lowDesign);
    }

    /// <inheritdoc/>
    public int Latency => 0;

    /// <inheritdoc/>
    public double Reduction { get; private set; }

    /// <inheritdoc/>
    public double Heard { get; private set; } = double.NaN;

    /// <inheritdoc/>
    public bool IsSteady => _sibilance.Steady is not null && _rest.Steady is not null;

    /// <inheritdoc/>
    public void Set(int parameter, double value)
    {
        _values[parameter] = value;
        if (Value(At.Frequency) != _designed)
        {
            Design();
            _sibilance.Set(_highDesign);
            _rest.Set(_lowDesign);
        }
    }

    /// <inheritdoc/>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public void Process(Frames input, RoomForFrames output, Frames key)
    {
        var length = input.Length;
        var high = _high.AsSpan(0, length);
        var low = _low.AsSpan(0, length);
        Pairs.Load(input.Left, input.Right, high);
        high.CopyTo(low);
        _sibilance.Process(high);
        _rest.Process(low);
        var gains = Listen(high, low, _wanted.AsSpan(0, length));
        for (var n = 0; n < length; n++)
        {
            low[n] += high[n] * Vector128.Create((double)gains[n]);
        }

        Pairs.Store(low, output.Left, output.Right);
    }

    /// <inheritdoc/>
    public void Reset()
    {
        _sibilance.Reset();
        _rest.Reset();
        _highPower = _lowPower = _reduction = Reduction = 0;
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private Span<float> Listen(ReadOnlySpan<Vector128<double>> high, ReadOnlySpan<Vector128<double>> low, Span<float> gains)
    {
        // High and low side by side: one step takes both on.
        Span<double> ratios = stackalloc double[gains.Length], below = stackalloc double[gains.Length];
        var powers = Vector128.Create(_highPower, _lowPower);
        var (memory, fresh) = (Vector128.Create(_powerMemory), Vector128.Create(1 - _powerMemory));
        for (var n = 0; n < gains.Length; n++)
        {
            var (highs, lows) = (high[n] * high[n], low[n] * low[n]);
            var now = Vector128.Create(highs.GetElement(0), lows.GetElement(0)) + Vector128.Create(highs.GetElement(1), lows.GetElement(1));
            powers = Vector128.FusedMultiplyAdd(memory, powers, fresh * now);
            ratios[n] = powers.GetElement(0) + Nothing;
            below[n] = powers.GetElement(1) + Nothing;
        }

        TensorPrimitives.Divide(ratios, below, ratios);
        TensorPrimitives.ConvertTruncating<double, float>(ratios, gains);

        // Power: half the decibels of a magnitude.
        Decibels.OfMagnitudes(gains);
        var (threshold, range) = (Value(At.Threshold), Value(At.Range));
        var (attack, release) = (Ballistics.Memory(Value(At.Attack)), Ballistics.Memory(Value(At.Release)));
        TensorPrimitives.Multiply(gains, 0.5f, gains);
        Heard = TensorPrimitives.Max<float>(gains);
        TensorPrimitives.Subtract(gains, (float)threshold, gains);
        TensorPrimitives.Max(gains, 0, gains);
        TensorPrimitives.Min(gains, (float)range, gains);
        Reduction = Recursions.Branching(gains, ref _reduction, attack, release);
        Keep(powers.GetElement(0), powers.GetElement(1), _reduction);
        TensorPrimitives.Negate(gains, gains);
        Decibels.ToFactors(gains);
        return gains;
    }

    // What cannot be heard any more is nothing.
    private void Keep(double highPower, double lowPower, double reduction)
    {
        _highPower = highPower < Forgotten ? 0 : highPower;
        _lowPower = lowPower < Forgotten ? 0 : lowPower;
        _reduction = reduction < 1e-9 ? 0 : reduction;
    }

    private void Design()
    {
        _designed = Value(At.Frequency);
        Design(_designed, _highDesign, _lowDesign);
    }

    private static void Design(double frequency, Span<BiquadCoefficients> high, Span<BiquadCoefficients> low)
    {
        for (var i = 0; i < 2; i++)
        {
            // Bilinear ones: only these add up evenly.
            high[i] = BiquadCoefficients.HighPass(frequency, Math.Sqrt(0.5), AudioFormat.SampleRate);
            low[i] = BiquadCoefficients.LowPass(frequency, Math.Sqrt(0.5), AudioFormat.SampleRate);
        }
    }

    private double Value(At parameter) => _values[(int)parameter];
}

using System.Numerics.Tensors;
using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;
using Kinetra.Core.Dsp;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Processors;

/// <summary>
/// Adds harmonics that were not there: of the low band, so that small loudspeakers let it be felt, and of the high band, so
/// that a dull voice gets air. Each band is brought to full scale by its own peaks, sent through Chebyshev polynomials at
/// four times the rate (of a full-scale sine T₂ makes its second harmonic and T₃ its third, and no other), and brought back
/// to its level; so what is added does not depend on how loud it is, and nothing folds back. The peaks are looked ahead at,
/// and smoothed, so that the level itself adds nothing. The sound passes unchanged, 3.3 ms late, which is the latency.
/// Source: M. Le Brun, "Digital Waveshaping Synthesis", JAES 27 (4), 1979.
/// </summary>
public sealed class Exciter : IProcessor
{
    private enum At
    {
        LowAmount,
        LowFrequency,
        HighAmount,
        HighFrequency,
    }

    /// <summary>What can be set.</summary>
    public static readonly ProcessorType Type = new(
        "exciter",
        "Exciter",
        "Adds warmth below or air above to a sound that has none to boost.",
        "Gritty and hissing; sibilants spit, and long listening tires.",
        [
            new("lowAmount", "Low amount", "%", 0, 100, 0, ParameterScale.Linear, "How much of the low band's harmonics is added; at 100 % as much as there is of the band."),
            new("lowFrequency", "Low band below", "Hz", 50, 400, 140, ParameterScale.Logarithmic, "Harmonics are made of what is below this."),
            new("highAmount", "High amount", "%", 0, 100, 15, ParameterScale.Linear, "How much of the high band's harmonics is added; at 100 % as much as there is of the band."),
            new("highFrequency", "High band above", "Hz", 1_000, 10_000, 3_500, ParameterScale.Logarithmic, "Harmonics are made of what is above this."),
        ])
    {
        LatencyOf = _ => Waits,
        MostGain = s => 1 + ((s.Values[(int)At.LowAmount] + s.Values[(int)At.HighAmount]) / 100),
        Make = s => new Exciter(s),
    };

    // Frames by which the level of a band is looked ahead at.
    private const int LookAhead = 120;
    private const int Waits = Oversampler.Latency + LookAhead;

    private readonly double[] _values;
    private readonly Band _low;
    private readonly Band _high;
    private readonly SteppedDelay[] _dry;
    private readonly Vector128<double>[] _frames = new Vector128<double>[AudioFormat.BlockFrames];
    private readonly float[] _added = new float[AudioFormat.BlockFrames];
    private readonly float[] _addedRight = new float[AudioFormat.BlockFrames];

    private Exciter(ProcessorSettings settings)
    {
        _values = [.. settings.Values];
        _low = new Band(settings.Channels, LowDesign(), (float)Value(At.LowAmount) / 100, second: 0.5f, third: 0.5f);
        _high = new Band(settings.Channels, HighDesign(), (float)Value(At.HighAmount) / 100, second: 0.7f, third: 0.3f);
        _dry = [.. Enumerable.Range(0, settings.Channels).Select(_ => new SteppedDelay(Waits, Waits))];
    }

    /// <inheritdoc/>
    public int Latency => Waits;

    /// <inheritdoc/>
    public double Reduction => 0;

    /// <inheritdoc/>
    public void Set(int parameter, double value)
    {
        _values[parameter] = value;
        _low.Set((float)Value(At.LowAmount) / 100, LowDesign());
        _high.Set((float)Value(At.HighAmount) / 100, HighDesign());
    }

    /// <inheritdoc/>
    public void Process(Frames input, RoomForFrames output, Frames key)
    {
        var frames = _frames.AsSpan(0, input.Length);
        var left = _added.AsSpan(0, input.Length);
        var right = _addedRight.AsSpan(0, input.Right.Length);
        left.Clear();
        right.Clear();
        Pairs.Load(input.Left, input.Right, frames);
        _low.AddTo(frames, left, right);
        Pairs.Load(input.Left, input.Right, frames);
        _high.AddTo(frames, left, right);
        _dry[0].Process(input.Left, output.Left);
        TensorPrimitives.Add(output.Left, left, output.Left);
        if (input.Right.Length > 0)
        {
            _dry[1].Process(input.Right, output.Right);
            TensorPrimitives.Add(output.Right, right, output.Right);
        }
    }

    /// <inheritdoc/>
    public void Reset()
    {
        _low.Reset();
        _high.Reset();
        Array.ForEach(_dry, d => d.Reset());
    }

    private BiquadCoefficients LowDesign() => FilterDesign.LowPass(Value(At.LowFrequency), Math.Sqrt(0.5));

    private BiquadCoefficients HighDesign() => FilterDesign.HighPass(Value(At.HighFrequency), Math.Sqrt(0.5));

    private double Value(At parameter) => _values[(int)parameter];

    private sealed class Band
    {
        private const double FallMilliseconds = 200;

        // −120 dBFS: what is quieter is not brought up.
        private const float Quiet = 1e-6f;
        private const double OffsetFrequency = 20;

        private static readonly double Fall = Ballistics.Memory(FallMilliseconds);

        private readonly float _second;
        private readonly float _third;
        private readonly SectionCascade _cut;
        private readonly SectionCascade _noOffset;
        private readonly GainRamp _amount;
        private readonly BiquadCoefficients[] _design = new BiquadCoefficients[1];
        private readonly Channel[] _channels;
        private readonly Vector128<double>[] _frames = new Vector128<double>[AudioFormat.BlockFrames];
        private readonly float[] _amounts = new float[AudioFormat.BlockFrames];
        private readonly float[] _left = new float[AudioFormat.BlockFrames];
        private readonly float[] _right = new float[AudioFormat.BlockFrames];

        public Band(int channels, BiquadCoefficients cut, float amount, float second, float third)
        {
            (_second, _third) = (second, third);
            _design[0] = cut;
            _cut = new SectionCascade(_design);
            _noOffset = new SectionCascade([FilterDesign.HighPass(OffsetFrequency, Math.Sqrt(0.5))]);
            _amount = new GainRamp(amount);
            _channels = [.. Enumerable.Range(0, channels).Select(_ => new Channel())];
        }

        public void Set(float amount, BiquadCoefficients cut)
        {
            _amount.Target = amount;
            if (cut != _design[0])
            {
                _design[0] = cut;
                _cut.Set(_design);
            }
        }

        [MethodImpl(MethodImplOptions.AggressiveOptimization)]
        public void AddTo(Span<Vector128<double>> frames, Span<float> left, Span<float> right)
        {
            _cut.Process(frames);
            Span<float> one = _left.AsSpan(0, left.Length), other = _right.AsSpan(0, right.Length);
            Pairs.Store(frames, one, other);
            _channels[0].Shape(one, _second, _third);
            if (right.Length > 0)
            {
                _channels[1].Shape(other, _second, _third);
            }

            var harmonics = _frames.AsSpan(0, frames.Length);
            Pairs.Load(one, other, harmonics);
            _noOffset.Process(harmonics);
            Pairs.Store(harmonics, one, other);
            var amounts = _amounts.AsSpan(0, frames.Length);
            _amount.Fill(amounts);
            Mixdown.Add(left, one, amounts);
            if (right.Length > 0)
            {
                Mixdown.Add(right, other, amounts);
            }
        }

        public void Reset()
        {
            _cut.Reset();
            _noOffset.Reset();
            _amount.Arrive();
            Array.ForEach(_channels, c => c.Reset());
        }

        private sealed class Channel
        {
            private const int Mean = LookAhead / 2;

            // Beyond a sine: how far a peak may stand out before it counts by itself.
            private const float Crest = 1.4f;

            private readonly Oversampler _oversampler = new();
            private readonly SteppedDelay _waits = new(LookAhead, LookAhead);
            private readonly SteppedDelay _delay = new(Oversampler.Latency, Oversampler.Latency);

            // The peaks' negatives: their least is the highest peak.
            private readonly SlidingLeast _highest = new(2 * LookAhead, rest: 0);
            private readonly MovingAverage _power = new(Mean);
            private readonly MovingAverage _smoothPower = new(Mean);
            private readonly MovingAverage _first = new(Mean);
            private readonly MovingAverage _second = new(Mean);
            private readonly float[] _powers = new float[AudioFormat.BlockFrames];
            private readonly float[] _peaks = new float[AudioFormat.BlockFrames];
            private readonly float[] _over = new float[AudioFormat.BlockFrames * Oversampler.Factor];
            private double _peak;

            public Channel() => Start();

            /// <summary>Of a band's sound its harmonics, in place.</summary>
            public void Shape(Span<float> sound, float second, float third)
            {
                var peaks = _peaks.AsSpan(0, sound.Length);
                TensorPrimitives.Abs(sound, peaks);
                TensorPrimitives.Negate(peaks, peaks);
                Follow(sound, peaks);
                _waits.Process(sound, sound);
                var floor = _powers.AsSpan(0, sound.Length);
                TensorPrimitives.Max(peaks, Quiet, floor);
                TensorPrimitives.Divide(sound, floor, sound);
                var over = _over.AsSpan(0, sound.Length * Oversampler.Factor);
                _oversampler.Up(sound, over);
                Bend(over, second, third);
                _oversampler.Down(over, sound);

                // The peak that it was divided by comes back after the same delay.
                _delay.Process(peaks, peaks);
                TensorPrimitives.Multiply(sound, peaks, sound);
            }

            public void Reset()
            {
                _oversampler.Reset();
                _waits.Reset();
                _delay.Reset();
                _highest.Reset();
                Start();
            }

            // T2(u) = 2u² − 1, T3(u) = 4u³ − 3u.
            [MethodImpl(MethodImplOptions.AggressiveOptimization)]
            private static void Bend(Span<float> values, float second, float third)
            {
                var n = 0;
                ref var first = ref MemoryMarshal.GetReference(values);
                for (; n <= values.Length - Vector512<float>.Count; n += Vector512<float>.Count)
                {
                    var u = Vector512.LoadUnsafe(ref first, (nuint)n);
                    var square = u * u;
                    (((square + square - Vector512<float>.One) * second) + (((square * 4) - Vector512.Create(3f)) * u * third)).StoreUnsafe(ref first, (nuint)n);
                }

                for (; n < values.Length; n++)
                {
                    var u = values[n];
                    values[n] = (second * ((2 * u * u) - 1)) + (third * u * ((4 * u * u) - 3));
                }
            }

            // A tone's peak is known from its power, wherever its samples fall; what stands out further counts by itself.
            [MethodImpl(MethodImplOptions.AggressiveOptimization)]
            private void Follow(ReadOnlySpan<float> sound, Span<float> peaks)
            {
                var powers = _powers.AsSpan(0, sound.Length);
                TensorPrimitives.Multiply(sound, sound, powers);
                _power.Process(powers);
                _smoothPower.Process(powers);
                _highest.Process(peaks, 2 * LookAhead);
                TensorPrimitives.Max(powers, 0, powers);
                TensorPrimitives.Multiply(powers, 2, powers);
                TensorPrimitives.Sqrt(powers, powers);
                TensorPrimitives.Multiply(peaks, -1 / Crest, peaks);
                TensorPrimitives.Max(peaks, powers, peaks);
                Recursions.FallingPeak(peaks, ref _peak, Fall);
                _peak = _peak < 1e-12 ? 0 : _peak;
                _first.Process(peaks);
                _second.Process(peaks);
            }

            private void Start()
            {
                _power.Start(Mean, 0);
                _smoothPower.Start(Mean, 0);
                _first.Start(Mean, 0);
                _second.Start(Mean, 0);
                _peak = 0;
            }
        }
    }
}

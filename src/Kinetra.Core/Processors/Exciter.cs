using System.Numerics.Tensors;
using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;
using Kinetra.Core.Dsp;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Processors;

/// <summary>
/// Adds harmonics that were not there: of the low band, so that small loudspeakers let it be felt, and of the high band, so
/// that a dull voice gets air. Each band is brought to full scale by its own peaks, bent at four times the rate into its square and its
/// cube, and brought back to its level; so what is added does not depend on how loud it is. Of the square its mean is taken away, and
/// of the cube what is like the band itself (4u³ − cu with c = 4·mean(u⁴)/mean(u²)), so that the band keeps its level: of a sine the
/// second and third harmonic are left, and no other (the Chebyshev polynomials T₂ and T₃), and of any other sound nothing that would
/// weaken it. What is above 16 kHz is cut before, as its harmonics would fold back, and what is made above 18 kHz after. The peaks are
/// looked ahead at, and smoothed, so that the level itself adds nothing. The sound passes unchanged, 3.3 ms late, which is the latency.
/// Source: M. Le Brun, "Digital Waveshaping Synthesis", JAES 27 (4), 1979; the two means are our own.
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
        Usually = "After the equaliser and the de-esser, before the limiter: what it adds is new, and is evened with the rest.",
        Plain =
        [
            PlainControl.Of("air", "Air above", "none", "much", ("highAmount", 0, 60)),
            PlainControl.Of("warmth", "Warmth below", "none", "much", ("lowAmount", 0, 60)),
        ],
        Curve = v => new(Response: ResponseCurve.Of(
            [FilterDesign.Through], [LowDesign(v[(int)At.LowFrequency]), HighDesign(v[(int)At.HighFrequency])])),
        Neutral = ProcessorType.Nothing(("lowAmount", 0), ("highAmount", 0)),
        LatencyOf = _ => Waits,
        MostGain = s => 1 + ((s.Values[(int)At.LowAmount] + s.Values[(int)At.HighAmount]) / 100),
        Make = s => new Exciter(s),
    };

    // Frames by which the level of a band is looked ahead at.
    private const int LookAhead = 120;
    private const int Waits = Oversampler.Latency + LookAhead;

    // What the band may hold before it is bent, and what may be made of it: the harmonics of what is above lie where nobody hears them.
    private const double HighestOfBand = 16_000;
    private const double HighestMade = 18_000;

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
        _low = new Band(settings.Channels, LowDesign(), [], (float)Value(At.LowAmount) / 100, second: 0.5f, third: 0.5f);
        _high = new Band(settings.Channels, HighDesign(), LowPass(HighestMade, 6), (float)Value(At.HighAmount) / 100, second: 0.7f, third: 0.3f);
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

    private BiquadCoefficients[] LowDesign() => LowDesign(Value(At.LowFrequency));

    private BiquadCoefficients[] HighDesign() => HighDesign(Value(At.HighFrequency));

    private static BiquadCoefficients[] LowDesign(double frequency) => [FilterDesign.LowPass(frequency, Math.Sqrt(0.5))];

    private static BiquadCoefficients[] HighDesign(double frequency) => [FilterDesign.HighPass(frequency, Math.Sqrt(0.5)), .. LowPass(HighestOfBand, 6)];

    // By the bilinear transform: nothing is left at half of the rate.
    private static BiquadCoefficients[] LowPass(double frequency, int order) =>
        [.. Enumerable.Range(0, order / 2).Select(s => BiquadCoefficients.LowPass(frequency, FilterDesign.ButterworthQ(order, s), AudioFormat.SampleRate))];

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
        private readonly SectionCascade _made;
        private readonly GainRamp _amount;
        private readonly BiquadCoefficients[] _design;
        private readonly Channel[] _channels;
        private readonly Vector128<double>[] _frames = new Vector128<double>[AudioFormat.BlockFrames];
        private readonly float[] _amounts = new float[AudioFormat.BlockFrames];
        private readonly float[] _left = new float[AudioFormat.BlockFrames];
        private readonly float[] _right = new float[AudioFormat.BlockFrames];
        private bool _rests;

        public Band(int channels, BiquadCoefficients[] cut, BiquadCoefficients[] after, float amount, float second, float third)
        {
            (_second, _third) = (second, third);
            _design = cut;
            _cut = new SectionCascade(_design);
            _made = new SectionCascade([FilterDesign.HighPass(OffsetFrequency, Math.Sqrt(0.5)), .. after]);
            _amount = new GainRamp(amount);
            _channels = [.. Enumerable.Range(0, channels).Select(_ => new Channel())];
        }

        public void Set(float amount, ReadOnlySpan<BiquadCoefficients> cut)
        {
            _amount.Target = amount;
            if (!cut.SequenceEqual(_design))
            {
                cut.CopyTo(_design);
                _cut.Set(_design);
            }
        }

        [MethodImpl(MethodImplOptions.AggressiveOptimization)]
        public void AddTo(Span<Vector128<double>> frames, Span<float> left, Span<float> right)
        {
            _cut.Process(frames);
            Span<float> one = _left.AsSpan(0, left.Length), other = _right.AsSpan(0, right.Length);
            Pairs.Store(frames, one, other);
            if (_amount.IsSilent)
            {
                Rest(one, other);
                return;
            }

            _rests = false;
            _channels[0].Shape(one, _second, _third);
            if (right.Length > 0)
            {
                _channels[1].Shape(other, _second, _third);
            }

            var harmonics = _frames.AsSpan(0, frames.Length);
            Pairs.Load(one, other, harmonics);
            _made.Process(harmonics);
            Pairs.Store(harmonics, one, other);
            var amounts = _amounts.AsSpan(0, frames.Length);
            _amount.Fill(amounts);
            Mixdown.Add(left, one, amounts);
            if (right.Length > 0)
            {
                Mixdown.Add(right, other, amounts);
            }
        }

        // Nothing is added: how loud the band is, is followed all the same, so that it is known once something is.
        private void Rest(Span<float> left, Span<float> right)
        {
            if (!_rests)
            {
                _rests = true;
                _made.Reset();
                Array.ForEach(_channels, c => c.Forget());
            }

            _channels[0].Follow(left);
            if (right.Length > 0)
            {
                _channels[1].Follow(right);
            }
        }

        public void Reset()
        {
            _cut.Reset();
            _made.Reset();
            _amount.Arrive();
            Array.ForEach(_channels, c => c.Reset());
        }

        private sealed class Channel
        {
            private const int Mean = LookAhead / 2;

            // Of each of two steps that follow each other: what a band's square and fourth power hold beside their means is far down after both.
            private const double MeanMilliseconds = 10;

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
            private readonly float[] _squares = new float[AudioFormat.BlockFrames];
            private readonly float[] _likes = new float[AudioFormat.BlockFrames];
            private readonly Means _means = new();
            private double _peak;

            public Channel() => Start();

            /// <summary>Of a band's sound its harmonics, in place.</summary>
            public void Shape(Span<float> sound, float second, float third)
            {
                var peaks = Follow(sound);
                var floor = _powers.AsSpan(0, sound.Length);
                TensorPrimitives.Max(peaks, Quiet, floor);
                TensorPrimitives.Divide(sound, floor, sound);
                var over = _over.AsSpan(0, sound.Length * Oversampler.Factor);
                Span<float> squares = _squares.AsSpan(0, sound.Length), likes = _likes.AsSpan(0, sound.Length);
                _means.Follow(sound, floor, squares, likes);
                _oversampler.Up(sound, over);
                for (var p = 0; p < Oversampler.Factor; p++)
                {
                    Bend(over.Slice(p * sound.Length, sound.Length), squares, likes, second, third);
                }

                _oversampler.Down(over, sound);

                // The peak that it was divided by comes back after the same delay.
                _delay.Process(peaks, peaks);
                TensorPrimitives.Multiply(sound, peaks, sound);
            }

            /// <summary>Follows a band's level, and lets its sound wait, in place. What comes is the level, as far as it is looked ahead at.</summary>
            public Span<float> Follow(Span<float> sound)
            {
                var peaks = _peaks.AsSpan(0, sound.Length);
                TensorPrimitives.Abs(sound, peaks);
                TensorPrimitives.Negate(peaks, peaks);
                Follow(sound, peaks);
                _waits.Process(sound, sound);
                return peaks;
            }

            /// <summary>Forgets what it has shaped.</summary>
            public void Forget()
            {
                _oversampler.Reset();
                _delay.Reset();
                _means.Reset();
            }

            public void Reset()
            {
                Forget();
                _waits.Reset();
                _highest.Reset();
                Start();
            }

            // 2u² less its mean, 4u³ less what of it is like u.
            [MethodImpl(MethodImplOptions.AggressiveOptimization)]
            private static void Bend(Span<float> values, ReadOnlySpan<float> squares, ReadOnlySpan<float> likes, float second, float third)
            {
                var n = 0;
                ref var first = ref MemoryMarshal.GetReference(values);
                for (; n <= values.Length - Vector512<float>.Count; n += Vector512<float>.Count)
                {
                    var u = Vector512.LoadUnsafe(ref first, (nuint)n);
                    var square = u * u;
                    var (mean, like) = (Vector512.Create(squares[n..]), Vector512.Create(likes[n..]));
                    (((square + square - mean) * second) + (((square * 4) - like) * u * third)).StoreUnsafe(ref first, (nuint)n);
                }

                for (; n < values.Length; n++)
                {
                    var u = values[n];
                    values[n] = (second * ((2 * u * u) - squares[n])) + (third * u * ((4 * u * u) - likes[n]));
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

            /// <summary>
            /// Weighed by the level, means of what is as loud as one another: so they are right from the first period of a sound on, whatever
            /// was before.
            /// </summary>
            private sealed class Means
            {
                // Far below anything that is brought up: nothing is divided by nothing, and nothing decays into denormal numbers.
                private const double Nothing = 1e-30;

                private static readonly double Memory = Ballistics.Memory(MeanMilliseconds);

                private readonly double[] _level = new double[AudioFormat.BlockFrames];
                private readonly double[] _power = new double[AudioFormat.BlockFrames];
                private readonly double[] _fourth = new double[AudioFormat.BlockFrames];

                // After one step and after both.
                private (double First, double Second) _levels;
                private (double First, double Second) _powers;
                private (double First, double Second) _fourths;

                /// <summary>Of a band at full scale and its peaks: twice the mean of its square, and four times that of u⁴ by that of u².</summary>
                public void Follow(ReadOnlySpan<float> sound, ReadOnlySpan<float> peaks, Span<float> squares, Span<float> likes)
                {
                    Span<double> level = _level.AsSpan(0, sound.Length), power = _power.AsSpan(0, sound.Length), fourth = _fourth.AsSpan(0, sound.Length);
                    TensorPrimitives.ConvertTruncating(peaks, level);
                    TensorPrimitives.Multiply(level, level, level);
                    TensorPrimitives.ConvertTruncating(sound, fourth);
                    TensorPrimitives.Multiply(fourth, fourth, fourth);
                    TensorPrimitives.Multiply(fourth, level, power);
                    TensorPrimitives.Multiply(fourth, power, fourth);
                    Smooth(level, power, fourth);
                    TensorPrimitives.Divide(power, level, level);
                    TensorPrimitives.Multiply(level, 2, level);
                    TensorPrimitives.ConvertTruncating(level, squares);
                    TensorPrimitives.Divide(fourth, power, fourth);
                    TensorPrimitives.Multiply(fourth, 4, fourth);
                    TensorPrimitives.ConvertTruncating(fourth, likes);
                }

                public void Reset() => (_levels, _powers, _fourths) = (default, default, default);

                // Six recursions that do not wait for one another. All in 64 bits: a conversion would make each value wait for the last.
                [MethodImpl(MethodImplOptions.AggressiveOptimization)]
                private void Smooth(Span<double> level, Span<double> power, Span<double> fourth)
                {
                    double step = 1 - Memory, level1 = _levels.First, level2 = _levels.Second;
                    double power1 = _powers.First, power2 = _powers.Second, fourth1 = _fourths.First, fourth2 = _fourths.Second;
                    for (var n = 0; n < level.Length && n < power.Length && n < fourth.Length; n++)
                    {
                        level1 = Math.FusedMultiplyAdd(step, level[n] + Nothing - level1, level1);
                        power1 = Math.FusedMultiplyAdd(step, power[n] + Nothing - power1, power1);
                        fourth1 = Math.FusedMultiplyAdd(step, fourth[n] + Nothing - fourth1, fourth1);
                        level2 = Math.FusedMultiplyAdd(step, level1 - level2, level2);
                        power2 = Math.FusedMultiplyAdd(step, power1 - power2, power2);
                        fourth2 = Math.FusedMultiplyAdd(step, fourth1 - fourth2, fourth2);
                        level[n] = level2;
                        power[n] = power2;
                        fourth[n] = fourth2;
                    }

                    (_levels, _powers, _fourths) = ((level1, level2), (power1, power2), (fourth1, fourth2));
                }
            }
        }
    }
}

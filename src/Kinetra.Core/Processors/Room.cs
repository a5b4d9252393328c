using System.Numerics.Tensors;
using System.Runtime.CompilerServices;
using System.Runtime.Intrinsics;
using Kinetra.Core.Dsp;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Processors;

/// <summary>
/// A small reverb: eight delay lines of lengths without a common factor, fed back through a Hadamard matrix, which keeps
/// energy, and through a gain in each that makes every line lose 60 dB in the decay time; a one-pole low pass in each lets
/// high tones die sooner. What is below 40 Hz does not go in: it would ring there. No latency; the sound as it came passes
/// unchanged at its part of the blend.
/// Source: J.-M. Jot, A. Chaigne, "Digital delay networks for designing artificial reverberators", AES 90, 1991.
/// </summary>
public sealed class Room : IProcessor
{
    private enum At
    {
        Size,
        Decay,
        Damping,
        Blend,
    }

    private const int Lines = 8;
    private const int Capacity = 4_096;

    // By how much the loudest of the lines' resonances rises for each millisecond of decay, by the size: measured by the impulse response
    // with the least damping. A resonance is as high as its decay is long.
    private static readonly double[] Mono = [0.0295, 0.0133, 0.0061], Own = [0.0211, 0.011, 0.0047], Cross = [0.0149, 0.0059, 0.0027];

    // −300 dBFS: a tail that has died is exact zeros.
    private const float Nothing = 1e-15f;
    private const double CutFrequency = 40;
    private static readonly BiquadCoefficients LowCut = FilterDesign.HighPass(CutFrequency, Math.Sqrt(0.5));
    private static readonly float Scale = 1 / MathF.Sqrt(Lines);

    // Primes; for each size the same ones, shrunk. None is shorter than a block, so that a block is read before it is fed.
    private static readonly int[][] Lengths =
    [
        [257, 293, 337, 379, 421, 463, 509, 557],
        [613, 701, 809, 907, 1_013, 1_117, 1_229, 1_361],
        [1_361, 1_559, 1_789, 2_017, 2_251, 2_477, 2_729, 3_011],
    ];

    /// <summary>What can be set.</summary>
    public static readonly ProcessorType Type = new(
        "room",
        "Room",
        "Puts a sound into a room: for pads, voices from elsewhere and jokes.",
        "Speech swims, and everything is far away.",
        [
            Parameter.Of("size", "Size", "How far the walls are.", 1, "Closet", "Room", "Hall"),
            new("decay", "Decay", "ms", 100, 5_000, 700, ParameterScale.Logarithmic, "How long it takes to die away by 60 dB."),
            new("damping", "Damping", "Hz", 1_000, 16_000, 6_000, ParameterScale.Logarithmic, "What is above this dies sooner: curtains."),
            new("blend", "Blend", "%", 0, 100, 25, ParameterScale.Linear, "How much of the result is room; the rest is the sound as it came."),
        ])
    {
        Usually = "Last but for a limiter: a gate after it would cut its tail off.",
        Plain = [PlainControl.Of("far", "How far away", "dry", "far away", ("blend", 0, 70))],
        KeepsSound = true,
        Make = s => new Room(s),
        MostGain = s => 1 + (s.Values[(int)At.Blend] / 100 * ((PeakOf(s, s.Channels == 1 ? Mono : Own) - 1))),
        CrossGain = s => s.Channels == 1 ? 0 : s.Values[(int)At.Blend] / 100 * PeakOf(s, Cross),
    };

    private readonly double[] _values;
    private readonly bool _isStereo;
    private readonly GainRamp _blend;
    private readonly float[][] _rings = [.. Enumerable.Range(0, Lines).Select(_ => new float[Capacity])];
    private readonly float[][] _taken = [.. Enumerable.Range(0, Lines).Select(_ => new float[AudioFormat.BlockFrames])];
    private readonly double[] _low = new double[Lines];
    private readonly double[] _gains = new double[Lines];
    private readonly float[] _blends = new float[AudioFormat.BlockFrames];
    private readonly float[] _wet = new float[AudioFormat.BlockFrames];
    private readonly float[][] _cut = [new float[AudioFormat.BlockFrames], new float[AudioFormat.BlockFrames]];
    private Biquad _leftCut;
    private Biquad _rightCut;
    private double _damping;
    private readonly Crossing<int> _size;
    private int _at;

    private Room(ProcessorSettings settings)
    {
        _values = [.. settings.Values];
        _isStereo = settings.Channels == 2;
        _blend = new GainRamp((float)Value(At.Blend) / 100);
        _size = new((int)Value(At.Size));
        for (var i = 0; i < Lines; i++)
        {
            _gains[i] = GainOf(i);
        }

        _damping = Damping();
    }

    /// <inheritdoc/>
    public int Latency => 0;

    /// <inheritdoc/>
    public double Reduction => 0;

    /// <inheritdoc/>
    public void Set(int parameter, double value)
    {
        _values[parameter] = value;
        _blend.Target = (float)Value(At.Blend) / 100;
        _size.Set((int)Value(At.Size));
    }

    /// <inheritdoc/>
    public void Process(Frames input, RoomForFrames output, Frames key)
    {
        var length = input.Length;
        _size.Begin();
        for (var i = 0; i < Lines; i++)
        {
            Take(i, _taken[i].AsSpan(0, length));
        }

        _size.End(length);
        Mix(length);
        Give(input);
        Blend(input, output);
        _at = (_at + length) % Capacity;
    }

    /// <inheritdoc/>
    public void Reset()
    {
        Array.ForEach(_rings, Array.Clear);
        Array.Clear(_low);
        _leftCut.Reset();
        _rightCut.Reset();
        _blend.Arrive();
        _size.Arrive();
    }

    // Another size is faded in.
    private void Take(int line, Span<float> taken)
    {
        Back(_rings[line], Lengths[_size.Now][line], taken);
        if (_size.IsCrossing)
        {
            var before = _wet.AsSpan(0, taken.Length);
            Back(_rings[line], Lengths[_size.Old][line], before);
            _size.Blend(before, taken);
        }
    }

    private void Back(ReadOnlySpan<float> ring, int frames, Span<float> taken)
    {
        var from = (_at - frames + Capacity) % Capacity;
        var first = Math.Min(taken.Length, Capacity - from);
        ring.Slice(from, first).CopyTo(taken);
        ring[..(taken.Length - first)].CopyTo(taken[first..]);
    }

    // What the lines give is damped and mixed, all eight side by side. Decay and damping go to what is set within the block.
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private void Mix(int length)
    {
        Span<Vector512<double>> lanes = stackalloc Vector512<double>[AudioFormat.BlockFrames];
        Span<float> mixed = stackalloc float[AudioFormat.BlockFrames * Lines];
        var turned = (length + 3) / 4 * 4;
        Lanes.Load(_taken, 0, lanes[..turned]);
        var damping = Damping();
        var gains = Vector512.Create<double>(_gains);
        for (var i = 0; i < Lines; i++)
        {
            _gains[i] = GainOf(i);
        }

        var (step, dampingStep) = ((Vector512.Create<double>(_gains) - gains) * (1.0 / length), Vector512.Create((damping - _damping) / length));
        var (low, memory) = (Vector512.Create<double>(_low), Vector512.Create(_damping));
        for (var n = 0; n < length; n++)
        {
            memory += dampingStep;
            gains += step;
            low = lanes[n] + (memory * (low - lanes[n]));
            var value = Lanes.Narrow(low * gains);
            Hadamard(Vector256.AndNot(value, Vector256.LessThan(Vector256.Abs(value), Vector256.Create(Nothing)))).CopyTo(mixed[(n * Lines)..]);
        }

        Vector512.AndNot(low, Vector512.LessThan(Vector512.Abs(low), Vector512.Create(1e-24))).CopyTo(_low);
        _damping = damping;
        mixed[(length * Lines)..(turned * Lines)].Clear();
        Lanes.Store(mixed[..(turned * Lines)], _taken, 0);
    }

    // Energy in is energy out: the matrix of ±1, over the root of eight. Neighbours first, then pairs, then fours.
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static Vector256<float> Hadamard(Vector256<float> x)
    {
        x = Vector256.Shuffle(x, Vector256.Create(1, 0, 3, 2, 5, 4, 7, 6)) + (x * Vector256.Create(1f, -1, 1, -1, 1, -1, 1, -1));
        x = Vector256.Shuffle(x, Vector256.Create(2, 3, 0, 1, 6, 7, 4, 5)) + (x * Vector256.Create(1f, 1, -1, -1, 1, 1, -1, -1));
        x = Vector256.Shuffle(x, Vector256.Create(4, 5, 6, 7, 0, 1, 2, 3)) + (x * Vector256.Create(1f, 1, 1, 1, -1, -1, -1, -1));
        return x * Scale;
    }

    // Left goes into the even lines, right into the odd ones; what is below hearing would only pile up in them.
    private void Give(Frames input)
    {
        var given = _blends.AsSpan(0, input.Length);
        Cut(ref _leftCut, input.Left, _cut[0]);
        if (_isStereo)
        {
            Cut(ref _rightCut, input.Right, _cut[1]);
        }

        for (var i = 0; i < Lines; i++)
        {
            TensorPrimitives.Multiply(_cut[i % 2 == 0 || !_isStereo ? 0 : 1].AsSpan(0, input.Length), 0.5f, given);
            TensorPrimitives.Add(given, _taken[i].AsSpan(0, input.Length), given);
            var first = Math.Min(input.Length, Capacity - _at);
            given[..first].CopyTo(_rings[i].AsSpan(_at));
            given[first..].CopyTo(_rings[i]);
        }
    }

    private static void Cut(ref Biquad cut, ReadOnlySpan<float> input, Span<float> output)
    {
        for (var n = 0; n < input.Length; n++)
        {
            output[n] = (float)cut.Next(LowCut, input[n]);
        }

        cut.Flush();
    }

    // The sum of all lines is the first that was mixed, and that of the even ones less the odd ones the second.
    private void Blend(Frames input, RoomForFrames output)
    {
        var length = input.Length;
        Span<float> blends = _blends.AsSpan(0, length), all = _taken[0].AsSpan(0, length), apart = _taken[1].AsSpan(0, length);
        _blend.Fill(blends);
        if (!_isStereo)
        {
            TensorPrimitives.Multiply(all, 0.7f / Scale, all);
            Toward(all, input.Left, blends, output.Left);
            return;
        }

        var wet = _wet.AsSpan(0, length);
        TensorPrimitives.Add(all, apart, wet);
        TensorPrimitives.Multiply(wet, 0.5f / Scale, wet);
        TensorPrimitives.Subtract(all, apart, apart);
        TensorPrimitives.Multiply(apart, 0.5f / Scale, apart);
        Toward(wet, input.Left, blends, output.Left);
        Toward(apart, input.Right, blends, output.Right);
    }

    // dry + blend · (wet − dry)
    private static void Toward(Span<float> wet, ReadOnlySpan<float> dry, ReadOnlySpan<float> blends, Span<float> output)
    {
        TensorPrimitives.Subtract(wet, dry, wet);
        TensorPrimitives.Multiply(wet, blends, wet);
        TensorPrimitives.Add(dry, wet, output);
    }

    private static double PeakOf(ProcessorSettings settings, double[] perMillisecond) =>
        Math.Max(1, perMillisecond[(int)settings.Values[(int)At.Size]] * settings.Values[(int)At.Decay]);

    private double GainOf(int line) => Math.Pow(10, -3 * Lengths[_size.Now][line] / Ballistics.Frames(Value(At.Decay)));

    private double Damping() => Math.Exp(-2 * Math.PI * Value(At.Damping) / AudioFormat.SampleRate);

    private double Value(At parameter) => _values[(int)parameter];
}

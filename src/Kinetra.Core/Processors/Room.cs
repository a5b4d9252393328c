using System.Runtime.CompilerServices;
using Kinetra.Core.Dsp;
using Kinetra.Core.Engine;

namespace Kinetra.Core.Processors;

/// <summary>
/// A small reverb: eight delay lines of lengths without a common factor, fed back through a Hadamard matrix, which keeps
/// energy, and through a gain in each that makes every line lose 60 dB in the decay time; a one-pole low pass in each lets
/// high tones die sooner. No latency; the sound as it came passes unchanged at its part of the blend.
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

    // −300 dBFS: a tail that has died is exact zeros.
    private const float Nothing = 1e-15f;

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
        Make = s => new Room(s),
    };

    private readonly double[] _values;
    private readonly bool _isStereo;
    private readonly GainRamp _blend;
    private readonly float[][] _rings = [.. Enumerable.Range(0, Lines).Select(_ => new float[Capacity])];
    private readonly float[][] _taken = [.. Enumerable.Range(0, Lines).Select(_ => new float[AudioFormat.BlockFrames])];
    private readonly double[] _low = new double[Lines];
    private readonly double[] _gains = new double[Lines];
    private readonly float[] _blends = new float[AudioFormat.BlockFrames];
    private double _damping;
    private int _size;
    private int _oldSize;
    private int _faded = Fade.Frames;
    private int _at;

    private Room(ProcessorSettings settings)
    {
        _values = [.. settings.Values];
        _isStereo = settings.Channels == 2;
        _blend = new GainRamp((float)Value(At.Blend) / 100);
        _size = _oldSize = (int)Value(At.Size);
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
    }

    /// <inheritdoc/>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public void Process(Frames input, RoomForFrames output, Frames key)
    {
        var length = input.Length;
        if (_faded == Fade.Frames && (int)Value(At.Size) != _size)
        {
            (_oldSize, _size, _faded) = (_size, (int)Value(At.Size), 0);
        }

        for (var i = 0; i < Lines; i++)
        {
            Take(i, _taken[i].AsSpan(0, length));
        }

        var fadedTo = Math.Min(Fade.Frames, _faded + length);
        _faded = fadedTo;
        Damp(length);
        _blend.Fill(_blends.AsSpan(0, length));
        Span<float> frame = stackalloc float[Lines];
        for (var n = 0; n < length; n++)
        {
            var (left, right) = (input.Left[n], _isStereo ? input.Right[n] : input.Left[n]);
            float wetLeft = 0, wetRight = 0;
            for (var i = 0; i < Lines; i += 2)
            {
                frame[i] = _taken[i][n];
                frame[i + 1] = _taken[i + 1][n];
                wetLeft += frame[i];
                wetRight += frame[i + 1];
            }

            Hadamard(frame);
            var at = (_at + n) % Capacity;
            for (var i = 0; i < Lines; i++)
            {
                _rings[i][at] = frame[i] + (0.5f * (i % 2 == 0 ? left : right));
            }

            var blend = _blends[n];
            output.Left[n] = left + (blend * ((_isStereo ? wetLeft : (wetLeft + wetRight) * 0.7f) - left));
            if (_isStereo)
            {
                output.Right[n] = right + (blend * (wetRight - right));
            }
        }

        _at = (_at + length) % Capacity;
    }

    /// <inheritdoc/>
    public void Reset()
    {
        Array.ForEach(_rings, Array.Clear);
        Array.Clear(_low);
        _blend.Arrive();
        _size = _oldSize = (int)Value(At.Size);
        _faded = Fade.Frames;
    }

    // Energy in is energy out: the matrix of ±1, over the root of eight.
    private static void Hadamard(Span<float> x)
    {
        for (var half = 1; half < Lines; half *= 2)
        {
            for (var i = 0; i < Lines; i += 2 * half)
            {
                for (var j = i; j < i + half; j++)
                {
                    (x[j], x[j + half]) = (x[j] + x[j + half], x[j] - x[j + half]);
                }
            }
        }

        var scale = 1 / MathF.Sqrt(Lines);
        foreach (ref var value in x)
        {
            value *= scale;
        }
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private void Take(int line, Span<float> taken)
    {
        var ring = _rings[line];
        var from = _at - Lengths[_size][line] + Capacity;
        var old = _at - Lengths[_oldSize][line] + Capacity;
        for (var n = 0; n < taken.Length; n++)
        {
            var value = ring[(from + n) % Capacity];
            if (_faded + n < Fade.Frames)
            {
                var before = ring[(old + n) % Capacity];
                value = before + ((value - before) * Fade.Curve[_faded + n]);
            }

            taken[n] = value;
        }
    }

    // Decay and damping go to what is set within the block.
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private void Damp(int length)
    {
        var damping = Damping();
        var dampingStep = (damping - _damping) / length;
        for (var i = 0; i < Lines; i++)
        {
            var gain = GainOf(i);
            var (step, low, memory) = ((gain - _gains[i]) / length, _low[i], _damping);
            for (var n = 0; n < length; n++)
            {
                memory += dampingStep;
                _gains[i] += step;
                double x = _taken[i][n];
                low = x + (memory * (low - x));
                var value = (float)(low * _gains[i]);
                _taken[i][n] = Math.Abs(value) < Nothing ? 0 : value;
            }

            _gains[i] = gain;
            _low[i] = Math.Abs(low) < 1e-24 ? 0 : low;
        }

        _damping = damping;
    }

    private double GainOf(int line) => Math.Pow(10, -3 * Lengths[_size][line] / Ballistics.Frames(Value(At.Decay)));

    private double Damping() => Math.Exp(-2 * Math.PI * Value(At.Damping) / AudioFormat.SampleRate);

    private double Value(At parameter) => _values[(int)parameter];
}

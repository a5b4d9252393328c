using System.Numerics.Tensors;
using System.Runtime.CompilerServices;
using Kinetra.Core.Dsp;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Processors;

/// <summary>Ring modulation: the sound times a sine, so that every tone becomes two, the sine's frequency above and below. No latency.</summary>
public sealed class Ring : IProcessor
{
    private enum At
    {
        Frequency,
        Blend,
    }

    /// <summary>What can be set.</summary>
    public static readonly ProcessorType Type = new(
        "ring",
        "Ring",
        "Turns a voice into a robot's, and a bell into another bell.",
        "Nobody understands a word.",
        [
            new("frequency", "Frequency", "Hz", 1, 2_000, 45, ParameterScale.Logarithmic, "The sine that the sound is multiplied with."),
            new("blend", "Blend", "%", 0, 100, 100, ParameterScale.Linear, "How much of the result is that; the rest is the sound as it came."),
        ])
    {
        Usually = "Anywhere; before a limiter.",
        Plain = [PlainControl.Of("robot", "How much of a robot", "none", "all", ("blend", 0, 100))],
        Make = s => new Ring(s),
    };

    private readonly double[] _values;
    private readonly GainRamp _frequency;
    private readonly GainRamp _blend;
    private readonly double[] _sines = new double[AudioFormat.BlockFrames];
    private readonly float[] _factors = new float[AudioFormat.BlockFrames];
    private readonly float[] _blends = new float[AudioFormat.BlockFrames];
    private double _phase;

    private Ring(ProcessorSettings settings)
    {
        _values = [.. settings.Values];
        _frequency = new GainRamp((float)Value(At.Frequency));
        _blend = new GainRamp((float)Value(At.Blend) / 100);
    }

    /// <inheritdoc/>
    public int Latency => 0;

    /// <inheritdoc/>
    public double Reduction => 0;

    /// <inheritdoc/>
    public void Set(int parameter, double value)
    {
        _values[parameter] = value;
        _frequency.Target = (float)Value(At.Frequency);
        _blend.Target = (float)Value(At.Blend) / 100;
    }

    /// <inheritdoc/>
    public void Process(Frames input, RoomForFrames output, Frames key)
    {
        var sines = _sines.AsSpan(0, input.Length);
        var factors = _factors.AsSpan(0, input.Length);
        if (_frequency.IsSettled)
        {
            Turning.Sines(sines, ref _phase, StepOf(_frequency.Current));
        }
        else
        {
            Glide(sines);
        }

        // 1 + blend · (sine − 1)
        _blend.Fill(_blends.AsSpan(0, input.Length));
        TensorPrimitives.ConvertTruncating<double, float>(sines, factors);
        TensorPrimitives.Subtract(factors, 1, factors);
        TensorPrimitives.Multiply(factors, _blends.AsSpan(0, input.Length), factors);
        TensorPrimitives.Add(factors, 1, factors);
        TensorPrimitives.Multiply(input.Left, factors, output.Left);
        if (input.Right.Length > 0)
        {
            TensorPrimitives.Multiply(input.Right, factors, output.Right);
        }
    }

    /// <inheritdoc/>
    public void Reset()
    {
        _frequency.Arrive();
        _blend.Arrive();
        _phase = 0;
    }

    private static double StepOf(double frequency) => 2 * Math.PI * frequency / AudioFormat.SampleRate;

    // On its way to another frequency, each frame has its own.
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private void Glide(Span<double> sines)
    {
        var frequencies = _factors.AsSpan(0, sines.Length);
        _frequency.Fill(frequencies);
        for (var n = 0; n < sines.Length; n++)
        {
            sines[n] = Math.Sin(_phase);
            _phase += StepOf(frequencies[n]);
        }

        _phase %= 2 * Math.PI;
    }

    private double Value(At parameter) => _values[(int)parameter];
}

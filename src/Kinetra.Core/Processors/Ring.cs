using System.Runtime.CompilerServices;
using Kinetra.Core.Dsp;
using Kinetra.Core.Engine;

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
        Make = s => new Ring(s),
    };

    private readonly double[] _values;
    private readonly GainRamp _frequency;
    private readonly GainRamp _blend;
    private readonly float[] _frequencies = new float[AudioFormat.BlockFrames];
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
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public void Process(Frames input, RoomForFrames output, Frames key)
    {
        _frequency.Fill(_frequencies.AsSpan(0, input.Length));
        _blend.Fill(_blends.AsSpan(0, input.Length));
        for (var n = 0; n < input.Length; n++)
        {
            var factor = 1 + (_blends[n] * ((float)Math.Sin(_phase) - 1));
            output.Left[n] = input.Left[n] * factor;
            if (input.Right.Length > 0)
            {
                output.Right[n] = input.Right[n] * factor;
            }

            _phase += 2 * Math.PI * _frequencies[n] / AudioFormat.SampleRate;
        }

        _phase %= 2 * Math.PI;
    }

    /// <inheritdoc/>
    public void Reset()
    {
        _frequency.Arrive();
        _blend.Arrive();
        _phase = 0;
    }

    private double Value(At parameter) => _values[(int)parameter];
}

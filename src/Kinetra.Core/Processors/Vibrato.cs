using System.Runtime.CompilerServices;
using Kinetra.Core.Dsp;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Processors;

/// <summary>
/// Lets the pitch swing: a delay that swings as a sine (<see cref="FractionalDelay"/>). Latency: the middle of the swing.
/// </summary>
public sealed class Vibrato : IProcessor
{
    private enum At
    {
        Rate,
        Depth,
    }

    private const double MinRate = 1;
    private const double MaxCents = 100;

    // Pitch is off by as much as the delay changes: with a swing of a frames at r Hz, at most by 2π·r·a/48000.
    private static readonly double MaxSwing = Swing(MinRate, MaxCents);
    private static readonly int Middle = (int)Math.Ceiling(MaxSwing) + FractionalDelay.Ahead + 1;

    /// <summary>What can be set.</summary>
    public static readonly ProcessorType Type = new(
        "vibrato",
        "Vibrato",
        "Lets the pitch swing up and down: for jokes, dreams and old gramophones.",
        "Seasick.",
        [
            new("rate", "Rate", "Hz", MinRate, 12, 5, ParameterScale.Logarithmic, "How often it swings in a second."),
            new("depth", "Depth", "cents", 0, MaxCents, 30, ParameterScale.Linear, "How far the pitch goes to each side; 100 cents are a semitone."),
        ])
    {
        Usually = "Anywhere; before a room, so that the room stands still.",
        Plain = [PlainControl.Of("swing", "How far it swings", "hardly", "seasick", ("depth", 0, 100))],
        LatencyOf = _ => Middle,
        Make = s => new Vibrato(s),

        // A tone keeps its level; what is short is squeezed while the pitch goes up.
        MostGain = s => Math.Pow(2, 1.1 * s.Values[(int)At.Depth] / 1200),
    };

    private readonly double[] _values;
    private readonly GainRamp _swing;
    private readonly double[] _sines = new double[AudioFormat.BlockFrames];
    private readonly float[] _swings = new float[AudioFormat.BlockFrames];
    private readonly float[][] _rings;
    private double _phase;

    private Vibrato(ProcessorSettings settings)
    {
        _values = [.. settings.Values];
        _swing = new GainRamp((float)Swing(Value(At.Rate), Value(At.Depth)));
        _rings = [.. Enumerable.Range(0, settings.Channels).Select(_ => new float[History + AudioFormat.BlockFrames])];
    }

    private static int History => (2 * Middle) + FractionalDelay.Taps;

    /// <inheritdoc/>
    public int Latency => Middle;

    /// <inheritdoc/>
    public double Reduction => 0;

    /// <inheritdoc/>
    public void Set(int parameter, double value)
    {
        _values[parameter] = value;
        _swing.Target = (float)Swing(Value(At.Rate), Value(At.Depth));
    }

    /// <inheritdoc/>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public void Process(Frames input, RoomForFrames output, Frames key)
    {
        var length = input.Length;
        input.Left.CopyTo(_rings[0].AsSpan(History));
        if (input.Right.Length > 0)
        {
            input.Right.CopyTo(_rings[1].AsSpan(History));
        }

        var swings = _swings.AsSpan(0, length);
        _swing.Fill(swings);
        var sines = _sines.AsSpan(0, length);
        Turning.Sines(sines, ref _phase, 2 * Math.PI * Value(At.Rate) / AudioFormat.SampleRate);
        for (var n = 0; n < length; n++)
        {
            var place = History + n - Middle - (swings[n] * sines[n]);
            var whole = (int)Math.Floor(place);
            var first = whole - FractionalDelay.Behind;
            var (left, right) = FractionalDelay.Both(place - whole, ref _rings[0][first], ref _rings[^1][first]);
            output.Left[n] = left;
            if (output.Right.Length > 0)
            {
                output.Right[n] = right;
            }
        }

        foreach (var ring in _rings)
        {
            ring.AsSpan(length, History).CopyTo(ring);
        }
    }

    /// <inheritdoc/>
    public void Reset()
    {
        Array.ForEach(_rings, Array.Clear);
        _swing.Arrive();
        _phase = 0;
    }

    private static double Swing(double rate, double cents) =>
        (Math.Pow(2, cents / 1200) - 1) * AudioFormat.SampleRate / (2 * Math.PI * rate);

    private double Value(At parameter) => _values[(int)parameter];
}

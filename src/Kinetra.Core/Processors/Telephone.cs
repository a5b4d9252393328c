using System.Runtime.CompilerServices;
using System.Runtime.Intrinsics;
using Kinetra.Core.Dsp;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Processors;

/// <summary>
/// A voice as from an old telephone: 300 to 3400 Hz, the band of ITU-T G.712, cut by fourth-order Butterworth filters, with
/// a carbon microphone's soft overload, x/√(1 + x²), between them. No latency.
/// </summary>
public sealed class Telephone : IProcessor
{
    private enum At
    {
        Drive,
        Blend,
    }

    private const double LowEnd = 300;
    private const double HighEnd = 3_400;

    /// <summary>What can be set.</summary>
    public static readonly ProcessorType Type = new(
        "telephone",
        "Telephone",
        "Makes a voice come out of an old telephone.",
        "Nothing but rattle.",
        [
            new("drive", "Drive", "dB", 0, 40, 12, ParameterScale.Decibels, "How hard the voice meets the microphone's end; the level stays about the same."),
            new("blend", "Blend", "%", 0, 100, 100, ParameterScale.Linear, "How much of the result is that; the rest is the sound as it came."),
        ])
    {
        Usually = "Late: what comes after it would no longer sound old.",
        Plain = [PlainControl.Of("worn", "How worn", "clear", "rattling", ("drive", 0, 36))],
        MostGain = s => Math.Sqrt(Ballistics.Factor(s.Values[(int)At.Drive])),
        Make = s => new Telephone(s),
    };

    private readonly double[] _values;
    private readonly SectionCascade _before = new(Band());
    private readonly SectionCascade _after = new(Band());
    private readonly GainRamp _drive;
    private readonly GainRamp _blend;
    private readonly Vector128<double>[] _frames = new Vector128<double>[AudioFormat.BlockFrames];
    private readonly float[] _drives = new float[AudioFormat.BlockFrames];
    private readonly float[] _blends = new float[AudioFormat.BlockFrames];

    private Telephone(ProcessorSettings settings)
    {
        _values = [.. settings.Values];
        _drive = new GainRamp(Factor());
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
        _drive.Target = Factor();
        _blend.Target = (float)Value(At.Blend) / 100;
    }

    /// <inheritdoc/>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public void Process(Frames input, RoomForFrames output, Frames key)
    {
        var frames = _frames.AsSpan(0, input.Length);
        Pairs.Load(input.Left, input.Right, frames);
        _before.Process(frames);
        _drive.Fill(_drives.AsSpan(0, frames.Length));
        _blend.Fill(_blends.AsSpan(0, frames.Length));
        for (var n = 0; n < frames.Length; n++)
        {
            // Driven, bent, and brought back by the root of the drive: quiet speech louder, loud speech not much quieter.
            var driven = frames[n] * Vector128.Create((double)_drives[n]);
            var bent = driven / Vector128.Sqrt(Vector128<double>.One + (driven * driven));
            frames[n] = bent / Vector128.Create(Math.Sqrt(_drives[n]));
        }

        _after.Process(frames);
        for (var n = 0; n < frames.Length; n++)
        {
            output.Left[n] = input.Left[n] + (_blends[n] * ((float)frames[n].GetElement(0) - input.Left[n]));
        }

        for (var n = 0; n < input.Right.Length; n++)
        {
            output.Right[n] = input.Right[n] + (_blends[n] * ((float)frames[n].GetElement(1) - input.Right[n]));
        }
    }

    /// <inheritdoc/>
    public void Reset()
    {
        _before.Reset();
        _after.Reset();
        _drive.Arrive();
        _blend.Arrive();
    }

    private static BiquadCoefficients[] Band() =>
    [
        FilterDesign.HighPass(LowEnd, FilterDesign.ButterworthQ(4, 0)),
        FilterDesign.HighPass(LowEnd, FilterDesign.ButterworthQ(4, 1)),
        FilterDesign.LowPass(HighEnd, FilterDesign.ButterworthQ(4, 0)),
        FilterDesign.LowPass(HighEnd, FilterDesign.ButterworthQ(4, 1)),
    ];

    private float Factor() => (float)Math.Pow(10, Value(At.Drive) / 20);

    private double Value(At parameter) => _values[(int)parameter];
}

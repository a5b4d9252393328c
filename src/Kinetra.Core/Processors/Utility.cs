using System.Runtime.CompilerServices;
using System.Runtime.Intrinsics;
using Kinetra.Core.Dsp;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Processors;

/// <summary>
/// The plain things: removal of hum and of a constant offset, then gain, polarity, mono, width and balance, all as one 2 × 2
/// matrix whose parts glide. Of a mono sound, width, mono and balance change nothing. No latency.
/// </summary>
public sealed class Utility : IProcessor
{
    private enum At
    {
        Gain,
        InvertLeft,
        InvertRight,
        Mono,
        Width,
        Balance,
        RemoveDc,
        Hum,
        Harmonics,
    }

    /// <summary>The most multiples of the mains' frequency that are taken away, the first among them.</summary>
    public const int MaxHarmonics = 8;
    private const double DcFrequency = 5;
    private const double NotchQ = 30;

    /// <summary>What can be set.</summary>
    public static readonly ProcessorType Type = new(
        "utility",
        "Utility",
        "Gain, polarity, mono, width and balance; takes away mains hum and a constant offset.",
        "A wide sound falls apart, and in mono parts of it vanish; many notches make a voice hollow.",
        [
            new("gain", "Gain", "dB", -60, 24, 0, ParameterScale.Decibels, "Louder or quieter."),
            Parameter.Switch("invertLeft", "Invert left", "Turns left, or the only channel, upside down."),
            Parameter.Switch("invertRight", "Invert right", "Turns right upside down."),
            Parameter.Switch("mono", "Mono", "Both sides get the mean of both."),
            new("width", "Width", "%", 0, 200, 100, ParameterScale.Linear, "What left and right do not share, less or more of it: 0 is mono, 100 as it came."),
            new("balance", "Balance", "%", -100, 100, 0, ParameterScale.Linear, "To one side, by lowering the other: −100 is left alone."),
            Parameter.Switch("removeDc", "Remove offset", "Takes away a constant offset: what is below 5 Hz."),
            Parameter.Of("hum", "Hum", "Takes away the hum of the mains, of 50 or of 60 Hz, and its harmonics.", 0, "Off", "50 Hz", "60 Hz"),
            new("harmonics", "Harmonics", "", 1, MaxHarmonics, 4, ParameterScale.Linear, "How many multiples of the hum's frequency are taken away, the first among them."),
        ])
    {
        Usually = "Hum and offset first, before anything that listens to levels; gain and width wherever they are needed.",
        Plain =
        [
            PlainControl.Of("level", "How loud", "quieter", "louder", ("gain", -12, 12)),
            PlainControl.Of("width", "How wide", "one point", "very wide", ("width", 0, 200)),
        ],
        Curve = v =>
        {
            var sections = new BiquadCoefficients[MaxHarmonics + 1];
            Design(v.AsSpan(), sections);
            return new(Response: ResponseCurve.Of(sections, gain: Ballistics.Factor(v[(int)At.Gain])));
        },
        MostGain = s => Ballistics.Factor(s.Values[(int)At.Gain]) * (1 + Width(s)) / 2,
        CrossGain = s => Ballistics.Factor(s.Values[(int)At.Gain]) * Math.Abs(1 - Width(s)) / 2,
        Make = s => new Utility(s),
    };

    private readonly double[] _values;
    private readonly bool _isStereo;
    private readonly SectionCascade _filters;
    private readonly BiquadCoefficients[] _design = new BiquadCoefficients[MaxHarmonics + 1];
    private readonly Vector128<double>[] _frames = new Vector128<double>[AudioFormat.BlockFrames];
    private readonly GainRamp[] _matrix;
    private readonly float[][] _factors = [.. Enumerable.Range(0, 4).Select(_ => new float[AudioFormat.BlockFrames])];

    private Utility(ProcessorSettings settings)
    {
        _values = [.. settings.Values];
        _isStereo = settings.Channels == 2;
        Design();
        _filters = new SectionCascade(_design);
        _matrix = [new(0), new(0), new(0), new(0)];
        SetMatrix();
        Array.ForEach(_matrix, m => m.Arrive());
    }

    /// <inheritdoc/>
    public int Latency => 0;

    /// <inheritdoc/>
    public double Reduction => 0;

    /// <inheritdoc/>
    public void Set(int parameter, double value)
    {
        if (_values[parameter] == value)
        {
            return;
        }

        _values[parameter] = value;
        if ((At)parameter is At.RemoveDc or At.Hum or At.Harmonics)
        {
            Design();
            _filters.Set(_design);
        }
        else
        {
            SetMatrix();
        }
    }

    /// <inheritdoc/>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public void Process(Frames input, RoomForFrames output, Frames key)
    {
        var frames = _frames.AsSpan(0, input.Length);
        Pairs.Load(input.Left, input.Right, frames);
        _filters.Process(frames);
        for (var i = 0; i < 4; i++)
        {
            _matrix[i].Fill(_factors[i].AsSpan(0, frames.Length));
        }

        for (var n = 0; n < frames.Length; n++)
        {
            var (left, right) = (frames[n].GetElement(0), frames[n].GetElement(1));
            output.Left[n] = (float)((_factors[0][n] * left) + (_factors[1][n] * right));
            if (_isStereo)
            {
                output.Right[n] = (float)((_factors[2][n] * left) + (_factors[3][n] * right));
            }
        }
    }

    /// <inheritdoc/>
    public void Reset()
    {
        _filters.Reset();
        Array.ForEach(_matrix, m => m.Arrive());
    }

    // Polarity first, then mid and side, then balance and gain.
    private void SetMatrix()
    {
        var gain = Math.Pow(10, Value(At.Gain) / 20);
        var (left, right) = _isStereo ? PanLaw.Balance(Value(At.Balance) / 100) : (1, 0);
        var width = Width(_isStereo, Value(At.Mono), Value(At.Width));
        var (same, other) = ((1 + width) / 2, (1 - width) / 2);
        var (leftSign, rightSign) = (Value(At.InvertLeft) == 1 ? -gain : gain, Value(At.InvertRight) == 1 ? -gain : gain);
        _matrix[0].Target = (float)(left * same * leftSign);
        _matrix[1].Target = (float)(left * other * rightSign);
        _matrix[2].Target = (float)(right * other * leftSign);
        _matrix[3].Target = (float)(right * same * rightSign);
    }

    // Of a mono sound there is none to change.
    private static double Width(ProcessorSettings settings) =>
        Width(settings.Channels == 2, settings.Values[(int)At.Mono], settings.Values[(int)At.Width]);

    private static double Width(bool isStereo, double mono, double percent) => !isStereo ? 1 : mono == 1 ? 0 : percent / 100;

    private void Design() => Design(_values, _design);

    private static void Design(ReadOnlySpan<double> values, Span<BiquadCoefficients> design)
    {
        var mains = values[(int)At.Hum] switch { 1 => 50, 2 => 60, _ => 0 };
        var harmonics = mains == 0 ? 0 : (int)Math.Round(values[(int)At.Harmonics]);
        for (var i = 0; i < MaxHarmonics; i++)
        {
            design[i] = i < harmonics ? FilterDesign.Notch(mains * (i + 1), NotchQ) : FilterDesign.Through;
        }

        design[MaxHarmonics] = values[(int)At.RemoveDc] == 1 ? FilterDesign.HighPass(DcFrequency, Math.Sqrt(0.5)) : FilterDesign.Through;
    }

    private double Value(At parameter) => _values[(int)parameter];
}

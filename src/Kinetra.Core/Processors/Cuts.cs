using Kinetra.Core.Dsp;

namespace Kinetra.Core.Processors;

/// <summary>
/// Low cut and high cut: Butterworth filters of 12 to 48 dB per octave, −3 dB at the frequency, of matched second-order
/// sections (<see cref="FilterDesign"/>). No latency. The tail rings for about a period of the frequency.
/// </summary>
public static class Cuts
{
    private const int MaxSections = 4;

    private static readonly Parameter Slope = Parameter.Of(
        "slope", "Slope", "How steeply the sound falls beyond the frequency, for each octave.", 1, "12 dB/oct", "24 dB/oct", "36 dB/oct", "48 dB/oct");

    /// <summary>Takes away what is below a frequency.</summary>
    public static readonly ProcessorType LowCut = new(
        "lowCut",
        "Low cut",
        "Takes away rumble, handling noise and the thump of plosives below a voice.",
        "A voice without chest: thin, as from a small loudspeaker.",
        [
            new("frequency", "Frequency", "Hz", 10, 1_000, 80, ParameterScale.Logarithmic, "Where the sound is 3 dB down; below it, it falls."),
            Slope,
        ])
    {
        Usually = "First: what is rumble for the listener must not press on a gate or a compressor either.",
        Plain = [PlainControl.Of("chest", "The voice's chest", "full", "thin", ("frequency", 30, 250))],
        Curve = v => new(Response: Filtering.Response(LowCut!, v)),
        Design = (values, sections) => Butterworth(values, sections, FilterDesign.HighPass),
        Sections = MaxSections,
        Make = s => new Filtering(s, LowCut!.Design!, MaxSections),
        SideBySide = () => new Filtering.SideBySide(MaxSections),
    };

    /// <summary>Takes away what is above a frequency.</summary>
    public static readonly ProcessorType HighCut = new(
        "highCut",
        "High cut",
        "Takes away hiss above what matters, or makes a sound stand further away.",
        "Dull, as through a curtain; consonants are hard to tell apart.",
        [
            new("frequency", "Frequency", "Hz", 500, 20_000, 16_000, ParameterScale.Logarithmic, "Where the sound is 3 dB down; above it, it falls."),
            Slope,
        ])
    {
        Usually = "Late: hiss that an exciter or a compressor has brought up goes with it.",
        Plain = [PlainControl.Of("top", "The top", "dull", "open", ("frequency", 3_000, 20_000))],
        Curve = v => new(Response: Filtering.Response(HighCut!, v)),
        Design = (values, sections) => Butterworth(values, sections, FilterDesign.LowPass),
        Sections = MaxSections,
        Make = s => new Filtering(s, HighCut!.Design!, MaxSections),
        SideBySide = () => new Filtering.SideBySide(MaxSections),
    };

    private static void Butterworth(ReadOnlySpan<double> values, Span<BiquadCoefficients> sections, Func<double, double, BiquadCoefficients> section)
    {
        var used = (int)values[1] + 1;
        for (var i = 0; i < sections.Length; i++)
        {
            sections[i] = i < used ? section(values[0], FilterDesign.ButterworthQ(2 * used, i)) : FilterDesign.Through;
        }
    }
}

using System.Collections.Immutable;
using Kinetra.Core.Dsp;

namespace Kinetra.Core.Processors;

/// <summary>
/// A parametric equaliser of four bands, each a peak, a shelf or a notch (<see cref="FilterDesign"/>). No latency.
/// </summary>
public static class Equaliser
{
    /// <summary>How many bands it has.</summary>
    public const int Bands = 4;

    private const int EachBand = 4;

    private enum Shape
    {
        Off,
        Peak,
        LowShelf,
        HighShelf,
        Notch,
    }

    /// <summary>The equaliser.</summary>
    public static readonly ProcessorType Type = new(
        "equaliser",
        "Equaliser",
        "Raises or lowers parts of the sound: takes away a boxy tone, adds clearness, stops a tone that rings.",
        "Hollow, nasal or harsh; one part sticks out of the rest. Large boosts also raise the noise that is there.",
        [.. Enumerable.Range(1, Bands).SelectMany(n => Band(n))])
    {
        Usually = "After what takes away, before what evens the level: a compressor then hears the tone that is wanted.",
        Plain =
        [
            PlainControl.Of("bright", "The top", "darker", "brighter", ("shape4", (int)Shape.HighShelf, (int)Shape.HighShelf), ("gain4", -9, 9)),
            PlainControl.Of("full", "The bottom", "thinner", "fuller", ("shape1", (int)Shape.LowShelf, (int)Shape.LowShelf), ("gain1", -9, 9)),
        ],
        Curve = v => new(Response: Filtering.Response(Type!, v, isInBands: true)),
        PartAlone = Alone,
        Parts = Bands,
        Design = Design,
        Sections = Bands,
        Make = s => new Filtering(s, Design, Bands),
        SideBySide = () => new Filtering.SideBySide(Bands),
    };

    private static ImmutableArray<Parameter> Band(int number)
    {
        double[] frequencies = [120, 400, 2_500, 10_000];
        Shape[] shapes = [Shape.LowShelf, Shape.Peak, Shape.Peak, Shape.HighShelf];
        return
        [
            Parameter.Of($"shape{number}", $"Band {number}", "What the band does: nothing; a peak around its frequency; a shelf below or above it; or nothing at all left at it.", (int)shapes[number - 1], "Off", "Peak", "Low shelf", "High shelf", "Notch"),
            new($"frequency{number}", $"Frequency {number}", "Hz", 20, 20_000, frequencies[number - 1], ParameterScale.Logarithmic, "The middle of the peak or notch, or the middle of the shelf's slope."),
            new($"gain{number}", $"Gain {number}", "dB", -24, 24, 0, ParameterScale.Decibels, "How much louder or quieter; a notch does not use it."),
            new($"q{number}", $"Q {number}", "", 0.1, 18, number is 1 or Bands ? 0.7 : 1, ParameterScale.Logarithmic, "How narrow: of a peak, its frequency over its width; a high one rings."),
        ];
    }

    // What a band works on: around the middle of a peak or a notch, or that side of a shelf.
    private static BiquadCoefficients[] Alone(ImmutableArray<double> values, int part)
    {
        var band = values.AsSpan().Slice(part * EachBand, EachBand);
        var (frequency, q) = (band[1], band[3]);
        return (Shape)(int)band[0] switch
        {
            Shape.LowShelf => [FilterDesign.LowPass(frequency, Math.Sqrt(0.5)), FilterDesign.LowPass(frequency, Math.Sqrt(0.5))],
            Shape.HighShelf => [FilterDesign.HighPass(frequency, Math.Sqrt(0.5)), FilterDesign.HighPass(frequency, Math.Sqrt(0.5))],
            _ => [BiquadCoefficients.BandPass(Math.Min(frequency, 19_000), q, Signal.AudioFormat.SampleRate)],
        };
    }

    private static void Design(ReadOnlySpan<double> values, Span<BiquadCoefficients> sections)
    {
        for (var i = 0; i < sections.Length; i++)
        {
            var band = values.Slice(i * EachBand, EachBand);
            var (frequency, gain, q) = (band[1], band[2], band[3]);
            sections[i] = (Shape)(int)band[0] switch
            {
                Shape.Peak when gain != 0 => FilterDesign.Peak(frequency, q, gain),
                Shape.LowShelf when gain != 0 => FilterDesign.LowShelf(frequency, q, gain),
                Shape.HighShelf when gain != 0 => FilterDesign.HighShelf(frequency, q, gain),
                Shape.Notch => FilterDesign.Notch(frequency, q),
                _ => FilterDesign.Through,
            };
        }
    }
}

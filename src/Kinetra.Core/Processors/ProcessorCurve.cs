using System.Collections.Immutable;
using Kinetra.Core.Dsp;

namespace Kinetra.Core.Processors;

/// <summary>A response over frequency: what a sine of that frequency is raised or lowered by once it has lasted.</summary>
/// <param name="Frequencies">Hz, rising, 20 … 20 000, equally many for each octave.</param>
/// <param name="Decibels">dB at each of them; what is below −120 reads −120.</param>
/// <param name="Parts">The same of each part alone: the bands of an equaliser, what an exciter hears of its bands; empty: it has no parts.</param>
public sealed record ResponseCurve(ImmutableArray<double> Frequencies, ImmutableArray<double> Decibels, ImmutableArray<ImmutableArray<double>> Parts)
{
    /// <summary>How many frequencies.</summary>
    public const int Points = 257;

    /// <summary>What is lower reads so, dB.</summary>
    public const double Floor = -120;

    /// <summary>The frequencies of every curve.</summary>
    public static readonly ImmutableArray<double> Axis = [.. Enumerable.Range(0, Points).Select(i => 20 * Math.Pow(1_000, i / (Points - 1.0)))];

    /// <summary>Of sections in a row, with each part of them alone.</summary>
    /// <param name="all">All of them.</param>
    /// <param name="parts">Those of each part.</param>
    /// <param name="gain">A gain before or after them, a factor.</param>
    internal static ResponseCurve Of(BiquadCoefficients[] all, IEnumerable<BiquadCoefficients[]>? parts = null, double gain = 1) =>
        new(Axis, Draw(all, gain), [.. (parts ?? []).Select(p => Draw(p, 1))]);

    private static ImmutableArray<double> Draw(BiquadCoefficients[] sections, double gain) =>
        [.. Axis.Select(f => Math.Max(Floor, 20 * Math.Log10(gain * FilterDesign.Magnitude(sections, f))))];
}

/// <summary>What comes out for what goes in, once a level has lasted.</summary>
/// <param name="Across">What goes in, in words.</param>
/// <param name="Up">What comes out, in words.</param>
/// <param name="In">dB, rising.</param>
/// <param name="Out">dB at each of them.</param>
/// <param name="Back">The same on the way back, where that is another: a gate that is open shuts later; empty: the same.</param>
public sealed record TransferCurve(string Across, string Up, ImmutableArray<double> In, ImmutableArray<double> Out, ImmutableArray<double> Back)
{
    /// <summary>From one level to the next, dB.</summary>
    public const double Step = 0.5;

    /// <summary>By a formula.</summary>
    internal static TransferCurve Of(string across, string up, double from, double to, Func<double, double> way, Func<double, double>? back = null)
    {
        ImmutableArray<double> levels = [.. Enumerable.Range(0, (int)((to - from) / Step) + 1).Select(i => from + (i * Step))];
        return new(across, up, levels, [.. levels.Select(way)], back is null ? [] : [.. levels.Select(back)]);
    }
}

/// <summary>What a processor does with certain values, to be drawn: the engine's own formulas, or what they are made of.</summary>
/// <param name="Response">Over frequency; null: it does nothing there, or nothing that stands still.</param>
/// <param name="Transfer">Over level; null: it does nothing there.</param>
public sealed record ProcessorCurve(ResponseCurve? Response = null, TransferCurve? Transfer = null)
{
    /// <summary>Nothing to draw.</summary>
    public static readonly ProcessorCurve None = new();
}

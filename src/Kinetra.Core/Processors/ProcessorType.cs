using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Kinetra.Core.Dsp;

namespace Kinetra.Core.Processors;

/// <summary>Whether a processor can listen to something else than its own input.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<KeyUse>))]
public enum KeyUse
{
    /// <summary>It cannot.</summary>
    None,

    /// <summary>It may.</summary>
    Optional,

    /// <summary>It has nothing to do without.</summary>
    Needed,
}

/// <summary>What a processor is made with.</summary>
/// <param name="Channels">1 or 2.</param>
/// <param name="Values">One allowed value for each of its type's parameters.</param>
public readonly record struct ProcessorSettings(int Channels, ImmutableArray<double> Values);

/// <summary>One kind of processor: what it is called, what it is for, and what can be set.</summary>
/// <param name="Key">Its name in documents, camelCase.</param>
/// <param name="Name">Its name on the screen.</param>
/// <param name="Purpose">What it is for, in a sentence.</param>
/// <param name="Overdone">What too much of it sounds like.</param>
/// <param name="Parameters">What can be set, in the order of the screen.</param>
public sealed record ProcessorType(string Key, string Name, string Purpose, string Overdone, ImmutableArray<Parameter> Parameters)
{
    private static readonly Func<ImmutableArray<double>, int> Prompt = _ => 0;

    /// <summary>Where in a chain it usually stands, and why, in a sentence.</summary>
    public string Usually { get; init; } = "";

    /// <summary>Its plain form: few controls, in words. No two turn the same parameter.</summary>
    public ImmutableArray<PlainControl> Plain { get; init; } = [];

    /// <summary>Whether it takes an outside key.</summary>
    public KeyUse KeyUse { get; init; } = KeyUse.None;

    /// <summary>True where <see cref="IProcessor.Reduction"/> says something.</summary>
    public bool Reduces { get; init; }

    /// <summary>True where what it gives may be of longer ago than a <see cref="Dsp.Fade"/>: where it comes in, what it keeps must begin softly.</summary>
    [JsonIgnore]
    public bool KeepsSound { get; init; }

    /// <summary>Makes one that runs.</summary>
    [JsonIgnore]
    public Func<ProcessorSettings, IProcessor> Make { get; init; } = _ => throw new NotSupportedException("This type has no processor.");

    /// <summary>Makes what computes several steady ones side by side; null: each computes itself.</summary>
    [JsonIgnore]
    internal Func<ISideBySide>? SideBySide { get; init; }

    /// <summary>Of a processor that is nothing but filters: their design, of which the curve is drawn too; else null.</summary>
    [JsonIgnore]
    public SectionDesign? Design { get; init; }

    /// <summary>How many sections the design makes.</summary>
    [JsonIgnore]
    public int Sections { get; init; }

    /// <summary>What it does with these values, one for each parameter, to be drawn.</summary>
    [JsonIgnore]
    public Func<ImmutableArray<double>, ProcessorCurve> Curve { get; init; } = _ => ProcessorCurve.None;

    /// <summary>Values with which it does nothing but what it always does (turn the phase at a split), so that what it changes can be heard alone; empty: it has none.</summary>
    public ImmutableSortedDictionary<string, double> Neutral { get; init; } = ImmutableSortedDictionary<string, double>.Empty;

    /// <summary>Of one that works in parts (bands): the filter that lets one of them be heard alone, of its values and the part's number from 0; null: it has none.</summary>
    [JsonIgnore]
    internal Func<ImmutableArray<double>, int, BiquadCoefficients[]>? PartAlone { get; init; }

    /// <summary>How many parts can be heard alone.</summary>
    public int Parts { get; init; }

    /// <summary>Makes the values with which it does nothing.</summary>
    internal static ImmutableSortedDictionary<string, double> Nothing(params ReadOnlySpan<(string Parameter, double Value)> values)
    {
        var all = ImmutableSortedDictionary.CreateBuilder<string, double>();
        foreach (var (parameter, value) in values)
        {
            all.Add(parameter, value);
        }

        return all.ToImmutable();
    }

    /// <summary>Frames by which it delays the sound once these values have arrived; see <see cref="IProcessor.Latency"/>.</summary>
    [JsonIgnore]
    public Func<ImmutableArray<double>, int> LatencyOf { get; init; } = Prompt;

    /// <summary>True where no value makes it delay the sound.</summary>
    [JsonIgnore]
    public bool IsPrompt => LatencyOf == Prompt;

    /// <summary>The largest factor by which these values let it raise a tone of one channel, while it reduces nothing. Of filters, see the design.</summary>
    [JsonIgnore]
    public Func<ProcessorSettings, double> MostGain { get; init; } = _ => 1;

    /// <summary>The largest factor by which a tone of one side comes out of the other; 0: the sides stay apart.</summary>
    [JsonIgnore]
    public Func<ProcessorSettings, double> CrossGain { get; init; } = _ => 0;

    /// <summary>Frames by which it delays the sound on purpose: a wait that nobody makes up for.</summary>
    [JsonIgnore]
    public Func<ImmutableArray<double>, int> DelayOf { get; init; } = _ => 0;

    /// <summary>All parameters at their defaults.</summary>
    [JsonIgnore]
    public ImmutableArray<double> Defaults => [.. Parameters.Select(p => p.Default)];

    /// <summary>The place of a parameter in the list; −1 where it has none of that name.</summary>
    public int IndexOf(string parameter)
    {
        for (var i = 0; i < Parameters.Length; i++)
        {
            if (Parameters[i].Key == parameter)
            {
                return i;
            }
        }

        return -1;
    }
}

using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json.Serialization;

namespace Kinetra.Core.Processors;

/// <summary>How a parameter's range is spread along a slider.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<ParameterScale>))]
public enum ParameterScale
{
    /// <summary>Equal steps are equal differences.</summary>
    Linear,

    /// <summary>Equal steps are equal ratios.</summary>
    Logarithmic,

    /// <summary>Equal steps are equal numbers of decibels; the value is one.</summary>
    Decibels,

    /// <summary>A value is the index of a choice.</summary>
    Choice,
}

/// <summary>One thing that can be set on a processor. Engine, API, screen and documents all read this.</summary>
/// <param name="Key">Its name in documents, camelCase.</param>
/// <param name="Name">Its name on the screen.</param>
/// <param name="Unit">dB, Hz, ms, %, :1 … or empty.</param>
/// <param name="Min">The least allowed value.</param>
/// <param name="Max">The greatest.</param>
/// <param name="Default">What it is until somebody sets it.</param>
/// <param name="Scale">How its range is spread.</param>
/// <param name="Meaning">What it does, in a sentence.</param>
public sealed record Parameter(
    string Key, string Name, string Unit, double Min, double Max, double Default, ParameterScale Scale, string Meaning)
{
    /// <summary>The words for the values 0, 1, 2 … of a choice; empty for numbers.</summary>
    public ImmutableArray<string> Choices { get; init; } = [];

    /// <summary>What files call the values 0, 1, 2 … of a choice: <c>LowShelf</c>, <c>12dB/oct</c>.</summary>
    [JsonIgnore]
    public ImmutableArray<string> Words =>
        [.. Choices.Select(c => string.Concat(c.Split(' ').Select(w => char.IsDigit(c[0]) ? w : char.ToUpperInvariant(w[0]) + w[1..])))];

    /// <summary>A choice between words; the first is 0.</summary>
    public static Parameter Of(string key, string name, string meaning, int standard, params ReadOnlySpan<string> choices) =>
        new(key, name, "", 0, choices.Length - 1, standard, ParameterScale.Choice, meaning) { Choices = [.. choices] };

    /// <summary>A switch: 0 off, 1 on.</summary>
    public static Parameter Switch(string key, string name, string meaning, bool on = false) => Of(key, name, meaning, on ? 1 : 0, "Off", "On");

    /// <summary>True where it may be set to a value.</summary>
    public bool Allows(double value) => value >= Min && value <= Max && (Scale != ParameterScale.Choice || value == Math.Floor(value));

    /// <summary>The allowed values, in words.</summary>
    [JsonIgnore]
    public string Allowed => Scale == ParameterScale.Choice
        ? string.Join(", ", Choices.Select((c, i) => $"{i} ({c})"))
        : $"a number from {Number(Min)} to {Number(Max)}{(Unit.Length == 0 ? "" : $" {Unit}")}";

    /// <summary>A value as a person reads it: <c>−18.0 dB</c>.</summary>
    public string Format(double value)
    {
        if (Scale == ParameterScale.Choice)
        {
            return Choices[(int)Math.Clamp(value, Min, Max)];
        }

        var digits = Scale == ParameterScale.Decibels || Math.Abs(value) < 10 ? "0.0" : "0";
        var number = (value < 0 ? "−" : "") + Math.Abs(value).ToString(digits, CultureInfo.InvariantCulture);
        return Unit.Length == 0 ? number : Unit.StartsWith(':') ? number + Unit : $"{number} {Unit}";
    }

    /// <summary>A value as messages give it.</summary>
    public static string Number(double value) => value.ToString("0.###", CultureInfo.InvariantCulture);
}

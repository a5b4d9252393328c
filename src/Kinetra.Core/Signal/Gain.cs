using System.Globalization;
using System.Text.Json;
using System.Text.Json.Serialization;

namespace Kinetra.Core.Signal;

/// <summary>
/// A gain in decibels, <c>20·log10</c> of the factor. −∞ is a value, <see cref="Off"/>: nothing passes.
/// In JSON it is a number of dB, or the word <c>"off"</c>.
/// </summary>
/// <param name="Decibels">dB; −∞ or −120 … +12 for what a person may set (see <see cref="IsAllowed"/>).</param>
[JsonConverter(typeof(GainJson))]
public readonly record struct Gain(double Decibels)
{
    /// <summary>The most that a person may add, in dB.</summary>
    public const double MaxDecibels = 12;

    /// <summary>The smallest finite gain a person may set, in dB; what is lower is <see cref="Off"/>.</summary>
    public const double MinDecibels = -120;

    /// <summary>What may be set, in words, for messages.</summary>
    public const string Allowed = "a number of dB from -120 to 12, or \"off\"";

    /// <summary>−∞ dB: nothing passes.</summary>
    public static readonly Gain Off = new(double.NegativeInfinity);

    /// <summary>0 dB: passes unchanged.</summary>
    public static readonly Gain Unity = new(0);

    /// <summary>The factor that a sample is multiplied by, 0 for <see cref="Off"/>.</summary>
    public double Linear => Math.Pow(10, Decibels / 20);

    /// <summary>True where nothing passes.</summary>
    public bool IsOff => double.IsNegativeInfinity(Decibels);

    /// <summary>True where a person may set it: −∞, or within the stated range. NaN is never allowed.</summary>
    public bool IsAllowed => IsOff || Decibels is >= MinDecibels and <= MaxDecibels;

    /// <summary>As a person reads it: "off", "0.0 dB", "−6.5 dB", "+3.0 dB".</summary>
    public override string ToString()
    {
        if (IsOff)
        {
            return "off";
        }

        var rounded = Math.Round(Decibels, 1, MidpointRounding.AwayFromZero);
        var digits = Math.Abs(rounded).ToString("0.0", CultureInfo.InvariantCulture);
        return rounded switch { < 0 => $"−{digits} dB", > 0 => $"+{digits} dB", _ => "0.0 dB" };
    }
}

/// <summary>Reads and writes a <see cref="Gain"/> as a number of dB or the word "off".</summary>
public sealed class GainJson : JsonConverter<Gain>
{
    /// <inheritdoc/>
    public override Gain Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
        reader.TokenType switch
        {
            JsonTokenType.Number => new Gain(reader.GetDouble()),
            JsonTokenType.String when reader.GetString() == "off" => Gain.Off,
            _ => throw new JsonException($"A gain is {Gain.Allowed}."),
        };

    /// <inheritdoc/>
    public override void Write(Utf8JsonWriter writer, Gain value, JsonSerializerOptions options)
    {
        if (value.IsOff)
        {
            writer.WriteStringValue("off");
        }
        else
        {
            writer.WriteNumberValue(value.Decibels);
        }
    }
}

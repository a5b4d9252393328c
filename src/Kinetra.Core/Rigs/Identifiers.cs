using System.Text.Json;
using System.Text.Json.Serialization;

namespace Kinetra.Core.Rigs;

/// <summary>Names one source within a show, for ever; the name a person sees may change.</summary>
/// <param name="Value">1–40 characters of <c>a–z 0–9 -</c>.</param>
[JsonConverter(typeof(SourceIdJson))]
public readonly record struct SourceId(string Value)
{
    /// <summary>A new one that no other show has.</summary>
    public static SourceId New() => new(Guid.CreateVersion7().ToString("n"));

    /// <inheritdoc/>
    public override string ToString() => Value;
}

/// <summary>Names one mix within a show, for ever; the name a person sees may change.</summary>
/// <param name="Value">1–40 characters of <c>a–z 0–9 -</c>.</param>
[JsonConverter(typeof(MixIdJson))]
public readonly record struct MixId(string Value)
{
    /// <summary>A new one that no other show has.</summary>
    public static MixId New() => new(Guid.CreateVersion7().ToString("n"));

    /// <inheritdoc/>
    public override string ToString() => Value;
}

/// <summary>A <see cref="SourceId"/> is a plain string in JSON.</summary>
public sealed class SourceIdJson : JsonConverter<SourceId>
{
    /// <inheritdoc/>
    public override SourceId Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
        new(reader.GetString() ?? throw new JsonException("A source id is a string."));

    /// <inheritdoc/>
    public override void Write(Utf8JsonWriter writer, SourceId value, JsonSerializerOptions options) =>
        writer.WriteStringValue(value.Value);
}

/// <summary>A <see cref="MixId"/> is a plain string in JSON.</summary>
public sealed class MixIdJson : JsonConverter<MixId>
{
    /// <inheritdoc/>
    public override MixId Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
        new(reader.GetString() ?? throw new JsonException("A mix id is a string."));

    /// <inheritdoc/>
    public override void Write(Utf8JsonWriter writer, MixId value, JsonSerializerOptions options) =>
        writer.WriteStringValue(value.Value);
}

using System.Text.Json;
using System.Text.Json.Serialization;

namespace Kinetra.Core.Signal;

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

/// <summary>Names one cable within a show, for ever; the name a person sees may change.</summary>
/// <param name="Value">1–40 characters of <c>a–z 0–9 -</c>.</param>
[JsonConverter(typeof(CableIdJson))]
public readonly record struct CableId(string Value)
{
    /// <summary>A new one that no other show has.</summary>
    public static CableId New() => new(Guid.CreateVersion7().ToString("n"));

    /// <inheritdoc/>
    public override string ToString() => Value;
}

/// <summary>Names one processor within a show, for ever.</summary>
/// <param name="Value">1–40 characters of <c>a–z 0–9 -</c>.</param>
[JsonConverter(typeof(ProcessorIdJson))]
public readonly record struct ProcessorId(string Value)
{
    /// <summary>A new one that no other show has.</summary>
    public static ProcessorId New() => new(Guid.CreateVersion7().ToString("n"));

    /// <inheritdoc/>
    public override string ToString() => Value;
}

/// <summary>Names one sound device of a computer, for ever: shows refer to it wherever it is.</summary>
/// <param name="Value">1–40 characters of <c>a–z 0–9 -</c>.</param>
[JsonConverter(typeof(DeviceIdJson))]
public readonly record struct DeviceId(string Value)
{
    /// <inheritdoc/>
    public override string ToString() => Value;
}

/// <summary>Names one program of a computer that plays or takes sound, for ever.</summary>
/// <param name="Value">1–40 characters of <c>a–z 0–9 -</c>.</param>
[JsonConverter(typeof(AppIdJson))]
public readonly record struct AppId(string Value)
{
    /// <inheritdoc/>
    public override string ToString() => Value;
}

/// <summary>Names one way of a mix to a destination, for ever.</summary>
/// <param name="Value">1–40 characters of <c>a–z 0–9 -</c>.</param>
[JsonConverter(typeof(DestinationIdJson))]
public readonly record struct DestinationId(string Value)
{
    /// <summary>A new one that no other has.</summary>
    public static DestinationId New() => new(Guid.CreateVersion7().ToString("n"));

    /// <inheritdoc/>
    public override string ToString() => Value;
}

/// <summary>Names one promise within a show, for ever.</summary>
/// <param name="Value">1–40 characters of <c>a–z 0–9 -</c>.</param>
[JsonConverter(typeof(PromiseIdJson))]
public readonly record struct PromiseId(string Value)
{
    /// <summary>A new one that no other show has.</summary>
    public static PromiseId New() => new(Guid.CreateVersion7().ToString("n"));

    /// <inheritdoc/>
    public override string ToString() => Value;
}

/// <summary>Names one pad within a show, for ever.</summary>
/// <param name="Value">1–40 characters of <c>a–z 0–9 -</c>.</param>
[JsonConverter(typeof(PadIdJson))]
public readonly record struct PadId(string Value)
{
    /// <summary>A new one that no other show has.</summary>
    public static PadId New() => new(Guid.CreateVersion7().ToString("n"));

    /// <inheritdoc/>
    public override string ToString() => Value;
}

/// <summary>Names one set of pads within a show, for ever.</summary>
/// <param name="Value">1–40 characters of <c>a–z 0–9 -</c>.</param>
[JsonConverter(typeof(PadSetIdJson))]
public readonly record struct PadSetId(string Value)
{
    /// <summary>A new one that no other show has.</summary>
    public static PadSetId New() => new(Guid.CreateVersion7().ToString("n"));

    /// <inheritdoc/>
    public override string ToString() => Value;
}

/// <summary>Names one cue within a show, for ever.</summary>
/// <param name="Value">1–40 characters of <c>a–z 0–9 -</c>.</param>
[JsonConverter(typeof(CueIdJson))]
public readonly record struct CueId(string Value)
{
    /// <summary>A new one that no other show has.</summary>
    public static CueId New() => new(Guid.CreateVersion7().ToString("n"));

    /// <inheritdoc/>
    public override string ToString() => Value;
}

/// <summary>Names one planned track within a show, for ever; the name a person sees may change.</summary>
/// <param name="Value">1–40 characters of <c>a–z 0–9 -</c>.</param>
[JsonConverter(typeof(TrackIdJson))]
public readonly record struct TrackId(string Value)
{
    /// <summary>A new one that no other show has.</summary>
    public static TrackId New() => new(Guid.CreateVersion7().ToString("n"));

    /// <inheritdoc/>
    public override string ToString() => Value;
}

/// <summary>Names one stream within a show, for ever; the name a person sees may change.</summary>
/// <param name="Value">1–40 characters of <c>a–z 0–9 -</c>.</param>
[JsonConverter(typeof(StreamIdJson))]
public readonly record struct StreamId(string Value)
{
    /// <summary>A new one that no other show has.</summary>
    public static StreamId New() => new(Guid.CreateVersion7().ToString("n"));

    /// <inheritdoc/>
    public override string ToString() => Value;
}

/// <summary>An id is a plain string in JSON.</summary>
public abstract class IdJson<T>(Func<string, T> make) : JsonConverter<T>
    where T : struct
{
    /// <inheritdoc/>
    public override T Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
        make(reader.GetString() ?? throw new JsonException("An id is a string."));

    /// <inheritdoc/>
    public override void Write(Utf8JsonWriter writer, T value, JsonSerializerOptions options)
    {
        ArgumentNullException.ThrowIfNull(writer);
        writer.WriteStringValue(value.ToString());
    }
}

/// <summary>A <see cref="SourceId"/> in JSON.</summary>
public sealed class SourceIdJson() : IdJson<SourceId>(value => new(value));

/// <summary>A <see cref="MixId"/> in JSON.</summary>
public sealed class MixIdJson() : IdJson<MixId>(value => new(value));

/// <summary>A <see cref="CableId"/> in JSON.</summary>
public sealed class CableIdJson() : IdJson<CableId>(value => new(value));

/// <summary>A <see cref="DeviceId"/> in JSON.</summary>
public sealed class DeviceIdJson() : IdJson<DeviceId>(value => new(value));

/// <summary>An <see cref="AppId"/> in JSON.</summary>
public sealed class AppIdJson() : IdJson<AppId>(value => new(value));

/// <summary>A <see cref="DestinationId"/> in JSON.</summary>
public sealed class DestinationIdJson() : IdJson<DestinationId>(value => new(value));

/// <summary>A <see cref="ProcessorId"/> in JSON.</summary>
public sealed class ProcessorIdJson() : IdJson<ProcessorId>(value => new(value));

/// <summary>A <see cref="PromiseId"/> in JSON.</summary>
public sealed class PromiseIdJson() : IdJson<PromiseId>(value => new(value));

/// <summary>A <see cref="PadId"/> in JSON.</summary>
public sealed class PadIdJson() : IdJson<PadId>(value => new(value));

/// <summary>A <see cref="PadSetId"/> in JSON.</summary>
public sealed class PadSetIdJson() : IdJson<PadSetId>(value => new(value));

/// <summary>A <see cref="CueId"/> in JSON.</summary>
public sealed class CueIdJson() : IdJson<CueId>(value => new(value));

/// <summary>A <see cref="TrackId"/> in JSON.</summary>
public sealed class TrackIdJson() : IdJson<TrackId>(value => new(value));

/// <summary>A <see cref="StreamId"/> in JSON.</summary>
public sealed class StreamIdJson() : IdJson<StreamId>(value => new(value));

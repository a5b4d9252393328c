using System.Text.Json;
using System.Text.Json.Serialization;

namespace Kinetra.Core.Signal;

/// <summary>
/// A place in the signal: the one name for it that sends, cables' feeds, keys, chains, tracks and listeners share. As text, and so
/// in JSON: <c>source/ID</c>, <c>mix/ID</c>, with <c>/before</c> or <c>/raw</c> where it is not taken after the chain; <c>cable/ID</c>;
/// <c>send/MIX/SOURCE</c>; <c>destination/MIX/ID</c>; and of the computer <c>device/ID/in</c>, <c>device/ID/out</c> and <c>app/ID/PORT</c>. Within a
/// chain there is <c>stage/PROCESSOR</c>, to be heard and looked at: no document has it.
/// </summary>
[JsonConverter(typeof(PointJson))]
public abstract record Point
{
    /// <summary>The points that there are, in words, for messages.</summary>
    public const string Allowed = "source/ID, mix/ID (both also with /before or /raw), cable/ID, send/MIX/SOURCE, destination/MIX/ID, device/ID/in, device/ID/out or app/ID/PORT";

    /// <summary>What a point's text looks like, a regular expression.</summary>
    public const string Pattern = "^((source|mix)/[a-z0-9-]{1,40}(/(before|raw))?|cable/[a-z0-9-]{1,40}|(send|destination|app)/[a-z0-9-]{1,40}/[a-z0-9-]{1,40}|device/[a-z0-9-]{1,40}/(in|out))$";

    private protected Point()
    {
    }

    /// <summary>The point of that text, or null where it is none. Whether a show has it is another question.</summary>
    public static Point? Parse(string? text) => (text?.Split('/') ?? []) switch
    {
        ["source", var id] when IsId(id) => new SourcePoint(new(id)),
        ["source", var id, var tap] when IsId(id) && TapOf(tap) is { } known => new SourcePoint(new(id), known),
        ["mix", var id] when IsId(id) => new MixPoint(new(id)),
        ["mix", var id, var tap] when IsId(id) && TapOf(tap) is { } known => new MixPoint(new(id), known),
        ["cable", var id] when IsId(id) => new CablePoint(new(id)),
        ["send", var mix, var source] when IsId(mix) && IsId(source) => new SendPoint(new(mix), new(source)),
        ["destination", var mix, var id] when IsId(mix) && IsId(id) => new DestinationPoint(new(mix), new(id)),
        ["device", var id, "in"] when IsId(id) => new DevicePoint(new(id), Side.In),
        ["device", var id, "out"] when IsId(id) => new DevicePoint(new(id), Side.Out),
        ["app", var id, var port] when IsId(id) && IsId(port) => new AppPoint(new(id), port),
        ["stage", var id] when IsId(id) => new StagePoint(new(id)),
        _ => null,
    };

    private protected static string Suffix(Tap tap) => tap switch { Tap.BeforeChain => "/before", Tap.Raw => "/raw", _ => "" };

    private static bool IsId(string id) => id.Length is >= 1 and <= 40 && id.All(c => c is (>= 'a' and <= 'z') or (>= '0' and <= '9') or '-');

    private static Tap? TapOf(string word) => word switch { "before" => Tap.BeforeChain, "raw" => Tap.Raw, _ => null };
}

/// <summary>A source's sound.</summary>
/// <param name="Id">Which source.</param>
/// <param name="Tap">Where it is taken.</param>
public sealed record SourcePoint(SourceId Id, Tap Tap = Tap.AfterChain) : Point
{
    /// <inheritdoc/>
    public override string ToString() => $"source/{Id}{Suffix(Tap)}";
}

/// <summary>A mix's sound.</summary>
/// <param name="Id">Which mix.</param>
/// <param name="Tap">Where it is taken.</param>
public sealed record MixPoint(MixId Id, Tap Tap = Tap.AfterChain) : Point
{
    /// <inheritdoc/>
    public override string ToString() => $"mix/{Id}{Suffix(Tap)}";
}

/// <summary>A cable: what is played into it, summed.</summary>
/// <param name="Id">Which cable.</param>
public sealed record CablePoint(CableId Id) : Point
{
    /// <inheritdoc/>
    public override string ToString() => $"cable/{Id}";
}

/// <summary>What one source gives to one mix.</summary>
/// <param name="Mix">The mix.</param>
/// <param name="Source">The source.</param>
public sealed record SendPoint(MixId Mix, SourceId Source) : Point
{
    /// <inheritdoc/>
    public override string ToString() => $"send/{Mix}/{Source}";
}

/// <summary>What a mix gives to one of its destinations.</summary>
/// <param name="Mix">The mix.</param>
/// <param name="Id">Which of its destinations.</param>
public sealed record DestinationPoint(MixId Mix, DestinationId Id) : Point
{
    /// <inheritdoc/>
    public override string ToString() => $"destination/{Mix}/{Id}";
}

/// <summary>Sound goes into the computer, or out of it.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<Side>))]
public enum Side
{
    /// <summary>From outside into the computer: what a device captures, what a program hears.</summary>
    In,

    /// <summary>Out of the computer: what a device plays, what a program plays.</summary>
    Out,
}

/// <summary>What a sound device captures, all its channels, or what it plays.</summary>
/// <param name="Id">Which device.</param>
/// <param name="Side">Which of both.</param>
public sealed record DevicePoint(DeviceId Id, Side Side) : Point
{
    /// <inheritdoc/>
    public override string ToString() => $"device/{Id}/{(Side == Side.In ? "in" : "out")}";
}

/// <summary>What a program plays at one of its outputs, or hears at one of its inputs.</summary>
/// <param name="Id">Which program.</param>
/// <param name="Port">Which of its outputs and inputs; 1–40 characters of <c>a–z 0–9 -</c>.</param>
public sealed record AppPoint(AppId Id, string Port) : Point
{
    /// <inheritdoc/>
    public override string ToString() => $"app/{Id}/{Port}";
}

/// <summary>What leaves one processor of a chain. It can be heard and measured; nothing in a show is made of it.</summary>
/// <param name="Id">Which processor.</param>
public sealed record StagePoint(ProcessorId Id) : Point
{
    /// <inheritdoc/>
    public override string ToString() => $"stage/{Id}";
}

/// <summary>A point in JSON is its text. Documents stored before there was one name for all are read too: objects with source, mix, cable and tap.</summary>
public sealed class PointJson : JsonConverter<Point>
{
    /// <inheritdoc/>
    public override Point Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) => reader.TokenType switch
    {
        JsonTokenType.String => Point.Parse(reader.GetString()) is var point and not StagePoint ? point : null,
        JsonTokenType.StartObject => JsonSerializer.Deserialize<Older>(ref reader, options)?.Point,
        _ => null,
    } ?? throw new JsonException($"A point is {Point.Allowed}.");

    /// <inheritdoc/>
    public override void Write(Utf8JsonWriter writer, Point value, JsonSerializerOptions options)
    {
        ArgumentNullException.ThrowIfNull(writer);
        ArgumentNullException.ThrowIfNull(value);
        writer.WriteStringValue(value.ToString());
    }

    private sealed record Older(SourceId? Source = null, MixId? Mix = null, CableId? Cable = null, Tap Tap = Tap.AfterChain)
    {
        public Point? Point => this switch
        {
            { Cable: { } cable, Source: null, Mix: null } => new CablePoint(cable),
            { Source: { } source, Mix: { } mix, Cable: null } => new SendPoint(mix, source),
            { Source: { } source, Cable: null } => new SourcePoint(source, Tap),
            { Mix: { } mix, Cable: null } => new MixPoint(mix, Tap),
            _ => null,
        };
    }
}

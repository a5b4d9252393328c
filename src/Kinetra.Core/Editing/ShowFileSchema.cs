using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.Json.Schema;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Editing;

/// <summary>
/// The schema of a show file (JSON Schema, draft 2020-12), made from the types that are read, the limits of a rig and the processors'
/// declarations. What one field says of another (an id that must be there, a name that must be free) no schema can tell:
/// <see cref="RigRules"/> does.
/// </summary>
public static class ShowFileSchema
{
    /// <summary>What the id of a source, mix, cable or processor looks like.</summary>
    public const string IdPattern = "^[a-z0-9-]{1,40}$";


    /// <summary>What an end looks like: a device's input or output, or a cable.</summary>
    public const string EndPattern = "^(device/[a-z0-9-]{1,40}/(in|out)|cable/[a-z0-9-]{1,40})$";

    private const string EndAllowed = "device/ID/in, device/ID/out or cable/ID";
    private const int GearRoles = 4;
    private const string IdAllowed = "1 to 40 characters of a–z, 0–9 and -";
    private const string ProcessorAt = "#/$defs/processor";
    private const string DuckerAt = "#/$defs/ducker";

    private static readonly Lazy<JsonObject> Schema = new(Make);

    // What no type says: of the field of a type, what more holds.
    private static readonly Dictionary<(Type Of, string Field), (string Keyword, JsonNode Value)[]> Limits = new()
    {
        [(typeof(ShowDocument), "format")] = [("const", ShowFile.Format)],
        [(typeof(ShowDocument), "version")] = [("const", ShowFile.Version)],
        [(typeof(ShowDocument), "name")] = Text(RigLimits.NameLength),
        [(typeof(ShowDocument), "sources")] = [("maxItems", RigLimits.Sources)],
        [(typeof(ShowDocument), "mixes")] = [("maxItems", RigLimits.Mixes)],
        [(typeof(ShowDocument), "cables")] = [("maxItems", RigLimits.Cables)],
        [(typeof(Source), "name")] = Text(RigLimits.NameLength),
        [(typeof(Source), "syncDelay")] = Range(0, RigLimits.SyncDelay),
        [(typeof(Source), "chain")] = [("maxItems", RigLimits.Processors)],
        [(typeof(SourceLook), "color")] = Range(0, SourceLook.Count - 1),
        [(typeof(SourceLook), "shape")] = Range(0, SourceLook.Count - 1),
        [(typeof(SoundFileInput), "sound")] = [("pattern", "^[0-9a-f]{64}$"), ("description", RigRules.SoundAllowed)],
        [(typeof(BrowserInput), "client")] = Text(RigLimits.ClientLength),
        [(typeof(BrowserInput), "device")] = Text(RigLimits.DeviceLength),
        [(typeof(BrowserInput), "label")] = Text(RigLimits.LabelLength),
        [(typeof(BrowserInput), "left")] = Range(0, RigLimits.InputChannels - 1),
        [(typeof(BrowserInput), "right")] = Range(0, RigLimits.InputChannels - 1),
        [(typeof(DeviceInput), "left")] = Range(0, RigLimits.DeviceChannels - 1),
        [(typeof(DeviceInput), "right")] = Range(0, RigLimits.DeviceChannels - 1),
        [(typeof(AppInput), "port")] = [("pattern", IdPattern), ("description", IdAllowed)],
        [(typeof(BrowserOutput), "client")] = Text(RigLimits.ClientLength),
        [(typeof(BrowserOutput), "device")] = Text(RigLimits.DeviceLength),
        [(typeof(BrowserOutput), "label")] = Text(RigLimits.LabelLength),
        [(typeof(Mix), "destinations")] = [("maxItems", RigLimits.Destinations)],
        [(typeof(Wishes), "roles")] = [("maxItems", GearRoles)],
        [(typeof(Wishes), "ports")] = [("maxItems", RigLimits.PortWishes)],
        [(typeof(RoleWish), "end")] = [("pattern", EndPattern), ("description", EndAllowed)],
        [(typeof(PortWish), "port")] = [("pattern", IdPattern), ("description", IdAllowed)],
        [(typeof(ChosenEnd), "end")] = [("pattern", EndPattern), ("description", EndAllowed)],
        [(typeof(CableInput), "left")] = Range(0, RigLimits.CableChannels - 1),
        [(typeof(CableInput), "right")] = Range(0, RigLimits.CableChannels - 1),
        [(typeof(Mix), "name")] = Text(RigLimits.NameLength),
        [(typeof(Mix), "targetLufs")] = Range(RigLimits.MinTarget, RigLimits.MaxTarget),
        [(typeof(Mix), "chain")] = [("maxItems", RigLimits.Processors)],
        [(typeof(Mix), "sends")] = [("maxItems", RigLimits.Sources)],
        [(typeof(Send), "pan")] = Range(-1, 1),
        [(typeof(Send), "tap")] = [("enum", new JsonArray(nameof(Tap.AfterChain), nameof(Tap.BeforeChain)))],
        [(typeof(Cable), "name")] = Text(RigLimits.NameLength),
        [(typeof(Cable), "channels")] = Range(1, RigLimits.CableChannels),
        [(typeof(Cable), "bufferFrames")] = Range(0, RigLimits.BufferFrames),
        [(typeof(Cable), "feeds")] = [("maxItems", RigLimits.Feeds)],
        [(typeof(CableFeed), "from")] = [("pattern", "^((source|mix)/[a-z0-9-]{1,40}(/before)?|cable/[a-z0-9-]{1,40})$"), ("description", "source/ID or mix/ID, both also with /before, or cable/ID")],
        [(typeof(CableChannels), "left")] = Range(0, RigLimits.DeviceChannels - 1),
        [(typeof(CableChannels), "right")] = Range(0, RigLimits.DeviceChannels - 1),
        [(typeof(Processor), "keys")] = [("maxItems", RigLimits.Keys)],
        [(typeof(ShowDocument), "promises")] = [("maxItems", RigLimits.Promises)],
        [(typeof(ShowDocument), "padSets")] = [("maxItems", RigLimits.PadSets)],
        [(typeof(PadSet), "name")] = Text(RigLimits.NameLength),
        [(typeof(PadSet), "pads")] = [("maxItems", RigLimits.PadsOfSet)],
        [(typeof(Pad), "name")] = Text(RigLimits.NameLength),
        [(typeof(Pad), "sound")] = [("pattern", "^[0-9a-f]{64}$"), ("description", RigRules.SoundAllowed)],
        [(typeof(Pad), "begin")] = Range(0, RigLimits.LongestPad),
        [(typeof(Pad), "end")] = Range(RigLimits.ShortestPad, RigLimits.LongestPad),
        [(typeof(Pad), "fadeIn")] = Range(0, RigLimits.PadFade),
        [(typeof(Pad), "fadeOut")] = Range(0, RigLimits.PadFade),
        [(typeof(Pad), "dim")] = Range(0, RigLimits.PadDim),
        [(typeof(Pad), "key")] = [("pattern", Pad.KeyPattern), ("description", PadRules.KeyAllowed)],
        [(typeof(Pad), "group")] = [("maxLength", RigLimits.NameLength)],
        [(typeof(ShowDocument), "cues")] = [("maxItems", RigLimits.Cues)],
        [(typeof(Cue), "name")] = Text(RigLimits.NameLength),
        [(typeof(Cue), "notes")] = [("maxLength", RigLimits.CueNotes)],
        [(typeof(Cue), "wait")] = Range(0, RigLimits.CueWait),
        [(typeof(Cue), "acts")] = [("maxItems", RigLimits.CueActs)],
        [(typeof(StopPads), "pad")] = MaybeId(),
        [(typeof(StopPads), "group")] = [("maxLength", RigLimits.NameLength)],
        [(typeof(StopPads), "fade")] = Range(0, RigLimits.CueFade),
        [(typeof(TurnPads), "pad")] = MaybeId(),
        [(typeof(TurnPads), "over")] = Range(0, RigLimits.CueFade),
        [(typeof(RecallLevels), "levels")] = [("maxItems", RigLimits.CueLevels)],
        [(typeof(RecallLevels), "over")] = Range(0, RigLimits.CueFade),
        [(typeof(TurnMusic), "over")] = Range(0, RigLimits.CueFade),
        [(typeof(SetMark), "words")] = [("maxLength", RigLimits.NameLength)],
        [(typeof(ShowDocument), "tracks")] = [("maxItems", RigLimits.Tracks)],
        [(typeof(PlannedTrack), "name")] = Text(RigLimits.NameLength),
        [(typeof(PlannedTrack), "takes")] = [("pattern", TrackRules.TakesPattern), ("description", TrackRules.TakesAllowed)],
        [(typeof(PlannedTrack), "fileName")] = [("type", new JsonArray("string", "null")), ("pattern", TrackRules.FileNamePattern), ("description", TrackRules.FileNameAllowed)],
        [(typeof(ShowDocument), "streams")] = [("maxItems", RigLimits.Streams)],
        [(typeof(Recording), "before")] = Range(0, Recording.MostBefore),
        [(typeof(Broadcast), "name")] = Text(RigLimits.NameLength),
        [(typeof(Broadcast), "channels")] = Range(1, 2),
        [(typeof(Broadcast), "kilobits")] = Range(0, 512),
        [(typeof(Broadcast), "sampleRate")] = Range(8_000, 48_000),
        [(typeof(Broadcast), "title")] = [("maxLength", StreamRules.TextLength)],
        [(typeof(Broadcast), "description")] = [("maxLength", StreamRules.TextLength)],
        [(typeof(Broadcast), "songFrom")] = MaybeId(),
        [(typeof(AirServer), "host")] = [("minLength", 1), ("maxLength", StreamRules.HostLength), ("description", StreamRules.HostAllowed)],
        [(typeof(AirServer), "port")] = Range(1, 65_535),
        [(typeof(AirServer), "path")] = [("maxLength", StreamRules.PathLength), ("description", StreamRules.PathAllowed)],
        [(typeof(AirServer), "user")] = [("maxLength", StreamRules.UserLength)],
        [(typeof(ShowDocument), "accepted")] = [("maxItems", RigLimits.Accepted)],
        [(typeof(Acceptance), "key")] = Text(RigLimits.FindingKey),
        [(typeof(Acceptance), "facts")] = Text(RigLimits.FindingFacts),
        [(typeof(Reaches), "listener")] = Listener(),
        [(typeof(NeverReaches), "listener")] = Listener(),
        [(typeof(HeardOnce), "listener")] = Listener(),
        [(typeof(HeardOnce), "source")] = MaybeId(),
        [(typeof(SpeechOverBed), "speech")] = MaybeId(),
        [(typeof(SpeechOverBed), "bed")] = MaybeId(),
        [(typeof(InStep), "listener")] = Listener(),
        [(typeof(InStep), "picture")] = Range(0, RigLimits.LatestPicture),
        [(typeof(InStep), "within")] = Range(RigLimits.LeastWithin, RigLimits.MostWithin),
        [(typeof(SpeechOverBed), "atLeast")] = Range(0, RigLimits.MostOver),
        [(typeof(LoudnessInRange), "from")] = Range(RigLimits.LeastLoudness, 0),
        [(typeof(LoudnessInRange), "to")] = Range(RigLimits.LeastLoudness, 0),
        [(typeof(TruePeakUnder), "ceiling")] = Range(RigLimits.LeastCeiling, 0),
        [(typeof(DefaultStays), "end")] = [("pattern", EndPattern), ("description", EndAllowed)],
    };

    /// <summary>The schema.</summary>
    public static JsonNode Node => Schema.Value.DeepClone();

    /// <summary>What holds of a field beside its type, as JSON Schema has it; nothing where that is all.</summary>
    /// <param name="of">The type.</param>
    /// <param name="field">The field, as it is called in JSON.</param>
    public static IReadOnlyList<(string Keyword, JsonNode Value)> LimitsOf(Type of, string field) => Limits.GetValueOrDefault((of, field)) ?? [];

    /// <summary>The schema, not to be changed.</summary>
    internal static JsonObject Shared => Schema.Value;

    private static JsonObject Make()
    {
        var schema = new JsonObject { ["$schema"] = "https://json-schema.org/draft/2020-12/schema", ["title"] = "Kinetra show file, " + ShowFile.Version };
        foreach (var (key, value) in Export(typeof(ShowDocument)))
        {
            schema[key] = value?.DeepClone();
        }

        schema["$defs"] = new JsonObject
        {
            ["processor"] = new JsonObject { ["anyOf"] = new JsonArray([.. ProcessorTypes.All.Select(ProcessorSchema)]) },
            ["ducker"] = ProcessorSchema(Ducker.Type),
        };
        return schema;
    }

    private static JsonObject Export(Type root) => RigJson.Options.GetJsonSchemaAsNode(root, new JsonSchemaExporterOptions
    {
        TreatNullObliviousAsNonNullable = true,
        TransformSchemaNode = (context, node) =>
        {
            var type = Nullable.GetUnderlyingType(context.TypeInfo.Type) ?? context.TypeInfo.Type;
            var own = type == root ? node : Own(type, context.PropertyInfo?.Name, node);
            if (context.PropertyInfo is { } field && Limits.TryGetValue((field.DeclaringType, field.Name), out var limits) && own is JsonObject limited)
            {
                foreach (var (keyword, value) in limits)
                {
                    limited[keyword] = value.DeepClone();
                }
            }

            // Of a value that may be missing and has a converter of its own, the exporter says nothing, and asks nobody.
            foreach (var (name, silentField) in (own as JsonObject)?["properties"] as JsonObject ?? [])
            {
                if (silentField is JsonObject silent && !silent.ContainsKey("type") && Limits.TryGetValue((type, name), out var more))
                {
                    foreach (var (keyword, value) in more.Where(m => !silent.ContainsKey(m.Keyword)))
                    {
                        silent[keyword] = value.DeepClone();
                    }
                }
            }

            return own;
        },
    }).AsObject();

    // What types with converters of their own look like.
    private static JsonNode Own(Type type, string? field, JsonNode node)
    {
        if (type == typeof(Gain))
        {
            return new JsonObject
            {
                ["description"] = Gain.Allowed,
                ["anyOf"] = new JsonArray(Ranged(new() { ["type"] = "number" }, Gain.MinDecibels, Gain.MaxDecibels), new JsonObject { ["const"] = "off" }),
            };
        }

        if (type == typeof(Point))
        {
            return new JsonObject { ["description"] = Point.Allowed, ["type"] = "string", ["pattern"] = Point.Pattern };
        }

        if (type == typeof(ImmutableArray<Point>))
        {
            return new JsonObject
            {
                ["type"] = "array",
                ["items"] = new JsonObject { ["description"] = "source/ID or mix/ID, both also with /before", ["type"] = "string", ["pattern"] = "^(source|mix)/[a-z0-9-]{1,40}(/before)?$" },
            };
        }

        if (type == typeof(Processor))
        {
            return field == "ducker"
                ? new JsonObject { ["anyOf"] = new JsonArray(new JsonObject { ["$ref"] = DuckerAt }, new JsonObject { ["type"] = "null" }) }
                : new JsonObject { ["$ref"] = ProcessorAt };
        }

        return type == typeof(SourceId) || type == typeof(MixId) || type == typeof(CableId) || type == typeof(ProcessorId)
            || type == typeof(DeviceId) || type == typeof(AppId) || type == typeof(DestinationId) || type == typeof(PromiseId)
            || type == typeof(PadId) || type == typeof(PadSetId) || type == typeof(CueId) || type == typeof(TrackId) || type == typeof(StreamId)
            ? new JsonObject { ["description"] = IdAllowed, ["type"] = "string", ["pattern"] = IdPattern }
            : node;
    }

    private static JsonObject ProcessorSchema(ProcessorType type)
    {
        var schema = Export(typeof(Processor));
        var fields = schema["properties"]!.AsObject();
        fields["type"] = new JsonObject { ["const"] = type.Key };
        fields["keys"]!["maxItems"] = type.KeyUse == KeyUse.None ? 0 : RigLimits.Keys;
        var values = new JsonObject();
        foreach (var parameter in type.Parameters)
        {
            values[parameter.Key] = parameter.Scale == ParameterScale.Choice
                ? new JsonObject { ["description"] = parameter.Meaning, ["enum"] = new JsonArray([.. parameter.Words.Select(w => (JsonNode)w)]) }
                : Ranged(new() { ["description"] = parameter.Meaning, ["type"] = "number" }, parameter.Min, parameter.Max);
        }

        fields["values"] = new JsonObject { ["type"] = "object", ["properties"] = values, ["additionalProperties"] = false };
        schema["title"] = type.Name;
        return schema;
    }

    private static JsonObject Ranged(JsonObject schema, double min, double max)
    {
        (schema["minimum"], schema["maximum"]) = (min, max);
        return schema;
    }

    private static (string Keyword, JsonNode Value)[] Range(double min, double max) => [("minimum", min), ("maximum", max)];

    private static (string Keyword, JsonNode Value)[] MaybeId() => [("type", new JsonArray("string", "null")), ("pattern", IdPattern), ("description", IdAllowed)];

    private static (string Keyword, JsonNode Value)[] Listener() => [("pattern", PromiseRules.ListenerPattern), ("description", PromiseRules.ListenerAllowed)];

    private static (string Keyword, JsonNode Value)[] Text(int longest) => [("minLength", 1), ("maxLength", longest)];
}

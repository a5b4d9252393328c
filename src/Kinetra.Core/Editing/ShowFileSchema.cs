using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.Json.Schema;
using System.Text.RegularExpressions;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Editing;

/// <summary>
/// The schema of a show file (JSON Schema, draft 2020-12), made from the types that are read, and the check of a file against
/// it, which says of each wrong field where it is and what is allowed. Ranges and relations are checked by <see cref="RigRules"/>.
/// </summary>
public static class ShowFileSchema
{
    private static readonly Lazy<JsonObject> Schema = new(Make);

    /// <summary>The schema.</summary>
    public static JsonNode Node => Schema.Value.DeepClone();

    /// <summary>All that does not fit the schema.</summary>
    internal static ImmutableArray<RigProblem> Check(JsonNode? file)
    {
        var problems = ImmutableArray.CreateBuilder<RigProblem>();
        Check(problems, "", file, Schema.Value);
        return problems.ToImmutable();
    }

    private static JsonObject Make()
    {
        var exported = RigJson.Options.GetJsonSchemaAsNode(typeof(ShowDocument), new JsonSchemaExporterOptions
        {
            TreatNullObliviousAsNonNullable = true,
            TransformSchemaNode = (context, node) => Own(Nullable.GetUnderlyingType(context.TypeInfo.Type) ?? context.TypeInfo.Type, node),
        }).AsObject();
        var schema = new JsonObject { ["$schema"] = "https://json-schema.org/draft/2020-12/schema", ["title"] = "Kinetra show file, " + ShowFile.Version };
        foreach (var (key, value) in exported)
        {
            schema[key] = value?.DeepClone();
        }

        return schema;
    }

    // What types with converters of their own look like.
    private static JsonNode Own(Type type, JsonNode node)
    {
        if (type == typeof(Gain))
        {
            return new JsonObject { ["description"] = Gain.Allowed, ["anyOf"] = new JsonArray(new JsonObject { ["type"] = "number" }, new JsonObject { ["const"] = "off" }) };
        }

        if (type == typeof(Point))
        {
            return PointSchema();
        }

        if (type == typeof(ImmutableArray<Point>))
        {
            return new JsonObject { ["type"] = "array", ["items"] = PointSchema() };
        }

        return type == typeof(SourceId) || type == typeof(MixId) || type == typeof(CableId) || type == typeof(ProcessorId)
            ? new JsonObject { ["description"] = "1 to 40 characters of a–z, 0–9 and -", ["type"] = "string", ["pattern"] = "^[a-z0-9-]{1,40}$" }
            : node;
    }

    private static JsonObject PointSchema() => new() { ["description"] = Point.Allowed, ["type"] = "string", ["pattern"] = Point.Pattern };

    private static void Check(ImmutableArray<RigProblem>.Builder problems, string where, JsonNode? value, JsonNode? schema)
    {
        if (schema is not JsonObject rules)
        {
            return;
        }

        if (rules["$ref"] is { } reference)
        {
            Check(problems, where, value, Follow((string)reference!));
            return;
        }

        if (rules["anyOf"] is JsonArray choices)
        {
            CheckAny(problems, where, value, rules, choices);
            return;
        }

        if (rules["const"] is { } constant)
        {
            if (!JsonNode.DeepEquals(constant, value))
            {
                problems.Add(new(where, $"{Shown(value)} is not understood.", constant.ToJsonString()));
            }

            return;
        }

        if (rules["enum"] is JsonArray words && words.All(w => !JsonNode.DeepEquals(w, value)))
        {
            problems.Add(new(where, $"{Shown(value)} is not understood.", string.Join(", ", words.Select(w => w?.ToJsonString() ?? "null"))));
        }
        else if (rules["type"] is { } type && !Kinds(type).Any(kind => Is(value, kind)))
        {
            problems.Add(new(where, $"{Shown(value)} is not understood.", (string?)rules["description"] ?? string.Join(" or ", Kinds(type).Select(Words))));
        }
        else if ((string?)rules["pattern"] is { } pattern && !Regex.IsMatch((string)value!, pattern))
        {
            problems.Add(new(where, $"{Shown(value)} cannot be used.", (string?)rules["description"] ?? pattern));
        }
        else if (value is JsonObject fields)
        {
            CheckFields(problems, where, fields, rules);
        }
        else if (value is JsonArray items)
        {
            for (var i = 0; i < items.Count; i++)
            {
                Check(problems, string.Create(CultureInfo.InvariantCulture, $"{where}[{i}]"), items[i], rules["items"]);
            }
        }
    }

    private static void CheckFields(ImmutableArray<RigProblem>.Builder problems, string where, JsonObject fields, JsonObject rules)
    {
        var known = rules["properties"] as JsonObject;
        foreach (var (name, field) in fields)
        {
            var path = where.Length == 0 ? name : $"{where}.{name}";
            if (known?[name] is { } schema)
            {
                Check(problems, path, field, schema);
            }
            else if (known is not null && known.ContainsKey(name))
            {
                continue;
            }
            else if (rules["additionalProperties"] is JsonObject others)
            {
                Check(problems, path, field, others);
            }
            else
            {
                problems.Add(new(path, "There is no such field.", string.Join(", ", known?.Select(k => k.Key) ?? [])));
            }
        }

        foreach (var name in (rules["required"] as JsonArray ?? []).Select(r => (string)r!).Where(r => !fields.ContainsKey(r)))
        {
            problems.Add(new(where.Length == 0 ? name : $"{where}.{name}", "This field is missing.", "a value"));
        }
    }

    // Of several kinds of one thing, told apart by the field "type", the one that it says it is.
    private static void CheckAny(ImmutableArray<RigProblem>.Builder problems, string where, JsonNode? value, JsonObject rules, JsonArray choices)
    {
        var kinds = choices.Select(c => (Choice: c, Kind: c?["properties"]?["type"]?["const"])).Where(c => c.Kind is not null).ToArray();
        if (kinds.Length == 0 || value is not JsonObject fields)
        {
            if (kinds.Length > 0 || !choices.Any(c => Fits(value, c)))
            {
                problems.Add(new(where, $"{Shown(value)} is not understood.", (string?)rules["description"] ?? "an object with a type"));
            }

            return;
        }

        var meant = kinds.FirstOrDefault(k => JsonNode.DeepEquals(k.Kind, fields["type"]));
        if (meant.Choice is null)
        {
            problems.Add(new($"{where}.type", $"{Shown(fields["type"])} is not understood.", string.Join(", ", kinds.Select(k => k.Kind!.ToJsonString()))));
        }
        else
        {
            Check(problems, where, value, meant.Choice);
        }
    }

    private static bool Fits(JsonNode? value, JsonNode? schema)
    {
        var problems = ImmutableArray.CreateBuilder<RigProblem>();
        Check(problems, "", value, schema);
        return problems.Count == 0;
    }

    // A pointer within the schema: #/properties/sources/items
    private static JsonNode? Follow(string pointer)
    {
        JsonNode? at = Schema.Value;
        foreach (var part in pointer.TrimStart('#').Split('/', StringSplitOptions.RemoveEmptyEntries))
        {
            at = at is JsonArray list ? list[int.Parse(part, CultureInfo.InvariantCulture)] : at?[part.Replace("~1", "/", StringComparison.Ordinal).Replace("~0", "~", StringComparison.Ordinal)];
        }

        return at;
    }

    private static string[] Kinds(JsonNode type) => type is JsonArray several ? [.. several.Select(t => (string)t!)] : [(string)type!];

    private static bool Is(JsonNode? value, string kind) => kind switch
    {
        "null" => value is null,
        "object" => value is JsonObject,
        "array" => value is JsonArray,
        "string" => value?.GetValueKind() == JsonValueKind.String,
        "boolean" => value?.GetValueKind() is JsonValueKind.True or JsonValueKind.False,
        "integer" => value?.GetValueKind() == JsonValueKind.Number && value.AsValue().TryGetValue<int>(out _),
        "number" => value?.GetValueKind() == JsonValueKind.Number && value.AsValue().TryGetValue<double>(out var number) && double.IsFinite(number),
        _ => false,
    };

    private static string Words(string kind) => kind switch
    {
        "null" => "nothing",
        "object" => "an object",
        "array" => "a list",
        "string" => "a text",
        "boolean" => "true or false",
        "integer" => "a whole number",
        _ => "a number",
    };

    private static string Shown(JsonNode? value)
    {
        const int longest = 40;
        var text = value switch { null => "null", JsonObject => "An object", JsonArray => "A list", _ => value.ToJsonString() };
        return text.Length <= longest ? text : text[..longest] + "…";
    }
}

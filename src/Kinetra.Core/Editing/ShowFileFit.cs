using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.RegularExpressions;

namespace Kinetra.Core.Editing;

/// <summary>
/// Holds a file against the schema. What does not fit is told and replaced by something that does, so that what the fields say of
/// one another can be checked in the same round. Whether numbers are in range, <see cref="RigRules"/> says in better words; of a list that
/// is too long only so much is looked at as may be there, so that no file takes long.
/// </summary>
sealed partial class ShowFileFit
{
    private readonly ImmutableArray<RigProblem>.Builder _problems = ImmutableArray.CreateBuilder<RigProblem>();
    private readonly HashSet<string> _places = new(StringComparer.Ordinal);
    private int _standIns;

    private ShowFileFit()
    {
    }

    /// <summary>All that does not fit.</summary>
    public ImmutableArray<RigProblem> Problems => _problems.ToImmutable();

    /// <summary>True where a thing or its id was replaced: what refers to it may be right.</summary>
    public bool LostAnId => _problems.Any(p => Things().IsMatch(p.Where));

    /// <summary>The file as far as it fits.</summary>
    public JsonNode File { get; private set; } = new JsonObject();

    /// <summary>Holds a file against the schema.</summary>
    public static ShowFileFit Of(JsonNode? file)
    {
        var fit = new ShowFileFit();
        fit.File = fit.Fitted("", file, ShowFileSchema.Shared)!;
        return fit;
    }

    /// <summary>True where a problem was told already, or lies within what was replaced.</summary>
    public bool Covers(string where)
    {
        for (var end = where.Length; end > 0; end = where.AsSpan(0, end).LastIndexOfAny('.', '['))
        {
            if (_places.Contains(where[..end]))
            {
                return true;
            }
        }

        return false;
    }

    [GeneratedRegex(@"^(sources|mixes|cables)(\[\d+\](\.id)?)?$")]
    private static partial Regex Things();

    private JsonNode? Fitted(string where, JsonNode? value, JsonNode? schema)
    {
        var rules = Resolved(schema);
        if (rules["anyOf"] is JsonArray choices)
        {
            return FittedToAny(where, value, rules, choices);
        }

        if (rules["const"] is { } constant)
        {
            return JsonNode.DeepEquals(constant, value) ? value?.DeepClone() : Refused(where, value, rules, constant.ToJsonString());
        }

        if (rules["enum"] is JsonArray words)
        {
            return words.Any(w => JsonNode.DeepEquals(w, value))
                ? value?.DeepClone()
                : Refused(where, value, rules, string.Join(", ", words.Select(w => w?.ToJsonString() ?? "null")));
        }

        if (!Kinds(rules).Any(kind => Is(value, kind)))
        {
            return Refused(where, value, rules, Described(rules) ?? string.Join(" or ", Kinds(rules).Select(Words)));
        }

        if (value is not null && (string?)rules["pattern"] is { } pattern && !Regex.IsMatch((string)value!, pattern))
        {
            return Refused(where, value, rules, Described(rules) ?? pattern, "cannot be used");
        }

        return value switch
        {
            JsonObject fields => FittedFields(where, fields, rules),
            JsonArray items => FittedItems(where, items, rules),
            _ => value?.DeepClone(),
        };
    }

    private JsonArray FittedItems(string where, JsonArray items, JsonObject rules)
    {
        var most = (int?)rules["maxItems"] ?? int.MaxValue;
        if (items.Count > most)
        {
            Tell(new(where, $"There are {items.Count} in this list.", $"at most {most}"));
        }

        return new JsonArray(
            [.. items.Take(most).Select((item, i) => Fitted(string.Create(CultureInfo.InvariantCulture, $"{where}[{i}]"), item, rules["items"]))]);
    }

    private void Tell(RigProblem problem)
    {
        _problems.Add(problem);
        _places.Add(problem.Where);
    }

    private JsonObject FittedFields(string where, JsonObject fields, JsonObject rules)
    {
        var known = rules["properties"] as JsonObject ?? [];
        var needed = (rules["required"] as JsonArray ?? []).Select(r => (string)r!).ToHashSet();
        var fitted = new JsonObject();
        foreach (var (name, field) in fields)
        {
            var path = where.Length == 0 ? name : $"{where}.{name}";
            if (known[name] is not { } schema)
            {
                Tell(new(path, "There is no such field.", string.Join(", ", known.Select(k => k.Key))));
                continue;
            }

            // What may be left out is at its default where it does not fit.
            var before = _problems.Count;
            var value = Fitted(path, field, schema);
            if (needed.Contains(name) || _problems.Count == before || _problems[before].Where != path)
            {
                fitted[name] = value;
            }
        }

        foreach (var name in needed.Where(n => !fields.ContainsKey(n)))
        {
            Tell(new(where.Length == 0 ? name : $"{where}.{name}", "This field is missing.", "a value"));
            fitted[name] = StandIn(known[name]);
        }

        return fitted;
    }

    // Of several kinds of one thing, told apart by the field "type", the one that it says it is.
    private JsonNode? FittedToAny(string where, JsonNode? value, JsonObject rules, JsonArray choices)
    {
        // What tells them apart: of promises their kind, of all others their type.
        var by = choices.Select(Resolved).Any(c => c["properties"]?["kind"]?["const"] is not null) ? "kind" : "type";
        var kinds = choices.Select(Resolved).Select(c => (Choice: c, Kind: c["properties"]?[by]?["const"])).Where(c => c.Kind is not null).ToArray();
        if (kinds.Length == 0 || value is not JsonObject fields)
        {
            return choices.Any(c => Fits(value, c))
                ? value?.DeepClone()
                : Refused(where, value, rules, Described(rules) ?? $"an object with a {by}");
        }

        if (kinds.FirstOrDefault(k => JsonNode.DeepEquals(k.Kind, fields[by])).Choice is { } meant)
        {
            return Fitted(where, value, meant);
        }

        _ = Refused($"{where}.{by}", fields[by], rules, string.Join(", ", kinds.Select(k => k.Kind!.ToJsonString())));
        return StandIn(kinds[0].Choice);
    }

    private JsonNode? Refused(string where, JsonNode? value, JsonObject rules, string allowed, string why = "is not understood")
    {
        Tell(new(where, $"{Shown(value)} {why}.", allowed));
        return StandIn(rules);
    }

    // Something that fits, and is like nothing else in the file.
    private JsonNode? StandIn(JsonNode? schema)
    {
        var rules = Resolved(schema);
        if (rules["anyOf"] is JsonArray choices)
        {
            return StandIn(choices[0]);
        }

        if ((rules["const"] ?? (rules["enum"] as JsonArray)?[0]) is { } fixedValue)
        {
            return fixedValue.DeepClone();
        }

        switch (Kinds(rules)[0])
        {
            case "object":
                var fields = new JsonObject();
                foreach (var name in (rules["required"] as JsonArray ?? []).Select(r => (string)r!))
                {
                    fields[name] = StandIn(rules["properties"]![name]);
                }

                // Which kind it is.
                foreach (var (name, field) in (rules["properties"] as JsonObject ?? []).Where(f => f.Value?["const"] is not null))
                {
                    fields[name] = field!["const"]!.DeepClone();
                }

                return fields;
            case "array":
                return new JsonArray();
            case "string":
                _standIns++;
                var text = string.Create(CultureInfo.InvariantCulture, $"stand-in-{_standIns}");
                string[] texts = [text, $"source/{text}", $"cable/{text}", new('0', 64), ""];
                return (string?)rules["pattern"] is { } pattern ? texts.First(t => Regex.IsMatch(t, pattern)) : texts[0];
            case "boolean":
                return false;
            case "null":
                return null;
            default:
                return (rules["minimum"] ?? 0).DeepClone();
        }
    }

    private static bool Fits(JsonNode? value, JsonNode? schema)
    {
        var fit = new ShowFileFit();
        fit.Fitted("", value, schema);
        return fit._problems.Count == 0;
    }

    // A pointer within the schema is followed: #/properties/sources/items
    private static JsonObject Resolved(JsonNode? schema)
    {
        if (schema is not JsonObject rules)
        {
            return [];
        }

        if ((string?)rules["$ref"] is not { } pointer)
        {
            return rules;
        }

        JsonNode? at = ShowFileSchema.Shared;
        foreach (var part in pointer.TrimStart('#').Split('/', StringSplitOptions.RemoveEmptyEntries))
        {
            at = at is JsonArray list ? list[int.Parse(part, CultureInfo.InvariantCulture)] : at?[part];
        }

        return Resolved(at);
    }

    // What a text or a choice may be; of a number its description says what it does.
    private static string? Described(JsonObject rules) => rules["pattern"] is null && rules["anyOf"] is null ? null : (string?)rules["description"];

    // One of several kinds of a thing does not say that it is an object.
    private static string[] Kinds(JsonObject rules) => rules["type"] switch
    {
        JsonArray several => [.. several.Select(t => (string)t!)],
        { } one => [(string)one!],
        null => ["object"],
    };

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

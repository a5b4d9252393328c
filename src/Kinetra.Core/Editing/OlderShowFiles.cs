using System.Text.Json.Nodes;

namespace Kinetra.Core.Editing;

/// <summary>Makes of a show file of an older version one of this version, before it is checked.</summary>
static class OlderShowFiles
{
    /// <summary>The version before 1: points were objects with source, mix, cable and tap, and the choices of processors numbers.</summary>
    public const string Draft = "draft-1";

    /// <summary>Version 1: stand-ins were no devices and programs of a computer.</summary>
    public const string First = "1";

    /// <summary>Version 2: there were no promises.</summary>
    public const string Second = "2";

    /// <summary>Changes a file in place. What it does not understand stays, and is told by the check.</summary>
    public static void Raise(JsonNode? file)
    {
        if (file is not JsonObject show || show["version"] is not JsonValue version || !version.TryGetValue(out string? word) || word is not (Draft or First or Second))
        {
            return;
        }

        show["version"] = ShowFile.Version;
        if (word == Second)
        {
            return;
        }

        OlderInputs.Raise(show);
        if (word == Draft)
        {
            RaisePoints(show);
            ShowFileWords.Write(show);
        }
    }

    private static void RaisePoints(JsonNode node)
    {
        foreach (var (name, value) in (node as JsonObject ?? []).ToList())
        {
            if (name == "from" && value is JsonObject from && PointOf(from) is { } point)
            {
                node[name] = point;
            }
            else if (name == "keys" && value is JsonArray keys)
            {
                for (var i = 0; i < keys.Count; i++)
                {
                    keys[i] = keys[i] is JsonObject key && PointOf(key) is { } heard ? heard : keys[i]?.DeepClone();
                }
            }
            else if (value is not null)
            {
                RaisePoints(value);
            }
        }

        foreach (var item in node as JsonArray ?? [])
        {
            if (item is not null)
            {
                RaisePoints(item);
            }
        }
    }

    private static string? PointOf(JsonObject old)
    {
        var before = Word(old, "tap") == "BeforeChain" ? "/before" : "";
        return (Word(old, "source"), Word(old, "mix"), Word(old, "cable")) switch
        {
            ({ } source, null, null) => $"source/{source}{before}",
            (null, { } mix, null) => $"mix/{mix}{before}",
            (null, null, { } cable) => $"cable/{cable}",
            _ => null,
        };
    }

    private static string? Word(JsonObject from, string name) => from[name] is JsonValue value && value.TryGetValue(out string? word) ? word : null;
}

using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json;

namespace Kinetra.Core.Editing;

/// <summary>Finds fields that stand twice in one object of a JSON text, each by its path: which of the two was meant nobody can know.</summary>
static class TwiceNamed
{
    /// <summary>Reads the whole text.</summary>
    /// <param name="json">UTF-8.</param>
    /// <param name="line">Where it stops being JSON, counted from 1; null: it is JSON.</param>
    /// <param name="column">The byte in that line, counted from 1.</param>
    public static ImmutableArray<RigProblem> Check(ReadOnlySpan<byte> json, out long? line, out long? column)
    {
        var problems = ImmutableArray.CreateBuilder<RigProblem>();
        var open = new Stack<Level>();
        var reader = new Utf8JsonReader(json);
        (line, column) = (null, null);
        try
        {
            while (reader.Read())
            {
                switch (reader.TokenType)
                {
                    case JsonTokenType.PropertyName:
                        var level = open.Peek();
                        var name = reader.GetString()!;
                        level.Name = name;
                        if (!level.Names.Add(name))
                        {
                            problems.Add(new(PathOf(open), "This field stands twice.", "each field once"));
                        }

                        break;
                    case JsonTokenType.StartObject or JsonTokenType.StartArray:
                        Next(open);
                        open.Push(new Level(reader.TokenType == JsonTokenType.StartArray));
                        break;
                    case JsonTokenType.EndObject or JsonTokenType.EndArray:
                        open.Pop();
                        break;
                    default:
                        Next(open);
                        break;
                }
            }
        }
        catch (JsonException e)
        {
            (line, column) = (e.LineNumber + 1, e.BytePositionInLine + 1);
        }

        return problems.ToImmutable();
    }

    private static void Next(Stack<Level> open)
    {
        if (open.TryPeek(out var level) && level.IsList)
        {
            level.Place++;
        }
    }

    private static string PathOf(Stack<Level> open)
    {
        var path = "";
        foreach (var level in open.Reverse())
        {
            path += level.IsList ? string.Create(CultureInfo.InvariantCulture, $"[{level.Place}]") : path.Length == 0 ? level.Name : $".{level.Name}";
        }

        return path;
    }

    private sealed class Level(bool isList)
    {
        public bool IsList => isList;

        public HashSet<string> Names { get; } = new(StringComparer.Ordinal);

        public string Name { get; set; } = "";

        public int Place { get; set; } = -1;
    }
}

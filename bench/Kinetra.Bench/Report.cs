using System.Globalization;
using System.Text.Json;
using System.Text.Json.Nodes;
using Kinetra.Core.Engine;

namespace Kinetra.Bench;

/// <summary>Runs the parts that are wanted, and prints what they measured: as lines, or as one JSON object.</summary>
static class Report
{
    private static readonly (string Name, Func<object> Measure)[] Parts =
    [
        ("reference", AgainstFfmpeg.Measure),
        ("few", Few.Measure),
        ("live", Live.Measure),
        ("watched", Watched.Measure),
        ("processors", Speed.Measure),
        ("growth", Growth.Measure),
        ("resampler", Conversion.Measure),
        ("plans", Plans.Measure),
        ("pads", PadParts.Measure),
        ("large", Large.Measure),
        ("gear", GearParts.Measure),
        ("analysis", AnalysisParts.Measure),
        ("map", MapParts.Measure),
        ("hearing", HearingParts.Measure),
        ("drag", Large.Drag),
        ("loops", Large.Loops),
    ];

    public static int Run(IReadOnlyList<string> words)
    {
        var json = words.Contains("--json");
        var wanted = words.Where(w => w != "--json").ToArray();
        if (wanted.FirstOrDefault(w => Parts.All(p => p.Name != w)) is { } unknown)
        {
            Console.Error.WriteLine($"bench: “{unknown}” is no part. Allowed: {string.Join(", ", Parts.Select(p => p.Name))}, --json.");
            return 2;
        }

        Rehearsal.Run();
        var all = new JsonObject();
        foreach (var (name, measure) in Parts.Where(p => wanted.Length == 0 || wanted.Contains(p.Name)))
        {
            var measured = JsonSerializer.SerializeToNode(measure())!;
            if (json)
            {
                all[name] = measured;
            }
            else
            {
                Console.WriteLine(name);
                Print(measured);
            }
        }

        if (json)
        {
            Console.WriteLine(all.ToJsonString(new JsonSerializerOptions { WriteIndented = true }));
        }

        return 0;
    }

    private static void Print(JsonNode measured)
    {
        if (measured is JsonArray { Count: > 0 } rows)
        {
            var columns = rows[0]!.AsObject().Select(f => f.Key).ToArray();
            var cells = rows.Select(r => columns.Select(c => Shown(r![c])).ToArray()).Prepend(columns).ToArray();
            var widths = columns.Select((_, i) => cells.Max(c => c[i].Length)).ToArray();
            foreach (var row in cells)
            {
                Console.WriteLine("  " + string.Join("  ", row.Select((cell, i) => cell.PadLeft(widths[i]))));
            }

            return;
        }

        foreach (var (key, value) in measured.AsObject())
        {
            Console.WriteLine($"  {key,-30} {Shown(value)}");
        }
    }

    private static string Shown(JsonNode? value) => value switch
    {
        JsonObject fields => string.Join(" ", fields.Select(f => Shown(f.Value))),
        JsonArray list => string.Join(" ", list.Select(Shown)),
        JsonValue v when v.GetValueKind() == JsonValueKind.Number => v.GetValue<object>() switch
        {
            double d => d.ToString(Math.Abs(d) < 10 ? "0.0000" : "0.0", CultureInfo.InvariantCulture),
            var whole => Convert.ToString(whole, CultureInfo.InvariantCulture)!,
        },
        _ => value?.ToString() ?? "",
    };
}

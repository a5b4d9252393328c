using System.Collections.Immutable;
using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Json.Serialization;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Editing;

/// <summary>
/// What a pad set's ZIP says of its pads (docs/pad-set.md): a JSON text beside the sounds. Through which source they are heard is a show's own, and is not in it.
/// </summary>
/// <param name="Name">1–60 characters.</param>
/// <param name="All">Its pads, each with the name of its sound within the ZIP.</param>
public sealed record PadSetFile(string Name, ImmutableArray<(Pad Pad, string File)> All)
{
    /// <summary>What the field <c>format</c> says.</summary>
    public const string Format = "kinetra-pad-set";

    /// <summary>What the field <c>version</c> says.</summary>
    public const string Version = "1";

    /// <summary>The name of the text within the ZIP.</summary>
    public const string EntryName = "pad-set.json";

    /// <summary>The largest text that is read, bytes.</summary>
    public const int MaxBytes = 256 * 1024;

    private const string Allowed = "a pad set, as docs/pad-set.md describes it";

    private static readonly JsonSerializerOptions Written = new(RigJson.Options)
    {
        WriteIndented = true,
        Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
        UnmappedMemberHandling = JsonUnmappedMemberHandling.Disallow,
    };

    /// <summary>The text.</summary>
    public string Write() => JsonSerializer.Serialize(
        new Document(Format, Version, Name, [.. All.Select(p => new Entry(
            p.Pad.Name, p.File, p.Pad.Begin, p.Pad.End, p.Pad.FadeIn, p.Pad.FadeOut, p.Pad.Gain, p.Pad.Play, p.Pad.Key, p.Pad.Group, p.Pad.Dim, p.Pad.Look.Color, p.Pad.Look.Shape))]),
        Written) + "\n";

    /// <summary>Reads the text.</summary>
    /// <param name="json">UTF-8.</param>
    /// <param name="source">Through which source its pads are to be heard.</param>
    /// <param name="problems">What is wrong with it; empty where it could be read.</param>
    /// <returns>The set, each pad with an identity of its own and a sound that is still to be found (64 zeros); or null.</returns>
    public static PadSetFile? Read(ReadOnlySpan<byte> json, SourceId source, out ImmutableArray<RigProblem> problems)
    {
        if (json.Length > MaxBytes)
        {
            problems = [new(EntryName, $"The text has {json.Length} bytes.", $"at most {MaxBytes}")];
            return null;
        }

        try
        {
            json = json.StartsWith("\uFEFF"u8) ? json[3..] : json;
            var document = JsonSerializer.Deserialize<Document>(json, Written);
            if (document is not { Format: Format, Version: Version })
            {
                problems = [new("format", "This is no pad set of a version that is known.", $"format {Format}, version {Version}")];
                return null;
            }

            var entries = document.Pads.IsDefault ? [] : document.Pads;
            if (entries.IndexOf(null!) is >= 0 and var empty)
            {
                problems = [new($"pads[{empty}]", "This pad is empty.", Allowed)];
                return null;
            }

            var file = new PadSetFile(document.Name ?? "", [.. entries.Select(e => (PadOf(e, source), e.Sound ?? ""))]);
            problems = file.Check();
            return problems.IsEmpty ? file : null;
        }
        catch (JsonException e)
        {
            problems = [new(e.Path is { Length: > 2 } path ? path[2..] : EntryName, $"This cannot be understood{(e.LineNumber is { } line ? $" from line {line + 1} on" : "")}.", Allowed)];
            return null;
        }
    }

    private ImmutableArray<RigProblem> Check()
    {
        var set = new PadSet { Id = new("alone"), Name = Name, Pads = [.. All.Select(p => p.Pad)] };
        return [.. RigRules.Check(new Rig { PadSets = [set] }).Select(p => p with { Where = p.Where.Replace("padSets[0].", "", StringComparison.Ordinal) })];
    }

    private static Pad PadOf(Entry entry, SourceId source) => new()
    {
        Id = PadId.New(),
        Name = entry.Name ?? "",
        Sound = new('0', 64),
        Source = source,
        Begin = entry.Begin,
        End = entry.End,
        FadeIn = entry.FadeIn,
        FadeOut = entry.FadeOut,
        Gain = entry.Gain ?? Gain.Unity,
        Play = entry.Play,
        Key = entry.Key ?? "",
        Group = entry.Group ?? "",
        Dim = entry.Dim,
        Look = new SourceLook(entry.Color, entry.Shape),
    };

    private sealed record Document(string? Format, string? Version, string? Name, ImmutableArray<Entry> Pads);

    private sealed record Entry(
        string? Name,
        string? Sound,
        double Begin = 0,
        double End = 0,
        double FadeIn = 0,
        double FadeOut = 0,
        Gain? Gain = null,
        PadPlay Play = PadPlay.Again,
        string? Key = "",
        string? Group = "",
        double Dim = 0,
        int Color = 0,
        int Shape = 0);
}

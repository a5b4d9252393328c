using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.RegularExpressions;
using Kinetra.Core.Rigs;

namespace Kinetra.Core.Editing;

/// <summary>
/// A show as a file that anyone can read: JSON, described in <c>docs/show-format.md</c> and by the schema that
/// <see cref="ShowFileSchema"/> gives. Sound files are named by their address (SHA-256) and do not travel with it.
/// </summary>
/// <param name="Name">The show's name.</param>
/// <param name="Rig">What the person built.</param>
public sealed partial record ShowFile(string Name, Rig Rig)
{
    /// <summary>What the field <c>format</c> says.</summary>
    public const string Format = "kinetra-show";

    /// <summary>What the field <c>version</c> says. Every later version reads this one, and this one reads those before it.</summary>
    public const string Version = "3";

    /// <summary>The largest file that is read, bytes.</summary>
    public const int MaxBytes = 4 * 1024 * 1024;

    private static readonly JsonSerializerOptions Written = new(RigJson.Options) { WriteIndented = true, Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping };

    /// <summary>The file's text.</summary>
    public string Write()
    {
        var file = JsonSerializer.SerializeToNode(
            new ShowDocument { Format = Format, Version = Version, Name = Name, Sources = Rig.Sources, Mixes = Rig.Mixes, Cables = Rig.Cables, Wishes = Rig.Wishes, Promises = Rig.Promises, PadSets = Rig.PadSets, Cues = Rig.Cues, Tracks = Rig.Tracks, Recording = Rig.Recording, Streams = Rig.Streams, Accepted = Rig.Accepted }, RigJson.Options)!;
        ShowFileWords.Write(file);
        return file.ToJsonString(Written) + "\n";
    }

    /// <summary>Reads a file. Sends may stand in any order; a source that a mix does not name waits in its dock.</summary>
    /// <param name="json">UTF-8.</param>
    /// <param name="problems">All that is wrong with it, field by field; empty where it could be read.</param>
    /// <returns>The show, or null.</returns>
    public static ShowFile? Read(ReadOnlySpan<byte> json, out ImmutableArray<RigProblem> problems)
    {
        if (json.Length > MaxBytes)
        {
            problems = [new("file", $"The file has {json.Length} bytes.", $"at most {MaxBytes}")];
            return null;
        }

        try
        {
            return ReadChecked(json, out problems);
        }
        catch (InvalidOperationException)
        {
            // A text is looked into only when somebody wants to know it.
            problems = [new("file", "Some text in it is no text: it is not Unicode.", "UTF-8")];
            return null;
        }
    }

    private static ShowFile? ReadChecked(ReadOnlySpan<byte> json, out ImmutableArray<RigProblem> problems)
    {
        json = json.StartsWith("\uFEFF"u8) ? json[3..] : json;
        if (FirstNoText(json) is { } at)
        {
            problems = [new("file", $"This is no text: byte {at + 1} does not belong there.", "UTF-8")];
            return null;
        }

        problems = TwiceNamed.Check(json, out var line, out var column);
        if (line is not null)
        {
            problems = [new("file", $"This is not JSON from line {line}, column {column} on.", "a show file, as docs/show-format.md describes it")];
        }

        if (!problems.IsEmpty)
        {
            return null;
        }

        var node = JsonNode.Parse(json);

        problems = CheckHead(node);
        if (!problems.IsEmpty)
        {
            return null;
        }

        OlderShowFiles.Raise(node);
        var fit = ShowFileFit.Of(node);
        ShowFileWords.Read(fit.File);
        var document = fit.File.Deserialize<ShowDocument>(RigJson.Options)!;
        var rig = RigOf(document);
        problems =
        [
            .. fit.Problems,
            .. Relations(document, rig).Where(p => !fit.Covers(p.Where) && !(p.IsReference && fit.LostAnId)),
        ];
        return problems.IsEmpty ? new ShowFile(document.Name, rig) : null;
    }

    // The first byte that no UTF-8 text has there; null: all of it is text.
    private static int? FirstNoText(ReadOnlySpan<byte> json)
    {
        for (var at = 0; at < json.Length;)
        {
            if (System.Text.Rune.DecodeFromUtf8(json[at..], out _, out var length) != System.Buffers.OperationStatus.Done)
            {
                return at;
            }

            at += length;
        }

        return null;
    }

    // Whose format it is comes first: of another's, no field is of interest.
    private static ImmutableArray<RigProblem> CheckHead(JsonNode? node)
    {
        if (node is not JsonObject file || Word(file, "format") != Format)
        {
            return [new("format", "This is not a show file.", $"a JSON object whose format is \"{Format}\"")];
        }

        return Word(file, "version") is Version or OlderShowFiles.Second or OlderShowFiles.First or OlderShowFiles.Draft
            ? []
            : [new("version", $"Version {file["version"]?.ToJsonString() ?? "unknown"} cannot be read here.", $"\"{Version}\"")];
    }

    private static string? Word(JsonObject file, string key) => file[key] is JsonValue value && value.TryGetValue(out string? word) ? word : null;

    // In a rig every mix has a send for each source, in their order.
    private static Rig RigOf(ShowDocument document) => new()
    {
        Sources = document.Sources,
        Cables = document.Cables,
        Wishes = document.Wishes,
        Promises = document.Promises,
        PadSets = document.PadSets,
        Cues = document.Cues,
        Tracks = document.Tracks,
        Recording = document.Recording,
        Streams = document.Streams,
        Accepted = document.Accepted,
        Mixes =
        [
            .. document.Mixes.Select(m => m with
            {
                Sends = [.. document.Sources.Select(s => m.Sends.FirstOrDefault(x => x.Source == s.Id) ?? new Send { Source = s.Id, Heard = false })],
            }),
        ],
    };

    // What fields say of one another, and whether all that they say is possible.
    private static IEnumerable<RigProblem> Relations(ShowDocument document, Rig rig)
    {
        if (RigRules.CheckName("name", document.Name) is { } problem)
        {
            yield return problem;
        }

        for (var m = 0; m < document.Mixes.Length; m++)
        {
            var sends = document.Mixes[m].Sends;
            for (var s = 0; s < sends.Length; s++)
            {
                if (document.Sources.All(x => x.Id != sends[s].Source))
                {
                    yield return new($"mixes[{m}].sends[{s}].source", $"There is no source “{sends[s].Source}”.", "the id of a source of this file") { IsReference = true };
                }
                else if (sends.Take(s).Any(x => x.Source == sends[s].Source))
                {
                    yield return new($"mixes[{m}].sends[{s}].source", $"“{sends[s].Source}” is sent already.", "each source once");
                }
            }
        }

        foreach (var told in RigRules.Check(rig))
        {
            yield return told with { Where = InFile(told.Where) };
        }

        // Sends stand in the file in any order.
        string InFile(string where) => SendPath().Replace(where, found =>
        {
            var m = int.Parse(found.Groups[1].ValueSpan, CultureInfo.InvariantCulture);
            var source = rig.Sources[int.Parse(found.Groups[2].ValueSpan, CultureInfo.InvariantCulture)].Id;
            var place = document.Mixes[m].Sends.Select(x => x.Source).ToList().IndexOf(source);
            return string.Create(CultureInfo.InvariantCulture, $"mixes[{m}].sends[{place}]");
        });
    }

    [GeneratedRegex(@"^mixes\[(\d+)\]\.sends\[(\d+)\]")]
    private static partial Regex SendPath();
}

/// <summary>The fields of a show file.</summary>
sealed record ShowDocument
{
    /// <summary>Always <see cref="ShowFile.Format"/>.</summary>
    public required string Format { get; init; }

    /// <summary>Always <see cref="ShowFile.Version"/>.</summary>
    public required string Version { get; init; }

    /// <summary>The show's name.</summary>
    public required string Name { get; init; }

    /// <summary>What sounds.</summary>
    public ImmutableArray<Source> Sources { get; init; } = [];

    /// <summary>Who hears what.</summary>
    public ImmutableArray<Mix> Mixes { get; init; } = [];

    /// <summary>What leads from one to another.</summary>
    public ImmutableArray<Cable> Cables { get; init; } = [];

    /// <summary>What the show wants of the computer around it.</summary>
    public Wishes Wishes { get; init; } = Wishes.None;

    /// <summary>What is said about who hears what, and watched.</summary>
    public ImmutableArray<Promise> Promises { get; init; } = [];

    /// <summary>Sounds at hand, in sets.</summary>
    public ImmutableArray<PadSet> PadSets { get; init; } = [];

    /// <summary>What happens in a show that follows an order.</summary>
    public ImmutableArray<Cue> Cues { get; init; } = [];

    /// <summary>What a take records, each on a track of its own.</summary>
    public ImmutableArray<PlannedTrack> Tracks { get; init; } = [];

    /// <summary>What holds for all takes.</summary>
    public Recording Recording { get; init; } = Recording.Usual;

    /// <summary>Streams to servers; see <see cref="Rig.Streams"/>.</summary>
    public ImmutableArray<Broadcast> Streams { get; init; } = [];

    /// <summary>What was found and accepted.</summary>
    public ImmutableArray<Acceptance> Accepted { get; init; } = [];
}

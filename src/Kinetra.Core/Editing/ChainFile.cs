using System.Collections.Immutable;
using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Json.Serialization;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Editing;

/// <summary>A chain that somebody has kept, as a file that anyone can read (docs/chain-format.md): what it listens to is a show's own, and is not in it.</summary>
/// <param name="Name">1–60 characters.</param>
/// <param name="Says">What it is for, up to <see cref="SaysLength"/> characters.</param>
/// <param name="Chain">Its processors, in order; of each its type, its values and whether it is bypassed.</param>
public sealed record ChainFile(string Name, string Says, ImmutableArray<Processor> Chain)
{
    /// <summary>What the field <c>format</c> says.</summary>
    public const string Format = "kinetra-chain";

    /// <summary>What the field <c>version</c> says.</summary>
    public const string Version = "1";

    /// <summary>The longest description.</summary>
    public const int SaysLength = 300;

    /// <summary>The largest file that is read, bytes.</summary>
    public const int MaxBytes = 64 * 1024;

    private const string Allowed = "a chain file, as docs/chain-format.md describes it";

    private static readonly JsonSerializerOptions Written = new(RigJson.Options)
    {
        WriteIndented = true,
        Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
        UnmappedMemberHandling = JsonUnmappedMemberHandling.Disallow,
    };

    /// <summary>The file's text.</summary>
    public string Write() => JsonSerializer.Serialize(new Document(Format, Version, Name, Says, [.. Chain.Select(p => new Step(p.Type, p.Bypassed, p.Values))]), Written) + "\n";

    /// <summary>Reads a file.</summary>
    /// <param name="json">UTF-8.</param>
    /// <param name="problems">What is wrong with it; empty where it could be read.</param>
    /// <returns>The chain, each processor with an identity of its own; or null.</returns>
    public static ChainFile? Read(ReadOnlySpan<byte> json, out ImmutableArray<RigProblem> problems)
    {
        if (json.Length > MaxBytes)
        {
            problems = [new("file", $"The file has {json.Length} bytes.", $"at most {MaxBytes}")];
            return null;
        }

        try
        {
            json = json.StartsWith("\uFEFF"u8) ? json[3..] : json;
            var document = JsonSerializer.Deserialize<Document>(json, Written);
            if (document is not { Format: Format, Version: Version })
            {
                problems = [new("format", "This is no chain file of a version that is known.", $"format {Format}, version {Version}")];
                return null;
            }

            var file = new ChainFile(
                document.Name ?? "", document.Says ?? "", [.. (document.Chain.IsDefault ? [] : document.Chain).Select(s => new Processor { Id = ProcessorId.New(), Type = s?.Type ?? "", Bypassed = s?.Bypassed ?? false, Values = s?.Values ?? ImmutableSortedDictionary<string, double>.Empty })]);
            problems = file.Check();
            return problems.IsEmpty ? file : null;
        }
        catch (JsonException e)
        {
            problems = [new(e.Path is { Length: > 2 } path ? path[2..] : "file", $"This cannot be understood{(e.LineNumber is { } line ? $" from line {line + 1} on" : "")}.", Allowed)];
            return null;
        }
    }

    /// <summary>What is wrong with it; empty: nothing.</summary>
    public ImmutableArray<RigProblem> Check()
    {
        var name = RigRules.CheckName("name", Name) is { } wrong ? (RigProblem[])[wrong] : [];
        var says = Says.Length == 0 || RigRules.CheckText("says", Says, SaysLength) is not { } longer ? (RigProblem[])[] : [longer];
        return [.. name, .. says, .. ChainAlone.Check(Chain)];
    }

    private sealed record Document(string? Format, string? Version, string? Name, string? Says, ImmutableArray<Step?> Chain);

    private sealed record Step(string? Type, bool Bypassed = false, ImmutableSortedDictionary<string, double>? Values = null);
}

/// <summary>The rules for a chain that stands in no show.</summary>
public static class ChainAlone
{
    /// <summary>What is wrong with it, by its place in the chain: <c>chain[0].values.gain</c>.</summary>
    public static ImmutableArray<RigProblem> Check(ImmutableArray<Processor> chain)
    {
        var id = new SourceId("alone");
        var source = new Source { Id = id, Name = "alone", Kind = SourceKind.App, Input = new BrowserInput("alone", "alone", "alone", 0, 1), Chain = [.. chain.Select(p => p with { Keys = [] })] };
        return [.. RigRules.Check(new Rig { Sources = [source] }).Select(p => p with { Where = p.Where.Replace("sources[0].", "", StringComparison.Ordinal) })];
    }
}

using System.Collections.Immutable;
using System.Text.Json;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;

namespace Kinetra.Core.Planning;

/// <summary>A chain to begin with.</summary>
/// <param name="Key">Its name in requests.</param>
/// <param name="Name">Its name on the screen.</param>
/// <param name="For">What it is for: <c>source</c> or <c>mix</c>.</param>
/// <param name="Says">What it does and why, in a sentence.</param>
/// <param name="Chain">Its processors, in order: type, and values that are not the defaults.</param>
public sealed record ChainPreset(string Key, string Name, string For, string Says, ImmutableArray<PresetStep> Chain)
{
    /// <summary>The chain, each processor with an identity of its own.</summary>
    public ImmutableArray<Processor> Make() =>
        [.. Chain.Select(s => Processor.Of(ProcessorTypes.Find(s.Type)!, [.. s.Values.Select(v => (v.Key, v.Value))]))];
}

/// <summary>One processor of a preset.</summary>
/// <param name="Type">The key of its type.</param>
/// <param name="Values">Parameters that are not at their defaults.</param>
public sealed record PresetStep(string Type, ImmutableSortedDictionary<string, double> Values);

/// <summary>The presets that ship, read from <c>ChainPresets.json</c>.</summary>
public static class ChainPresets
{
    /// <summary>All, in the order in which they are offered.</summary>
    public static readonly ImmutableArray<ChainPreset> All = Read();

    /// <summary>The preset of that key, or null.</summary>
    public static ChainPreset? Find(string? key) => All.FirstOrDefault(p => p.Key == key);

    private static ImmutableArray<ChainPreset> Read()
    {
        using var stream = typeof(ChainPresets).Assembly.GetManifestResourceStream("Kinetra.Core.Planning.ChainPresets.json")!;
        return JsonSerializer.Deserialize<ImmutableArray<ChainPreset>>(stream, RigJson.Options);
    }
}

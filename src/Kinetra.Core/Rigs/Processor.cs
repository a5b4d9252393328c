using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Kinetra.Core.Processors;

namespace Kinetra.Core.Rigs;

/// <summary>Where a sound is taken on its way.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<Tap>))]
public enum Tap
{
    /// <summary>After the chain.</summary>
    AfterChain,

    /// <summary>Before it: after the trim of a source, after the gain of a mix.</summary>
    BeforeChain,
}

/// <summary>What a processor listens to instead of its own input: a source or a mix.</summary>
/// <param name="Source">The source; null: a mix.</param>
/// <param name="Mix">The mix; null: a source.</param>
/// <param name="Tap">Where it is taken.</param>
public sealed record Key(SourceId? Source = null, MixId? Mix = null, Tap Tap = Tap.AfterChain);

/// <summary>A place that processors stand at: of a source, of a mix, or, with both, of that send.</summary>
/// <param name="Source">The source.</param>
/// <param name="Mix">The mix.</param>
public sealed record ChainPlace(SourceId? Source = null, MixId? Mix = null)
{
    /// <inheritdoc/>
    public override string ToString() => this switch
    {
        { Source: { } source, Mix: { } mix } => $"send/{mix}/{source}/ducker",
        { Source: { } source } => $"source/{source}/chain",
        _ => $"mix/{Mix}/chain",
    };
}

/// <summary>One processor in a chain.</summary>
public sealed record Processor
{
    /// <summary>Its identity within the show.</summary>
    public required ProcessorId Id { get; init; }

    /// <summary>The key of its <see cref="ProcessorType"/>.</summary>
    public required string Type { get; init; }

    /// <summary>True: the sound passes it unchanged, at the same time.</summary>
    public bool Bypassed { get; init; }

    /// <summary>Its parameters by their keys; one that is missing is at its default.</summary>
    public ImmutableSortedDictionary<string, double> Values { get; init; } = ImmutableSortedDictionary<string, double>.Empty;

    /// <summary>What it listens to, summed; empty: its own input. At most <see cref="ChainRules.MaxKeys"/>.</summary>
    public ImmutableArray<Key> Keys { get; init; } = [];

    /// <summary>A new one of a type, at its defaults.</summary>
    public static Processor Of(ProcessorType type, params ReadOnlySpan<(string Key, double Value)> values)
    {
        ArgumentNullException.ThrowIfNull(type);
        var all = type.Parameters.ToImmutableSortedDictionary(p => p.Key, p => p.Default);
        foreach (var (key, value) in values)
        {
            all = all.SetItem(key, value);
        }

        return new Processor { Id = ProcessorId.New(), Type = type.Key, Values = all };
    }

    /// <summary>The value of each of the type's parameters, in its order.</summary>
    public ImmutableArray<double> ValuesOf(ProcessorType type)
    {
        ArgumentNullException.ThrowIfNull(type);
        return [.. type.Parameters.Select(p => Values.TryGetValue(p.Key, out var value) ? value : p.Default)];
    }
}

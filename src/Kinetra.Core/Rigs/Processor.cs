using System.Collections.Immutable;
using Kinetra.Core.Processors;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Rigs;

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

    /// <summary>What it listens to, summed; empty: its own input. Sources and mixes, at most <see cref="RigLimits.Keys"/>.</summary>
    public ImmutableArray<Point> Keys { get; init; } = [];

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

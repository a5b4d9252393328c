using System.Collections.Immutable;

namespace Kinetra.Core.Processors;

/// <summary>All processors that a chain may have.</summary>
public static class ProcessorTypes
{
    /// <summary>In the order in which they are offered: as a voice's chain usually goes, effects last.</summary>
    public static readonly ImmutableArray<ProcessorType> All =
    [
        Cuts.LowCut,
        Gate.Type,
        DeEsser.Type,
        Equaliser.Type,
        Compressor.Type,
        Exciter.Type,
        Limiter.Type,
        Ducker.Type,
        Cuts.HighCut,
        Delay.Type,
        Utility.Type,
        Room.Type,
        Telephone.Type,
        Vibrato.Type,
        Ring.Type,
    ];

    /// <summary>The type of that key, or null.</summary>
    public static ProcessorType? Find(string? key) => All.FirstOrDefault(t => t.Key == key);
}

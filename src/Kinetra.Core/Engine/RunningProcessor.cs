using System.Collections.Immutable;
using Kinetra.Core.Processors;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Engine;

/// <summary>A processor as it runs now, for who looks at it. Any thread.</summary>
/// <param name="Id">Which.</param>
/// <param name="Slot">Where it stands; as long as it stands there, the same object.</param>
/// <param name="Before">The point that gives what goes in.</param>
/// <param name="Keys">The points that it listens to; empty: its own input.</param>
public sealed record RunningProcessor(ProcessorId Id, ChainSlot Slot, Point Before, ImmutableArray<Point> Keys)
{
    /// <summary>True where the same processor reads the same points.</summary>
    public bool IsAs(RunningProcessor? other) => other is not null && Slot == other.Slot && Before == other.Before && Keys.SequenceEqual(other.Keys);

    /// <summary>What it is set to now, with what is being turned.</summary>
    public ImmutableArray<double> Values => [.. Enumerable.Range(0, Slot.Type.Parameters.Length).Select(Slot.ValueOf)];
}

using System.Collections.Concurrent;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Engine;

/// <summary>A node that failed and is silent from then on, while the rest plays.</summary>
/// <param name="Point">What it gives.</param>
/// <param name="Frame">The engine frame at which it failed.</param>
/// <param name="Cause">What went wrong.</param>
public sealed record NodeFault(Point Point, long Frame, Exception Cause);

/// <summary>What has failed in an engine, each node once.</summary>
public sealed class Faults
{
    private readonly ConcurrentQueue<NodeFault> _new = new();

    /// <summary>Takes the oldest that nobody has taken yet. Any thread.</summary>
    public bool TryTake([System.Diagnostics.CodeAnalysis.NotNullWhen(true)] out NodeFault? fault) => _new.TryDequeue(out fault);

    internal void Add(Point point, long frame, Exception cause) => _new.Enqueue(new NodeFault(point, frame, cause));
}

using System.Collections.Concurrent;

namespace Kinetra.Server.Outputs;

/// <summary>All ways by which sound leaves the engine now.</summary>
public sealed class OutputList
{
    private readonly ConcurrentDictionary<Guid, Output> _all = new();

    /// <summary>All of them, oldest first.</summary>
    public IReadOnlyList<OutputDocument> All => [.. _all.Values.Select(o => o.Document).OrderBy(d => d.Since).ThenBy(d => d.Id)];

    internal void Add(Output output) => _all[output.Id] = output;

    internal void Remove(Output output) => _all.TryRemove(output.Id, out _);
}

using Kinetra.Core.Rigs;

namespace Kinetra.Core.Promises;

/// <summary>How a promise stands in all.</summary>
/// <param name="Promise">The promise.</param>
/// <param name="Routing">By the routing: can it happen?</param>
/// <param name="Sound">By what is heard: does it?</param>
public sealed record Standing(Promise Promise, Verdict Routing, Verdict Sound)
{
    /// <summary>Broken where either says so; else kept where either does: what the routing alone cannot tell, the sound may.</summary>
    public PromiseState State => Routing.State == PromiseState.Broken || Sound.State == PromiseState.Broken
        ? PromiseState.Broken
        : Routing.State == PromiseState.Kept || Sound.State == PromiseState.Kept ? PromiseState.Kept : PromiseState.NotKnown;
}

using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Kinetra.Core.Findings;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Promises;

/// <summary>How a promise stands.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<PromiseState>))]
public enum PromiseState
{
    /// <summary>It holds.</summary>
    Kept,

    /// <summary>It cannot be said.</summary>
    NotKnown,

    /// <summary>It does not hold.</summary>
    Broken,
}

/// <summary>How a promise stands by one way of looking.</summary>
/// <param name="State">Kept, broken or not known.</param>
/// <param name="Why">Why, in a sentence.</param>
/// <param name="Places">Where to look: the first first.</param>
/// <param name="Fixes">What would mend it; none where it is kept, or where words say what to do.</param>
public sealed record Verdict(PromiseState State, string Why, ImmutableArray<Point> Places, ImmutableArray<Fix> Fixes)
{
    internal static Verdict Kept(string why, params ReadOnlySpan<Point> places) => new(PromiseState.Kept, why, [.. places], []);

    internal static Verdict NotKnown(string why, params ReadOnlySpan<Point> places) => new(PromiseState.NotKnown, why, [.. places], []);
}

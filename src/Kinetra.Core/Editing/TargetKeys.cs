using System.Collections.Immutable;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Editing;

/// <summary>The keys of what commands set.</summary>
public static class TargetKeys
{
    /// <summary>True where a change of one contradicts a change of the other: they are the same, or one holds the other.</summary>
    public static bool Meet(string one, string other)
    {
        ArgumentNullException.ThrowIfNull(one);
        ArgumentNullException.ThrowIfNull(other);
        return one == other || one.StartsWith(other + '/', StringComparison.Ordinal) || other.StartsWith(one + '/', StringComparison.Ordinal);
    }

    internal static string Chain(Point place) => place is SendPoint ? $"{place}/ducker" : $"{place}/chain";

    internal static ImmutableArray<string> Of(string thing, params (bool Set, string Value)[] values) =>
        [.. values.Where(v => v.Set).Select(v => $"{thing}/{v.Value}")];
}

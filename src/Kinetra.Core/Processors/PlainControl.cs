using System.Collections.Immutable;

namespace Kinetra.Core.Processors;

/// <summary>
/// A control in words that turns several parameters at once: the plain form of a processor. Each goes from one value to another, evenly along its own
/// slider (<see cref="ParameterScale"/>). Where the parameters stand somewhere that the control does not come by, somebody has set them by hand.
/// </summary>
/// <param name="Key">Its name in documents, camelCase.</param>
/// <param name="Name">What it asks, on the screen.</param>
/// <param name="Low">What its lowest place is, in a word or two.</param>
/// <param name="High">What its highest place is.</param>
/// <param name="Moves">What it turns.</param>
public sealed record PlainControl(string Key, string Name, string Low, string High, ImmutableArray<PlainMove> Moves)
{
    /// <summary>Makes one.</summary>
    internal static PlainControl Of(string key, string name, string low, string high, params ReadOnlySpan<(string Parameter, double From, double To)> moves)
    {
        var all = ImmutableArray.CreateBuilder<PlainMove>();
        foreach (var (parameter, from, to) in moves)
        {
            all.Add(new(parameter, from, to));
        }

        return new(key, name, low, high, all.ToImmutable());
    }
}

/// <summary>What a plain control does to one parameter. Where both values are the same, it holds it there.</summary>
/// <param name="Parameter">The parameter's key.</param>
/// <param name="From">Its value at the control's lowest place.</param>
/// <param name="To">Its value at the highest.</param>
public sealed record PlainMove(string Parameter, double From, double To);

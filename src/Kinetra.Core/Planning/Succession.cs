using System.Collections.Immutable;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Planning;

/// <summary>
/// Which mix of one show follows which of another for the same listener: the one of the same id, else of the same name, else
/// the first free one of the same purpose. Each is followed by at most one.
/// </summary>
public static class Succession
{
    /// <summary>For each mix of the show to come, the mix that it follows; one that follows none is left out.</summary>
    public static ImmutableDictionary<MixId, MixId> Of(Rig from, Rig to)
    {
        ArgumentNullException.ThrowIfNull(from);
        ArgumentNullException.ThrowIfNull(to);
        var found = ImmutableDictionary.CreateBuilder<MixId, MixId>();
        var free = from.Mixes.ToList();
        Match((old, next) => old.Id == next.Id);
        Match((old, next) => string.Equals(old.Name, next.Name, StringComparison.OrdinalIgnoreCase));
        Match((old, next) => old.Purpose == next.Purpose && next.Purpose != MixPurpose.Other);
        return found.ToImmutable();

        void Match(Func<Mix, Mix, bool> follows)
        {
            foreach (var next in to.Mixes.Where(m => !found.ContainsKey(m.Id)))
            {
                if (free.Find(old => follows(old, next)) is { } old)
                {
                    found[next.Id] = old.Id;
                    free.Remove(old);
                }
            }
        }
    }
}

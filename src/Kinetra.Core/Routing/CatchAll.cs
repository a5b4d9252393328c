using System.Collections.Immutable;
using Kinetra.Core.Gear;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Routing;

/// <summary>What a source that takes everything else takes.</summary>
public static class CatchAll
{
    /// <summary>The programs' outputs that it takes; none where the show has no such source.</summary>
    public static ImmutableHashSet<AppPoint> Of(Rig rig, GearState gear)
    {
        ArgumentNullException.ThrowIfNull(rig);
        ArgumentNullException.ThrowIfNull(gear);
        return [.. GearLinks.EverythingElse(GearLinks.TapsOf(rig), GearLinks.PortsOf(gear, id => rig.Find(id) is not null))];
    }
}

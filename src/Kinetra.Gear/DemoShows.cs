using Kinetra.Core.Rigs;

namespace Kinetra.Gear;

/// <summary>The demo shows, the one that is opened first in front.</summary>
public static class DemoShows
{
    /// <summary>Name and rig of each.</summary>
    public static IReadOnlyList<(string Name, Rig Rig)> All => [(LampRoom.Name, LampRoom.Rig()), (TideTables.Name, TideTables.Rig())];
}

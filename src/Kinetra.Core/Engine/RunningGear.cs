using Kinetra.Core.Gear;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Engine;

/// <summary>The computer around a show, as the engine needs it.</summary>
/// <param name="State">What there is.</param>
/// <param name="Sounds">What a device or a program does at one of its points, which has so many channels; null: nothing, it passes on what comes. Asked once for each node.</param>
public sealed record RunningGear(GearState State, Func<Point, int, IPortSound?> Sounds)
{
    /// <summary>There is none.</summary>
    public static readonly RunningGear None = new(GearState.Empty, (_, _) => null);
}

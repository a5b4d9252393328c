using Kinetra.Core.Rigs;

namespace Kinetra.Core.Routing;

/// <summary>Everything that is worked out about a rig before it runs.</summary>
/// <param name="Wiring">Its points and links; what is held is held.</param>
/// <param name="Order">In which order they are computed.</param>
/// <param name="Alignment">What waits for what.</param>
/// <param name="Loops">The circles in it.</param>
public sealed record Routed(Wiring Wiring, RunOrder Order, Alignment Alignment, Loops Loops)
{
    /// <summary>Works it out.</summary>
    /// <param name="rig">A valid rig.</param>
    /// <param name="computer">What is there.</param>
    /// <param name="before">What was worked out last, of which what has not changed is taken over; or null.</param>
    /// <exception cref="ArgumentException">The keys of the rig make a circle.</exception>
    public static Routed Of(Rig rig, Computer computer, Routed? before = null)
    {
        var wiring = Resolve.Of(rig, computer, before?.Wiring);
        var order = RunOrder.Of(wiring) ?? throw new ArgumentException("The keys of this rig make a circle.", nameof(rig));
        var loops = Loops.Of(wiring, order, before?.Loops);
        return new Routed(loops.Hold(wiring), order, Alignment.Of(wiring, order), loops);
    }
}

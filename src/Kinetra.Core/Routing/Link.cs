using System.Collections.Immutable;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Routing;

/// <summary>What a link is for.</summary>
public enum LinkUse
{
    /// <summary>Sound flows along it.</summary>
    Sound,

    /// <summary>A processor listens along it; its sound goes no further.</summary>
    Key,
}

/// <summary>Whether sound flows along a link now.</summary>
public enum LinkState
{
    /// <summary>It does, at the link's gain.</summary>
    On,

    /// <summary>Silenced for now, in its place.</summary>
    Muted,

    /// <summary>The listener does not hear it; it waits.</summary>
    Docked,

    /// <summary>It closes a loop that would build up, and nobody has allowed it yet.</summary>
    Held,
}

/// <summary>What may be done to a link where sound goes round.</summary>
public enum Breaking
{
    /// <summary>Nothing: what it gives is needed in the same block.</summary>
    Never,

    /// <summary>It may be a block late.</summary>
    Late,

    /// <summary>It may be a block late; it is outside, and nobody here can hold it.</summary>
    Outside,

    /// <summary>It may be a block late, and may be held muted.</summary>
    Hold,
}

/// <summary>Whose a link is.</summary>
public enum Realm
{
    /// <summary>The engine's.</summary>
    Engine,

    /// <summary>
    /// The computer's: what a program is set to, what it passes on; air between a speaker and a microphone; a device that plays its input
    /// itself. The engine computes it where stand-ins play it.
    /// </summary>
    Outside,
}

/// <summary>Why what comes out of a link is late, in frames at 48 kHz. Only look-ahead is made up for.</summary>
/// <param name="LookAhead">What its processors need to look ahead.</param>
/// <param name="Set">What a person set on purpose.</param>
/// <param name="Buffer">A cable's buffer.</param>
/// <param name="Device">What is outside: a device, air, a program on its way.</param>
public readonly record struct LinkDelays(int LookAhead = 0, int Set = 0, int Buffer = 0, int Device = 0);

/// <summary>A way from one point to the next, channel by channel. The engine runs exactly these, and whatever is said about the routing is read from them.</summary>
/// <param name="From">Where the sound comes from.</param>
/// <param name="To">Where it goes.</param>
/// <param name="Use">What it is for.</param>
public sealed record Link(Point From, Point To, LinkUse Use = LinkUse.Sound)
{
    /// <summary>The point that the link itself is, where it is one: a send.</summary>
    public Point? Via { get; init; }

    /// <summary>Which channels go where.</summary>
    public required ChannelMap Map { get; init; }

    /// <summary>The factor that it is set to, whether or not sound flows now.</summary>
    public double Gain { get; init; } = 1;

    /// <summary>Whether sound flows now.</summary>
    public LinkState State { get; init; }

    /// <summary>The processors on the way, in order.</summary>
    public ImmutableArray<Processor> Chain { get; init; } = [];

    /// <summary>Why what comes out is late.</summary>
    public LinkDelays Delays { get; init; }

    /// <summary>What may be done to it where sound goes round.</summary>
    public Breaking Breaking { get; init; }

    /// <summary>True where the person has let it play although it closes a loop.</summary>
    public bool LoopAllowed { get; init; }

    /// <summary>Whose it is.</summary>
    public Realm Realm { get; init; }

    /// <summary>The factor that flows: 0 where nothing does.</summary>
    public double Factor => State == LinkState.On ? Gain : 0;

    /// <summary>What it stays the same by when it changes: a send by its source and mix, wherever it is taken.</summary>
    public (Point From, Point To) Identity => (Via ?? From, To);
}

using System.Collections.Immutable;
using Kinetra.Core.Editing;
using Kinetra.Core.Findings;
using Kinetra.Core.Gear;
using Kinetra.Core.Rigs;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;
using Kinetra.Server.Features.Air;
using Kinetra.Server.Live;

namespace Kinetra.Server.Features.Findings;

/// <summary>What is found in the live show beside the computer as both are now: worked out once for each state of them, when somebody asks. Any thread.</summary>
public sealed class FindingsNow(LiveShow live, LiveGear gear, Playing playing, AirDesk air, TimeProvider time)
{
    private Known? _known;

    /// <summary>As all is stored now; what somebody only tries does not count.</summary>
    public Looked Look()
    {
        var (state, now, computer, away, onAir) = (live.State, gear.Now, playing.Plan.Computer, air.Away, air.OnAir);
        var known = Volatile.Read(ref _known);
        if (known is not null && ReferenceEquals(known.Rig, state.Show.Rig) && ReferenceEquals(known.Gear, now) && ReferenceEquals(known.Computer, computer) && known.Looked.Situation.Away.SequenceEqual(away)
            && known.Looked.Situation.OnAir.SequenceEqual(onAir))
        {
            return known.Looked with { State = state };
        }

        var situation = Of(state.Show.Rig, computer with { Gear = now.State }, null) with { Away = away, OnAir = onAir };
        var looked = new Looked(state, situation, situation.Findings);
        Volatile.Write(ref _known, new Known(state.Show.Rig, now, computer, looked));
        return looked;
    }

    /// <summary>How all would be after a fix; null: it cannot be done any more.</summary>
    public Situation? After(Looked now, Fix fix)
    {
        ArgumentNullException.ThrowIfNull(now);
        ArgumentNullException.ThrowIfNull(fix);
        var wiring = now.Situation.Routed.Wiring;
        var computer = playing.Plan.Computer with { Gear = wiring.Gear };
        if (fix.Show is { } command)
        {
            return command.Apply(wiring.Rig) is CommandResult.Applied applied ? Of(applied.Rig, computer, now.Situation.Routed) with { Away = now.Situation.Away, OnAir = now.Situation.OnAir } : null;
        }

        return fix.Computer!.Apply(wiring.Gear, CablesNow.Of(wiring.Rig), time.GetUtcNow()) is GearOutcome.Done done
            ? Of(wiring.Rig, computer with { Gear = done.State }, now.Situation.Routed) with { Away = now.Situation.Away, OnAir = now.Situation.OnAir }
            : null;
    }

    /// <summary>How all would be with another rig beside the computer as it is.</summary>
    public Situation With(Rig rig) => Of(rig, playing.Plan.Computer with { Gear = gear.Now.State }, null);

    private Situation Of(Rig rig, Computer computer, Routed? before) =>
        new(Routed.Of(rig, computer, before), Fulfilment.Of(rig.Wishes, computer.Gear, CablesNow.Of(rig), time.GetUtcNow()));

    private sealed record Known(Rig Rig, GearNow Gear, Computer Computer, Looked Looked);
}

/// <summary>A look at the live show.</summary>
/// <param name="State">The show.</param>
/// <param name="Situation">It and the computer, as they are wired.</param>
/// <param name="Findings">What is found, the most harmful first.</param>
public sealed record Looked(LiveState State, Situation Situation, ImmutableArray<Finding> Findings)
{
    /// <summary>How a source comes to a listener, or why not; null: one of both is not there.</summary>
    public Trace? Trace(SourceId source, Point listener)
    {
        var wiring = Situation.Routed.Wiring;
        return wiring.Rig.Find(source) is not null && wiring.ChannelsOf(listener) > 0 ? Core.Findings.Trace.Of(Situation, source, listener) : null;
    }
}

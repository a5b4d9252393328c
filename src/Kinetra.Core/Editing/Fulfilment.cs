using System.Collections.Immutable;
using Kinetra.Core.Gear;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Editing;

/// <summary>One wish of a show that is not so.</summary>
/// <param name="Role">The default that should be another; null: a port.</param>
/// <param name="App">The program whose port should be set otherwise; null: a default.</param>
/// <param name="Port">Which port.</param>
/// <param name="Wanted">What it should be set to; of a default, the end.</param>
/// <param name="Words">What it should be, in words.</param>
/// <param name="Obstacle">Why it cannot be so now, in words; null: one press does it.</param>
/// <param name="NeedsRestart">True where the program is started anew for it.</param>
public sealed record Unmet(Role? Role, AppId? App, string? Port, EndChoice Wanted, string Words, string? Obstacle, bool NeedsRestart);

/// <summary>What a show wants of the computer, held against how it is.</summary>
public static class Fulfilment
{
    /// <summary>All wishes that are not so.</summary>
    public static ImmutableArray<Unmet> Of(Wishes wishes, GearState gear, CablesNow cables, DateTimeOffset now)
    {
        ArgumentNullException.ThrowIfNull(wishes);
        ArgumentNullException.ThrowIfNull(gear);
        ArgumentNullException.ThrowIfNull(cables);
        var unmet = ImmutableArray.CreateBuilder<Unmet>();
        foreach (var wish in wishes.Roles.Where(w => gear.DefaultOf(w.Role) != w.End))
        {
            var refused = new SetDefault(wish.Role, wish.End).Apply(gear, cables, now) as GearOutcome.Refused;
            unmet.Add(new Unmet(wish.Role, null, null, new ChosenEnd(wish.End), cables.NameOf(wish.End, gear), refused?.Problem.What, false));
        }

        foreach (var wish in wishes.Ports)
        {
            if (gear.Find(wish.App)?.Find(wish.Port) is { } port && port.Choice == wish.Choice)
            {
                continue;
            }

            var refused = new SetPort(wish.App, wish.Port, wish.Choice).Apply(gear, cables, now) as GearOutcome.Refused;
            unmet.Add(new Unmet(
                null,
                wish.App,
                wish.Port,
                wish.Choice,
                wish.Choice switch { ChosenEnd chosen => cables.NameOf(chosen.End, gear), NoEnd => "nothing", DefaultEnd { Calls: true } => "the default for calls", _ => "the default" },
                refused is null || refused.NeedsRestart ? null : refused.Problem.What,
                refused?.NeedsRestart == true));
        }

        return unmet.ToImmutable();
    }

    /// <summary>The change that makes one wish so.</summary>
    public static GearChange ChangeFor(Unmet unmet)
    {
        ArgumentNullException.ThrowIfNull(unmet);
        return unmet.Role is { } role ? new SetDefault(role, ((ChosenEnd)unmet.Wanted).End) : new SetPort(unmet.App!.Value, unmet.Port!, unmet.Wanted, Restart: true);
    }
}

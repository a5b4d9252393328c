using System.Collections.Immutable;
using Kinetra.Core.Gear;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Editing;

/// <summary>Makes something else a default.</summary>
/// <param name="Role">Which default.</param>
/// <param name="End">A device or a cable.</param>
public sealed record SetDefault(Role Role, Point End) : GearChange
{
    /// <inheritdoc/>
    public override GearOutcome Apply(GearState gear, CablesNow cables, DateTimeOffset now)
    {
        ArgumentNullException.ThrowIfNull(gear);
        ArgumentNullException.ThrowIfNull(cables);
        if (!Enum.IsDefined(Role))
        {
            return Refuse("role", "There is no such role.", string.Join(", ", Enum.GetNames<Role>()));
        }

        var side = Role is Role.Playback or Role.CallsPlayback ? Side.Out : Side.In;
        return CheckEnd("end", End, side, gear, cables)
            ?? (gear.DefaultOf(Role) == End
                ? Unchanged(gear)
                : (GearOutcome)new GearOutcome.Done(gear.With(Role, End), $"The default for {Sentences.Words(Role)} is {cables.NameOf(End, gear)}"));
    }
}

/// <summary>A cable has been made: as in life, it becomes the default for what plays.</summary>
/// <param name="Cable">The cable.</param>
public sealed record CableMade(CableId Cable) : GearChange
{
    /// <inheritdoc/>
    public override GearOutcome Apply(GearState gear, CablesNow cables, DateTimeOffset now)
    {
        ArgumentNullException.ThrowIfNull(gear);
        ArgumentNullException.ThrowIfNull(cables);
        var end = new CablePoint(Cable);
        return new GearOutcome.Done(gear.With(Role.CallsPlayback, end), $"{cables.NameOf(end, gear)} became the default for {Sentences.Words(Role.CallsPlayback)}");
    }
}

/// <summary>A cable has been removed: nothing is set to it any more.</summary>
/// <param name="Cable">The cable.</param>
public sealed record CableGone(CableId Cable) : GearChange
{
    /// <inheritdoc/>
    public override GearOutcome Apply(GearState gear, CablesNow cables, DateTimeOffset now)
    {
        ArgumentNullException.ThrowIfNull(gear);
        var end = new CablePoint(Cable);
        var after = Dangling.Without(gear, e => e == end);
        for (var role = Role.Playback; role <= Role.CallsRecording; role++)
        {
            if (after.DefaultOf(role) == end)
            {
                after = after.With(role, Stealing.AnyFor(after, role));
            }
        }

        return after == gear ? Unchanged(gear) : new GearOutcome.Done(after, "What was set to the cable follows the default");
    }
}

/// <summary>Who becomes a default when a device comes, and when one goes.</summary>
static class Stealing
{
    /// <summary>A device that comes takes the defaults that are for what it has.</summary>
    public static (GearState State, ImmutableArray<Role> Stolen) By(GearState gear, Device device)
    {
        var stolen = ImmutableArray.CreateBuilder<Role>();
        for (var role = Role.Playback; role <= Role.CallsRecording; role++)
        {
            var end = new DevicePoint(device.Id, SideOf(role));
            if (device.ChannelsOf(end.Side) > 0 && gear.DefaultOf(role) != end)
            {
                gear = gear.With(role, end);
                stolen.Add(role);
            }
        }

        return (gear, stolen.ToImmutable());
    }

    /// <summary>Of a device that goes, others take the defaults.</summary>
    public static (GearState State, ImmutableArray<Role> Changed) From(GearState gear, Device device)
    {
        var changed = ImmutableArray.CreateBuilder<Role>();
        for (var role = Role.Playback; role <= Role.CallsRecording; role++)
        {
            if (gear.DefaultOf(role) is DevicePoint end && end.Id == device.Id)
            {
                gear = gear.With(role, AnyFor(gear, role));
                changed.Add(role);
            }
        }

        return (gear, changed.ToImmutable());
    }

    /// <summary>The first device that could be a default.</summary>
    public static Point? AnyFor(GearState gear, Role role) =>
        gear.Devices.FirstOrDefault(d => d.IsUsable && d.Joins.IsEmpty && d.ChannelsOf(SideOf(role)) > 0) is { } device ? new DevicePoint(device.Id, SideOf(role)) : null;

    private static Side SideOf(Role role) => role is Role.Playback or Role.CallsPlayback ? Side.Out : Side.In;
}

/// <summary>What is set to something that goes for good.</summary>
static class Dangling
{
    /// <summary>The computer with nothing set to it: it follows the default.</summary>
    public static GearState Without(GearState gear, Predicate<Point> goes)
    {
        foreach (var app in gear.Apps.Where(a => a.Kind != AppKind.Sender))
        {
            if (app.Ports.Any(p => p.Choice is ChosenEnd chosen && goes(chosen.End)))
            {
                gear = gear.With(app with { Ports = [.. app.Ports.Select(p => p.Choice is ChosenEnd chosen && goes(chosen.End) ? p with { Choice = new DefaultEnd() } : p)] });
            }
        }

        return gear;
    }
}

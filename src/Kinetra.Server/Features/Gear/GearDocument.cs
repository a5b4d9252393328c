using System.Collections.Immutable;
using Kinetra.Core.Editing;
using Kinetra.Core.Gear;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Server.Live;

namespace Kinetra.Server.Features.Gear;

/// <summary>Something that programs can play into or hear.</summary>
/// <param name="End"><c>device/ID/out</c>, <c>device/ID/in</c> or <c>cable/ID</c>.</param>
/// <param name="Name">What it is called.</param>
/// <param name="Into">What programs that play into it find it as.</param>
/// <param name="OutOf">What programs that take from it find it as.</param>
/// <param name="Plays">True: programs can play into it.</param>
/// <param name="Sounds">True: programs can hear it.</param>
/// <param name="Channels">How many channels it has.</param>
/// <param name="Why">Why it cannot be chosen now, in words; null: it can.</param>
public sealed record EndReport(Point End, string Name, string Into, string OutOf, bool Plays, bool Sounds, int Channels, string? Why);

/// <summary>One output or input of a program, and what has become of its choice.</summary>
/// <param name="Id">Its identity within the program.</param>
/// <param name="Name">What it plays or hears, in words of a sentence.</param>
/// <param name="Side">Out: it plays. In: it hears.</param>
/// <param name="Channels">How many channels it has.</param>
/// <param name="IsFixed">True: it has no choice of its own.</param>
/// <param name="Choice">What it is set to.</param>
/// <param name="End">Where it plays, or what it hears, in truth; null: nothing.</param>
/// <param name="Note">Where that is not its choice, why, in words.</param>
/// <param name="IsRest">True: the live show takes it as everything else.</param>
public sealed record PortReport(string Id, string Name, Side Side, int Channels, bool IsFixed, EndChoice Choice, Point? End, string? Note, bool IsRest);

/// <summary>A program of the computer.</summary>
/// <param name="Id">Its identity.</param>
/// <param name="Name">What it is called.</param>
/// <param name="Kind">What it is for.</param>
/// <param name="IsRunning">True while it runs.</param>
/// <param name="IsPlaying">True while it plays what it has to play.</param>
/// <param name="Plays">True where it has something of its own to play.</param>
/// <param name="Volume">Its own volume.</param>
/// <param name="EvensVoices">Whether it removes echo and evens levels; null: it cannot.</param>
/// <param name="Tests">Whether it plays its test sound; null: it has none.</param>
/// <param name="SeesNewAfterRestart">True where something new is there for it only after its restart.</param>
/// <param name="Unseen">The ends that it does not see before that.</param>
/// <param name="Where">Where such a choice usually is in a program of that kind.</param>
/// <param name="Since">When it was started or ended last.</param>
/// <param name="Ports">Its outputs and inputs.</param>
public sealed record AppReport(
    AppId Id,
    string Name,
    AppKind Kind,
    bool IsRunning,
    bool IsPlaying,
    bool Plays,
    Gain Volume,
    bool? EvensVoices,
    bool? Tests,
    bool SeesNewAfterRestart,
    ImmutableArray<Point> Unseen,
    string? Where,
    DateTimeOffset? Since,
    ImmutableArray<PortReport> Ports);

/// <summary>A default of the computer.</summary>
/// <param name="Role">Which.</param>
/// <param name="End">What it is; null: nothing.</param>
/// <param name="Name">What that is called.</param>
/// <param name="IsThere">True where sound goes there now.</param>
public sealed record RoleReport(Role Role, Point? End, string Name, bool IsThere);

/// <summary>How a device's clock runs against the engine's.</summary>
/// <param name="Device">The device.</param>
/// <param name="PartsPerMillion">By how much it runs fast; null: that is being learnt.</param>
/// <param name="LatencyMs">How late its sound is held, ms; null: nothing sounds.</param>
/// <param name="Gaps">How often its sound broke off.</param>
public sealed record ClockReport(DeviceId Device, double? PartsPerMillion, double? LatencyMs, long Gaps);

/// <summary>The computer around the desk, as the API gives it.</summary>
/// <param name="Sequence">Counts its changes: of two documents, the larger one is newer.</param>
/// <param name="IsPractice">True: it is simulated.</param>
/// <param name="Roles">Its defaults.</param>
/// <param name="Devices">Its devices.</param>
/// <param name="Apps">Its programs.</param>
/// <param name="Ends">All that programs can play into or hear.</param>
/// <param name="Unmet">Wishes of the live show that are not so.</param>
/// <param name="IsAsBefore">True where defaults and programs' choices are as they were before the live show was opened.</param>
public sealed record GearDocument(
    long Sequence,
    bool IsPractice,
    ImmutableArray<RoleReport> Roles,
    ImmutableArray<Device> Devices,
    ImmutableArray<AppReport> Apps,
    ImmutableArray<EndReport> Ends,
    ImmutableArray<Unmet> Unmet,
    bool IsAsBefore)
{
    /// <summary>The document of the computer as it is.</summary>
    public static GearDocument Of(GearNow now)
    {
        ArgumentNullException.ThrowIfNull(now);
        var (gear, cables) = (now.State, now.Cables);
        ImmutableArray<EndReport> ends =
        [
            .. gear.Devices.Where(d => d.Outputs > 0).Select(d => new EndReport(new DevicePoint(d.Id, Side.Out), d.Name, d.Name, d.Name, true, false, d.Outputs, WhyNot(d))),
            .. gear.Devices.Where(d => d.Inputs.Length > 0).Select(d => new EndReport(new DevicePoint(d.Id, Side.In), d.Name, d.Name, d.Name, false, true, d.Inputs.Length, WhyNot(d))),
            .. cables.All.Select(c => new EndReport(new CablePoint(c.Key), c.Value.Name, CableNames.Into(c.Value.Name), CableNames.OutOf(c.Value.Name), true, true, c.Value.Channels, null)),
        ];
        return new(
            now.Sequence,
            true,
            [
                .. Enum.GetValues<Role>().Select(r =>
                    new RoleReport(r, gear.DefaultOf(r), cables.NameOf(gear.DefaultOf(r), gear), gear.IsThere(gear.DefaultOf(r), cables.Has))),
            ],
            gear.Devices,
            [.. gear.Apps.Select(a => Report(a, gear, cables, ends, now.Rest))],
            ends,
            now.Unmet,
            now.IsAsBefore);
    }

    private static string? WhyNot(Device device) => device switch
    {
        { IsPresent: false } => "unplugged",
        { BusyWith: { } other } => $"busy with {other}",
        _ => null,
    };

    private static AppReport Report(App app, GearState gear, CablesNow cables, ImmutableArray<EndReport> ends, ImmutableHashSet<AppPoint> rest) => new(
        app.Id,
        app.Name,
        app.Kind,
        app.IsRunning,
        app.IsPlaying,
        app.Ports.Any(p => p.Side == Side.Out),
        app.Volume,
        app.EvensVoices,
        app.Tests,
        app.SeesNewAfterRestart,
        [.. ends.Where(e => e.Why is null && !app.Sees(e.End)).Select(e => e.End)],
        app.Where,
        app.Since,
        [
            .. app.Ports.Select(p =>
            {
                var end = gear.EndOf(app, p, cables.Has)?.End;
                return new PortReport(p.Id, p.Name, p.Side, p.Channels, p.IsFixed, p.Choice, end, Note(app, p, end, gear, cables), rest.Contains(new AppPoint(app.Id, p.Id)));
            }),
        ]);

    // Why it does not play where it was set to.
    private static string? Note(App app, AppPort port, Point? end, GearState gear, CablesNow cables) => port.Choice is not ChosenEnd chosen || end == chosen.End
        ? null
        : chosen.End switch
        {
            DevicePoint device when gear.Find(device.Id) is { } found => $"{found.Name} is {WhyNot(found) ?? "not there"}",
            CablePoint cable when !cables.Has(cable.Id) => "its cable is gone",
            _ => app.Sees(chosen.End) ? $"{cables.NameOf(chosen.End, gear)} is not there" : $"it sees {cables.NameOf(chosen.End, gear)} after a restart",
        };
}

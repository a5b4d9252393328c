using System.Collections.Immutable;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Gear;

/// <summary>The computer's sound devices, the programs that play or hear, and its defaults, as they are now. Immutable.</summary>
public sealed record GearState
{
    /// <summary>A computer with nothing.</summary>
    public static readonly GearState Empty = new();

    /// <summary>How many roles there are.</summary>
    public const int RoleCount = 4;

    /// <summary>All devices that were ever there.</summary>
    public ImmutableArray<Device> Devices { get; init; } = [];

    /// <summary>All programs, whether they run or not.</summary>
    public ImmutableArray<App> Apps { get; init; } = [];

    /// <summary>By role, the end that is the default; null: none.</summary>
    public ImmutableArray<Point?> Defaults { get; init; } = [null, null, null, null];

    /// <summary>The device of that id, or null.</summary>
    public Device? Find(DeviceId id)
    {
        foreach (var device in Devices)
        {
            if (device.Id == id)
            {
                return device;
            }
        }

        return null;
    }

    /// <summary>The program of that id, or null.</summary>
    public App? Find(AppId id)
    {
        foreach (var app in Apps)
        {
            if (app.Id == id)
            {
                return app;
            }
        }

        return null;
    }

    /// <summary>The default of a role.</summary>
    public Point? DefaultOf(Role role) => Defaults[(int)role];

    /// <summary>The role whose default counts for a side.</summary>
    public static Role RoleOf(Side side, bool calls) => side == Side.Out
        ? calls ? Role.CallsPlayback : Role.Playback
        : calls ? Role.CallsRecording : Role.Recording;

    /// <summary>The same with one device replaced by the one of the same id.</summary>
    public GearState With(Device device)
    {
        ArgumentNullException.ThrowIfNull(device);
        return this with { Devices = Devices.Replace(Find(device.Id)!, device) };
    }

    /// <summary>The same with one program replaced by the one of the same id.</summary>
    public GearState With(App app)
    {
        ArgumentNullException.ThrowIfNull(app);
        return this with { Apps = Apps.Replace(Find(app.Id)!, app) };
    }

    /// <summary>The same with another default.</summary>
    public GearState With(Role role, Point? end) => this with { Defaults = Defaults.SetItem((int)role, end) };

    /// <summary>What the computer calls a point, or null where it is none of its.</summary>
    public string? NameOf(Point point) => point switch
    {
        DevicePoint device => Find(device.Id)?.Name,
        AppPoint app => Find(app.Id)?.Name,
        _ => null,
    };

    /// <summary>Whether something can play into an end, or be taken from it, now.</summary>
    /// <param name="end">A device or a cable.</param>
    /// <param name="cables">The cables that there are.</param>
    public bool IsThere(Point? end, Func<CableId, bool> cables)
    {
        ArgumentNullException.ThrowIfNull(cables);
        return end switch
        {
            DevicePoint device => Find(device.Id) is { IsUsable: true } found && found.ChannelsOf(device.Side) > 0,
            CablePoint cable => cables(cable.Id),
            _ => false,
        };
    }

    /// <summary>
    /// The end that a port of a program plays into, or hears, as all is now, and with which channels: its choice; where that is not there, or
    /// is not known to the program yet, the default; null: none.
    /// </summary>
    public ChosenEnd? EndOf(App app, AppPort port, Func<CableId, bool> cables)
    {
        ArgumentNullException.ThrowIfNull(app);
        ArgumentNullException.ThrowIfNull(port);
        switch (port.Choice)
        {
            case NoEnd:
                return null;
            case ChosenEnd chosen when IsThere(chosen.End, cables) && app.Sees(chosen.End):
                return chosen;
            case ChosenEnd when app.Kind == AppKind.Sender:
                // It was let into that cable, and nowhere else.
                return null;
        }

        var calls = port.Choice is DefaultEnd { Calls: true };
        var end = DefaultOf(RoleOf(port.Side, calls));
        return end is not null && IsThere(end, cables) ? new ChosenEnd(end) : null;
    }
}

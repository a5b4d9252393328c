using System.Collections.Immutable;
using Kinetra.Core.Gear;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Editing;

/// <summary>The cables that the computer has now: those of the live show.</summary>
/// <param name="All">By their ids: what they are called, and how many channels they have.</param>
public sealed record CablesNow(IReadOnlyDictionary<CableId, (string Name, int Channels)> All)
{
    /// <summary>The cables of a rig.</summary>
    public static CablesNow Of(Rig rig)
    {
        ArgumentNullException.ThrowIfNull(rig);
        return new(rig.Cables.ToDictionary(c => c.Id, c => (c.Name, c.Channels)));
    }

    /// <summary>True where there is one of that id.</summary>
    public bool Has(CableId id) => All.ContainsKey(id);

    /// <summary>What an end is called.</summary>
    public string NameOf(Point? end, GearState gear)
    {
        ArgumentNullException.ThrowIfNull(gear);
        return end switch
        {
            null => "nothing",
            CablePoint cable => All.TryGetValue(cable.Id, out var found) ? found.Name : "a cable that is gone",
            _ => gear.NameOf(end) ?? "a device that is not known",
        };
    }

    /// <summary>How many channels an end has; 0 where it is not there.</summary>
    public int ChannelsOf(Point end, GearState gear)
    {
        ArgumentNullException.ThrowIfNull(gear);
        return end switch
        {
            CablePoint cable => All.TryGetValue(cable.Id, out var found) ? found.Channels : 0,
            DevicePoint device => gear.Find(device.Id)?.ChannelsOf(device.Side) ?? 0,
            _ => 0,
        };
    }
}

/// <summary>What became of a change of the computer.</summary>
public abstract record GearOutcome
{
    private GearOutcome()
    {
    }

    /// <summary>It is done.</summary>
    /// <param name="State">The computer after it.</param>
    /// <param name="Sentence">What was done, as a person reads it; empty: all was so already.</param>
    public sealed record Done(GearState State, string Sentence) : GearOutcome;

    /// <summary>It was refused; nothing changed.</summary>
    /// <param name="Problem">Why.</param>
    /// <param name="IsUnknown">True where it speaks of something that the computer does not have.</param>
    /// <param name="NeedsRestart">True where the program would have to be started anew for it.</param>
    public sealed record Refused(RigProblem Problem, bool IsUnknown = false, bool NeedsRestart = false) : GearOutcome;
}

/// <summary>
/// One change of the computer around the desk: of a device, a program, a default. It is the computer's, not the show's: no step of undo, but a
/// line in the computer's own history.
/// </summary>
public abstract record GearChange
{
    /// <summary>What becomes of the computer, or why nothing does.</summary>
    /// <param name="gear">The computer.</param>
    /// <param name="cables">The cables that there are.</param>
    /// <param name="now">The time.</param>
    public abstract GearOutcome Apply(GearState gear, CablesNow cables, DateTimeOffset now);

    private protected static GearOutcome.Refused NoApp(AppId id) =>
        new(new("app", $"There is no program “{id}” on this computer.", "a program of /api/gear"), IsUnknown: true);

    private protected static GearOutcome.Refused NoDevice(DeviceId id) =>
        new(new("device", $"There is no device “{id}” on this computer.", "a device of /api/gear"), IsUnknown: true);

    private protected static GearOutcome.Refused NotOurs(App app) =>
        Refuse("app", $"{app.Name} sends into a cable by its address, and is set where it runs.", "closing the address; or another program of /api/gear");

    private protected static GearOutcome.Refused Refuse(string where, string what, string allowed) => new(new RigProblem(where, what, allowed));

    private protected static GearOutcome.Done Unchanged(GearState gear) => new(gear, "");

    /// <summary>All ends that there are, as text: what a program finds when it starts.</summary>
    private protected static ImmutableHashSet<string> EndsOf(GearState gear, CablesNow cables) =>
    [
        .. gear.Devices.Where(d => d.IsPresent).SelectMany(d => new[] { new DevicePoint(d.Id, Side.In), new DevicePoint(d.Id, Side.Out) }).Select(p => p.ToString()),
        .. cables.All.Keys.Select(c => new CablePoint(c).ToString()),
    ];

    /// <summary>What is wrong with an end for a side, or null.</summary>
    private protected static GearOutcome.Refused? CheckEnd(string where, Point end, Side side, GearState gear, CablesNow cables)
    {
        var wanted = side == Side.Out ? "somewhere to play: device/ID/out or cable/ID" : "something to hear: device/ID/in or cable/ID";
        return end switch
        {
            CablePoint cable => cables.Has(cable.Id) ? null : Refuse(where, "There is no such cable.", "a cable of the show"),
            DevicePoint device when device.Side != side => Refuse(where, side == Side.Out ? "Nothing can play into an input." : "Nothing can be heard from an output.", wanted),
            DevicePoint device when gear.Find(device.Id) is not { } found || found.ChannelsOf(side) == 0 => Refuse(where, "There is no such device.", wanted),
            DevicePoint device when gear.Find(device.Id) is { IsPresent: false } gone => Refuse(where, $"{gone.Name} is unplugged.", "a device that is plugged in, or a cable"),
            DevicePoint device when gear.Find(device.Id) is { BusyWith: { } other } busy => Refuse(where, $"{busy.Name} is busy: {other} has it for itself.", "another device, or a cable"),
            DevicePoint => null,
            _ => Refuse(where, "That is neither a device nor a cable.", wanted),
        };
    }
}

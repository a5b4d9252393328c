using System.Collections.Immutable;
using System.Globalization;
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

/// <summary>Sets a program's output or input.</summary>
/// <param name="App">The program.</param>
/// <param name="Port">Which of its outputs and inputs.</param>
/// <param name="Choice">What it is set to.</param>
/// <param name="Restart">True: the program is started anew where it would not see that otherwise.</param>
public sealed record SetPort(AppId App, string Port, EndChoice Choice, bool Restart = false) : GearChange
{
    /// <inheritdoc/>
    public override GearOutcome Apply(GearState gear, CablesNow cables, DateTimeOffset now)
    {
        ArgumentNullException.ThrowIfNull(gear);
        ArgumentNullException.ThrowIfNull(cables);
        if (gear.Find(App) is not { } app)
        {
            return NoApp(App);
        }

        if (app.Find(Port) is not { } port)
        {
            var ports = string.Join(", ", app.Ports.Select(p => p.Id));
            return new GearOutcome.Refused(new("port", $"{app.Name} has no output or input “{Port}”.", ports), IsUnknown: true);
        }

        if (GearRules.CheckChoice("choice", Choice) is [var problem, ..])
        {
            return new GearOutcome.Refused(problem);
        }

        if (port.Choice == Choice)
        {
            return Unchanged(gear);
        }

        if (port.IsFixed)
        {
            return Refuse("port", $"{app.Name} has no choice of its own here: it follows the default.", "the default, changed for the whole computer");
        }

        if (Choice is ChosenEnd chosen)
        {
            if (CheckEnd("choice.end", chosen.End, port.Side, gear, cables) is { } refused)
            {
                return refused;
            }

            var channels = cables.ChannelsOf(chosen.End, gear);
            if (chosen.Channels is { } some && (some.Left >= channels || some.Right >= channels))
            {
                return Refuse("choice.channels", $"{cables.NameOf(chosen.End, gear)} has {channels} channels.", $"channels from 0 to {channels - 1}");
            }

            if (!app.Sees(chosen.End))
            {
                if (!Restart)
                {
                    return new GearOutcome.Refused(
                        new("choice.end", $"{app.Name} does not see {cables.NameOf(chosen.End, gear)} before it is restarted.", "an end that was there when it started; or a restart"),
                        NeedsRestart: true);
                }

                app = app with { Knows = EndsOf(gear, cables), Since = now };
            }
        }

        var next = app with { Ports = app.Ports.Replace(port, port with { Choice = Choice }) };
        return new GearOutcome.Done(gear.With(next), $"{app.Name}, {port.Name}: {Words(gear, cables)}");
    }

    private string Words(GearState gear, CablesNow cables) => Choice switch
    {
        NoEnd => "nothing",
        DefaultEnd { Calls: true } => "the default for calls",
        DefaultEnd => "the default",
        ChosenEnd { Channels: { } channels } chosen => string.Create(
            CultureInfo.InvariantCulture, $"{cables.NameOf(chosen.End, gear)}, {(channels.Right is { } right ? $"{channels.Left + 1} and {right + 1}" : $"{channels.Left + 1}")}"),
        ChosenEnd chosen => cables.NameOf(chosen.End, gear),
        _ => "something",
    };
}

/// <summary>Starts or ends a program, lets it play or pause, and sets what else it has. What is null stays as it is.</summary>
/// <param name="App">The program.</param>
/// <param name="IsRunning">Whether it runs.</param>
/// <param name="IsPlaying">Whether it plays what it has to play.</param>
/// <param name="Volume">Its own volume; at most 0 dB.</param>
/// <param name="EvensVoices">Whether it removes echo and evens levels.</param>
/// <param name="Tests">Whether it plays its test sound.</param>
public sealed record SetApp(AppId App, bool? IsRunning = null, bool? IsPlaying = null, Gain? Volume = null, bool? EvensVoices = null, bool? Tests = null) : GearChange
{
    /// <inheritdoc/>
    public override GearOutcome Apply(GearState gear, CablesNow cables, DateTimeOffset now)
    {
        ArgumentNullException.ThrowIfNull(gear);
        ArgumentNullException.ThrowIfNull(cables);
        if (gear.Find(App) is not { } app)
        {
            return NoApp(App);
        }

        if (Volume is { } volume && (!volume.IsAllowed || volume.Decibels > 0))
        {
            return Refuse("volume", $"{volume} is out of range.", "a number of dB from -120 to 0, or \"off\"");
        }

        if ((EvensVoices is not null && app.EvensVoices is null) || (Tests is not null && app.Tests is null))
        {
            return Refuse(EvensVoices is null ? "tests" : "evensVoices", $"{app.Name} has no such thing.", "a program that has it");
        }

        var next = app with
        {
            Volume = Volume ?? app.Volume,
            IsPlaying = IsPlaying ?? app.IsPlaying,
            EvensVoices = EvensVoices ?? app.EvensVoices,
            Tests = Tests ?? app.Tests,
            IsRunning = IsRunning ?? app.IsRunning,
        };
        var words = new List<string>();
        if (next.IsRunning != app.IsRunning)
        {
            // What it was set to, it still is.
            next = next with { Since = now, Knows = next is { IsRunning: true, SeesNewAfterRestart: true } ? EndsOf(gear, cables) : [] };
            words.Add(next.IsRunning ? "starts" : "ends");
        }

        if (next.IsPlaying != app.IsPlaying)
        {
            words.Add(next.IsPlaying ? "plays" : "pauses");
        }

        if (next.Volume != app.Volume)
        {
            words.Add($"volume {next.Volume}");
        }

        if (next.EvensVoices != app.EvensVoices)
        {
            words.Add(next.EvensVoices == true ? "removes echo and evens levels" : "leaves what it is sent as it is");
        }

        if (next.Tests != app.Tests)
        {
            words.Add(next.Tests == true ? "plays its test sound" : "ends its test sound");
        }

        return words.Count == 0 ? Unchanged(gear) : new GearOutcome.Done(gear.With(next), $"{app.Name} {string.Join(", ", words)}");
    }
}

/// <summary>Plugs a device in or out, and sets what else it has. What is null stays as it is.</summary>
/// <param name="Device">The device.</param>
/// <param name="IsPresent">Plugged in or out. What is plugged in becomes a default, as in life.</param>
/// <param name="BusyWith">The program that has it for itself; empty: none.</param>
/// <param name="Rate">Its rate, Hz.</param>
/// <param name="BufferFrames">How many frames it hands over at once, 16–4096.</param>
/// <param name="IsMonitoring">Whether it plays its inputs straight to its own first outputs.</param>
public sealed record SetDevice(DeviceId Device, bool? IsPresent = null, string? BusyWith = null, int? Rate = null, int? BufferFrames = null, bool? IsMonitoring = null) : GearChange
{
    /// <summary>The fewest and most frames that a device hands over at once.</summary>
    public const int LeastBuffer = 16, MostBuffer = 4_096;

    /// <inheritdoc/>
    public override GearOutcome Apply(GearState gear, CablesNow cables, DateTimeOffset now)
    {
        ArgumentNullException.ThrowIfNull(gear);
        ArgumentNullException.ThrowIfNull(cables);
        if (gear.Find(Device) is not { } device)
        {
            return NoDevice(Device);
        }

        if (Rate is < Gear.Device.LowestRate or > Gear.Device.HighestRate)
        {
            return Refuse("rate", $"A rate of {Rate} Hz is not possible.", $"{Gear.Device.LowestRate} to {Gear.Device.HighestRate} Hz");
        }

        if (BufferFrames is < LeastBuffer or > MostBuffer)
        {
            return Refuse("bufferFrames", $"A buffer of {BufferFrames} frames is not possible.", $"{LeastBuffer} to {MostBuffer} frames");
        }

        if (BusyWith is { Length: > RigLimits.NameLength })
        {
            return Refuse("busyWith", "The name is too long.", $"at most {RigLimits.NameLength} characters");
        }

        if (IsMonitoring == true && !device.CanMonitor)
        {
            return Refuse("isMonitoring", $"{device.Name} cannot play its inputs itself.", "a device that can");
        }

        var next = device with
        {
            IsPresent = IsPresent ?? device.IsPresent,
            BusyWith = BusyWith is null ? device.BusyWith : BusyWith.Length == 0 ? null : BusyWith,
            Rate = Rate ?? device.Rate,
            BufferFrames = BufferFrames ?? device.BufferFrames,
            IsMonitoring = IsMonitoring ?? device.IsMonitoring,
        };
        var words = new List<string>();
        var after = gear;
        if (next.IsPresent != device.IsPresent || next.BusyWith != device.BusyWith)
        {
            next = next with { Since = now };
        }

        after = gear.With(next);
        if (next.IsPresent != device.IsPresent)
        {
            words.Add(next.IsPresent ? "plugged in" : "unplugged");
            (after, var stolen) = next.IsPresent ? Stealing.By(after, next) : Stealing.From(after, next);
            words.AddRange(stolen.Select(r => next.IsPresent
                ? $"became the default for {Sentences.Words(r)}"
                : $"{cables.NameOf(after.DefaultOf(r), after)} became the default for {Sentences.Words(r)}"));
        }

        if (next.BusyWith != device.BusyWith)
        {
            words.Add(next.BusyWith is { } other ? $"busy with {other}" : "free again");
        }

        if (next.Rate != device.Rate)
        {
            words.Add(string.Create(CultureInfo.InvariantCulture, $"{next.Rate / 1000.0:0.###} kHz"));
        }

        if (next.BufferFrames != device.BufferFrames)
        {
            words.Add($"buffer {next.BufferFrames} frames");
        }

        if (next.IsMonitoring != device.IsMonitoring)
        {
            words.Add(next.IsMonitoring ? "plays its inputs itself" : "no longer plays its inputs itself");
        }

        return words.Count == 0 ? Unchanged(gear) : new GearOutcome.Done(after, $"{device.Name} {string.Join(", ", words)}");
    }
}

/// <summary>Sets one input of a device. What is null stays as it is.</summary>
/// <param name="Device">The device.</param>
/// <param name="Input">Which input, from 0.</param>
/// <param name="Gain">The device's own gain, dB, 0–70.</param>
/// <param name="LowCut">The device's own low cut.</param>
/// <param name="IsExposed">Whether it is shown.</param>
public sealed record SetDeviceInput(DeviceId Device, int Input, double? Gain = null, bool? LowCut = null, bool? IsExposed = null) : GearChange
{
    /// <summary>The most gain, dB.</summary>
    public const double MostGain = 70;

    /// <inheritdoc/>
    public override GearOutcome Apply(GearState gear, CablesNow cables, DateTimeOffset now)
    {
        ArgumentNullException.ThrowIfNull(gear);
        if (gear.Find(Device) is not { } device)
        {
            return NoDevice(Device);
        }

        if (Input < 0 || Input >= device.Inputs.Length)
        {
            var allowed = device.Inputs.IsEmpty ? "a device that has inputs" : $"0 to {device.Inputs.Length - 1}";
            return new GearOutcome.Refused(new("input", $"{device.Name} has no input {Input + 1}.", allowed), IsUnknown: true);
        }

        var old = device.Inputs[Input];
        if (Gain is not null && (old.Gain is null || Gain is not (>= 0 and <= MostGain)))
        {
            return Refuse("gain", old.Gain is null ? "This input has no gain to set." : $"{Gain} dB is out of range.", $"0 to {MostGain} dB, of an input that has a gain");
        }

        if (LowCut is not null && old.LowCut is null)
        {
            return Refuse("lowCut", "This input has no low cut.", "an input that has one");
        }

        var next = old with { Gain = Gain ?? old.Gain, LowCut = LowCut ?? old.LowCut, IsExposed = IsExposed ?? old.IsExposed };
        var words = new List<string>();
        if (next.Gain != old.Gain)
        {
            words.Add(string.Create(CultureInfo.InvariantCulture, $"gain {next.Gain:0.#} dB"));
        }

        if (next.LowCut != old.LowCut)
        {
            words.Add(next.LowCut == true ? "low cut on" : "low cut off");
        }

        if (next.IsExposed != old.IsExposed)
        {
            words.Add(next.IsExposed ? "shown" : "hidden");
        }

        return words.Count == 0
            ? Unchanged(gear)
            : new GearOutcome.Done(gear.With(device with { Inputs = device.Inputs.SetItem(Input, next) }), $"{device.Name}, input {old.Name}: {string.Join(", ", words)}");
    }
}

/// <summary>Makes several devices one.</summary>
/// <param name="Id">The new device's id.</param>
/// <param name="Name">What it is called.</param>
/// <param name="Members">Two to four devices, in the order of its channels; the first gives the clock.</param>
public sealed record JoinDevices(DeviceId Id, string Name, ImmutableArray<DeviceId> Members) : GearChange
{
    /// <summary>The most devices that are joined.</summary>
    public const int MostMembers = 4;

    /// <inheritdoc/>
    public override GearOutcome Apply(GearState gear, CablesNow cables, DateTimeOffset now)
    {
        ArgumentNullException.ThrowIfNull(gear);
        if ((RigRules.CheckId("id", Id.Value) ?? RigRules.CheckName("name", Name)) is { } problem)
        {
            return new GearOutcome.Refused(problem);
        }

        if (gear.Find(Id) is not null || gear.Devices.Any(d => string.Equals(d.Name, Name.Trim(), StringComparison.OrdinalIgnoreCase)))
        {
            return Refuse("name", $"There is a device “{Name}” already.", "a name that no other device has");
        }

        if (Members.IsDefault || Members.Length is < 2 or > MostMembers || Members.Distinct().Count() != Members.Length)
        {
            return Refuse("members", "These devices cannot be joined.", $"2 to {MostMembers} different devices");
        }

        var members = Members.Select(gear.Find).ToList();
        if (members.Exists(m => m is null || !m.Joins.IsEmpty))
        {
            return Refuse("members", "One of these is no device that can be joined.", "devices of this computer that are not joined ones themselves");
        }

        var (inputs, outputs) = (members.Sum(m => m!.Inputs.Length), members.Sum(m => m!.Outputs));
        if (inputs > RigLimits.DeviceChannels || outputs > RigLimits.DeviceChannels)
        {
            return Refuse("members", $"Together they have {inputs} inputs and {outputs} outputs.", $"at most {RigLimits.DeviceChannels} of each");
        }

        var joined = new Device
        {
            Id = Id,
            Name = Name.Trim(),
            Kind = DeviceKind.Joined,

            // What sounds before them sounds before their own devices; this one only passes it on.
            Inputs = [.. members.SelectMany(m => m!.Inputs.Select(i => new DeviceInputChannel { Name = $"{m.Name} {i.Name}", IsExposed = i.IsExposed }))],
            Outputs = outputs,
            Rate = members[0]!.Rate,
            Joins = Members,
            Since = now,
        };
        return new GearOutcome.Done(gear with { Devices = gear.Devices.Add(joined) }, $"{string.Join(", ", members.Select(m => m!.Name))} joined as {joined.Name}");
    }
}

/// <summary>Takes a joined device apart.</summary>
/// <param name="Device">The joined device.</param>
public sealed record PartDevices(DeviceId Device) : GearChange
{
    /// <inheritdoc/>
    public override GearOutcome Apply(GearState gear, CablesNow cables, DateTimeOffset now)
    {
        ArgumentNullException.ThrowIfNull(gear);
        if (gear.Find(Device) is not { } device)
        {
            return NoDevice(Device);
        }

        if (device.Joins.IsEmpty)
        {
            return Refuse("device", $"{device.Name} is one device.", "a joined device");
        }

        var (after, _) = Stealing.From(gear.With(device with { IsPresent = false }), device);
        after = Dangling.Without(after, e => e is DevicePoint end && end.Id == Device);
        return new GearOutcome.Done(after with { Devices = after.Devices.RemoveAll(d => d.Id == Device) }, $"{device.Name} taken apart");
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
        foreach (var app in gear.Apps)
        {
            if (app.Ports.Any(p => p.Choice is ChosenEnd chosen && goes(chosen.End)))
            {
                gear = gear.With(app with { Ports = [.. app.Ports.Select(p => p.Choice is ChosenEnd chosen && goes(chosen.End) ? p with { Choice = new DefaultEnd() } : p)] });
            }
        }

        return gear;
    }
}

using System.Collections.Immutable;
using System.Globalization;
using Kinetra.Core.Gear;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Editing;

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

        if (BusyWith is { Length: > 0 } && RigRules.CheckText("busyWith", BusyWith, RigLimits.NameLength) is { } unusable)
        {
            return new GearOutcome.Refused(unusable);
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

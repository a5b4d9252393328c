using Kinetra.Core.Gear;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Gear;

/// <summary>One way of a sound to a point.</summary>
/// <param name="Sound">The point that makes it, and the channel there.</param>
/// <param name="Gain">By how much.</param>
/// <param name="Delay">How late, frames.</param>
readonly record struct Arrival((string Point, int Channel) Sound, double Gain, int Delay);

/// <summary>
/// What comes to each point of a computer, way by way, from the words of the product alone: it follows every sound back to where it is made,
/// and shares no code with what it judges. Nothing goes round.
/// </summary>
sealed class PlainComputer(GearState gear, Rig rig)
{
    /// <summary>All that arrives at a channel of a point.</summary>
    public List<Arrival> At(string point, int channel)
    {
        var parts = point.Split('/');
        List<Arrival> found = [];
        switch (parts[0])
        {
            case "device" when gear.Devices.FirstOrDefault(d => d.Id.Value == parts[1]) is { } device:
                if (parts[2] == "in")
                {
                    if (channel < device.Inputs.Length)
                    {
                        found.Add(new((point, channel), 1, 0));
                    }
                }
                else
                {
                    found.AddRange(Programs(point, device.Outputs, channel));
                    if (device is { IsPresent: true, BusyWith: null, IsMonitoring: true } && device.Outputs > 1 && channel < 2)
                    {
                        for (var c = 0; c < device.Inputs.Length; c++)
                        {
                            Add(found, At($"device/{device.Id}/in", c), 1, 0);
                        }
                    }

                    foreach (var way in rig.Mixes[0].Destinations.Where(w => w.On && w.End is DeviceOutput o && o.Device == device.Id))
                    {
                        var isFolded = way.Into.Right is not { } right || right >= device.Outputs;
                        if (isFolded && channel == way.Into.Left)
                        {
                            Add(found, Mix(0), way.Gain.Linear / 2, 0);
                            Add(found, Mix(1), way.Gain.Linear / 2, 0);
                        }
                        else if (!isFolded && way.Into.Left < device.Outputs && (channel == way.Into.Left || channel == way.Into.Right))
                        {
                            Add(found, Mix(channel == way.Into.Left ? 0 : 1), way.Gain.Linear, 0);
                        }
                    }
                }

                break;
            case "cable":
                found.AddRange(Programs(point, 4, channel));
                break;
            case "app":
                found.AddRange(Port(gear.Apps.Single(a => a.Id.Value == parts[1]), parts[2], channel));
                break;
        }

        return found;
    }

    /// <summary>All that arrives at a side of the mix.</summary>
    public List<Arrival> Mix(int side)
    {
        List<Arrival> found = [];
        foreach (var (source, send) in rig.Sources.Zip(rig.Mixes[0].Sends))
        {
            var factor = send.Gain.Linear * source.Trim.Linear * (source.Inverted ? -1 : 1);
            if (Channels(source) == 1)
            {
                Add(found, Source(source, 0), factor * Math.Sqrt(0.5), 0);
            }
            else
            {
                Add(found, Source(source, side), factor, 0);
            }
        }

        return found;
    }

    /// <summary>The outputs whose sound a source takes.</summary>
    public List<(App App, AppPort Port)> Taken(Source source) => source.Input switch
    {
        AppInput tap => [.. Outputs().Where(o => o.App.Id == tap.App && (tap.Port is null || tap.Port == o.Port.Id))],
        EverythingElseInput => [.. Outputs().Where(o => End(o.App, o.Port)?.Point.StartsWith("device", StringComparison.Ordinal) == true && !IsTaken(o) && !Carries(o))],
        _ => [],
    };

    private bool IsTaken((App App, AppPort Port) output) =>
        rig.Sources.Any(s => s.Input is AppInput tap && tap.App == output.App.Id && (tap.Port is null || tap.Port == output.Port.Id));

    // Something that is not its own comes out of it.
    private bool Carries((App App, AppPort Port) output) =>
        output.App.Passes.Any(p => p.To == output.Port.Id && output.App.Ports.Single(i => i.Id == p.From) is var input && End(output.App, input) is not null);

    private IEnumerable<(App App, AppPort Port)> Outputs() =>
        gear.Apps.Where(a => a.IsRunning).SelectMany(a => a.Ports.Where(p => p.Side == Side.Out).Select(p => (a, p)));

    private int Channels(Source source) => source.Fold ? 1 : source.Input switch
    {
        CableInput { Right: null } or DeviceInput { Right: null } => 1,
        AppInput { Port: { } port } tap => Math.Min(2, gear.Apps.Single(a => a.Id == tap.App).Ports.FirstOrDefault(p => p.Id == port)?.Channels ?? 2),
        _ => 2,
    };

    private List<Arrival> Source(Source source, int side)
    {
        List<Arrival> found = [];
        var (point, left, right, channels) = source.Input switch
        {
            CableInput cable => ($"cable/{cable.Cable}", cable.Left, cable.Right, 4),
            DeviceInput device => ($"device/{device.Device}/in", device.Left, device.Right, gear.Devices.Single(d => d.Id == device.Device).Inputs.Length),
            _ => ("", 0, null, 0),
        };
        if (point != "" && left < channels && !(right >= channels))
        {
            var late = source.Input is CableInput from ? rig.Cables.Single(c => c.Id == from.Cable).BufferFrames : 0;
            if (source.Fold && right is { } other)
            {
                Add(found, At(point, left), 0.5, late);
                Add(found, At(point, other), 0.5, late);
            }
            else
            {
                Add(found, At(point, side == 0 ? left : right!.Value), 1, late);
            }
        }

        foreach (var (app, port) in Taken(source))
        {
            foreach (var (channel, gain) in Fit(port.Channels, Channels(source), source.Fold ? Intake.Folded : Intake.First, side))
            {
                Add(found, Port(app, port.Id, channel), gain, 0);
            }
        }

        return found;
    }

    private List<Arrival> Port(App app, string id, int channel)
    {
        List<Arrival> found = [];
        var port = app.Ports.Single(p => p.Id == id);
        if (!app.IsRunning)
        {
            // It makes no sound that anybody could hear.
            return port.Side == Side.Out ? [new(($"app/{app.Id}/{id}", channel), 1, 0)] : [];
        }

        if (port.Side == Side.Out)
        {
            found.Add(new(($"app/{app.Id}/{id}", channel), 1, 0));
            foreach (var pass in app.Passes.Where(p => p.To == id))
            {
                var from = app.Ports.Single(p => p.Id == pass.From);
                foreach (var (other, gain) in Fit(from.Channels, port.Channels, Intake.Folded, channel))
                {
                    Add(found, Port(app, pass.From, other), gain * pass.Gain.Linear * app.Volume.Linear, pass.DelayFrames);
                }
            }
        }
        else if (End(app, port) is { } end)
        {
            int[] picked = end.Channels is { } some && some.Left < end.Width && (some.Right ?? 0) < end.Width
                ? some.Right is { } right ? [some.Left, right] : [some.Left]
                : [.. Enumerable.Range(0, end.Width)];
            foreach (var (place, gain) in Fit(picked.Length, port.Channels, port.Intake, channel))
            {
                Add(found, At(end.Point, picked[place]), gain, rig.Cables.FirstOrDefault(c => $"cable/{c.Id}" == end.Point)?.BufferFrames ?? 0);
            }
        }

        return found;
    }

    // All that programs play into a device or a cable.
    private List<Arrival> Programs(string point, int width, int channel)
    {
        List<Arrival> found = [];
        foreach (var (app, port) in Outputs())
        {
            if (End(app, port) is not { } end || end.Point != point || IsMuted(app, port))
            {
                continue;
            }

            IEnumerable<(int From, int To, double Gain)> ways = end.Channels is { } into && into.Left < width && (into.Right ?? 0) < width
                ? port.Channels > 2
                    ? Enumerable.Range(0, port.Channels).Select(c => (c, into.Left + c, 1.0))
                    : into.Right is { } right
                        ? [(0, into.Left, 1.0), (port.Channels - 1, right, 1.0)]
                        : Enumerable.Range(0, port.Channels).Select(c => (c, into.Left, 1.0 / port.Channels))
                : Fit(port.Channels, width, port.Intake, channel).Select(way => (way.From, channel, way.Gain));
            foreach (var (from, to, gain) in ways)
            {
                if (to == channel && to < width)
                {
                    Add(found, Port(app, port.Id, from), gain, 0);
                }
            }
        }

        return found;
    }

    private bool IsMuted(App app, AppPort port) => rig.Sources.Any(s => s.Input is AppInput { StillPlays: false } or EverythingElseInput { StillPlays: false } && Taken(s).Any(t => t.App == app && t.Port == port));

    private (string Point, CableChannels? Channels, int Width)? End(App app, AppPort port)
    {
        if (port.Choice is NoEnd)
        {
            return null;
        }

        if (port.Choice is ChosenEnd chosen && Width(chosen.End.ToString()) is > 0 and var width)
        {
            return (chosen.End.ToString(), chosen.Channels, width);
        }

        var calls = port.Choice is DefaultEnd { Calls: true };
        var role = port.Side == Side.Out ? (calls ? 2 : 0) : (calls ? 3 : 1);
        return gear.Defaults[role]?.ToString() is { } end && Width(end) is > 0 and var channels ? (end, null, channels) : null;
    }

    private int Width(string end)
    {
        var parts = end.Split('/');
        return parts[0] == "cable" ? 4
            : gear.Devices.SingleOrDefault(d => d.Id.Value == parts[1]) is { IsPresent: true, BusyWith: null } device ? (parts[2] == "in" ? device.Inputs.Length : device.Outputs)
            : 0;
    }

    // Which channels come to one, and by how much: one goes to the first two; of too many the first, or the mean of those that meet.
    private static List<(int From, double Gain)> Fit(int from, int to, Intake intake, int channel)
    {
        if (from == 1)
        {
            return channel < Math.Min(2, to) ? [(0, 1)] : [];
        }

        if (from <= to || intake == Intake.First)
        {
            return channel < from && channel < to ? [(channel, 1)] : [];
        }

        var meet = Enumerable.Range(0, from).Where(c => c % to == channel).ToList();
        return [.. meet.Select(c => (c, 1.0 / meet.Count))];
    }

    private static void Add(List<Arrival> found, List<Arrival> more, double gain, int delay) =>
        found.AddRange(more.Where(_ => gain != 0).Select(a => a with { Gain = a.Gain * gain, Delay = a.Delay + delay }));
}

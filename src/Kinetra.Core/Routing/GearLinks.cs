using System.Collections.Immutable;
using Kinetra.Core.Gear;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Routing;

/// <summary>What links of the computer follow from: while it is the same, so are they.</summary>
/// <param name="Ground">The points.</param>
/// <param name="Gear">The computer.</param>
/// <param name="Taps">What sources take from programs, in the rig's order.</param>
sealed record GearKey(Ground Ground, GearState Gear, ImmutableArray<(SourceId Source, SourceInput Input, bool Fold)> Taps)
{
    public bool Equals(GearKey? other) =>
        other is not null && Ground == other.Ground && ReferenceEquals(Gear, other.Gear) && Taps.AsSpan().SequenceEqual(other.Taps.AsSpan());

    public override int GetHashCode() => HashCode.Combine(Ground, Gear, Taps.Length);
}

/// <summary>
/// The computer's own links: what programs play into and hear, what they pass on; what sources take from programs; microphones that hear open
/// speakers; devices that play their inputs themselves, and those that are several.
/// </summary>
static class GearLinks
{
    // Open speakers, a metre from an open microphone.
    private const double CouplingDecibels = -20;
    private const int MetreFrames = 140;

    public static GearKey KeyOf(Ground ground, GearState gear, Rig rig) =>
        new(ground, gear, TapsOf(rig));

    public static ImmutableArray<(SourceId Source, SourceInput Input, bool Fold)> TapsOf(Rig rig) =>
        [.. rig.Sources.Where(s => s.Input is AppInput or EverythingElseInput).Select(s => (s.Id, s.Input, s.Fold))];

    public static ImmutableArray<Link> Of(GearKey key)
    {
        var links = ImmutableArray.CreateBuilder<Link>();
        var (ground, gear) = (key.Ground, key.Gear);
        var ports = PortsOf(gear, id => ground.Cable(id) is not null);
        var rest = EverythingElse(key.Taps, ports);
        foreach (var (app, port, end) in ports)
        {
            if (end is null)
            {
                continue;
            }

            var (point, state) = (new AppPoint(app.Id, port.Id), StateOf(key, app, port, rest));
            links.Add(port.Side == Side.Out ? Plays(ground, point, port, end, state) : Hears(ground, point, port, end));
        }

        foreach (var app in gear.Apps.Where(a => a.IsRunning))
        {
            links.AddRange(app.Passes.Where(p => app.Find(p.From) is not null && app.Find(p.To) is not null && !(p.IsEcho && app.EvensVoices == true)).Select(pass => PassOf(app, pass)));
        }

        foreach (var device in gear.Devices.Where(d => d.IsUsable))
        {
            AddOf(links, gear, device);
        }

        AddTaken(links, key, ports, rest);
        return links.ToImmutable();
    }

    public static List<(App App, AppPort Port, ChosenEnd? End)> PortsOf(GearState gear, Func<CableId, bool> cables) =>
        [.. gear.Apps.Where(a => a.IsRunning).SelectMany(a => a.Ports.Select(p => (App: a, Port: p, End: gear.EndOf(a, p, cables))))];

    /// <summary>Channels into channels of another number: one into two goes to both, more than there is room for fall away or are folded.</summary>
    public static ChannelMap Fitted(int from, int to, Intake intake) => (from, to) switch
    {
        (1, _) => new(1, to, [.. Enumerable.Range(0, Math.Min(to, 2)).Select(c => new Cell(0, c, 1))]),
        _ when from <= to || intake == Intake.First => ChannelMap.Onward(from, to, 0),
        _ => Folded(from, to),
    };

    // Each channel goes round to one that there is; what meets is the mean.
    private static ChannelMap Folded(int from, int to) =>
        new(from, to, [.. Enumerable.Range(0, from).Select(c => new Cell(c, c % to, 1.0 / (((from - 1 - (c % to)) / to) + 1)))]);

    private static Link Plays(Ground ground, AppPoint from, AppPort port, ChosenEnd end, LinkState state)
    {
        var to = ground.ChannelsOf(end.End);
        return new Link(from, end.End)
        {
            Map = end.Channels is { } into && into.Left < to && (into.Right ?? 0) < to
                ? port.Channels > 2 ? ChannelMap.Onward(port.Channels, to, into.Left) : ChannelMap.Into(port.Channels, to, into.Left, into.Right)
                : Fitted(port.Channels, to, port.Intake),
            State = state,
            Breaking = Breaking.Outside,
            Realm = Realm.Outside,
        };
    }

    private static Link Hears(Ground ground, AppPoint to, AppPort port, ChosenEnd end)
    {
        var from = ground.ChannelsOf(end.End);
        var picked = end.Channels is { } some && some.Left < from && (some.Right ?? 0) < from
            ? some.Right is { } right ? ChannelMap.Pick(from, some.Left, right) : ChannelMap.Pick(from, some.Left)
            : ChannelMap.Straight(from);
        return new Link(end.End, to)
        {
            Map = picked.Then(Fitted(picked.To, port.Channels, port.Intake)),
            Delays = new(Buffer: end.End is CablePoint cable ? ground.Cable(cable.Id)!.Value.Buffer : 0),
            Breaking = Breaking.Outside,
            Realm = Realm.Outside,
        };
    }

    private static Link PassOf(App app, Pass pass) => new(new AppPoint(app.Id, pass.From), new AppPoint(app.Id, pass.To))
    {
        Map = Fitted(app.Find(pass.From)!.Channels, app.Find(pass.To)!.Channels, Intake.Folded),
        Gain = pass.Gain.Linear * app.Volume.Linear,
        Delays = new(Device: pass.DelayFrames),
        Breaking = Breaking.Outside,
        Realm = Realm.Outside,
    };

    private static void AddOf(ImmutableArray<Link>.Builder links, GearState gear, Device device)
    {
        var (input, output) = (new DevicePoint(device.Id, Side.In), new DevicePoint(device.Id, Side.Out));
        if (device is { IsMonitoring: true, Outputs: >= 2, Inputs.Length: > 0 })
        {
            links.Add(Air(input, output) with { Map = new(device.Inputs.Length, device.Outputs, [.. device.Inputs.SelectMany((_, c) => new Cell[] { new(c, 0, 1), new(c, 1, 1) })]) });
        }

        if (device is { IsOpen: true, Outputs: > 0 })
        {
            foreach (var other in gear.Devices.Where(d => d.IsUsable && d.Inputs.Any(i => i.HearsTheRoom)))
            {
                // What comes from all its speakers arrives as one.
                links.Add(Air(output, new DevicePoint(other.Id, Side.In)) with
                {
                    Map = new(
                        device.Outputs,
                        other.Inputs.Length,
                        [.. other.Inputs.Index().Where(i => i.Item.HearsTheRoom).SelectMany(i => Enumerable.Range(0, device.Outputs).Select(o => new Cell(o, i.Index, 1.0 / device.Outputs)))]),
                    Gain = new Gain(CouplingDecibels).Linear,
                    Delays = new(Device: MetreFrames),
                });
            }
        }

        var (firstIn, firstOut) = (0, 0);
        foreach (var member in device.Joins.Select(gear.Find).OfType<Device>())
        {
            if (member.IsUsable && member.Inputs.Length > 0 && device.Inputs.Length > 0)
            {
                links.Add(Air(new DevicePoint(member.Id, Side.In), input) with { Map = ChannelMap.Onward(member.Inputs.Length, device.Inputs.Length, firstIn) });
            }

            if (member.IsUsable && member.Outputs > 0 && device.Outputs > 0)
            {
                var first = firstOut;
                links.Add(Air(output, new DevicePoint(member.Id, Side.Out)) with
                {
                    Map = new(device.Outputs, member.Outputs, [.. Enumerable.Range(0, member.Outputs).Where(c => first + c < device.Outputs).Select(c => new Cell(first + c, c, 1))]),
                });
            }

            (firstIn, firstOut) = (firstIn + member.Inputs.Length, firstOut + member.Outputs);
        }
    }

    private static Link Air(Point from, Point to) => new(from, to) { Map = ChannelMap.Straight(1), Breaking = Breaking.Outside, Realm = Realm.Outside };

    // What a source takes for itself alone plays nowhere else.
    private static LinkState StateOf(GearKey key, App app, AppPort port, HashSet<AppPoint> rest)
    {
        var isTaken = key.Taps.Any(t => t.Input switch
        {
            AppInput tap => !tap.StillPlays && tap.App == app.Id && (tap.Port is null || tap.Port == port.Id),
            EverythingElseInput other => !other.StillPlays && rest.Contains(new AppPoint(app.Id, port.Id)),
            _ => false,
        });
        return isTaken ? LinkState.Muted : LinkState.On;
    }

    private static void AddTaken(
        ImmutableArray<Link>.Builder links, GearKey key, List<(App App, AppPort Port, ChosenEnd? End)> ports, HashSet<AppPoint> rest)
    {
        foreach (var (source, input, fold) in key.Taps)
        {
            var to = new SourcePoint(source, Tap.Raw);
            var channels = key.Ground.ChannelsOf(to);
            foreach (var (app, port, _) in ports.Where(p => p.Port.Side == Side.Out))
            {
                var from = new AppPoint(app.Id, port.Id);
                if (input is AppInput tap ? tap.App == app.Id && (tap.Port is null || tap.Port == port.Id) : rest.Contains(from))
                {
                    links.Add(new Link(from, to)
                    {
                        Map = Fitted(port.Channels, channels, fold ? Intake.Folded : Intake.First),
                        Breaking = Breaking.Hold,
                        LoopAllowed = input.MayLoop,
                    });
                }
            }
        }
    }

    /// <summary>
    /// The outputs that a catch-all takes: those that play to a device, unless a source takes them, or something of what a source takes, or
    /// of what the desk gives, comes to them through a program. So it never holds what is taken elsewhere.
    /// </summary>
    public static HashSet<AppPoint> EverythingElse(ImmutableArray<(SourceId Source, SourceInput Input, bool Fold)> taps, List<(App App, AppPort Port, ChosenEnd? End)> ports)
    {
        if (!taps.Any(t => t.Input is EverythingElseInput))
        {
            return [];
        }

        var taken = ports.Where(p => p.Port.Side == Side.Out && taps.Any(t => t.Input is AppInput tap && tap.App == p.App.Id && (tap.Port is null || tap.Port == p.Port.Id)))
            .Select(p => new AppPoint(p.App.Id, p.Port.Id)).ToHashSet();
        var tainted = taken.ToHashSet();

        // What hears a cable or a device hears what others take, or the desk's own: whatever it passes on is not its own.
        foreach (var (app, port, end) in ports.Where(p => p.Port.Side == Side.In && p.End is not null))
        {
            tainted.UnionWith(app.Passes.Where(p => p.From == port.Id).Select(p => new AppPoint(app.Id, p.To)));
        }

        return
        [
            .. ports.Where(p => p is { Port.Side: Side.Out, End.End: DevicePoint }).Select(p => new AppPoint(p.App.Id, p.Port.Id)).Where(p => !tainted.Contains(p)),
        ];
    }
}

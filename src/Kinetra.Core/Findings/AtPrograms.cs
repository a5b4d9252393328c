using System.Collections.Immutable;
using Kinetra.Core.Editing;
using Kinetra.Core.Gear;
using Kinetra.Core.Rigs;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Findings;

/// <summary>What is set the wrong way on the computer: channels that fall away, a microphone taken raw, defaults and choices, a restart that is due.</summary>
static class AtPrograms
{
    public static IEnumerable<Finding> In(Situation s) => Lost(s).Concat(Alike(s)).Concat(RawInstead(s)).Concat(Wishes(s)).Concat(Restarts(s));

    private static IEnumerable<(App App, AppPort Port, Link Link)> Hearing(Situation s) =>
        from link in s.Routed.Wiring.Links
        where link is { To: AppPoint, From: DevicePoint or CablePoint }
        let port = (AppPoint)link.To
        let app = s.Gear.Find(port.Id)
        select (app, app.Find(port.Port)!, link);

    // Whoever chose some channels meant those; whoever takes an end as it is loses what does not fit in without knowing.
    private static IEnumerable<Finding> Lost(Situation s)
    {
        foreach (var (app, port, link) in Hearing(s).Where(h => h.Link.From is CablePoint && h.Port.Choice is not ChosenEnd { Channels: not null }))
        {
            var into = s.Routed.Wiring.Into(link.From).Where(l => l.Use == LinkUse.Sound && l.Factor != 0).ToList();
            var taken = link.Map.Cells.Where(c => c.Gain != 0).Select(c => c.From).ToHashSet();
            var lost = into.SelectMany(l => l.Map.Cells).Where(c => c.Gain != 0).Select(c => c.To).Where(c => !taken.Contains(c)).ToImmutableSortedSet();
            if (lost.IsEmpty)
            {
                continue;
            }

            var what = string.Join(", ", into.Where(l => l.Map.Cells.Any(c => c.Gain != 0 && lost.Contains(c.To))).Select(l => s.NameOf(l.From)).Distinct());
            var channels = $"{(lost.Count == 1 ? "channel" : "channels")} {string.Join(", ", lost.Select(c => c + 1))}";
            yield return new Finding(
                FindingKind.LostChannels,
                $"lost {link.To} {link.From}",
                Harm.Noticeable,
                $"{app.Name} takes {port.Channels} of {link.Map.From} channels of {s.NameOf(link.From)}: {what}, on {channels}, falls away.",
                [link.To, link.From],
                []);
        }
    }

    // Whoever records several tracks wants them apart.
    private static IEnumerable<Finding> Alike(Situation s)
    {
        var same = Hearing(s).Where(h => h.App.Kind == AppKind.Recorder)
            .GroupBy(h => (h.App.Id, h.Link.From, Cells: string.Join(' ', h.Link.Map.Cells.Where(c => c.Gain != 0).OrderBy(c => c.To).ThenBy(c => c.From).Select(c => $"{c.From}>{c.To}"))))
            .Where(g => g.Key.Cells.Length > 0 && g.Count() > 1);
        foreach (var group in same)
        {
            var (app, ports) = (group.First().App, group.Select(h => h.Port).ToList());
            var end = s.NameOf(group.Key.From);
            yield return new Finding(
                FindingKind.AlikeTracks,
                $"alike {app.Id} {string.Join(' ', ports.Select(p => p.Id))}",
                Harm.Noticeable,
                $"{app.Name} has the same on {Situation.Listed([.. ports.Select(p => p.Name)])}: all that comes from {end} there. Afterwards nothing on one can be changed without the other.",
                [.. ports.Select(p => new AppPoint(app.Id, p.Id)), group.Key.From],
                [.. ports.Skip(1).Where(p => !p.IsFixed).Take(2).Select(p => new Fix($"Let {p.Name} of {app.Name} hear nothing", Computer: new SetPort(app.Id, p.Id, new NoEnd())))]);
        }
    }

    private static IEnumerable<Finding> RawInstead(Situation s)
    {
        foreach (var (app, port, link) in Hearing(s).Where(h => h.Link.From is DevicePoint && h.App.Kind != AppKind.Listener && !s.IsWished(h.App.Id, h.Port.Id)))
        {
            var taken = link.Map.Cells.Where(c => c.Gain != 0).Select(c => c.From).ToHashSet();
            var source = s.Rig.Sources.FirstOrDefault(o => o.Input is DeviceInput input && new DevicePoint(input.Device, Side.In) == link.From && taken.Contains(input.Left) && o.Chain.Any(p => !p.Bypassed));
            if (source is not null)
            {
                yield return new Finding(
                    FindingKind.RawInstead,
                    $"raw {link.To} {source.Id}",
                    app.Kind == AppKind.Chat ? Harm.Slight : Harm.Noticeable,
                    $"{app.Name} takes {source.Name} raw from {s.NameOf(link.From)}, and not what its chain makes of it. Play a mix or the source into a cable, and set {app.Name} to that.",
                    [link.To, new SourcePoint(source.Id)],
                    []);
            }
        }
    }

    private static IEnumerable<Finding> Wishes(Situation s)
    {
        foreach (var unmet in s.Unmet.Where(u => u.App is null || s.Gear.Find(u.App.Value) is { IsRunning: true }))
        {
            var what = unmet.Role is { } role ? $"The default for {Sentences.Words(role)} is {Named(s.Gear.DefaultOf(role), s)}" : Set(s.Gear.Find(unmet.App!.Value)!, unmet.Port!, s);
            ImmutableArray<Point> place = unmet.App is { } app ? [new AppPoint(app, unmet.Port!)] : s.Gear.DefaultOf(unmet.Role!.Value) is { } end ? [end] : [];
            yield return new Finding(
                FindingKind.NotAsWished,
                $"wish {unmet.Role} {unmet.App} {unmet.Port}",
                Harm.Noticeable,
                $"{what}, and the show wants {unmet.Words}.{(unmet.Obstacle is null ? "" : $" {unmet.Obstacle}")}",
                place,
                unmet.Obstacle is null ? [new Fix($"Set it to {unmet.Words}", Computer: Fulfilment.ChangeFor(unmet))] : []);
        }
    }

    private static IEnumerable<Finding> Restarts(Situation s)
    {
        foreach (var app in s.Gear.Apps.Where(a => a.IsRunning))
        {
            foreach (var port in app.Ports)
            {
                if (port.Choice is ChosenEnd chosen && !app.Sees(chosen.End) && s.Gear.IsThere(chosen.End, s.Has))
                {
                    yield return new Finding(
                        FindingKind.NeedsRestart,
                        $"restart {app.Id} {port.Id}",
                        Harm.Noticeable,
                        $"{app.Name} cannot see {s.NameOf(chosen.End)} yet, since it was running before that was there: it has to be started anew.",
                        [new AppPoint(app.Id, port.Id)],
                        [new Fix($"Start {app.Name} anew", Computer: new SetPort(app.Id, port.Id, port.Choice, Restart: true))]);
                }
            }
        }
    }

    private static string Set(App app, string id, Situation s)
    {
        var port = app.Find(id);
        var end = port is null ? null : s.Gear.EndOf(app, port, s.Has)?.End;
        return $"{app.Name} {(port?.Side == Side.Out ? "plays" : "hears")} {port?.Name} {(port?.Side == Side.Out ? "into" : "from")} {Named(end, s)}";
    }

    private static string Named(Point? end, Situation s) => end is null ? "nothing" : s.NameOf(end);
}

using Kinetra.Core.Editing;
using Kinetra.Core.Gear;
using Kinetra.Core.Rigs;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Findings;

/// <summary>Sound that nobody hears, and listeners' mixes that go nowhere.</summary>
static class Stranded
{
    public static IEnumerable<Finding> In(Situation s) => Sources(s).Concat(Mixes(s)).Concat(Cables(s));

    private static IEnumerable<Finding> Sources(Situation s)
    {
        var heard = s.Routed.Wiring.Links.Where(l => l.To is MixPoint or CablePoint && (l.Factor != 0 || l.State == LinkState.Held)).Select(l => l.From).OfType<SourcePoint>().Select(p => p.Id).ToHashSet();
        foreach (var source in s.Rig.Sources)
        {
            if (!s.Rig.Mixes.IsEmpty && !heard.Contains(source.Id))
            {
                yield return new Finding(
                    FindingKind.SourceUnheard, $"unheard {source.Id}", Harm.Slight, $"Nobody hears {source.Name}: every mix leaves it out, has it muted or at nothing.", [new SourcePoint(source.Id)], []);
            }
        }
    }

    private static IEnumerable<Finding> Mixes(Situation s)
    {
        var given = s.Routed.Wiring.Links.Where(l => l.To is not MixPoint && l.Use == LinkUse.Sound && l.State != LinkState.Muted).Select(l => l.From).OfType<MixPoint>().Select(p => p.Id).ToHashSet();
        foreach (var mix in s.Rig.Mixes.Where(m => m.Purpose != MixPurpose.Recording))
        {
            var point = new MixPoint(mix.Id);
            if (given.Contains(mix.Id) || s.Rig.Streams.Any(t => t.Mix == mix.Id))
            {
                continue;
            }

            var off = mix.Destinations.FirstOrDefault(d => !d.On && s.Routed.Wiring.ChannelsOf(d.End.Point) > d.Into.Left);
            yield return new Finding(
                FindingKind.MixNowhere,
                $"nowhere {mix.Id}",
                Harm.Slight,
                mix.Destinations.IsEmpty
                    ? $"{mix.Name} goes nowhere: it is heard only by who listens to it here."
                    : $"{mix.Name} goes nowhere now: each of its destinations is off, or is not there.",
                [point],
                off is null ? [] : [new Fix($"Give {mix.Name} to {s.NameOf(off.End.Point)} again", new SetDestination(mix.Id, off.Id, On: true))]);
        }
    }

    private static IEnumerable<Finding> Cables(Situation s)
    {
        foreach (var cable in s.Rig.Cables)
        {
            var point = new CablePoint(cable.Id);
            var players = s.Routed.Wiring.Into(point).Where(l => l.Use == LinkUse.Sound && l.Factor != 0).Select(l => s.NameOf(l.From)).Distinct().ToList();
            if (players.Count == 0
                || s.Routed.Wiring.Links.Any(l => l.From == point && l.Use == LinkUse.Sound && l.State is LinkState.On or LinkState.Held)
                || s.Unmet.Any(u => u.Wanted is ChosenEnd chosen && chosen.End == point && s.Gear.Find(u.App ?? default) is { IsRunning: true }))
            {
                continue;
            }

            var waiting = s.Gear.Apps.FirstOrDefault(a => !a.IsRunning && a.Ports.Any(p => p.Side == Side.In && p.Choice is ChosenEnd chosen && chosen.End == point));
            yield return new Finding(
                FindingKind.CableUnheard,
                $"unheard {point}",
                waiting is null ? Harm.Noticeable : Harm.Slight,
                $"{string.Join(", ", players)} {(players.Count == 1 ? "plays" : "play")} into {cable.Name}, and nobody takes it from there{(waiting is null ? ": it is not heard." : $": {waiting.Name}, which would, does not run.")}",
                [point],
                waiting is null ? [] : [new Fix($"Start {waiting.Name}", Computer: new SetApp(waiting.Id, IsRunning: true))]);
        }
    }
}

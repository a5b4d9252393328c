using Kinetra.Core.Rigs;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Findings;

/// <summary>Private talk on any way to the public, however softly.</summary>
static class Leaks
{
    public static IEnumerable<Finding> In(Situation s) => ByTheStrongestWay(s).Concat(RoundLoopsOnly(s));

    // What the walk that cuts circles open does not come to.
    private static IEnumerable<Finding> RoundLoopsOnly(Situation s)
    {
        var (privates, publics) = Concerned(s);
        var arrived = s.Spread.Arrivals.Where(a => publics.Contains(a.Listener) && privates.Contains(a.Origin)).Select(a => (a.Origin.Point, a.Listener)).ToHashSet();
        foreach (var listener in publics)
        {
            foreach (var origins in privates.Where(o => !arrived.Contains((o.Point, listener))).GroupBy(o => o.Point))
            {
                if (s.Passage.Between(origins, listener) is not { } links || links.SkipLast(1).Any(l => IsPublic(l.To, s)))
                {
                    continue;
                }

                var (way, origin) = (new SoundPath(links, double.NaN, 0), origins.First());
                var (what, where, through) = (s.NameOf(origin), s.NameOf(listener), s.Through(way, origin));
                yield return new Finding(
                    FindingKind.Leak,
                    $"leak {origin.Point} {listener}",
                    Harm.Serious,
                    $"{what} is private and reaches {where} round a loop{(through.IsEmpty ? "" : $" through {string.Join(", ", through)}")}: the audience hears it, however softly.",
                    [listener, .. s.SourceOf(origin) is { } source ? [new SourcePoint(source.Id)] : new[] { origin.Point }],
                    Cuts.Along(way, s));
            }
        }
    }

    private static IEnumerable<Finding> ByTheStrongestWay(Situation s)
    {
        var (privates, publics) = Concerned(s);
        var leaks = s.Spread.Arrivals.Where(a => publics.Contains(a.Listener) && privates.Contains(a.Origin));
        foreach (var arrival in leaks.GroupBy(a => (a.Origin.Point, a.Listener)).Select(g => g.MaxBy(a => a.GainDecibels)))
        {
            // What goes through the viewers' mix is told there.
            if (s.Spread.WayTo(arrival.Origin, arrival.Listener) is not { } way || way.Links.SkipLast(1).Any(l => IsPublic(l.To, s)))
            {
                continue;
            }

            var (what, where, through) = (s.NameOf(arrival.Origin), s.NameOf(arrival.Listener), s.Through(way, arrival.Origin));
            var level = arrival.GainDecibels > -0.05 ? "" : $", {Situation.Decibels(arrival.GainDecibels)} down";
            yield return new Finding(
                FindingKind.Leak,
                $"leak {arrival.Origin.Point} {arrival.Listener}",
                Harm.Serious,
                $"{what} is private and reaches {where}{(through.IsEmpty ? "" : $" through {string.Join(", ", through)}")}{level}: the audience hears it.",
                [arrival.Listener, .. s.SourceOf(arrival.Origin) is { } source ? [new SourcePoint(source.Id)] : new[] { arrival.Origin.Point }],
                Cuts.Along(way, s));
        }
    }

    private static (HashSet<Origin> Privates, HashSet<Point> Publics) Concerned(Situation s) =>
        ([.. s.Spread.Origins.Where(o => IsPrivate(o, s))], [.. s.Spread.Listeners.Where(l => IsPublic(l, s))]);

    // The audience hears the viewers' mix, any that a stream takes, on air or not, and whatever a program gets that sends it on.
    private static bool IsPublic(Point listener, Situation s) => listener switch
    {
        MixPoint { Tap: Tap.AfterChain } mix => s.Rig.IsForMany(mix.Id),
        AppPoint port => s.Gear.Find(port.Id) is { Kind: Gear.AppKind.Encoder },
        _ => false,
    };

    private static bool IsPrivate(Origin origin, Situation s) =>
        s.SourceOf(origin) is { } source ? source.Kind == SourceKind.Chat : origin.Point is AppPoint port && s.Gear.Find(port.Id) is { Kind: Gear.AppKind.Chat };
}

using System.Collections.Immutable;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Findings;

/// <summary>What would be lost if something went: who would hear nothing, whom nobody would hear, and who would get something else instead.</summary>
public static class Losses
{
    private readonly record struct Heard(Point Listener, string What);

    /// <summary>What somebody hears in one situation and not in another, the worst first. Pure.</summary>
    /// <param name="before">With it.</param>
    /// <param name="after">Without it.</param>
    /// <returns>Sentences; none: nobody hears anything otherwise.</returns>
    public static ImmutableArray<string> Between(Situation before, Situation after)
    {
        ArgumentNullException.ThrowIfNull(before);
        ArgumentNullException.ThrowIfNull(after);
        var (was, still) = (In(before), In(after));
        var lost = was.Where(h => !still.Contains(h)).ToList();
        var (listening, sounding) = (still.Select(h => h.Listener).ToHashSet(), still.Select(h => h.What).ToHashSet());
        return
        [
            .. Unheard(lost.Where(h => !sounding.Contains(h.What)), before),
            .. Deaf([.. lost.Select(h => h.Listener).Distinct().Where(l => !listening.Contains(l))], before),
            .. Fewer(lost.Where(h => sounding.Contains(h.What) && listening.Contains(h.Listener)), before, "no longer gets"),
            .. Fewer(still.Where(h => !was.Contains(h)), after, "gets, and did not before,"),
            .. after.Findings.Where(f => f.Kind is FindingKind.MixNowhere or FindingKind.CableUnheard && !before.Findings.Any(o => o.Key == f.Key)).Select(f => f.Sentence),
        ];
    }

    private static HashSet<Heard> In(Situation s) => [.. s.Heard.Select(a => new Heard(a.Listener, s.NameOf(a.Origin)))];

    // Those who came to the same listeners, in one sentence.
    private static IEnumerable<string> Unheard(IEnumerable<Heard> lost, Situation s)
    {
        var sounds = lost.GroupBy(h => h.What).Select(g => (What: g.Key, Listeners: All([.. g.Select(h => Name(h.Listener, s)).Distinct()]))).GroupBy(x => x.Listeners);
        foreach (var same in sounds)
        {
            var names = same.Select(x => x.What).ToList();
            yield return $"Nobody hears {All(names)} any more; until now {same.Key} got {(names.Count == 1 ? "it" : "them")}.";
        }
    }

    private static IEnumerable<string> Deaf(IReadOnlyList<Point> listeners, Situation s)
    {
        foreach (var kind in listeners.GroupBy(l => l switch { MixPoint => "silent", DevicePoint => "plays", _ => "hears" }))
        {
            var names = kind.Select(l => Name(l, s)).Distinct().ToList();
            var one = names.Count == 1;
            yield return kind.Key switch
            {
                "silent" => $"{All(names)} {(one ? "is" : "are")} silent.",
                "plays" => $"{All(names)} {(one ? "plays" : "play")} nothing any more.",
                _ => $"{All(names)} {(one ? "hears" : "hear")} nothing any more.",
            };
        }
    }

    private static IEnumerable<string> Fewer(IEnumerable<Heard> those, Situation s, string verb) =>
        those.GroupBy(h => h.Listener).Select(g => $"{Name(g.Key, s)} {verb} {All([.. g.Select(h => h.What).Distinct()])}.");

    // Within a list a comma would part a program from which of its inputs it is.
    private static string Name(Point listener, Situation s)
    {
        var (name, full) = (s.NameOf(listener), s.NameInFull(listener));
        return full == name ? name : $"{name} ({full[(name.Length + 2)..]})";
    }

    // Each by name: whoever asks what would be lost wants to know all of it.
    private static string All(List<string> names) => names.Count == 1 ? names[0] : $"{string.Join(", ", names.Take(names.Count - 1))} and {names[^1]}";
}

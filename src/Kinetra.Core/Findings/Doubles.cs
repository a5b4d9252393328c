using System.Collections.Immutable;
using Kinetra.Core.Gear;
using Kinetra.Core.Rigs;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Findings;

/// <summary>A sound that comes twice: which two ways, how far apart, and what that does to it.</summary>
static class Doubles
{
    /// <summary>A second way that is softer than the first by more is not told, dB.</summary>
    public const double NotBelow = -60;

    // From here on up it is plainly heard.
    private const double Plain = -30;

    /// <summary>
    /// One for what has one cause: a sound that two sources bring to several mixes; sounds that two mixes bring to one device.
    /// </summary>
    public static IEnumerable<Finding> In(Situation s)
    {
        var all = new Dictionary<(Point, Point, Point, bool), Alike>();
        var together = s.Spread.Meetings.Select(m => (m.Origin, m.At)).ToHashSet();
        foreach (var meeting in s.Spread.Meetings)
        {
            for (var w = 1; w < meeting.Ways.Length; w++)
            {
                var two = new SoundDouble(meeting.Ways[0], meeting.Ways[w]);
                if (two.LevelDecibels < NotBelow)
                {
                    continue;
                }

                var (one, other) = (two.Louder.Links[^1].From, two.Other.Links[^1].From);
                var (first, second) = s.Routed.Wiring.PlaceOf(one) < s.Routed.Wiring.PlaceOf(other) ? (one, other) : (other, one);
                var cause = (meeting.At is MixPoint ? meeting.Origin.Point : meeting.At, first, second, IsRaw(two, s, meeting.Origin));
                if (!all.TryGetValue(cause, out var same))
                {
                    all[cause] = same = new Alike();
                }

                same.Add(meeting, two);
            }
        }

        return all.Select(g => Told(g.Key, g.Value, s, together)).OrderByDescending(f => f.Level).Select(f => f.Finding);
    }

    private static (double Level, Finding Finding) Told((Point About, Point One, Point Other, bool IsRaw) cause, Alike same, Situation s, HashSet<(Origin, Point)> together)
    {
        var (meeting, two) = same.Loudest;
        var isRaw = cause.IsRaw;
        var (origins, places) = (same.Origins, same.Places);
        var sounds = origins.Select(s.NameOf).Distinct().ToList();

        // From one place by two links: those make it two, whatever else comes by them.
        var areParallel = cause.One == cause.Other && !ReferenceEquals(two.Louder.Links[^1], two.Other.Links[^1]);
        Fix?[] apart = areParallel ? [Cuts.Of(two.Other.Links[^1], s), Cuts.Of(two.Louder.Links[^1], s)]
            : sounds.Count > 1
            ? [Cuts.ApartForAll(two.Other, two.Louder, s, AnyTogether), Cuts.ApartForAll(two.Louder, two.Other, s, AnyTogether)]
            : [Cuts.Together([.. same.Pairs.Select(d => Apart(d.Meeting, d.Two.Other, d.Two.Louder))]), Cuts.Together([.. same.Pairs.Select(d => Apart(d.Meeting, d.Two.Louder, d.Two.Other))])];
        return (two.LevelDecibels, new Finding(
            isRaw ? FindingKind.RawBeside : FindingKind.Twice,
            $"{(isRaw ? "raw" : "twice")} {cause.About} {cause.One} {cause.Other}",
            two.LevelDecibels < Plain ? Harm.Slight : Harm.Serious,
            Sentence(Situation.Listed(sounds), sounds.Count > 1, Situation.Listed([.. places.Select(d => s.NameOf(d.Meeting.At))]), meeting, two, isRaw, s),
            [.. places.Select(d => Seen(d.Meeting.At)), .. origins.Select(o => s.SourceOf(o) is { } source ? new SourcePoint(source.Id) : o.Point).Distinct()],
            [.. apart.OfType<Fix>().DistinctBy(f => f.Label).OrderBy(Cuts.Breadth)]));

        bool AnyTogether(Point at) => origins.Exists(o => together.Contains((o, at)));

        Fix? Apart(Meeting of, SoundPath way, SoundPath other) => Cuts.Apart(way, other, s, at => together.Contains((of.Origin, at)));
    }

    /// <summary>All that has one cause. There can be a thousand of them: each is looked at once.</summary>
    private sealed class Alike
    {
        /// <summary>The one whose second way is the loudest.</summary>
        public (Meeting Meeting, SoundDouble Two) Loudest { get; private set; }

        /// <summary>What comes twice, each once: one follows the other.</summary>
        public List<Origin> Origins { get; } = [];

        /// <summary>The first for each place.</summary>
        public List<(Meeting Meeting, SoundDouble Two)> Places { get; } = [];

        /// <summary>Those, and what else comes twice with the first at its place: what ends the one may leave the other.</summary>
        public List<(Meeting Meeting, SoundDouble Two)> Pairs { get; } = [];

        public void Add(Meeting meeting, SoundDouble two)
        {
            if (Loudest.Two is null || two.LevelDecibels > Loudest.Two.LevelDecibels)
            {
                Loudest = (meeting, two);
            }

            if (Origins.Count == 0 || Origins[^1] != meeting.Origin)
            {
                Origins.Add(meeting.Origin);
            }

            foreach (var place in Places)
            {
                if (place.Meeting.At == meeting.At)
                {
                    if (ReferenceEquals(place.Meeting, meeting))
                    {
                        Pairs.Add((meeting, two));
                    }

                    return;
                }
            }

            Places.Add((meeting, two));
            Pairs.Add((meeting, two));
        }
    }

    // What a person looks at, where two ways meet inside of it.
    private static Point Seen(Point at) => at switch
    {
        MixPoint mix => new MixPoint(mix.Id),
        SourcePoint source => new SourcePoint(source.Id),
        _ => at,
    };

    // One of both goes through what its person made of a microphone, the other around it.
    private static bool IsRaw(SoundDouble two, Situation s, Origin origin) =>
        (origin.Point is DevicePoint { Side: Side.In } || s.SourceOf(origin) is { Kind: SourceKind.Microphone })
        && IsProcessed(two.Louder) != IsProcessed(two.Other);

    private static bool IsProcessed(SoundPath way) => way.Links.Any(l => l.To is SourcePoint { Tap: Tap.AfterChain } && l.Chain.Any(p => !p.Bypassed));

    private static string Sentence(string what, bool isSeveral, string where, Meeting meeting, SoundDouble two, bool isRaw, Situation s)
    {
        var twice = meeting.At switch
        {
            MixPoint => $"{what} reaches {where} twice",
            AppPoint or SourcePoint => $"{where} gets {what} twice",
            CablePoint => $"{what} {(isSeveral ? "are" : "is")} in {where} twice",
            _ => $"{what} {(isSeveral ? "are" : "is")} heard twice at {where}",
        };
        var apart = Math.Abs(two.DelayMilliseconds) < 0.02
            ? $"{twice} at the same moment: it is {Situation.Decibels(two.CoherentDecibels)} louder than it should be"
            : $"{twice}, {Situation.Milliseconds(two.DelayMilliseconds)} apart: {(two.IsEcho ? "it will sound like an echo" : $"it will sound hollow, with a first dip {Depth(two)} at {Situation.Hertz(two.NotchHertz!.Value)}")}";
        var softer = two.LevelDecibels > -0.05 ? "just as loud" : $"{Situation.Decibels(two.LevelDecibels)} softer";
        return isRaw
            ? $"{apart}. One is what its chain makes of it, the other is raw: {Way(two.Louder, meeting.Origin, s)}, and {Way(two.Other, meeting.Origin, s)}, {softer}."
            : $"{apart}. Once {Way(two.Louder, meeting.Origin, s)}, once {Way(two.Other, meeting.Origin, s)}, {softer}.";
    }

    private static string Depth(SoundDouble two) => two.NotchDecibels < NotBelow ? "to nothing" : $"of {Situation.Decibels(two.NotchDecibels)}";

    private static string Way(SoundPath way, Origin origin, Situation s) => way.Links switch
    {
        [{ From: DevicePoint { Side: Side.In } input, To: DevicePoint { Side: Side.Out } output }] when input.Id == output.Id => "by direct monitoring",
        _ when s.Through(way, origin) is { IsEmpty: false } through => $"through {string.Join(", ", through)}",
        _ => "straight",
    };
}

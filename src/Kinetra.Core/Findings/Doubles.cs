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

    public static IEnumerable<Finding> In(Situation s)
    {
        // The channels of one program or of one pair of inputs go the same ways: they are told once.
        var meetings = s.Spread.Meetings
            .SelectMany(m => m.Ways.Skip(1).Select(w => (Meeting: m, Double: new SoundDouble(m.Ways[0], w))))
            .Where(d => d.Double.LevelDecibels >= NotBelow)
            .GroupBy(d => $"{d.Meeting.Origin.Point} {d.Meeting.At} {Text(d.Double.Louder)} {Text(d.Double.Other)}")
            .Select(g => g.MaxBy(d => d.Double.LevelDecibels));
        foreach (var (meeting, two) in meetings.OrderByDescending(d => d.Double.LevelDecibels))
        {
            var isRaw = IsRaw(two, s, meeting.Origin);
            yield return new Finding(
                isRaw ? FindingKind.RawBeside : FindingKind.Twice,
                $"double {meeting.Origin.Point} {meeting.At} {string.Join(' ', new[] { Text(two.Louder), Text(two.Other) }.Order())}",
                two.LevelDecibels < Plain ? Harm.Slight : Harm.Serious,
                Sentence(meeting, two, isRaw, s),
                [Seen(meeting.At), .. s.SourceOf(meeting.Origin) is { } source ? [new SourcePoint(source.Id)] : ImmutableArray.Create(meeting.Origin.Point)],
                [.. new[] { Cuts.Apart(two.Other, two.Louder, s), Cuts.Apart(two.Louder, two.Other, s) }.OfType<Fix>()]);
        }
    }

    private static string Text(SoundPath way) => string.Join('>', way.Links.Select(l => l.Via ?? l.To));

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

    private static string Sentence(Meeting meeting, SoundDouble two, bool isRaw, Situation s)
    {
        var (what, where) = (s.NameOf(meeting.Origin), s.NameOf(meeting.At));
        var twice = meeting.At switch
        {
            MixPoint => $"{what} reaches {where} twice",
            AppPoint or SourcePoint => $"{where} gets {what} twice",
            CablePoint => $"{what} is in {where} twice",
            _ => $"{what} is heard twice at {where}",
        };
        var apart = Math.Abs(two.DelayMilliseconds) < 0.02
            ? $"{twice} at the same moment: it is {Situation.Decibels(two.CoherentDecibels)} louder than it should be"
            : $"{twice}, {Situation.Milliseconds(two.DelayMilliseconds)} apart: {(two.IsEcho ? "it will sound like an echo" : $"it will sound hollow, with a first dip at {Situation.Hertz(two.NotchHertz!.Value)}")}";
        var softer = two.LevelDecibels > -0.05 ? "just as loud" : $"{Situation.Decibels(two.LevelDecibels)} softer";
        return isRaw
            ? $"{apart}. One is what its chain makes of it, the other is raw: {Way(two.Louder, meeting.Origin, s)}, and {Way(two.Other, meeting.Origin, s)}, {softer}."
            : $"{apart}. Once {Way(two.Louder, meeting.Origin, s)}, once {Way(two.Other, meeting.Origin, s)}, {softer}.";
    }

    private static string Way(SoundPath way, Origin origin, Situation s) => way.Links switch
    {
        [{ From: DevicePoint { Side: Side.In } input, To: DevicePoint { Side: Side.Out } output }] when input.Id == output.Id => "by direct monitoring",
        _ when s.Through(way, origin) is { IsEmpty: false } through => $"through {string.Join(", ", through)}",
        _ => "straight",
    };
}

using Kinetra.Core.Gear;
using Kinetra.Core.Rigs;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Findings;

/// <summary>Somebody hears himself: who is far away, in what he is sent; who is here, late, in his own ears.</summary>
static class SelfHearing
{
    /// <summary>From here on one's own voice is late enough to hinder speaking, ms.</summary>
    public const double LateMilliseconds = 10;

    public static IEnumerable<Finding> In(Situation s) => OfPrograms(s).Concat(OfMixes(s)).Concat(OwnVoice(s));

    private static IEnumerable<Finding> OfPrograms(Situation s)
    {
        var back = s.Spread.Arrivals.Where(a => a.Origin.Point is AppPoint from && a.Listener is AppPoint to && from.Id == to.Id && a.GainDecibels >= Doubles.NotBelow);
        foreach (var arrival in back.GroupBy(a => (a.Origin.Point, a.Listener)).Select(g => g.MaxBy(a => a.GainDecibels)))
        {
            var (from, to) = ((AppPoint)arrival.Origin.Point, (AppPoint)arrival.Listener);
            if (s.Gear.Find(from.Id) is not { Kind: AppKind.Call or AppKind.Chat } app || s.Spread.WayTo(arrival.Origin, to) is not { } way)
            {
                continue;
            }

            var through = s.Through(way, arrival.Origin);
            var late = Math.Max(0, arrival.DelayFrames) * 1_000.0 / AudioFormat.SampleRate;
            yield return new Finding(
                FindingKind.SelfHearing,
                $"self {from} {to}",
                arrival.GainDecibels < -40 ? Harm.Noticeable : Harm.Serious,
                $"Those on {app.Name} hear their own voice{(through.IsEmpty ? "" : $" through {string.Join(", ", through)}")}, {Level(arrival.GainDecibels)}, {Situation.Milliseconds(late)} late on this side alone: it is hard to speak against.",
                [.. way.Links.Select(l => l.Via).OfType<SendPoint>().Take(1).Select(p => new MixPoint(p.Mix)), to, .. s.SourceOf(arrival.Origin) is { } source ? [new SourcePoint(source.Id)] : Array.Empty<Point>()],
                Cuts.Along(way, s));
        }
    }

    // A call that comes from elsewhere, a browser's tab say: the one mix that is made for its far side must leave it out.
    private static IEnumerable<Finding> OfMixes(Situation s)
    {
        var calls = s.Rig.Sources.Where(c => c.Kind == SourceKind.Call).ToList();
        if (calls is not [{ Input: not AppInput } call])
        {
            yield break;
        }

        foreach (var mix in s.Rig.Mixes.Where(m => m.Purpose == MixPurpose.Guest && m.Sends.Any(d => d.Source == call.Id && d.Factor != 0)))
        {
            yield return new Finding(
                FindingKind.SelfHearing,
                $"self {call.Id} {mix.Id}",
                Harm.Serious,
                $"{call.Name} is in {mix.Name}, which is what the caller is sent: the caller hears that own voice late, and it is hard to speak against.",
                [new MixPoint(mix.Id), new SourcePoint(call.Id)],
                [new Fix($"Leave {call.Name} out of {mix.Name}", new Editing.SetSend(mix.Id, call.Id, Heard: false))]);
        }
    }

    private static IEnumerable<Finding> OwnVoice(Situation s)
    {
        var told = new HashSet<(SourceId, MixId)>();
        foreach (var arrival in s.Spread.Arrivals)
        {
            var late = arrival.DelayFrames * 1_000.0 / AudioFormat.SampleRate;
            if (late >= LateMilliseconds && arrival is { GainDecibels: > -40, Listener: MixPoint mix } && s.Rig.Find(mix.Id) is { Purpose: MixPurpose.MyEars } ears
                && s.SourceOf(arrival.Origin) is { Kind: SourceKind.Microphone } voice && s.Rig.Find(mix.Id, voice.Id) is { Factor: not 0 } && told.Add((voice.Id, mix.Id)))
            {
                yield return new Finding(
                    FindingKind.LateVoice,
                    $"late {voice.Id} {mix.Id}",
                    Harm.Slight,
                    $"{voice.Name} comes to {ears.Name} {Situation.Milliseconds(late)} late: who speaks and hears it there will stumble over it.",
                    [mix, new SourcePoint(voice.Id)],
                    [new Fix($"Leave {voice.Name} out of {ears.Name}", new Editing.SetSend(mix.Id, voice.Id, Heard: false))]);
            }
        }
    }

    private static string Level(double decibels) => decibels > -0.05 ? "as loud as it comes" : $"{Situation.Decibels(decibels)} softer";
}

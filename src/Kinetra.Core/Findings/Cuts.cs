using System.Collections.Immutable;
using Kinetra.Core.Editing;
using Kinetra.Core.Gear;
using Kinetra.Core.Rigs;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Findings;

/// <summary>What ends a way: the links of it that a person can part with.</summary>
static class Cuts
{
    /// <summary>The change that lets nothing more through a link, or null where nobody can: air, a microphone's own cord.</summary>
    public static Fix? Of(Link link, Situation s)
    {
        switch (link)
        {
            case { Via: SendPoint send }:
                return new($"Leave {s.Rig.NameOf(new SourcePoint(send.Source))} out of {s.Rig.NameOf(new MixPoint(send.Mix))}", new SetSend(send.Mix, send.Source, Heard: false));

            case { Via: DestinationPoint to }:
                return new($"No longer give {s.Rig.NameOf(new MixPoint(to.Mix))} to {s.NameOf(link.To)}", new SetDestination(to.Mix, to.Id, On: false));

            case { To: CablePoint cable, Realm: Realm.Engine }:
                return new($"No longer play {s.NameOf(link.From)} into {s.NameOf(cable)}", new SetCableFeed(cable.Id, link.From, On: false));

            case { From: DevicePoint { Side: Side.In } input, To: DevicePoint { Side: Side.Out } output } when input.Id == output.Id:
                return new($"Turn {s.NameOf(output)}’s direct monitoring off", Computer: new SetDevice(output.Id, IsMonitoring: false));

            case { From: AppPoint from, To: AppPoint to } when s.Gear.Find(from.Id) is { EvensVoices: false } app && app.Passes.Any(p => p.IsEcho && p.From == from.Port && p.To == to.Port):
                return new($"Let {app.Name} remove its echo", Computer: new SetApp(app.Id, EvensVoices: true));

            case { From: AppPoint from, To: DevicePoint or CablePoint }:
                return Alone(from, s) ?? Nothing(from, s, "play into nothing");

            case { To: AppPoint to, From: DevicePoint or CablePoint }:
                return Nothing(to, s, "hear nothing");

            default:
                return null;
        }
    }

    /// <summary>
    /// What ends one way and leaves another as it is: of all that only the first goes through, what takes the fewest others with it, and of those what is
    /// nearest to where both meet. Before a place where the sound comes together from elsewhere, too, nothing ends it.
    /// </summary>
    public static Fix? Apart(SoundPath way, SoundPath other, Situation s, Predicate<Point> comesTogether)
    {
        for (var breadth = 0; breadth <= Widest; breadth++)
        {
            foreach (var link in Apart(way, other, comesTogether))
            {
                if (Breadth(link) == breadth && Of(link, s) is { } fix)
                {
                    return fix;
                }
            }
        }

        return null;
    }

    /// <summary>The same for all sounds that go both ways: what is nearest to where they meet.</summary>
    public static Fix? ApartForAll(SoundPath way, SoundPath other, Situation s, Predicate<Point> comesTogether) =>
        Apart(way, other, comesTogether).Select(l => Of(l, s)).FirstOrDefault(f => f is not null);

    private static IEnumerable<Link> Apart(SoundPath way, SoundPath other, Predicate<Point> comesTogether)
    {
        for (var i = way.Links.Length - 1; i >= 0; i--)
        {
            if (!IsOn(other, way.Links[i]))
            {
                yield return way.Links[i];
            }

            if (comesTogether(way.Links[i].From))
            {
                yield break;
            }
        }
    }

    private static bool IsOn(SoundPath way, Link link)
    {
        foreach (var other in way.Links)
        {
            if (ReferenceEquals(other, link))
            {
                return true;
            }
        }

        return false;
    }

    private const int Widest = 2;

    // As a fix's, before there is one.
    private static int Breadth(Link link) => link switch
    {
        { Via: SendPoint } or { From: AppPoint, To: AppPoint } => 0,
        { From: AppPoint, To: DevicePoint or CablePoint } or { From: DevicePoint { Side: Side.In }, To: DevicePoint { Side: Side.Out } } => 1,
        _ => Widest,
    };

    /// <summary>What ends a way: the two that take the fewest others with them, what is nearest to its end first.</summary>
    public static ImmutableArray<Fix> Along(SoundPath way, Situation s) =>
        [.. way.Links.Reverse().Select(l => Of(l, s)).OfType<Fix>().OrderBy(Breadth).Take(2)];

    /// <summary>One fix of several that each end the same elsewhere; null: for one of them there is none, or they do not go together.</summary>
    public static Fix? Together(ImmutableArray<Fix?> fixes)
    {
        var different = fixes.OfType<Fix>().DistinctBy(f => f.Label).ToList();
        if (different.Count == 0 || fixes.Any(f => f is null))
        {
            return null;
        }

        return different.Count == 1
            ? different[0]
            : different.TrueForAll(f => f.Show is SetSend)
                ? new Fix($"{different[0].Label} and {(different.Count == 2 ? "one other" : $"{different.Count - 1} others")}", new Several([.. different.Select(f => f.Show!)]))
                : null;
    }

    /// <summary>How much else goes with what a fix ends, the least first: this sound for this listener; this sound elsewhere; a whole mix or program.</summary>
    public static int Breadth(Fix fix) => fix switch
    {
        { Show: SetSend or Several } or { Computer: SetApp { EvensVoices: not null } } => 0,
        { Show: SetSource } or { Computer: SetDevice } => 1,
        _ => 2,
    };

    // A source takes it: then it need not play elsewhere too.
    private static Fix? Alone(AppPoint from, Situation s)
    {
        foreach (var source in s.Rig.Sources)
        {
            if (source.Input is AppInput { StillPlays: true } tap && tap.App == from.Id && (tap.Port is null || tap.Port == from.Port))
            {
                return new($"Hear {source.Name} through the desk alone", new SetSource(source.Id, Input: tap with { StillPlays = false }));
            }

            if (source.Input is EverythingElseInput { StillPlays: true } rest && CatchAll.Of(s.Rig, s.Gear).Contains(from))
            {
                return new($"Hear {source.Name} through the desk alone", new SetSource(source.Id, Input: rest with { StillPlays = false }));
            }
        }

        return null;
    }

    private static Fix? Nothing(AppPoint port, Situation s, string what) =>
        s.Gear.Find(port.Id) is { } app && app.Find(port.Port) is { IsFixed: false }
            ? new($"Let {app.Name} {what}", Computer: new SetPort(port.Id, port.Port, new NoEnd()))
            : null;
}

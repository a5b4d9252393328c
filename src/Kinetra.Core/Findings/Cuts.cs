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
    /// What ends one way and leaves another as it is: of all that only the first goes through, what a person can part with that is nearest to where
    /// both meet, since that is what fewest others hear.
    /// </summary>
    public static Fix? Apart(SoundPath way, SoundPath other, Situation s) =>
        way.Links.Except(other.Links).Reverse().Select(l => Of(l, s)).FirstOrDefault(f => f is not null);

    /// <summary>What ends a way: what is nearest to its end, and what is nearest to its beginning.</summary>
    public static ImmutableArray<Fix> Along(SoundPath way, Situation s)
    {
        var all = way.Links.Reverse().Select(l => Of(l, s)).OfType<Fix>().ToList();

        // A send ends no more than this sound for this listener; all else takes others with it.
        return [.. all.OrderByDescending(f => f.Show is SetSend).Take(2)];
    }

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

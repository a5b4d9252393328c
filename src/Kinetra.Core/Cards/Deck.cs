using System.Collections.Immutable;
using Kinetra.Core.Editing;
using Kinetra.Core.Findings;
using Kinetra.Core.Gear;
using Kinetra.Core.Rigs;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Cards;

/// <summary>
/// What to pick where, program by program. Pure. A program takes part where the show wants something of it, takes its sound, or is joined to it by
/// a cable. What a port must be: what the show wants; or else what it is, where that is right by itself.
/// </summary>
public static class Deck
{
    private const string SystemPanel = "in the system’s sound panel";

    /// <summary>All cards: the computer's, where the show wants defaults; then one for each program that takes part, as the computer lists them.</summary>
    public static ImmutableArray<Card> Of(Situation s)
    {
        ArgumentNullException.ThrowIfNull(s);
        var cards = ImmutableArray.CreateBuilder<Card>();
        if (!s.Rig.Wishes.Roles.IsEmpty)
        {
            cards.Add(new Card(null, "The computer", "Its defaults, as this show wants them.", [.. s.Rig.Wishes.Roles.OrderBy(w => w.Role).Select(w => OfDefault(w.Role, w.End, s))]));
        }

        // What sends into a cable by its address is set where it runs.
        cards.AddRange(s.Gear.Apps.Where(a => a.Kind != Gear.AppKind.Sender).Select(app => new Program(app, s)).Select(p => p.Card()).OfType<Card>());
        return cards.ToImmutable();
    }

    /// <summary>Cards as plain text, to copy or to send.</summary>
    public static string TextOf(IEnumerable<Card> cards)
    {
        ArgumentNullException.ThrowIfNull(cards);
        return string.Join("\n\n", cards.Select(c => string.Join('\n', c.Picks.SelectMany(LinesOf).Prepend($"{c.Title}: {c.Why}"))));

        static IEnumerable<string> LinesOf(Pick p) =>
        [
            p.State == PickState.Wrong ? $"[ ] {p.What} must be {p.Wanted}. Now it is {p.Now}." : $"[{(p.State == PickState.Right ? "x" : "?")}] {p.What}: {p.Now}.",
            .. p.Where is { } where && p.State != PickState.Right ? [$"    Usually {where}."] : Array.Empty<string>(),
            .. p.Notes.Select(n => $"    {n}"),
        ];
    }

    private static Pick OfDefault(Role role, Point end, Situation s)
    {
        var side = role is Role.Playback or Role.CallsPlayback ? Side.Out : Side.In;
        var (now, wanted, isThere) = (s.Gear.DefaultOf(role), NameIn(end, side, s), s.Gear.IsThere(end, s.Has));
        var unmet = s.Unmet.FirstOrDefault(u => u.Role == role);
        return new Pick(
            $"role/{role}",
            PickKind.Default,
            now == end && isThere ? PickState.Right : PickState.Wrong,
            $"The default for {Sentences.Words(role)}",
            wanted,
            now is null ? "nothing" : $"{NameIn(now, side, s)}{(now == end && !isThere ? ", which is not there" : "")}",
            SystemPanel,
            unmet?.Obstacle is { } obstacle ? [obstacle] : isThere ? [] : [Away(wanted)],
            unmet is { Obstacle: null } && isThere ? new Fix($"Make {wanted} the default for {Sentences.Words(role)}", Computer: Fulfilment.ChangeFor(unmet)) : null);
    }

    private static string Away(string name) => $"{name} is not there: it is unplugged, or something has it for itself.";

    /// <summary>What a program's list calls an end: a cable has another name at each of its ends.</summary>
    private static string NameIn(Point end, Side side, Situation s) => end is CablePoint cable
        ? s.Rig.Find(cable.Id) is { } found ? side == Side.Out ? CableNames.Into(found.Name) : CableNames.OutOf(found.Name) : "a cable that is gone"
        : s.Gear.NameOf(end) ?? "a device that is not known";

    private sealed class Program(App app, Situation s)
    {
        private readonly ImmutableArray<Link> _links = [.. s.Routed.Wiring.Links.Where(l => l.Use == LinkUse.Sound && ((l.From is AppPoint from && from.Id == app.Id) || (l.To is AppPoint to && to.Id == app.Id)))];

        public Card? Card()
        {
            var ports = app.Ports.Where(TakesPart).ToList();
            if (ports.Count == 0)
            {
                return null;
            }

            var picks = ImmutableArray.CreateBuilder<Pick>();
            if (!app.IsRunning)
            {
                picks.Add(new Pick("running", PickKind.Running, PickState.Wrong, "It", "running", "not running", null, [], new Fix($"Start {app.Name}", Computer: new SetApp(app.Id, IsRunning: true))));
            }

            picks.AddRange(ports.Select(Of));
            if (app.EvensVoices is { } evens && ports.FirstOrDefault(p => p.Side == Side.In) is { } ear)
            {
                // What it will hear once it is picked, not what it hears instead.
                picks.Add(OwnProcessing(evens, s.Rig.Wishes.Find(app.Id, ear.Id)?.Choice is ChosenEnd { End: var end } ? end : new AppPoint(app.Id, ear.Id)));
            }

            if (ports.Any(p => p.Side == Side.Out))
            {
                var full = app.Volume == Gain.Unity;
                picks.Add(new Pick(
                    "volume",
                    PickKind.Fader,
                    full ? PickState.Right : PickState.Wrong,
                    "Its own volume",
                    "full, 0 dB",
                    full ? "full, 0 dB" : app.Volume.ToString(),
                    "in its main window",
                    full ? [] : ["Levels are set at the desk: what is turned down there comes with more noise, and changes all mixes at once."],
                    full ? null : new Fix($"Turn {app.Name} up to full", Computer: new SetApp(app.Id, Volume: Gain.Unity))));
            }

            return new Card(app.Id, app.Name, Why(ports), picks.ToImmutable());
        }

        private bool TakesPart(AppPort port) =>
            s.Rig.Wishes.Find(app.Id, port.Id) is not null
            || TakerOf(port) is not null
            || _links.Any(l => (l.From == PointOf(port) && l.To is CablePoint) || (l.To == PointOf(port) && l.From is CablePoint));

        private AppPoint PointOf(AppPort port) => new(app.Id, port.Id);

        /// <summary>The source that takes an output where it plays, whether or not the program runs now.</summary>
        private Source? TakerOf(AppPort port) => port.Side != Side.Out ? null
            : s.Rig.Sources.FirstOrDefault(o => o.Input is AppInput tap && tap.App == app.Id && (tap.Port is null || tap.Port == port.Id))
                ?? (_links.FirstOrDefault(l => l.From == PointOf(port) && l.To is SourcePoint)?.To is SourcePoint taken ? s.Rig.Find(taken.Id) : null);

        private Pick Of(AppPort port)
        {
            var (what, end) = (What(port), s.Gear.EndOf(app, port, s.Has));
            var (kind, now) = (port.Side == Side.Out ? PickKind.Output : PickKind.Input, Set(port, end));
            if (s.Rig.Wishes.Find(app.Id, port.Id) is { } wish)
            {
                return Wished(port, wish.Choice, kind, what, now, end?.End);
            }

            if (TakerOf(port) is { } taker)
            {
                var still = _links.Any(l => l.From == PointOf(port) && l.To is DevicePoint && l.State == LinkState.On);
                return new Pick(
                    $"port/{port.Id}", kind, PickState.Right, what, "as it is", now, null,
                    [
                        .. port.IsFixed ? ["No choice there: it follows the default."] : Array.Empty<string>(),
                        still ? $"Nothing to pick: the desk takes it as {taker.Name} where it plays, and it still plays there." : $"Nothing to pick: the desk takes it as {taker.Name}, and it plays nowhere else.",
                    ],
                    null);
            }

            return new Pick(
                $"port/{port.Id}", kind, PickState.Right, what, now, now, app.Where, ["It is so now; the show does not ask for it yet."],
                new Fix($"Want {app.Name} so with this show", Show: new WishPort(app.Id, port.Id, port.Choice)));
        }

        private Pick Wished(AppPort port, EndChoice choice, PickKind kind, string what, string now, Point? end)
        {
            var notes = ImmutableArray.CreateBuilder<string>();
            var unmet = s.Unmet.FirstOrDefault(u => u.App == app.Id && u.Port == port.Id);
            if (port.IsFixed)
            {
                // Only the computer's default can be another, and then for all that follow it.
                var role = GearState.RoleOf(port.Side, port.Choice is DefaultEnd { Calls: true });
                var right = unmet is null || (choice is ChosenEnd { End: var follows } && s.Gear.DefaultOf(role) == follows);
                notes.Add($"No choice there: it follows the default for {Sentences.Words(role)}, with all else that does.");
                return new Pick(
                    $"port/{port.Id}", kind, right ? PickState.Right : PickState.Wrong, what, Wanted(port, choice), now, SystemPanel, notes.ToImmutable(),
                    !right && choice is ChosenEnd chosen ? new Fix($"Make {NameIn(chosen.End, port.Side, s)} the default for {Sentences.Words(role)}", Computer: new SetDefault(role, chosen.End)) : null);
            }

            // What it is set to counts only where that is there for it.
            var wanted = (choice as ChosenEnd)?.End;
            var sees = wanted is null || app.Sees(wanted) || !s.Gear.IsThere(wanted, s.Has);
            if (!sees)
            {
                notes.Add($"Restart it first: it was running before {Wanted(port, choice)} was there, and cannot find it yet.");
            }

            if (choice is ChosenEnd picked && Channels(port, picked) is { } channels)
            {
                notes.Add(channels);
            }

            var isRight = unmet is null && (wanted is null || wanted == end);
            var change = new SetPort(app.Id, port.Id, choice, Restart: true);
            var obstacle = isRight ? null : change.Apply(s.Gear, CablesNow.Of(s.Rig), default) switch
            {
                GearOutcome.Refused refused => refused.Problem.What,
                GearOutcome.Done { State: var then } when wanted is null || then.EndOf(then.Find(app.Id)!, then.Find(app.Id)!.Find(port.Id)!, s.Has)?.End == wanted => null,
                _ => Away(NameIn(wanted!, port.Side, s)),
            };
            if (obstacle is not null)
            {
                notes.Add(obstacle);
            }

            return new Pick(
                $"port/{port.Id}", kind, isRight ? PickState.Right : PickState.Wrong, what, Wanted(port, choice), now, app.Where ?? "in its sound settings", notes.ToImmutable(),
                isRight || obstacle is not null ? null : new Fix(sees ? $"Set it to {Wanted(port, choice)}" : $"Restart {app.Name}, and set it to {Wanted(port, choice)}", Computer: change));
        }

        // Its ports are told apart only where there is more than one.
        private string What(AppPort port) => (port.Side, app.Ports.Count(p => p.Side == port.Side) > 1) switch
        {
            (Side.Out, false) => "Its output",
            (Side.Out, true) => $"Its output, {Own(port.Name)}",
            (_, false) => "Its input",
            _ => $"Its input, {Own(port.Name)}",
        };

        private static string Own(string name) => name.StartsWith("its ", StringComparison.Ordinal) ? name[4..] : name;

        private string Wanted(AppPort port, EndChoice choice) => choice switch
        {
            ChosenEnd { Channels: { } c } chosen => $"{NameIn(chosen.End, port.Side, s)}, {(c.Right is { } right ? $"channels {c.Left + 1} and {right + 1}" : $"channel {c.Left + 1}")}",
            ChosenEnd chosen => NameIn(chosen.End, port.Side, s),
            DefaultEnd { Calls: true } => "the default for calls",
            DefaultEnd => "the default",
            _ => "nothing",
        };

        private string Set(AppPort port, ChosenEnd? end) => port.Choice switch
        {
            NoEnd => "nothing",
            ChosenEnd chosen when end?.End != chosen.End => $"{Wanted(port, chosen)}, which is not there for it, so {(end is null ? "nothing" : NameIn(end.End, port.Side, s))}",
            DefaultEnd => $"{Wanted(port, port.Choice)}, {(end is null ? "nothing" : NameIn(end.End, port.Side, s))}",
            _ => Wanted(port, port.Choice),
        };

        // Where a program has other channels than what it takes or plays into.
        private string? Channels(AppPort port, ChosenEnd choice)
        {
            var has = s.Routed.Wiring.ChannelsOf(choice.End);
            if (has == 0 || choice.End is not CablePoint || (choice.Channels is null && has == port.Channels))
            {
                return null;
            }

            var uses = choice.Channels is { Right: null } ? 1 : choice.Channels is not null ? 2 : Math.Min(has, port.Channels);
            return (choice.Channels, port.Side) switch
            {
                ({ } c, _) => uses == 1 ? $"Channel {c.Left + 1} of {has}." : $"Channels {c.Left + 1} and {c.Right + 1} of {has}: in a list of pairs, {c.Left + 1}/{c.Right + 1}.",
                (null, Side.In) when port.Intake == Intake.Folded && has > port.Channels => $"It takes {(has == 2 ? "both" : $"all {has}")} channels, folded into {port.Channels}.",
                (null, Side.In) when has > port.Channels => $"It takes {(port.Channels == 1 ? "channel 1" : $"channels 1 to {port.Channels}")} of {has}; the rest falls away.",
                (null, Side.Out) when has > port.Channels && port.Channels > 1 => $"It plays on channels 1 to {port.Channels} of {has}.",
                _ => null,
            };
        }

        // Made for a voice: it takes music for noise, and evens out what was set at the desk.
        private Pick OwnProcessing(bool on, Point ear)
        {
            var into = s.Passage.Into(ear);
            var beds = s.Rig.Sources.Where(o => o.Kind is not (SourceKind.Microphone or SourceKind.Call or SourceKind.Chat) && into.Any(x => x.Point == new SourcePoint(o.Id, Tap.Raw))).Select(o => o.Name).ToList();
            var echo = app.Passes.Any(p => p.IsEcho);
            var state = !on || beds.Count == 0 ? PickState.Right : echo ? PickState.Open : PickState.Wrong;
            return new Pick(
                "voices",
                PickKind.OwnProcessing,
                state,
                "Its own echo removal, levelling and noise reduction",
                beds.Count == 0 ? "on or off" : "off",
                on ? "on" : "off",
                app.Where ?? "in its sound settings",
                (beds.Count, on, echo) switch
                {
                    (0, _, _) => ["Only voices are sent there: it may stay on."],
                    (_, true, true) => [$"{Situation.Listed(beds)} would come out pumping. But it also removes the far side’s echo: have them put headphones on, and then switch it off."],
                    (_, true, false) => [$"{Situation.Listed(beds)} would come out pumping: it takes music for noise."],
                    (_, false, true) => ["The far side needs headphones, or its echo comes back."],
                    _ => [],
                },
                on && beds.Count > 0 ? new Fix($"Switch it off in {app.Name}", Computer: new SetApp(app.Id, EvensVoices: false)) : null);
        }

        private string Why(IReadOnlyList<AppPort> ports)
        {
            var parts = new List<string>();
            var taken = ports.Select(TakerOf).OfType<Source>().Select(o => o.Name).Distinct().ToList();
            if (taken.Count > 0)
            {
                parts.Add($"The desk takes it as {Situation.Listed(taken)}.");
            }

            foreach (var (side, words) in new[] { (Side.Out, "It plays into"), (Side.In, "It hears") })
            {
                var cables = ports.Where(p => p.Side == side && (s.Rig.Wishes.Find(app.Id, p.Id) is not null || _links.Any(l => l.State == LinkState.On && (l.From == PointOf(p) ? l.To : l.From) is CablePoint && (l.From == PointOf(p) || l.To == PointOf(p)))))
                    .Select(p => s.Rig.Wishes.Find(app.Id, p.Id)?.Choice is ChosenEnd { End: CablePoint wished } ? wished : s.Gear.EndOf(app, p, s.Has)?.End as CablePoint)
                    .OfType<CablePoint>().Distinct().Where(c => s.Rig.Find(c.Id) is not null).ToList();
                if (cables.Count > 0)
                {
                    parts.Add($"{words} {Situation.Listed([.. cables.Select(c => side == Side.Out ? s.NameOf(c) : Carried(c))])}.");
                }
            }

            return parts.Count == 0 ? "This show wants something of it." : string.Join(' ', parts);
        }

        // What a cable carries says more than its name.
        private string Carried(CablePoint cable)
        {
            var fed = s.Rig.Find(cable.Id)!.Feeds.Select(f => s.NameOf(f.From)).Distinct().ToList();
            return fed.Count == 0 ? s.NameOf(cable) : $"{Situation.Listed(fed)} by {s.NameOf(cable)}";
        }
    }
}

using System.Collections.Immutable;
using CsCheck;
using Kinetra.Core.Cards;
using Kinetra.Core.Editing;
using Kinetra.Core.Findings;
using Kinetra.Core.Gear;
using Kinetra.Core.Rigs;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;
using Kinetra.Core.Tests.Gear;

namespace Kinetra.Core.Tests.Cards;

public class CardTests
{
    // What is wished of a port is what another port of the same side is set to: anything that a port can be.
    private static readonly Gen<(GearState Gear, Rig Rig)> AnyWishing =
        from gear in AnyComputers.State
        from rig in AnyComputers.Rig
        from ports in Gen.Select(Gen.Int[0, 3], Gen.Int[0, 3], Gen.Int[0, 3], Gen.Int[0, 3]).Array[0, 5]
        from roles in Gen.Select(Gen.Enum<Role>(), Gen.Int[0, 3]).Array[0, 3]
        from sees in Gen.Bool.Array[4]
        from evens in Gen.Bool.Array[4]
        let apps = gear.Apps.Select((a, i) => a with { SeesNewAfterRestart = sees[i], EvensVoices = evens[i] ? a.IsRunning : null }).ToImmutableArray()
        select (
            gear with { Apps = apps },
            rig with
            {
                Wishes = new Wishes
                {
                    Roles = [.. roles.DistinctBy(r => r.Item1).Select(r => new RoleWish(r.Item1, new DevicePoint(new($"d{r.Item2}"), r.Item1 is Role.Playback or Role.CallsPlayback ? Side.Out : Side.In)))],
                    Ports = [.. ports.Select(p => Wish(apps[p.Item1], p.Item2, apps[p.Item3], p.Item4)).OfType<PortWish>().DistinctBy(w => (w.App, w.Port))],
                },
            });

    private static PortWish? Wish(App app, int port, App other, int choice)
    {
        var own = app.Ports[port % app.Ports.Length];
        return other.Ports.Where(p => p.Side == own.Side).Select(p => new PortWish(app.Id, own.Id, p.Choice)).ElementAtOrDefault(choice % 2);
    }

    [Fact]
    public void Whatever_a_card_offers_in_one_press_makes_it_right_and_what_the_show_wants_and_is_not_so_is_always_on_a_card() =>
        AnyWishing.Sample(
            x =>
            {
                var s = Of(x.Rig, x.Gear);
                var cards = Deck.Of(s);
                cards.Select(c => c.App).ShouldBeUnique();
                foreach (var card in cards)
                {
                    card.Picks.Select(p => p.Key).ShouldBeUnique();
                    card.Picks.ShouldNotBeEmpty();
                    foreach (var pick in card.Picks.Where(p => p.Fix is { Computer: not null }))
                    {
                        var done = pick.Fix!.Computer!.Apply(x.Gear, CablesNow.Of(x.Rig), default).ShouldBeOfType<GearOutcome.Done>(pick.Fix.Label);
                        var then = Deck.Of(Of(x.Rig, done.State)).First(c => c.App == card.App).Picks.FirstOrDefault(p => p.Key == pick.Key);
                        (then?.State ?? PickState.Right).ShouldBe(PickState.Right, $"{card.Title}: {pick.What} {pick.Wanted}, {pick.Fix.Label}, now {then?.Now}");
                    }
                }

                foreach (var unmet in s.Unmet)
                {
                    var key = unmet.Role is { } role ? $"role/{role}" : $"port/{unmet.Port}";
                    cards.First(c => c.App == unmet.App).Picks.First(p => p.Key == key).State.ShouldBe(PickState.Wrong);
                }

                foreach (var line in Deck.TextOf(cards).Split('\n').Where(l => l.Length > 0))
                {
                    line.ShouldMatch(@"^(\[[ x?]\] .+\.|    .+\.|[A-Z].*: .+\.)$");
                }
            },
            iter: 3_000);

    [Fact]
    public void Where_all_is_as_the_show_wants_it_and_every_program_runs_at_full_no_card_is_wrong() =>
        AnyWishing.Sample(
            x =>
            {
                var gear = x.Gear with { Apps = [.. x.Gear.Apps.Select(a => a with { IsRunning = true, Volume = Gain.Unity, EvensVoices = null, SeesNewAfterRestart = false })] };
                var cables = CablesNow.Of(x.Rig);
                var able = x.Rig.Wishes.Ports.Where(w => new SetPort(w.App, w.Port, w.Choice).Apply(gear, cables, default) is GearOutcome.Done).ToImmutableArray();
                able = [.. able.Where(w => w.Choice is not ChosenEnd { End: var end } || gear.IsThere(end, cables.Has))];
                gear = able.Aggregate(gear, (g, w) => ((GearOutcome.Done)new SetPort(w.App, w.Port, w.Choice).Apply(g, cables, default)).State);
                Deck.Of(Of(x.Rig with { Wishes = Wishes.None with { Ports = able } }, gear)).ShouldAllBe(c => c.IsRight);
            },
            iter: 1_000);

    private static Situation Of(Rig rig, GearState gear) =>
        new(Routed.Of(rig, new Computer(new Dictionary<SourceId, int>(), gear)), Fulfilment.Of(rig.Wishes, gear, CablesNow.Of(rig), default));
}

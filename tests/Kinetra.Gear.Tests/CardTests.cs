using System.Collections.Immutable;
using Kinetra.Core.Cards;
using Kinetra.Core.Editing;
using Kinetra.Core.Findings;
using Kinetra.Core.Gear;
using Kinetra.Core.Rigs;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;
using Kinetra.Gear.Practice;

namespace Kinetra.Gear.Tests;

/// <summary>Cards of the demo shows on the practice computer: what must be picked, what it is now, and that one press makes it so.</summary>
public class CardTests
{
    private static readonly Rig Lamp = LampRoom.Rig();

    [Fact]
    public void As_the_demo_is_set_up_nothing_on_its_cards_is_wrong_but_what_does_not_run()
    {
        foreach (var (_, rig) in DemoShows.All)
        {
            var cards = Deck.Of(Of(rig, SetUp(rig)));
            cards.SelectMany(c => c.Picks).Where(p => p.State == PickState.Wrong).ShouldAllBe(p => p.Kind == PickKind.Running);
            cards.Select(c => c.Title).ShouldBeUnique();
        }

        // What nobody takes and nothing is asked of has no card.
        Deck.Of(Of(Lamp, SetUp(Lamp))).Select(c => c.Title).ShouldBe(["The computer", "Skerry Keeper", "Record shelf", "Harbour call", "Crew room", "Beacon encoder", "System sounds"]);
    }

    [Fact]
    public void On_a_computer_that_nobody_has_set_up_each_card_names_the_end_as_the_program_lists_it_and_says_what_it_is_now()
    {
        var s = Of(Lamp, PracticeCatalog.Initial());
        var call = Pick(s, "Harbour call", "port/mic");
        (call.State, call.What, call.Wanted, call.Now, call.Where).ShouldBe((PickState.Wrong, "Its input", "Out of Guest line", "the default for calls, Desk interface", "in the call’s audio settings"));

        // It was running before there was an Air line.
        var encoder = Pick(s, "Beacon encoder", "port/main");
        (encoder.State, encoder.What, encoder.Wanted).ShouldBe((PickState.Wrong, "Its input, first sound", "Out of Air line"));
        encoder.Notes[0].ShouldStartWith("Restart it first");
        encoder.Fix!.Label.ShouldBe("Restart Beacon encoder, and set it to Out of Air line");
        Pick(Done(s, encoder.Fix), "Beacon encoder", "port/main").State.ShouldBe(PickState.Right);
        Deck.TextOf(Deck.Of(s)).ShouldContain("[ ] Its input must be Out of Guest line. Now it is the default for calls, Desk interface.\n    Usually in the call’s audio settings.");
    }

    [Fact]
    public void A_program_without_a_choice_follows_the_default_and_one_that_is_set_to_a_line_that_it_cannot_see_must_be_started_anew()
    {
        var s = Of(Lamp, SetUp(Lamp));
        Pick(s, "System sounds", "port/sound").Notes[0].ShouldBe("No choice there: it follows the default.");

        // Wanted elsewhere, it takes the computer's default along.
        var rig = Lamp with { Wishes = Lamp.Wishes with { Roles = [], Ports = [.. Lamp.Wishes.Ports, new(new("system-sounds"), "sound", new ChosenEnd(new DevicePoint(PracticeCatalog.Laptop, Side.Out)))] } };
        var follows = Pick(Of(rig, SetUp(Lamp)), "System sounds", "port/sound");
        (follows.State, follows.Wanted, follows.Fix!.Label).ShouldBe((PickState.Wrong, "Laptop speakers", "Make Laptop speakers the default for playback"));
        Pick(Done(Of(rig, SetUp(Lamp)), follows.Fix), "System sounds", "port/sound").State.ShouldBe(PickState.Right);

        // Chosen while it ran, and gone meanwhile: a cable of another show with the same choice.
        var encoder = SetUp(Lamp).Find(PracticeCatalog.Encoder)! with { Knows = [] };
        var blind = Pick(Of(Lamp, SetUp(Lamp).With(encoder)), "Beacon encoder", "port/main");
        (blind.State, blind.Now).ShouldBe((PickState.Wrong, "Out of Air line, which is not there for it, so Desk interface"));
        var seeing = Done(Of(Lamp, SetUp(Lamp).With(encoder)), blind.Fix!);
        Pick(seeing, "Beacon encoder", "port/main").State.ShouldBe(PickState.Right);

        // What is found says so too, and its fix ends it.
        var found = Of(Lamp, SetUp(Lamp).With(encoder));
        var restart = found.Findings.Single(f => f.Kind == FindingKind.NeedsRestart);
        Done(found, restart.Fixes[0]).Findings.ShouldNotContain(f => f.Kind == FindingKind.NeedsRestart);

        // Unplugged, no press helps.
        var gone = Of(rig, SetUp(Lamp).With(SetUp(Lamp).Find(PracticeCatalog.Interface)! with { IsPresent = false }) with { Defaults = [null, null, null, null] });
        Pick(gone, "System sounds", "port/sound").State.ShouldBe(PickState.Wrong);
    }

    [Fact]
    public void A_fader_that_is_not_at_full_is_told_and_own_processing_where_music_goes_through_it_but_with_its_price()
    {
        var gear = SetUp(Lamp);
        var soft = Of(Lamp, gear.With(gear.Find(PracticeCatalog.Music)! with { Volume = new(-9) }));
        var fader = Pick(soft, "Record shelf", "volume");
        (fader.State, fader.Now).ShouldBe((PickState.Wrong, "−9.0 dB"));
        Pick(Done(soft, fader.Fix!), "Record shelf", "volume").State.ShouldBe(PickState.Right);

        // The call's own echo removal keeps the guest's speakers from coming back: a person decides.
        var open = Pick(Of(Lamp, gear), "Harbour call", "voices");
        open.State.ShouldBe(PickState.Open);
        open.Notes[0].ShouldStartWith("Skerry Keeper, Record shelf and Pads would come out pumping.");

        // The crew's chat has none to keep away: music into it must not be evened.
        var rig = Lamp with
        {
            Cables = [.. Lamp.Cables, new Cable { Id = new("to-crew"), Name = "Crew line", Feeds = [new CableFeed { From = new SourcePoint(new("record-shelf")) }] }],
            Wishes = Lamp.Wishes with { Ports = [.. Lamp.Wishes.Ports, new(PracticeCatalog.Crew, "mic", new ChosenEnd(new CablePoint(new("to-crew"))))] },
        };
        var pumped = Pick(Of(rig, SetUp(rig)), "Crew room", "voices");
        (pumped.State, pumped.Wanted, pumped.Now).ShouldBe((PickState.Wrong, "off", "on"));
    }

    [Fact]
    public void Channel_numbers_stand_where_they_matter_and_what_is_right_by_chance_can_be_wanted()
    {
        var tide = TideTables.Rig();
        Pick(Of(tide, SetUp(tide)), "Reel recorder", "port/track-2").Notes.ShouldContain("Channels 3 and 4 of 4: in a list of pairs, 3/4.");
        Pick(Of(Lamp, SetUp(Lamp)), "Harbour call", "port/mic").Notes.ShouldContain("It takes both channels, folded into 1.");

        var unasked = Lamp with { Wishes = Lamp.Wishes with { Ports = [] } };
        var chance = Pick(Of(unasked, SetUp(Lamp)), "Harbour call", "port/mic");
        (chance.State, chance.Fix!.Label).ShouldBe((PickState.Right, "Want Harbour call so with this show"));
        var wanted = ((CommandResult.Applied)chance.Fix.Show!.Apply(unasked)).Rig;
        wanted.Wishes.Ports.ShouldBe([Lamp.Wishes.Ports[0]]);
    }

    [Fact]
    public void A_default_that_is_away_is_not_right_though_it_is_the_one_and_own_processing_is_judged_by_what_will_be_heard()
    {
        var gear = SetUp(Lamp);
        var away = Pick(Of(Lamp, gear.With(gear.Find(PracticeCatalog.Headset)! with { IsPresent = false })), "The computer", "role/Playback");
        (away.State, away.Now, away.Fix).ShouldBe((PickState.Wrong, "Headset, which is not there", null));
        away.Notes.ShouldHaveSingleItem().ShouldStartWith("Headset is not there");

        // Set to nothing for now, the call will get the guest's mix, and music with it.
        var deaf = ((GearOutcome.Done)new SetPort(PracticeCatalog.Call, "mic", new NoEnd()).Apply(gear, CablesNow.Of(Lamp), default)).State;
        Pick(Of(Lamp, deaf), "Harbour call", "voices").State.ShouldBe(PickState.Open);
    }

    private static Pick Pick(Situation s, string card, string key) => Deck.Of(s).Single(c => c.Title == card).Picks.Single(p => p.Key == key);

    private static GearState SetUp(Rig rig) => Practice.Wished(PracticeCatalog.Initial(), rig.Wishes, rig);

    private static Situation Done(Situation s, Fix fix) =>
        Of(s.Routed.Wiring.Rig, ((GearOutcome.Done)fix.Computer!.Apply(s.Routed.Wiring.Gear, CablesNow.Of(s.Routed.Wiring.Rig), default)).State);

    private static Situation Of(Rig rig, GearState gear) =>
        new(Routed.Of(rig, new Computer(new Dictionary<SourceId, int>(), gear)), Fulfilment.Of(rig.Wishes, gear, CablesNow.Of(rig), default));
}

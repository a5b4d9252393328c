using System.Collections.Immutable;
using Kinetra.Core.Editing;
using Kinetra.Core.Findings;
using Kinetra.Core.Gear;
using Kinetra.Core.Rigs;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;
using Kinetra.Gear.Practice;

namespace Kinetra.Gear.Tests;

/// <summary>What goes wrong in a real rig is found, in words, with what ends it.</summary>
public class FindingsTests
{
    private static readonly MixId Viewers = new("viewers"), Ears = new("my-ears"), Guest = new("guest-hears");

    [Fact]
    public void A_recorder_with_the_same_on_two_tracks_is_told_and_one_with_each_apart_is_not()
    {
        var tide = TideTables.Rig();
        var apart = Practice.Wished(PracticeCatalog.Initial(), tide.Wishes, tide);
        apart = apart.With(apart.Find(PracticeCatalog.Recorder)! with { IsRunning = true });
        Alike(apart).ShouldBeEmpty();

        var port = apart.Find(PracticeCatalog.Recorder)!.Find("track-1")!;
        var same = ((GearOutcome.Done)new SetPort(PracticeCatalog.Recorder, "track-3", port.Choice).Apply(apart, CablesNow.Of(tide), default)).State;
        var found = Alike(same).ShouldHaveSingleItem();
        found.Sentence.ShouldBe("Reel recorder has the same on track 1 and track 3: all that comes from Recorder line there. Afterwards nothing on one can be changed without the other.");
        Alike(((GearOutcome.Done)found.Fixes.ShouldHaveSingleItem().Computer!.Apply(same, CablesNow.Of(tide), default)).State).ShouldBeEmpty();

        IEnumerable<Finding> Alike(GearState gear) =>
            Examination.Of(new Situation(Routed.Of(tide, new Computer(new Dictionary<SourceId, int>(), gear)), [])).Where(f => f.Kind == FindingKind.AlikeTracks);
    }

    [Fact]
    public void A_mix_that_goes_to_one_device_twice_is_ended_there_and_not_at_one_of_the_sources_that_it_brings_twice()
    {
        // The player by two sources: each way to the headset has another of them as its strongest.
        var rig = LampRoom.Rig();
        var ears = rig.Mixes[0];
        var shelf = rig.Sources.Single(o => o.Id == new SourceId("record-shelf"));
        var again = shelf with { Id = new("shelf-again"), Name = "Shelf again", Chain = [] };
        rig = rig with
        {
            Sources = [.. rig.Sources, again],
            Mixes =
            [
                ears with
                {
                    Destinations = [ears.Destinations[0], ears.Destinations[0] with { Id = new("once-more"), Into = new(1, 0) }],
                    Sends = [.. ears.Sends.Select(x => x with { Pan = x.Source == shelf.Id ? -1 : x.Pan }), new Send { Source = again.Id, Pan = 1 }],
                },
            ],
            Cables = [],
            Promises = [],
            Wishes = Wishes.None,
        };
        var gear = PracticeCatalog.Initial();
        var twice = Found(rig).Where(f => f.Kind == FindingKind.Twice && f.Places.Contains(new DevicePoint(PracticeCatalog.Headset, Side.Out))).ToList();
        twice.ShouldNotBeEmpty();
        foreach (var finding in twice)
        {
            finding.Fixes[0].Label.ShouldBe("No longer give My ears to Headset");
            Found(((CommandResult.Applied)finding.Fixes[0].Show!.Apply(rig)).Rig).ShouldNotContain(f => f.Key == finding.Key);
        }

        ImmutableArray<Finding> Found(Rig of) => Examination.Of(new Situation(Routed.Of(of, new Computer(new Dictionary<SourceId, int>(), gear)), []));
    }

    [Fact]
    public void As_it_comes_the_demo_show_has_nothing_in_it_that_does_harm() =>
        Examination.Of(Of(LampRoom.Rig())).ShouldAllBe(f => f.Harm == Harm.Slight);

    [Fact]
    public void The_guest_in_the_guests_own_mix_is_found_and_the_first_fix_ends_that_and_nothing_else()
    {
        var before = Of(LampRoom.Rig(), new SetSend(Guest, new("guest-call"), Gain: new(-3), Heard: true));
        var found = Serious(before).ShouldHaveSingleItem();
        found.Kind.ShouldBe(FindingKind.SelfHearing);
        found.Sentence.ShouldContain("Those on Harbour call hear their own voice through Guest hears, Guest line");
        found.Places.ShouldContain(new MixPoint(Guest));
        found.Places.ShouldContain(new SourcePoint(new("guest-call")));
        found.Fixes[0].Label.ShouldBe("Leave Guest call out of Guest hears");
        var changes = Consequences.Between(before, After(before, found.Fixes[0]));
        changes.Ends.ShouldBe([found.Key]);
        changes.Begins.ShouldBeEmpty();
        changes.Heard.ShouldBe(["Guest hears no longer gets Guest call.", "Harbour call no longer gets Guest call."]);
    }

    [Fact]
    public void Private_talk_that_comes_to_the_public_through_everything_else_is_found_by_its_way()
    {
        // Nobody takes the crew by itself, so it is part of everything else.
        var situation = Of(LampRoom.Rig(), new RemoveSource(new("crew-talk")), new SetSend(Viewers, new("computer"), Gain: new(-24), Heard: true));
        var found = Serious(situation).ShouldHaveSingleItem();
        found.Kind.ShouldBe(FindingKind.Leak);
        found.Sentence.ShouldContain("Crew room is private and reaches Viewers through Computer, 21 dB down: the audience hears it.");
        found.Fixes[0].Label.ShouldBe("Leave Computer out of Viewers");
    }

    [Fact]
    public void Private_talk_that_goes_to_the_encoder_past_every_mix_is_found_and_what_goes_through_viewers_is_told_once()
    {
        GearState Straight(GearState g) => g.With(g.Find(PracticeCatalog.Crew)! with { Ports = [.. g.Find(PracticeCatalog.Crew)!.Ports.Select(p => p.Side == Side.Out ? p with { Choice = new ChosenEnd(new CablePoint(new("to-encoder"))) } : p)] });
        var past = Serious(Of(Straight, LampRoom.Rig(), new RemoveSource(new("crew-talk")))).ShouldHaveSingleItem();
        past.Sentence.ShouldBe("Crew room is private and reaches Beacon encoder through Air line: the audience hears it.");
        Serious(Of(LampRoom.Rig(), new SetSend(Viewers, new("crew-talk"), Heard: true))).ShouldHaveSingleItem().Kind.ShouldBe(FindingKind.Leak);
    }

    [Fact]
    public void Two_people_on_one_stereo_input_who_hear_themselves_late_are_one_finding_and_no_key_stands_twice()
    {
        var delay = new Processor { Id = new("d"), Type = "delay", Values = ImmutableSortedDictionary<string, double>.Empty.Add("time", 25) };
        var situation = Of(
            LampRoom.Rig(),
            new SetSource(new("host-mic"), Input: new DeviceInput(PracticeCatalog.Interface, 0, 1)),
            new SetChain(new SourcePoint(new("host-mic")), [delay]),
            new SetSend(Ears, new("host-mic"), Heard: true));
        situation.Findings.Count(f => f.Kind == FindingKind.LateVoice).ShouldBe(1);
        situation.Findings.Select(f => f.Key).ShouldBeUnique();
    }

    [Fact]
    public void A_program_that_plays_beside_its_copy_is_heard_twice_and_either_can_be_ended()
    {
        var situation = Of(LampRoom.Rig(), new SetSource(new("record-shelf"), Input: new AppInput(PracticeCatalog.Music, "music", StillPlays: true)));
        var found = Serious(situation).ShouldHaveSingleItem();
        found.Kind.ShouldBe(FindingKind.Twice);
        found.Sentence.ShouldStartWith("Record shelf is heard twice at Headset, 3.0 ms apart: it will sound hollow, with a first dip of 3.3 dB at 167 Hz. Once straight, once through My ears");
        found.Fixes.Select(f => f.Label).ShouldBe(["Leave Record shelf out of My ears", "Hear Record shelf through the desk alone"]);
        foreach (var fix in found.Fixes)
        {
            Examination.Of(After(situation, fix)).ShouldNotContain(f => f.Key == found.Key, fix.Label);
        }
    }

    [Fact]
    public void A_microphone_that_the_device_plays_itself_beside_the_desks_copy_is_raw_beside_processed()
    {
        var rig = LampRoom.Rig();
        var headphones = new Destination { Id = new("phones"), End = new DeviceOutput(PracticeCatalog.Interface) };
        var situation = Of(
            g => ((GearOutcome.Done)new SetDevice(PracticeCatalog.Interface, IsMonitoring: true).Apply(g, CablesNow.Of(rig), default)).State,
            rig,
            new AddDestination(Ears, headphones),
            new SetSend(Ears, new("host-mic"), Heard: true));
        var raw = Serious(situation).Where(f => f.Kind == FindingKind.RawBeside).ToList();
        raw.ShouldHaveSingleItem().Sentence.ShouldContain("by direct monitoring");
        raw[0].Fixes.Select(f => f.Label).ShouldContain("Turn Desk interface’s direct monitoring off");
    }

    [Fact]
    public void Channels_that_fall_away_in_a_program_and_a_cable_that_nobody_hears_are_told()
    {
        var cable = new Cable { Id = new("wide"), Name = "Wide", Channels = 4, Feeds = [new CableFeed { From = new SourcePoint(new("record-shelf")), Into = new(2, 3) }] };
        var unheard = Of(LampRoom.Rig(), new AddCable(cable));
        var found = Examination.Of(unheard).Single(f => f.Kind == FindingKind.CableUnheard);
        (found.Harm, found.Sentence).ShouldBe((Harm.Noticeable, "Record shelf plays into Wide, and nobody takes it from there: it is not heard."));
        var set = Of(
            g => g.With(g.Find(PracticeCatalog.Encoder)! with { Ports = [.. g.Find(PracticeCatalog.Encoder)!.Ports.Select(p => p.Id == "main" ? p with { Choice = new ChosenEnd(new CablePoint(cable.Id)) } : p)] }),
            LampRoom.Rig(),
            new AddCable(cable));
        Examination.Of(set).Single(f => f.Kind == FindingKind.LostChannels).Sentence.ShouldBe("Beacon encoder takes 2 of 4 channels of Wide: Record shelf, on channels 3, 4, falls away.");
    }

    [Fact]
    public void Two_programs_that_are_fed_from_each_other_on_purpose_raise_nothing_until_one_passes_on_what_it_hears()
    {
        GearState Crossed(GearState gear, bool passes)
        {
            App Program(string id, string plays, string hears) => new()
            {
                Id = new(id),
                Name = id,
                Kind = AppKind.Player,
                IsRunning = true,
                Ports =
                [
                    new AppPort { Id = "out", Name = "its sound", Side = Side.Out, Choice = new ChosenEnd(new CablePoint(new(plays))) },
                    new AppPort { Id = "in", Name = "sound", Side = Side.In, Choice = new ChosenEnd(new CablePoint(new(hears))) },
                ],
                Passes = passes ? [new Pass("in", "out", new(-2))] : [],
            };
            return gear with { Apps = [.. gear.Apps, Program("one", "there", "back"), Program("two", "back", "there")] };
        }

        RigCommand[] cables = [new AddCable(new Cable { Id = new("there"), Name = "There" }), new AddCable(new Cable { Id = new("back"), Name = "Back" })];
        Examination.Of(Of(g => Crossed(g, false), LampRoom.Rig(), cables)).ShouldAllBe(f => f.Harm == Harm.Slight);
        var found = Serious(Of(g => Crossed(g, true), LampRoom.Rig(), cables)).ShouldHaveSingleItem();
        found.Kind.ShouldBe(FindingKind.Loop);
        found.Sentence.ShouldContain("4.0 dB softer each time: it rings on for");
    }

    [Fact]
    public void A_trace_says_every_stretch_with_its_gain_and_delay_and_where_nothing_comes_why_and_what_would_open_it()
    {
        var situation = Of(LampRoom.Rig());
        var heard = Trace.Of(situation, new("record-shelf"), new AppPoint(PracticeCatalog.Encoder, "main"));
        heard.Count.ShouldBe(1);
        var way = heard.Ways.ShouldHaveSingleItem();
        way.Hops.Sum(h => h.DelayFrames).ShouldBe(way.DelayFrames);
        way.Hops.Single(h => h.What == "send").GainDecibels.ShouldBe(-9, 0.01);
        way.Hops.Select(h => h.Name).Distinct().ShouldBe(["Record shelf", "Viewers", "Air line", "Beacon encoder"]);

        var sea = Trace.Of(situation, new("sea-mic"), new AppPoint(PracticeCatalog.Call, "mic"));
        sea.Ways.ShouldBeEmpty();
        sea.Sentence.ShouldBe("Harbour call does not hear Sea mic, because Sea mic waits in the dock of Guest hears.");
        var open = After(situation, sea.Open.ShouldNotBeNull());
        Trace.Of(open, new("sea-mic"), new AppPoint(PracticeCatalog.Call, "mic")).Count.ShouldBe(1);

        Should.Throw<ArgumentException>(() => Trace.Of(situation, new("nobody"), new MixPoint(Viewers)));

        // A program that does not run, and a device that is pulled out, reach nobody.
        var gone = Of(g => g.With(g.Find(PracticeCatalog.Music)! with { IsRunning = false }).With(g.Find(PracticeCatalog.Interface)! with { IsPresent = false }), LampRoom.Rig());
        Trace.Of(gone, new("record-shelf"), new MixPoint(Viewers)).Sentence.ShouldBe("Viewers does not hear Record shelf: what it comes from is not there now.");
        Trace.Of(gone, new("host-mic"), new MixPoint(Viewers)).Ways.ShouldBeEmpty();
    }

    private static List<Finding> Serious(Situation situation) => [.. Examination.Of(situation).Where(f => f.Harm == Harm.Serious)];

    private static Situation Of(Rig rig, params RigCommand[] commands) => Of(g => g, rig, commands);

    private static Situation Of(Func<GearState, GearState> then, Rig rig, params RigCommand[] commands)
    {
        foreach (var command in commands)
        {
            rig = Applied(command, rig);
        }

        var gear = then(Practice.Wished(PracticeCatalog.Initial(), rig.Wishes, rig));
        return new Situation(Routed.Of(rig, new Computer(new Dictionary<SourceId, int>(), gear)), Fulfilment.Of(rig.Wishes, gear, CablesNow.Of(rig), default));
    }

    private static Rig Applied(RigCommand command, Rig rig) => command.Apply(rig).ShouldBeOfType<CommandResult.Applied>().Rig;

    private static Situation After(Situation before, Fix fix)
    {
        var (rig, gear) = (before.Routed.Wiring.Rig, before.Routed.Wiring.Gear);
        var next = fix.Show is { } command ? Applied(command, rig) : rig;
        var computer = fix.Computer is { } change ? change.Apply(gear, CablesNow.Of(rig), default).ShouldBeOfType<GearOutcome.Done>().State : gear;
        return new Situation(Routed.Of(next, new Computer(new Dictionary<SourceId, int>(), computer)), []);
    }
}

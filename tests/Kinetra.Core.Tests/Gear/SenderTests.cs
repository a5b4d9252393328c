using Kinetra.Core.Cards;
using Kinetra.Core.Editing;
using Kinetra.Core.Findings;
using Kinetra.Core.Gear;
using Kinetra.Core.Rigs;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Gear;

public class SenderTests
{
    private static readonly AppId Sender = new("sender-1");
    private static readonly CableId Music = new("music");
    private static readonly CablesNow Cables = new(new Dictionary<CableId, (string, int)> { [Music] = ("Music in", 2) });

    private static readonly GearState Computer = new()
    {
        Devices = [new Device { Id = new("ears"), Name = "Headphones", Kind = DeviceKind.Speakers, Outputs = 2 }],
        Defaults = [new DevicePoint(new("ears"), Side.Out), null, new DevicePoint(new("ears"), Side.Out), null],
    };

    [Fact]
    public void Who_sends_into_a_cable_plays_there_and_nowhere_else_though_the_cable_goes()
    {
        var with = Done(new SenderComes(Sender, "Evening music", Music, 2), Computer);
        var app = with.Find(Sender)!;
        with.EndOf(app, app.Ports[0], Cables.Has).ShouldBe(new ChosenEnd(new CablePoint(Music)));

        // A program would follow the default, into the ears; who was let into one cable does not.
        var gone = Done(new CableGone(Music), with, allowNothing: true);
        gone.EndOf(gone.Find(Sender)!, gone.Find(Sender)!.Ports[0], _ => false).ShouldBeNull();
        Done(new SenderGoes(Sender), gone).Apps.ShouldBeEmpty();
        new SenderGoes(null).Apply(Computer, Cables, default).ShouldBe(new GearOutcome.Done(Computer, ""));
    }

    [Fact]
    public void It_is_set_where_it_runs_comes_once_and_into_a_cable_that_there_is()
    {
        var with = Done(new SenderComes(Sender, "Evening music", Music, 1), Computer);
        GearChange[] refused =
        [
            new SetPort(Sender, SenderComes.Port, new DefaultEnd()),
            new SetApp(Sender, IsRunning: false),
            new SenderComes(Sender, "Another", Music, 2),
            new SenderComes(new("sender-2"), "Another", new("nowhere"), 2),
        ];
        foreach (var change in refused)
        {
            change.Apply(with, Cables, default).ShouldBeOfType<GearOutcome.Refused>().Problem.Allowed.ShouldNotBeEmpty();
        }
    }

    [Fact]
    public void What_was_changed_before_it_came_can_be_taken_back_once_it_is_there_and_once_it_is_gone()
    {
        var (before, after) = (Computer, Done(new SetDefault(Role.Playback, new CablePoint(Music)), Computer));
        var with = Done(new SenderComes(Sender, "Evening music", Music, 2), after);
        var back = new TakeGearBack(before, after, "The default changes");
        Done(back, with).DefaultOf(Role.Playback).ShouldBe(before.DefaultOf(Role.Playback));

        var other = Done(new SetDefault(Role.CallsPlayback, new CablePoint(Music)), with);
        var gone = Done(new SenderGoes(null), other);
        Done(new TakeGearBack(with, other, "The default for calls changes"), gone).Apps.ShouldBeEmpty();
    }

    [Fact]
    public void Nothing_is_to_be_picked_for_it_and_the_map_of_where_sound_goes_has_its_way()
    {
        var rig = new Rig { Cables = [new Cable { Id = Music, Name = "Music in", Channels = 2 }] };
        var with = Done(new SenderComes(Sender, "Evening music", Music, 2), Computer);
        var routed = Routed.Of(rig, new Computer(new Dictionary<SourceId, int>(), with));
        Deck.Of(new Situation(routed, [])).ShouldNotContain(c => c.App == Sender);
        routed.Wiring.Links.ShouldContain(l => l.From == new AppPoint(Sender, SenderComes.Port) && l.To == new CablePoint(Music) && l.State == LinkState.On);
    }

    [Theory]
    [InlineData(2, 1, new[] { 0.5 }, new[] { 0.5 })]
    [InlineData(2, 2, new[] { 1.0, 0 }, new[] { 0, 1.0 })]
    [InlineData(2, 4, new[] { 1.0, 0, 0, 0 }, new[] { 0, 1.0, 0, 0 })]
    [InlineData(1, 1, new[] { 1.0 }, null)]
    [InlineData(1, 2, new[] { 1.0, 1.0 }, null)]
    public void A_cable_of_any_width_gets_all_of_what_is_sent(int sent, int wide, double[] left, double[]? right)
    {
        var rig = new Rig { Cables = [new Cable { Id = Music, Name = "Music in", Channels = wide }] };
        var routed = Routed.Of(rig, new Computer(new Dictionary<SourceId, int>(), Done(new SenderComes(Sender, "Evening music", Music, sent), Computer)));
        var map = routed.Wiring.Links.Single(l => l.From == new AppPoint(Sender, SenderComes.Port)).Map;
        foreach (var (from, gains) in new[] { left, right }.Index().Where(g => g.Item is not null))
        {
            Enumerable.Range(0, wide).Select(to => map.Cells.SingleOrDefault(c => c.From == from && c.To == to).Gain).ShouldBe(gains!);
        }
    }

    private static GearState Done(GearChange change, GearState gear, bool allowNothing = false)
    {
        var done = change.Apply(gear, Cables, DateTimeOffset.UnixEpoch).ShouldBeOfType<GearOutcome.Done>();
        (done.Sentence.Length > 0 || allowNothing).ShouldBeTrue();
        return done.State;
    }
}

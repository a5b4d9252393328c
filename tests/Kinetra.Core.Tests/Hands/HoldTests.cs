using System.Collections.Immutable;
using CsCheck;
using Kinetra.Core.Editing;
using Kinetra.Core.Engine;
using Kinetra.Core.Findings;
using Kinetra.Core.Gear;
using Kinetra.Core.Hands;
using Kinetra.Core.Rigs;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Hands;

public class HoldTests
{
    [Fact]
    public void Held_voices_reach_only_whom_they_may_in_the_sound_of_any_show() => Gen.Select(AnyRigs.Rig, Gen.Int[0, 4], Gen.Int[0, 2], Gen.Bool).Sample((rig, s, m, talks) =>
    {
        var source = rig.Sources[s % rig.Sources.Length];
        var to = rig.Mixes[m % rig.Mixes.Length];
        Hold hold = talks ? new Talkback(source.Id, to.Id) : new Cough(source.Id);
        var over = Over(rig, hold);

        // By the factors of the rig alone: whatever has to go on from the source itself is shut.
        foreach (var mix in over.Mixes.Where(x => x.Purpose != MixPurpose.MyEars && !(talks && x.Id == to.Id)))
        {
            mix.Sends.First(x => x.Source == source.Id).Factor.ShouldBe(0);
        }

        over.Cables.SelectMany(c => c.Feeds).Where(f => f.From is SourcePoint p && p.Id == source.Id).ShouldAllBe(f => f.Factor == 0);
        if (talks)
        {
            over.Find(to.Id, source.Id)!.Factor.ShouldBeGreaterThan(0);
        }

        // And nobody else's sound is another.
        foreach (var (before, after) in rig.Mixes.SelectMany(x => x.Sends).Zip(over.Mixes.SelectMany(x => x.Sends)).Where(x => rig.Find(x.First.Source)!.Input != source.Input))
        {
            after.ShouldBe(before);
        }
    });

    [Theory]
    [InlineData(0, null, 0, null, true)]
    [InlineData(0, 1, 0, null, true)]
    [InlineData(1, null, 0, 1, true)]
    [InlineData(0, null, 1, null, false)]
    [InlineData(0, 1, 2, 3, false)]
    public void A_microphone_that_is_two_sources_is_held_as_a_whole_and_another_channel_is_somebody_else(int left, int? right, int otherLeft, int? otherRight, bool isOne)
    {
        var rig = Demo.Rig("voice", "raw", "music");
        var desk = new DeviceId("desk");
        rig = rig with
        {
            Sources = [rig.Sources[0] with { Input = new DeviceInput(desk, left, right) }, rig.Sources[1] with { Input = new DeviceInput(desk, otherLeft, otherRight, LoopAllowed: true) }, rig.Sources[2]],
        };
        var over = Over(rig, new Cough(new("voice")));
        over.Find(Demo.Viewers, new("voice"))!.Factor.ShouldBe(0);
        (over.Find(Demo.Viewers, new("raw"))!.Factor == 0).ShouldBe(isOne);
        over.Find(Demo.Viewers, new("music")).ShouldBe(rig.Find(Demo.Viewers, new("music")));
        over.Find(Demo.Ears, new("raw")).ShouldBe(rig.Find(Demo.Ears, new("raw")));
    }

    [Fact]
    public void Two_talkbacks_of_one_voice_reach_both_and_a_cough_goes_before_them()
    {
        var rig = Demo.Rig("voice") with { Mixes = [.. new[] { "a", "b", "c" }.Select(n => Demo.Mix(new(n), n, MixPurpose.Guest, "voice"))] };
        Hold[] both = [new Talkback(new("voice"), new("a")), new Talkback(new("voice"), new("b"))];
        Over(rig, both).Mixes.Select(m => m.Sends[0].Factor > 0).ShouldBe([true, true, false]);
        Over(rig, [.. both, new Cough(new("voice"))]).Mixes.ShouldAllBe(m => m.Sends[0].Factor == 0);
    }

    [Fact]
    public void Whom_a_voice_reaches_all_the_same_is_told_with_the_way()
    {
        // What the guest is sent is heard by viewers, too: through a cable and a source of it.
        var rig = Demo.Rig("voice", "back") with { };
        rig = rig with
        {
            Mixes = [.. rig.Mixes, Demo.Mix(new("guest"), "Guest", MixPurpose.Guest, "voice", "back")],
            Cables = [new Cable { Id = new("line"), Name = "Line", Feeds = [new CableFeed { From = new MixPoint(new("guest")) }] }],
            Sources = [rig.Sources[0], rig.Sources[1] with { Input = new CableInput(new("line"), 0, 1) }],
        };
        rig = rig.Apply(new SetSend(new("guest"), new("back"), Heard: false)).Apply(new SetSend(Demo.Viewers, new("back"), Heard: true));
        Hold talk = new Talkback(new("voice"), new("guest"));
        Leaks(rig, talk).ShouldHaveSingleItem().ShouldContain("Viewers");
        Hold cough = new Cough(new("voice"));
        Leaks(rig, cough).ShouldBeEmpty();
    }

    [Fact]
    public void A_program_that_records_the_microphone_itself_hears_a_cough_and_a_talkback_and_one_that_hears_the_mix_that_is_spoken_to_does_what_it_should()
    {
        var (desk, line) = (new DeviceId("desk"), new CableId("line"));
        var rig = Demo.Rig("voice");
        rig = rig with
        {
            Sources = [rig.Sources[0] with { Input = new DeviceInput(desk, 0) }],
            Mixes = [.. rig.Mixes, Demo.Mix(new("guest"), "Guest", MixPurpose.Guest, "voice")],
            Cables = [new Cable { Id = line, Name = "Line", Feeds = [new CableFeed { From = new MixPoint(new("guest")) }] }],
        };
        Situation With(Rig wired, Point end) => new(
            Routed.Of(wired, new Computer(new Dictionary<SourceId, int>(), GearState.Empty with
            {
                Devices = [new Device { Id = desk, Name = "Desk", Kind = DeviceKind.Interface, Inputs = [new DeviceInputChannel { Name = "1" }] }],
                Apps = [new App { Id = new("call"), Name = "Harbour call", Kind = AppKind.Call, IsRunning = true, Ports = [new AppPort { Id = "mic", Name = "its microphone", Side = Side.In, Choice = new ChosenEnd(end) }] }],
            })),
            []);
        ImmutableArray<string> Heard(Hold hold, Point end) => hold.ProgramsReached(With(Over(rig, new Cough(hold.Source)), end));

        var (cough, talk) = (new Cough(new("voice")), new Talkback(new("voice"), new("guest")));
        Heard(cough, new DevicePoint(desk, Side.In)).ShouldHaveSingleItem().ShouldContain("Harbour call");
        Heard(talk, new DevicePoint(desk, Side.In)).ShouldHaveSingleItem().ShouldContain("Harbour call");
        Heard(cough, new CablePoint(line)).ShouldBeEmpty();
        Heard(talk, new CablePoint(line)).ShouldBeEmpty();
    }

    private static ImmutableArray<string> Leaks(Rig rig, Hold hold) => hold.OthersReached(Wired(Over(rig, hold)));

    private static Situation Wired(Rig rig) => new(Routed.Of(rig, new Computer(new Dictionary<SourceId, int>(), GearState.Empty)), []);

    private static Rig Over(Rig rig, params Hold[] holds) => Hold.Over(rig, holds).Aggregate(rig, (r, c) => r.Apply(c));
}

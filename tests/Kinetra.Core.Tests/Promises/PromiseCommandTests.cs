using System.Text.Json;
using CsCheck;
using Kinetra.Core.Editing;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Promises;

/// <summary>Promises are part of the show: made, changed, taken back, gone with what they speak of.</summary>
public class PromiseCommandTests
{
    private static readonly Rig Show = Demo.Rig("voice", "music");
    private static readonly SourceId Voice = new("voice"), Music = new("music");

    [Fact]
    public void Whatever_is_done_with_promises_undo_brings_back_the_same_show() =>
        (from rig in AnyRigs.Rig
         from promise in AnyRigs.PromiseFor(rig)
         from what in Gen.Int[0, 4]
         select (rig, promise, what)).Sample(
            drawn =>
            {
                var (rig, promise, what) = drawn;
                RigCommand command = what switch
                {
                    0 => new SetPromise(promise with { Id = new("new") }, 1),
                    1 when !rig.Promises.IsEmpty => new RemovePromise(rig.Promises[0].Id),
                    2 when !rig.Promises.IsEmpty => new SetPromise(promise with { Id = rig.Promises[^1].Id }),
                    3 => new RemoveSource(rig.Sources[0].Id),
                    _ => new AcceptFinding("twice source/s0 mix/m0", "Serious: others."),
                };
                if (command.Apply(rig) is CommandResult.Applied applied)
                {
                    applied.Sentence.ShouldNotBeEmpty();
                    Text(((CommandResult.Applied)applied.Inverse.Apply(applied.Rig)).Rig).ShouldBe(Text(rig));
                    Text(applied.Rig).ShouldNotContain(command is RemoveSource ? $"\"{rig.Sources[0].Id}\"" : "\"nobody\"");
                }
                else
                {
                    // It would be promised twice.
                    what.ShouldBeOneOf(0, 2);
                }
            },
            iter: 500);

    [Fact]
    public void A_mix_that_goes_takes_its_promises_with_it_and_brings_them_back_in_their_places()
    {
        var rig = Show with
        {
            Promises = [new Reaches(new("a"), Voice, new MixPoint(Demo.Ears)), new TruePeakUnder(new("b"), Demo.Viewers, -1), new OwnTrack(new("c"), Voice)],
        };
        var removed = (CommandResult.Applied)new RemoveMix(Demo.Viewers).Apply(rig);
        removed.Rig.Promises.Select(p => p.Id.Value).ShouldBe(["a", "c"]);
        Text(((CommandResult.Applied)removed.Inverse.Apply(removed.Rig)).Rig).ShouldBe(Text(rig));
    }

    [Theory]
    [MemberData(nameof(Wrong))]
    public void What_cannot_be_promised_is_refused_with_where_what_and_what_is_allowed(Promise promise, string where, string what)
    {
        var refused = new SetPromise(promise).Apply(Show).ShouldBeOfType<CommandResult.Refused>();
        refused.Problems[0].Where.ShouldBe(where);
        refused.Problems[0].What.ShouldBe(what);
        refused.Problems[0].Allowed.ShouldNotBeEmpty();
    }

    public static TheoryData<Promise, string, string> Wrong => new()
    {
        { new Reaches(new("a"), new("nobody"), new MixPoint(Demo.Ears)), "promises[0].source", "There is no source “nobody”." },
        { new NeverReaches(new("a"), Voice, new MixPoint(new("none"))), "promises[0].listener", "There is no mix “none”." },
        { new NeverReaches(new("a"), Voice, new SourcePoint(Music)), "promises[0].listener", "This is no listener." },
        { new NeverReaches(new("a"), Voice, new DevicePoint(new("d"), Side.In)), "promises[0].listener", "This is no listener." },
        { new SpeechOverBed(new("a"), Demo.Viewers, 41), "promises[0].atLeast", "41 LU is out of range." },
        { new SpeechOverBed(new("a"), Demo.Viewers, 6, Voice, Voice), "promises[0].bed", "It cannot be louder than itself." },
        { new LoudnessInRange(new("a"), Demo.Viewers, -10, -20), "promises[0].to", "The range is empty." },
        { new LoudnessInRange(new("a"), new("none"), -20, -10), "promises[0].mix", "There is no mix “none”." },
        { new TruePeakUnder(new("a"), Demo.Viewers, double.NaN), "promises[0].ceiling", "NaN dBTP is out of range." },
        { new InStep(new("a"), Voice, new MixPoint(Demo.Viewers), -1, 40), "promises[0].picture", "-1 ms is out of range." },
        { new DefaultStays(new("a"), Role.Playback, new MixPoint(Demo.Viewers)), "promises[0].end", "There is no such device or cable." },
        { new StaysOnAir(new("a"), new("none")), "promises[0].stream", "There is no stream “none”." },
        { new OwnTrack(new("A B"), Voice), "promises[0].id", "The id cannot be used." },
    };

    [Fact]
    public void The_same_is_promised_once()
    {
        var rig = Show with { Promises = [new OwnTrack(new("a"), Voice)] };
        new SetPromise(new OwnTrack(new("b"), Voice)).Apply(rig).ShouldBeOfType<CommandResult.Refused>().Problems[0].What.ShouldBe("This is promised already.");
        new SetPromise(new OwnTrack(new("a"), Voice)).Apply(rig).ShouldBeOfType<CommandResult.Applied>().IsNothing.ShouldBeTrue();
    }

    private static string Text(Rig rig) => JsonSerializer.Serialize(rig, RigJson.Options);
}

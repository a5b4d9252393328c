using System.Text.Json;
using CsCheck;
using Kinetra.Core.Editing;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Air;

/// <summary>Streams to servers are part of the show: made, changed, taken back, gone with their mix.</summary>
public class StreamCommandTests
{
    private static readonly AirServer Server = new(ServerKind.Put, "radio.example", 8_000);

    private static readonly Rig Show = Demo.Rig("voice") with { Streams = [new(new("a"), "Evening", Demo.Viewers, Server), new(new("b"), "Spare", Demo.Viewers, Server)] };

    [Fact]
    public void Whatever_is_done_with_streams_undo_brings_back_the_same_show() =>
        (from rig in AnyRigs.Rig
         from stream in AnyRigs.StreamFor(rig)
         from what in Gen.Int[0, 5]
         from which in Gen.Int[0, 3]
         from flags in Gen.Bool.Array[8]
         select (rig, stream, what, which, flags)).Sample(
            drawn =>
            {
                var (rig, stream, what, which, flags) = drawn;
                RigCommand command = what switch
                {
                    0 => new AddBroadcast(stream with { Id = new("new"), Name = "New" }, which),
                    1 => new RemoveBroadcast(new($"a{which}")),
                    2 => new RemoveMix(rig.Mixes[0].Id),
                    _ => new SetBroadcast(
                        new($"a{which}"),
                        flags[0] ? "Other" : null,
                        flags[1] ? stream.Mix : null,
                        flags[2] ? stream.Server : null,
                        flags[3] ? stream.Form : null,
                        flags[3] ? stream.Channels : null,
                        flags[3] ? stream.Kilobits : null,
                        flags[3] ? stream.SampleRate : null,
                        flags[4] ? stream.Gain : null,
                        flags[5] ? stream.Title : null,
                        flags[6] ? stream.Description : null,
                        flags[6] ? stream.IsPublic : null,
                        flags[7] ? new SongTeller(stream.SongFrom) : null),
                };
                if (command.Apply(rig) is not CommandResult.Applied applied)
                {
                    what.ShouldNotBe(0);
                    return;
                }

                applied.Sentence.ShouldNotBeEmpty();
                applied.IsNothing.ShouldBe(Text(applied.Rig) == Text(rig));
                Text(((CommandResult.Applied)applied.Inverse.Apply(applied.Rig)).Rig).ShouldBe(Text(rig));
            },
            iter: 1_000);

    [Fact]
    public void A_stream_goes_with_its_mix_and_comes_back_with_it()
    {
        var removed = new RemoveMix(Demo.Viewers).Apply(Show).ShouldBeOfType<CommandResult.Applied>();
        removed.Rig.Streams.ShouldBeEmpty();
        removed.Inverse.Apply(removed.Rig).ShouldBeOfType<CommandResult.Applied>().Rig.Streams.ShouldBe(Show.Streams);
    }

    [Fact]
    public void A_promise_about_a_stream_goes_with_it_or_with_its_mix_and_comes_back_to_its_place()
    {
        var show = Show with { Promises = [new StaysOnAir(new("p"), new("a")), new TruePeakUnder(new("q"), Demo.Viewers, -1), new StaysOnAir(new("r"), new("b")), new OwnTrack(new("s"), Show.Sources[0].Id)] };
        var streamGone = new RemoveBroadcast(new("a")).Apply(show).ShouldBeOfType<CommandResult.Applied>();
        streamGone.Rig.Promises.Select(p => p.Id.Value).ShouldBe(["q", "r", "s"]);
        streamGone.Inverse.Apply(streamGone.Rig).ShouldBeOfType<CommandResult.Applied>().Rig.Promises.ShouldBe(show.Promises);
        var mixGone = new RemoveMix(Demo.Viewers).Apply(show).ShouldBeOfType<CommandResult.Applied>();
        mixGone.Rig.Promises.Select(p => p.Id.Value).ShouldBe(["s"]);
        mixGone.Inverse.Apply(mixGone.Rig).ShouldBeOfType<CommandResult.Applied>().Rig.Promises.ShouldBe(show.Promises);
    }

    [Fact]
    public void What_listeners_read_is_said_by_a_program_or_by_a_person_again_and_who_it_is_is_told()
    {
        var program = new SetBroadcast(new("a"), Song: new(new AppId("record-shelf"))).Apply(Show).ShouldBeOfType<CommandResult.Applied>();
        program.Rig.Streams[0].SongFrom.ShouldBe(new AppId("record-shelf"));
        program.Sentence.ShouldBe("What listeners of Evening read is said by a program");
        var person = new SetBroadcast(new("a"), Song: new()).Apply(program.Rig).ShouldBeOfType<CommandResult.Applied>();
        person.Rig.Streams.ShouldBe(Show.Streams);
        person.Sentence.ShouldBe("What listeners of Evening read is said by hand");
        new SetBroadcast(new("a"), Song: new(new AppId("A B"))).Apply(Show).ShouldBeOfType<CommandResult.Refused>().Problems.Single().Where.ShouldBe("streams[0].songFrom");
    }

    [Fact]
    public void No_two_have_one_name_and_one_that_was_renamed_says_so()
    {
        new SetBroadcast(new("b"), Name: " evening ").Apply(Show).ShouldBeOfType<CommandResult.Refused>().Problems.Single().Where.ShouldBe("streams[1].name");
        new SetBroadcast(new("b"), Name: "Late").Apply(Show).ShouldBeOfType<CommandResult.Applied>().Sentence.ShouldBe("Renamed the stream Spare to Late");
        new SetBroadcast(new("nobody"), Name: "Late").Apply(Show).ShouldBeOfType<CommandResult.Refused>().IsUnknown.ShouldBeTrue();
    }

    [Fact]
    public void Nothing_of_a_stream_can_break_the_line_that_it_is_sent_on() =>
        Gen.String[0, 30].Sample(text =>
        {
            foreach (var command in new[] { new SetBroadcast(new("a"), Title: text), new SetBroadcast(new("a"), Description: text), new SetBroadcast(new("a"), Name: text), new SetBroadcast(new("a"), Server: Server with { Path = text }), new SetBroadcast(new("a"), Server: Server with { User = text }), new SetBroadcast(new("a"), Server: Server with { Host = text }) })
            {
                if (command.Apply(Show) is CommandResult.Applied { Rig.Streams: [var now, ..] })
                {
                    $"{now.Name}{now.Title}{now.Description}{now.Server.Host}{now.Server.Path}{now.Server.User}".Any(c => c is '\r' or '\n' or '\0').ShouldBeFalse();
                }
            }
        });

    [Fact]
    public void The_more_a_form_may_cost_the_better_are_its_words()
    {
        foreach (var form in AirForms.All.Where(f => f != StreamForm.OggFlac))
        {
            var words = AirForms.Offered(form, 48_000, 2).Select(k => AirForms.Words(form, k, 2, 48_000)).ToList();
            words.Distinct().Count().ShouldBeGreaterThan(2);

            // Each stands in one stretch: nothing that costs more is said to be worse.
            words.Zip(words.Skip(1)).Count(p => p.First != p.Second).ShouldBe(words.Distinct().Count() - 1);
        }
    }

    private static string Text(Rig rig) => JsonSerializer.Serialize(rig, RigJson.Options);
}

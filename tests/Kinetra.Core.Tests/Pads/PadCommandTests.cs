using System.Collections.Immutable;
using System.Text;
using System.Text.Json;
using CsCheck;
using Kinetra.Core.Editing;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Pads;

public class PadCommandTests
{
    private static readonly SourceId Source = new("pads");

    [Fact]
    public void Every_change_of_pads_can_be_taken_back_and_done_again_and_read_back_as_it_was_stored()
    {
        AnyCommand.Array[1, 25].Sample(commands =>
        {
            var rig = Rig.Empty;
            foreach (var command in commands)
            {
                if (command.Apply(rig) is not CommandResult.Applied applied)
                {
                    continue;
                }

                var back = applied.Inverse.Apply(applied.Rig).ShouldBeOfType<CommandResult.Applied>();
                Text(back.Rig).ShouldBe(Text(rig), command.ToString());
                Text(back.Inverse.Apply(back.Rig).ShouldBeOfType<CommandResult.Applied>().Rig).ShouldBe(Text(applied.Rig), command.ToString());
                JsonSerializer.Serialize(JsonSerializer.Deserialize<RigCommand>(JsonSerializer.Serialize(command, RigJson.Options), RigJson.Options), RigJson.Options)
                    .ShouldBe(JsonSerializer.Serialize(command, RigJson.Options));
                applied.Sentence.ShouldNotBeNullOrWhiteSpace();
                rig = applied.Rig;
            }

            // And a show file keeps all of it.
            var file = ShowFile.Read(Encoding.UTF8.GetBytes(new ShowFile("Show", rig).Write()), out var problems);
            problems.ShouldBeEmpty();
            Text(file!.Rig).ShouldBe(Text(rig));
        });
    }

    [Theory]
    [InlineData("name", "")]
    [InlineData("end", null)]
    [InlineData("begin", null)]
    [InlineData("fadeIn", null)]
    [InlineData("fadeOut", null)]
    [InlineData("dim", null)]
    [InlineData("key", "Enter")]
    [InlineData("key", "KeyQQ")]
    [InlineData("group", "a\nb")]
    [InlineData("sound", "abc")]
    [InlineData("gain", null)]
    public void What_a_pad_cannot_be_is_refused_by_its_field(string field, string? text)
    {
        var pad = field switch
        {
            "name" => Pad(1) with { Name = text! },
            "end" => Pad(1) with { Begin = 100, End = 110 },
            "begin" => Pad(1) with { Begin = -1 },
            "fadeIn" => Pad(1) with { FadeIn = 30_001 },
            "fadeOut" => Pad(1) with { FadeOut = double.NaN },
            "dim" => Pad(1) with { Dim = 61 },
            "key" => Pad(1) with { Key = text! },
            "group" => Pad(1) with { Group = text! },
            "sound" => WithSound(text!),
            _ => Pad(1) with { Gain = new(13) },
        };
        var problems = new AddPad(new("s0"), pad).Apply(WithSet()).ShouldBeOfType<CommandResult.Refused>().Problems;
        problems.ShouldContain(p => p.Where == $"padSets[0].pads[0].{field}");
        problems.ShouldAllBe(p => p.What.Length > 5 && p.Allowed.Length > 5);
    }

    [Fact]
    public void Two_pads_of_a_set_never_lie_on_one_key_and_the_refusal_says_who_lies_there()
    {
        var rig = new AddPad(new("s0"), Pad(1) with { Key = "KeyA", Name = "Bell" }).Apply(WithSet()).ShouldBeOfType<CommandResult.Applied>().Rig;
        var problem = new AddPad(new("s0"), Pad(2) with { Key = "KeyA" }).Apply(rig).ShouldBeOfType<CommandResult.Refused>().Problems.Single();
        problem.What.ShouldContain("Bell");
    }

    [Fact]
    public void A_pad_that_goes_into_a_set_where_its_key_is_taken_waits_beside_the_keys_there()
    {
        var rig = WithSet();
        foreach (var command in new RigCommand[]
        {
            new AddPad(new("s0"), Pad(1) with { Key = "KeyA" }), new AddPadSet(new PadSet { Id = new("s1"), Name = "Other", Pads = [Pad(2) with { Key = "KeyA" }] }), new MovePad(new("p1"), new("s1")),
        })
        {
            rig = command.Apply(rig).ShouldBeOfType<CommandResult.Applied>().Rig;
        }

        rig.Find(new PadSetId("s1"))!.Pads.Select(p => p.Key).ShouldBe(["KeyA", ""]);
    }

    [Fact]
    public void More_pads_than_a_set_takes_are_refused_with_how_many_it_takes()
    {
        var full = new PadSet { Id = new("s0"), Name = "Full", Pads = [.. Enumerable.Range(0, RigLimits.PadsOfSet).Select(Pad)] };
        var rig = new AddPadSet(full).Apply(Rig.Empty).ShouldBeOfType<CommandResult.Applied>().Rig;
        new AddPad(new("s0"), Pad(999)).Apply(rig).ShouldBeOfType<CommandResult.Refused>().Problems.Single().Allowed.ShouldContain("100");
    }

    private static Pad WithSound(string address) => Pad(1) with { Sound = address };

    private static Rig WithSet() => new AddPadSet(new PadSet { Id = new("s0"), Name = "Set" }).Apply(Rig.Empty).ShouldBeOfType<CommandResult.Applied>().Rig;

    private static Pad Pad(int id) => new() { Id = new($"p{id}"), Name = $"Pad {id}", Sound = new('a', 64), Source = Source, End = 1000 };

    private static string Text(Rig rig) => JsonSerializer.Serialize(rig, RigJson.Options);

    private static readonly string[] Keys = ["", "KeyA", "KeyB", "Digit1", "Numpad5"];

    private static readonly Gen<RigCommand> AnyCommand =
        from what in Gen.Int[0, 13]
        from id in Gen.Int[0, 7]
        from set in Gen.Int[0, 2]
        from index in Gen.Int[-1, 8]
        from key in Gen.Int[0, 4]
        from figure in Gen.Double[0, 40]
        from flags in Gen.Bool.Array[6]
        let maybe = index < 0 ? (int?)null : index
        select (RigCommand)(what switch
        {
            0 => new AddPadSet(new PadSet { Id = new($"s{set}"), Name = $"Set {set}", Pads = flags[0] ? [Pad(id + 100)] : ImmutableArray<Pad>.Empty }, maybe),
            1 => new RemovePadSet(new($"s{set}")),
            2 => new SetPadSet(new($"s{set}"), flags[0] ? $"Named {id}" : null, flags[1] ? index : null),
            3 or 4 => new AddPad(new($"s{set}"), Pad(id) with { Key = Keys[key] }, maybe),
            5 => new RemovePad(new($"p{id}")),
            10 => new AddCue(new Cue { Id = new($"c{id}"), Name = $"Cue {id}", Wait = figure, Acts = flags[0] ? [new PlayPad(new($"p{id}")), new StopPads(Group: "g", Fade: figure), new TurnPads(new(-figure))] : [] }, maybe),
            11 => new RemoveCue(new($"c{id}")),
            12 => new SetCue(
                new($"c{id}"), flags[0] ? $"Named {set}" : null, flags[1] ? "one\ntwo" : null, flags[2] ? (CueBegin)set : null, flags[3] ? figure : null, flags[4] ? [new StopPads(new PadId($"p{set}"))] : null, flags[5] ? id : null),
            6 => new MovePad(new($"p{id}"), new($"s{set}"), maybe, flags[0] ? Keys[key] : null),
            _ => new SetPad(
                new($"p{id}"),
                flags[0] ? $"New {key}" : null,
                Key: flags[1] ? Keys[key] : null,
                Begin: flags[2] ? figure : null,
                FadeOut: flags[3] ? figure : null,
                Gain: flags[4] ? new Gain(-figure) : null,
                Play: flags[5] ? (PadPlay)key : null,
                Dim: flags[0] ? figure : null,
                Group: flags[1] ? $" g{key} " : null,
                Look: flags[2] ? new SourceLook(key, set) : null),
        });
}

using CsCheck;
using Kinetra.Core.Editing;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Rigs;

public class RigCommandTests
{
    private static readonly Rig Start = Demo.Rig("mic", "game", "music");

    private static readonly Gen<Gain> AnyGain = Gen.OneOf(
        Gen.Const(Gain.Off), Gen.Double[-120, 12].Select(d => new Gain(d)));

    private static readonly Gen<RigCommand> AnyCommand = Gen.OneOf<RigCommand>(
        from mix in Pick(Demo.Ears, Demo.Viewers, new MixId("nobody"))
        from source in Pick("mic", "game", "music", "nothing")
        from gain in AnyGain
        from heard in Gen.Bool
        from pan in Gen.Double[-1.2, 1.2]
        select (RigCommand)new SetSend(mix, new(source), gain, heard, null, pan),
        from source in Pick("mic", "game", "music", "new")
        select (RigCommand)new RemoveSource(new(source)),
        from name in Pick("Sea", "MIC", "", "A second one")
        from index in Gen.Int[-1, 9]
        select (RigCommand)new AddSource(Demo.Source("new") with { Name = name }, index),
        from name in Pick<string?>(null, "Public", "viewers", "")
        from target in Gen.Double[-50, 0]
        select (RigCommand)new SetMix(Demo.Ears, name, null, target),
        from source in Pick("mic", "game")
        from name in Pick<string?>(null, "Voice", "music")
        from trim in AnyGain
        select (RigCommand)new SetSource(new(source), name, trim),
        from source in Pick("mic", "game", "music", "nothing")
        from index in Gen.Int[-1, 5]
        select (RigCommand)new MoveSource(new(source), index),
        from mix in Pick(Demo.Ears, Demo.Viewers, new MixId("third"))
        from index in Gen.Int[-1, 5]
        select (RigCommand)new MoveMix(mix, index),
        from mix in Pick(Demo.Ears, Demo.Viewers, new MixId("third"))
        select (RigCommand)new RemoveMix(mix),
        from name in Pick("Third", "VIEWERS", " ")
        from purpose in Pick(MixPurpose.Guest, MixPurpose.MyEars, (MixPurpose)9)
        from index in Gen.Int[-1, 5]
        select (RigCommand)new AddMix(new Mix { Id = new("third"), Name = name, Purpose = purpose }, index));

    [Fact]
    public void Whatever_is_commanded_the_rig_stays_valid_and_the_inverse_takes_it_back_exactly()
    {
        Gen.OneOf(AnyCommand, AnyCommand.Array[0, 4].Select(c => (RigCommand)new Several([.. c]))).List[1, 12].Sample(commands =>
        {
            var rig = Start;
            foreach (var command in commands)
            {
                if (command.Apply(rig) is not CommandResult.Applied applied)
                {
                    continue;
                }

                RigRules.Check(applied.Rig).ShouldBeEmpty();
                Json(applied.Inverse.Apply(applied.Rig).ShouldBeOfType<CommandResult.Applied>().Rig).ShouldBe(Json(rig));
                rig = applied.Rig;
            }
        });
    }

    [Fact]
    public void Every_command_written_as_JSON_and_read_again_does_the_same()
    {
        AnyCommand.Array[0, 4].Select(c => (RigCommand)new Several([.. c])).Sample(command =>
        {
            var again = System.Text.Json.JsonSerializer.Deserialize<RigCommand>(
                System.Text.Json.JsonSerializer.Serialize(command, RigJson.Options), RigJson.Options)!;
            var (first, second) = (command.Apply(Start), again.Apply(Start));
            second.GetType().ShouldBe(first.GetType());
            if (first is CommandResult.Applied applied)
            {
                Json(((CommandResult.Applied)second).Rig).ShouldBe(Json(applied.Rig));
            }
        });
    }

    [Fact]
    public void A_rig_written_as_JSON_and_read_again_is_the_same()
    {
        var rig = Start.Apply(new SetSend(Demo.Ears, new("mic"), Gain.Off)).Apply(new SetSend(Demo.Viewers, new("game"), new Gain(-6.5)));
        var json = Json(rig);
        Json(System.Text.Json.JsonSerializer.Deserialize<Rig>(json, RigJson.Options)!).ShouldBe(json);
        json.ShouldContain("\"gain\":\"off\"");
    }

    [Theory]
    [InlineData("", "The name is empty.")]
    [InlineData("   ", "The name is empty.")]
    [InlineData("1234567890123456789012345678901234567890123456789012345678901", "The name has 61 characters.")]
    [InlineData("a\tb", "The name holds a control character.")]
    [InlineData("GAME", "The name “GAME” is taken.")]
    public void A_name_that_cannot_be_is_refused_with_what_where_and_what_is_allowed(string name, string what)
    {
        var refused = new SetSource(new("mic"), name).Apply(Start).ShouldBeOfType<CommandResult.Refused>();
        refused.Problems.ShouldContain(p => p.What == what && p.Where.StartsWith("sources[") && p.Allowed.Length > 0);
    }

    [Theory]
    [InlineData(12.01)]
    [InlineData(-121)]
    [InlineData(double.NaN)]
    [InlineData(double.PositiveInfinity)]
    public void A_gain_out_of_range_is_refused(double decibels)
    {
        var refused = new SetSend(Demo.Ears, new("mic"), new Gain(decibels)).Apply(Start).ShouldBeOfType<CommandResult.Refused>();
        refused.Problems.Single().Where.ShouldBe("mixes[0].sends[0].gain");
        refused.Problems.Single().Allowed.ShouldBe(Gain.Allowed);
    }

    [Fact]
    public void The_history_reads_like_sentences()
    {
        var rig = Start.Apply(new SetSend(Demo.Viewers, new("music"), new Gain(-6)));
        Sentence(new SetSend(Demo.Viewers, new("music"), new Gain(-9.5)), rig).ShouldBe("MUSIC in Viewers −6.0 → −9.5 dB");
        Sentence(new SetSend(Demo.Viewers, new("music"), Heard: false), rig).ShouldBe("MUSIC in Viewers put in the dock");
        Sentence(new SetSend(Demo.Viewers, new("music"), Pan: -0.5), rig).ShouldBe("MUSIC in Viewers pan centre → 50 % left");
        Sentence(new SetMix(Demo.Ears, TargetLufs: -20), rig).ShouldBe("My ears target −16.0 → −20.0 LUFS");
        Sentence(new MoveSource(new("music"), 0), rig).ShouldBe("Moved MUSIC from place 3 to 1");
        Sentence(new AddMix(new Mix { Id = new("x"), Name = " Hall ", Purpose = MixPurpose.Other }), rig).ShouldBe("Added Hall");
        Sentence(new SetSource(new("mic"), "Voice", new Gain(3)), rig).ShouldBe("MIC renamed to Voice, trim 0.0 → +3.0 dB");
    }

    [Theory]
    [InlineData(SourceKind.Microphone, MixPurpose.MyEars, false)]
    [InlineData(SourceKind.Microphone, MixPurpose.Viewers, true)]
    [InlineData(SourceKind.Call, MixPurpose.Guest, false)]
    [InlineData(SourceKind.Call, MixPurpose.Viewers, true)]
    [InlineData(SourceKind.Chat, MixPurpose.MyEars, true)]
    [InlineData(SourceKind.Chat, MixPurpose.Viewers, false)]
    [InlineData(SourceKind.Chat, MixPurpose.Guest, false)]
    [InlineData(SourceKind.CatchAll, MixPurpose.Recording, false)]
    [InlineData(SourceKind.Music, MixPurpose.Guest, true)]
    public void A_new_source_is_proposed_where_its_listener_would_want_it(SourceKind kind, MixPurpose purpose, bool heard)
    {
        var rig = Start with { Mixes = [Start.Mixes[0] with { Purpose = purpose }] };
        rig.Apply(new AddSource(Demo.Source("new", kind))).Mixes[0].Sends[^1].Heard.ShouldBe(heard);
    }

    [Theory]
    [InlineData("send/a/b/gain", "send/a/b/gain", true)]
    [InlineData("send/a/b/gain", "send/a/b/muted", false)]
    [InlineData("send/a", "send/a/b/muted", true)]
    [InlineData("source/ab/name", "source/a", false)]
    public void Two_changes_meet_where_they_set_the_same_or_one_holds_the_other(string one, string other, bool meet)
    {
        TargetKeys.Meet(one, other).ShouldBe(meet);
        TargetKeys.Meet(other, one).ShouldBe(meet);
    }

    private static Gen<T> Pick<T>(params T[] values) => Gen.Int[0, values.Length - 1].Select(i => values[i]);

    private static string Sentence(RigCommand command, Rig rig) =>
        command.Apply(rig).ShouldBeOfType<CommandResult.Applied>().Sentence;

    private static string Json(Rig rig) => System.Text.Json.JsonSerializer.Serialize(rig, RigJson.Options);
}

using System.Collections.Immutable;
using System.Text.Json;
using CsCheck;
using Kinetra.Core.Editing;
using Kinetra.Core.Planning;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Takes;

/// <summary>Planned tracks are part of the show: made, changed, taken back, gone with what they take.</summary>
public class TrackCommandTests
{
    private static readonly Rig Show = Demo.Rig("voice", "music") with
    {
        Tracks = [new(new("a"), "Voice", new SourcePoint(new("voice"))), new(new("b"), "All", new MixPoint(Demo.Viewers)), new(new("c"), "Music", new SourcePoint(new("music"), Tap.BeforeChain))],
    };

    [Fact]
    public void Whatever_is_done_with_tracks_undo_brings_back_the_same_show() =>
        (from rig in AnyRigs.Rig
         from track in AnyRigs.TrackFor(rig)
         from what in Gen.Int[0, 8]
         from which in Gen.Int[0, 4]
         from flags in Gen.Bool.Array[7]
         select (rig, track, what, which, flags)).Sample(
            drawn =>
            {
                var (rig, track, what, which, flags) = drawn;
                RigCommand command = what switch
                {
                    0 => new AddTrack(track with { Id = new("new"), Name = "New" }, which),
                    1 => new RemoveTrack(new($"t{which}")),
                    2 => new PlanTracks(ProposedTracks.Of(rig)),
                    3 => new PlanTracks([]),
                    4 => new SetRecording(new((TakeForm)which)),
                    5 => new RemoveSource(rig.Sources[0].Id),
                    6 => new RemoveMix(rig.Mixes[0].Id),
                    _ => new SetTrack(
                        new($"t{which}"),
                        flags[0] ? "Other" : null,
                        flags[1] ? track.Takes : null,
                        flags[2] ? track.Width : null,
                        flags[3] ? track.Armed : null,
                        flags[4] ? track.Form : null,
                        flags[5],
                        flags[6] ? track.FileName ?? "" : null,
                        flags[0] ? which : null),
                };
                if (command.Apply(rig) is not CommandResult.Applied applied)
                {
                    what.ShouldBeOneOf(1, 6, 7, 8);
                    return;
                }

                applied.Sentence.ShouldNotBeEmpty();
                applied.IsNothing.ShouldBe(Text(applied.Rig) == Text(rig));
                Text(((CommandResult.Applied)applied.Inverse.Apply(applied.Rig)).Rig).ShouldBe(Text(rig));
            },
            iter: 1_000);

    [Fact]
    public void What_goes_takes_its_tracks_with_it_and_brings_them_back_in_their_places()
    {
        var removed = (CommandResult.Applied)new RemoveSource(new("voice")).Apply(Show);
        removed.Rig.Tracks.Select(t => t.Id.Value).ShouldBe(["b", "c"]);
        ((CommandResult.Applied)removed.Inverse.Apply(removed.Rig)).Rig.Tracks.ShouldBe(Show.Tracks);
        Show.Apply(new RemoveMix(Demo.Viewers)).Tracks.Select(t => t.Id.Value).ShouldBe(["a", "c"]);
    }

    [Theory]
    [InlineData("A/B", null, true)]
    [InlineData("Voice", null, false)]
    [InlineData("Music 2", "a/b", false)]
    [InlineData("Music 2", ".hidden", false)]
    [InlineData("Music 2", "ends ", true)]
    [InlineData("Music 2", "café №7", true)]
    public void A_track_may_be_called_anything_and_its_file_what_file_systems_take(string name, string? file, bool isAllowed)
    {
        var result = new SetTrack(new("c"), name, FileName: file).Apply(Show);
        (result is CommandResult.Applied).ShouldBe(isAllowed, string.Join(' ', (result as CommandResult.Refused)?.Problems ?? []));
    }

    [Fact]
    public void A_refusal_says_where_what_and_what_is_allowed()
    {
        Refused(new AddTrack(new(new("d"), "voice", new MixPoint(Demo.Ears)))).ShouldBe(("tracks[3].name", "Another track is called “voice” already.", "a name that no other track has"));
        Refused(new SetTrack(new("a"), Takes: new SourcePoint(new("nobody")))).ShouldBe(("tracks[0].takes", "The show has no source/nobody.", "a source, a mix or a cable of the show"));
        Refused(new SetTrack(new("a"), Takes: new DevicePoint(new("box"), Side.In))).Item2.ShouldBe("No track can take this.");
        Refused(new PlanTracks([.. Enumerable.Range(0, 200).Select(n => new PlannedTrack(new($"t{n}"), $"T{n}", new MixPoint(Demo.Ears)))])).ShouldBe(
            ("tracks", "A take cannot have 200 tracks.", $"a list of at most {RigLimits.Tracks}, none of them empty"));
        Refused(new PlanTracks(default)).Item1.ShouldBe("tracks");
        var twice = Show.Apply(new SetTrack(new("a"), FileName: "Same"));
        ((CommandResult.Refused)new SetTrack(new("b"), FileName: "same").Apply(twice)).Problems.Single().What.ShouldBe("Another track’s file is called “same” already.");
    }

    [Fact]
    public void What_is_offered_has_one_blend_first_then_voices_then_all_else_each_source_once() =>
        AnyRigs.Rig.Sample(
            rig =>
            {
                var offered = ProposedTracks.Of(rig);
                var (blend, sources) = (offered[0], offered.Skip(1).Select(t => ((SourcePoint)t.Takes).Id).ToList());
                blend.Takes.ShouldBeOfType<MixPoint>();
                sources.ShouldBe(rig.Sources.Select(s => s.Id), ignoreOrder: true);
                var voices = sources.Select(id => rig.Find(id)!.Kind is SourceKind.Microphone or SourceKind.Call or SourceKind.Chat).ToList();
                voices.ShouldBe(voices.OrderByDescending(v => v));
                new PlanTracks(offered).Apply(rig).ShouldBeOfType<CommandResult.Applied>();
            },
            iter: 300);

    [Fact]
    public void A_source_with_the_longest_name_that_is_the_blend_s_too_still_gets_a_track()
    {
        var longest = new string('x', RigLimits.NameLength);
        var rig = Demo.Rig("a", "b");
        rig = rig with { Sources = [rig.Sources[0] with { Name = longest }, rig.Sources[1] with { Name = "blend" }], Mixes = [rig.Mixes[0] with { Name = longest }] };
        new PlanTracks(ProposedTracks.Of(rig)).Apply(rig).ShouldBeOfType<CommandResult.Applied>().Rig.Tracks.Length.ShouldBe(3);
    }

    private static (string, string, string) Refused(RigCommand command)
    {
        var problem = ((CommandResult.Refused)command.Apply(Show)).Problems[0];
        return (problem.Where, problem.What, problem.Allowed);
    }

    private static string Text(Rig rig) => JsonSerializer.Serialize(rig, RigJson.Options);
}

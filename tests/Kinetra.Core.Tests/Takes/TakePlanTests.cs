using CsCheck;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Core.Takes;

namespace Kinetra.Core.Tests.Takes;

/// <summary>What a take would be is told before it begins.</summary>
public class TakePlanTests
{
    private static readonly Rig Show = Demo.Rig("voice", "music");

    [Fact]
    public void Where_nothing_is_planned_a_take_has_every_mix_and_every_source_that_are_there()
    {
        var plan = TakePlan.Of(Show, p => p == new SourcePoint(new("music")) ? 0 : p is MixPoint ? 2 : 1);
        plan.IsPlanned.ShouldBeFalse();
        plan.Tracks.Select(t => (t.FileName, t.Channels)).ShouldBe([("01 My ears.wav", 2), ("02 Viewers.wav", 2), ("03 VOICE.wav", 1)]);
        plan.Sentence.ShouldBe("3 tracks: 1 source apart, 2 mixes; 2.6 GB an hour at 24 bit");
        TakePlan.Of(Rig.Empty, _ => 1).Sentence.ShouldBe("The show has nothing to record yet.");
    }

    [Fact]
    public void What_is_planned_has_its_channels_its_form_and_its_file_whether_or_not_it_is_there_now()
    {
        var rig = Show with
        {
            Recording = new(TakeForm.Flac),
            Tracks =
            [
                new(new("a"), "All: of it", new MixPoint(Demo.Viewers)),
                new(new("b"), "Voice", new SourcePoint(new("voice")), TrackWidth.Stereo, Form: TakeForm.Mp3),
                new(new("c"), "Left out", new SourcePoint(new("music")), Armed: false),
                new(new("d"), "Far side", new AppPoint(new("call"), "in"), TrackWidth.Mono, FileName: "Guest hears"),
            ],
        };
        var plan = TakePlan.Of(rig, p => p is AppPoint ? 0 : p is MixPoint ? 2 : 1);
        plan.Tracks.Select(t => (t.FileName, t.Channels, t.Form)).ShouldBe(
            [("01 All- of it.flac", 2, TakeForm.Flac), ("02 Voice.mp3", 2, TakeForm.Mp3), ("Guest hears.flac", 1, TakeForm.Flac)]);
        plan.Sentence.ShouldStartWith("3 tracks: 1 source apart, 1 blend, 1 program’s hearing; ");
        plan.Sentence.ShouldEndWith(" an hour as FLAC and MP3");
        TakePlan.Of(rig with { Tracks = [rig.Tracks[2]] }, _ => 1).Sentence.ShouldBe("No planned track is armed: a take would have nothing.");
    }

    [Fact]
    public void No_two_files_of_a_take_have_one_name() =>
        AnyRigs.Rig.Sample(
            rig =>
            {
                // A name that somebody gave may be what another would get by itself.
                rig = rig.Tracks.IsEmpty ? rig : rig with { Tracks = [.. rig.Tracks.Select((t, i) => i == rig.Tracks.Length - 1 ? t with { FileName = "01 Track 0" } : t)] };
                var names = TakePlan.Of(rig, _ => 2).Tracks.Select(t => t.FileName.ToUpperInvariant()).ToList();
                names.Distinct().Count().ShouldBe(names.Count);
            },
            iter: 300);

    [Theory]
    [InlineData(0, 1e9, "0 kB free: enough for less than a minute.")]
    [InlineData(10_000_000_000, 1e9, "10.0 GB free: enough for 10 hours.")]
    [InlineData(1_500_000_000, 1e9, "1.5 GB free: enough for 1 h 30 min.")]
    [InlineData(500_000_000, 1e9, "500 MB free: enough for 30 minutes.")]
    [InlineData(5_000_000_000_000, 1e9, "5.0 TB free: enough for more than a thousand hours.")]
    [InlineData(500_000_000, 0, "500 MB free.")]
    public void How_long_the_room_lasts_is_said(long free, double anHour, string words) => TakePlan.Room(free, anHour).ShouldBe(words);

    [Theory]
    [InlineData("a/b", "a-b")]
    [InlineData("..", "track")]
    [InlineData(" two ", "two")]
    [InlineData("tab\tand:colon", "tab-and-colon")]
    public void Names_become_names_of_files(string name, string file) => TakeNames.SafeName(name).ShouldBe(file);
}

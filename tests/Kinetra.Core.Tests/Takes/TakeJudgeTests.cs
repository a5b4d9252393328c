using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Core.Takes;

namespace Kinetra.Core.Tests.Takes;

/// <summary>A take is judged by what is in its files. The judge of the judge made them, and knows what it did to them.</summary>
public class TakeJudgeTests
{
    private const int Second = AudioFormat.SampleRate;

    [Fact]
    public void Of_a_thousand_sound_takes_none_is_called_wrong()
    {
        // One in twenty is so long that it is listened to what is on which, too.
        Parallel.For(0, 1_000, new ParallelOptions { MaxDegreeOfParallelism = 2 }, seed =>
        {
            var (isLong, random) = (seed % 20 == 0, new Random(seed));
            var form = random.Next(3) switch { 0 => TakeForm.Wav32, 1 => TakeForm.Flac, _ => TakeForm.Wav24 };
            var take = new MadeTake(seed, isLong ? 2 : random.Next(1, 4), isLong ? 17 * Second : random.Next(Second / 2, 5 * Second), form);
            var verdict = take.Judge();
            verdict.Tracks.SelectMany(t => t.Remarks).ShouldBeEmpty($"seed {seed}: {verdict.Sentence}");
            verdict.Standing.ShouldBe(TakeStanding.Sound);
            verdict.Tracks.ShouldAllBe(t => t.ExactSeconds == take.Frames / Second);
        });
    }

    [Fact]
    public void Files_that_were_swapped_are_told_by_whose_sound_they_have()
    {
        var take = new MadeTake(1, 3, 5 * Second);
        (take.Files[0], take.Files[2]) = (take.Files[2], take.Files[0]);
        var verdict = take.Judge();
        Faults(verdict, 0).ShouldBe(["Its file has the sound of Track 3."]);
        Faults(verdict, 1).ShouldBeEmpty();
        Faults(verdict, 2).ShouldBe(["Its file has the sound of Track 1."]);
        verdict.Sentence.ShouldBe("2 of 3 tracks are not what they should be. Track 1: Its file has the sound of Track 3.");
    }

    [Fact]
    public void A_file_that_is_there_twice_is_told()
    {
        var take = new MadeTake(2, 3, 5 * Second);
        take.Files[1] = [.. take.Files[0]];
        var verdict = take.Judge();
        Faults(verdict, 1).ShouldBe(["Its file has the sound of Track 1."]);
        Faults(verdict, 0).ShouldBeEmpty();
    }

    [Fact]
    public void Two_sources_that_got_the_same_sound_are_told_and_a_blend_of_one_alone_is_no_fault()
    {
        var take = new MadeTake(3, 3, 5 * Second);
        take.Becomes(1, take.Given[0]);
        var verdict = take.Judge();
        Faults(verdict, 0).ShouldBe(["It has the same sound as Track 2."]);
        Faults(verdict, 1).ShouldBe(["It has the same sound as Track 1."]);
        take.Takes[1] = new MixPoint(new("all"));
        take.Judge().Standing.ShouldBe(TakeStanding.Remarks);
        take.Takes[1] = new SourcePoint(new("s0"), Tap.BeforeChain);
        take.Judge().Standing.ShouldBe(TakeStanding.Sound);
    }

    [Fact]
    public void Of_three_sources_with_one_sound_each_is_told()
    {
        var take = new MadeTake(16, 4, 5 * Second);
        take.Becomes(1, take.Given[0]);
        take.Becomes(3, take.Given[0]);
        var verdict = take.Judge();
        verdict.Tracks.Select(t => t.Standing == TakeStanding.Wrong).ShouldBe([true, true, false, true]);
        Faults(verdict, 3).ShouldBe(["It has the same sound as Track 1.", "It has the same sound as Track 2."]);
    }

    [Theory]
    [InlineData(-3, 300, true)]
    [InlineData(-3, 0, true)]
    [InlineData(-9, 300, true)]
    [InlineData(-20, 300, false)]
    [InlineData(-9, 0, true)]
    public void What_is_on_a_track_of_another_source_is_told_with_how_loud_and_a_little_of_it_is_no_fault(double level, int late, bool isFault)
    {
        var take = new MadeTake(4, 3, 18 * Second);
        var (own, other, gain) = (take.Given[1], take.Given[0], (float)Signals.FromDb(level));

        // Late, as a cable is, or at once.
        take.Becomes(1, [.. own.Select((x, n) => x + (gain * (n < late ? 0 : other[n - late])))]);
        var verdict = take.Judge();
        var remark = verdict.Tracks[1].Remarks.ShouldHaveSingleItem();
        remark.IsFault.ShouldBe(isFault);
        var told = System.Text.RegularExpressions.Regex.Match(remark.Words, isFault ? @"^Track 1 is on it too, about (\d+) dB softer than on its own\.$" : @"^Track 1 can be heard on it, about (\d+) dB softer than on its own\.$");
        told.Success.ShouldBeTrue(remark.Words);
        (-double.Parse(told.Groups[1].Value, System.Globalization.CultureInfo.InvariantCulture)).ShouldBe(level, 5);
        verdict.Tracks[0].Remarks.ShouldBeEmpty();
        verdict.Tracks[2].Remarks.ShouldBeEmpty();
    }

    [Theory]
    [InlineData(5)]
    [InlineData(20)]
    public void Two_that_have_one_sound_are_told_whatever_their_levels_even_in_a_short_take(int seconds)
    {
        var take = new MadeTake(15, 3, seconds * Second);
        take.Becomes(2, [.. take.Given[0].Select(x => x * (float)Signals.FromDb(-8))]);
        var verdict = take.Judge();
        Faults(verdict, 0).ShouldBe(["It has the same sound as Track 3, 8 dB louder."]);
        Faults(verdict, 2).ShouldBe(["It has the same sound as Track 1, 8 dB softer."]);
        verdict.Tracks[1].Remarks.ShouldBeEmpty();
    }

    [Fact]
    public void A_hole_is_told_where_it_is_and_one_sample_that_is_another_is_too()
    {
        var take = new MadeTake(5, 2, 9 * Second);
        take.Files[0].AsSpan(3 * Second, 2 * Second).Clear();
        take.Files[1][(7 * Second) + 11] += 1f / 8_388_608;
        var verdict = take.Judge();
        Faults(verdict, 0).ShouldBe(["From 00:03 to 00:05 it is silent, though what it took sounded."]);
        Faults(verdict, 1).ShouldBe(["At 00:07 it is not what the engine gave."]);
        verdict.Tracks.Select(t => t.ExactSeconds).ShouldBe([7L, 8L]);
        verdict.Tracks[1].Remarks[0].At.ShouldBe(7);
    }

    [Fact]
    public void A_hole_of_less_than_a_second_is_found_too()
    {
        var take = new MadeTake(6, 1, 4 * Second);
        take.Files[0].AsSpan(Second + 20_000, 480).Clear();
        Faults(take.Judge(), 0).ShouldBe(["At 00:01 it is not what the engine gave."]);
    }

    [Fact]
    public void A_gap_that_was_named_while_it_was_recorded_is_a_remark_with_its_reason()
    {
        var take = new MadeTake(7, 2, 6 * Second);
        var sound = take.Given[1].ToArray();
        sound.AsSpan(2 * Second, Second).Clear();
        take.Becomes(1, sound);
        take.Gaps[1] = [(new TakeSpan(2 * Second, Second), "Desk box is unplugged")];
        var verdict = take.Judge();
        verdict.Standing.ShouldBe(TakeStanding.Remarks);
        verdict.Tracks[1].Remarks.ShouldHaveSingleItem().Words.ShouldBe("Silent at 00:02 for 1.000 s: Desk box is unplugged.");
    }

    [Theory]
    [InlineData(true, TakeStanding.Wrong)]
    [InlineData(false, TakeStanding.Remarks)]
    public void A_track_that_is_silent_throughout_is_wrong_where_somebody_should_be_heard(bool isVoice, TakeStanding standing)
    {
        var take = new MadeTake(8, 2, 4 * Second) { AreVoices = isVoice };
        take.Becomes(1, new float[4 * Second]);
        var verdict = take.Judge();
        verdict.Standing.ShouldBe(standing);
        verdict.Tracks[1].Remarks.ShouldHaveSingleItem().Words.ShouldBe("Track 2 is silent throughout.");
        verdict.Tracks[1].PeakDb.ShouldBeNull();
    }

    [Fact]
    public void A_voice_that_falls_silent_is_told_from_when_on()
    {
        var take = new MadeTake(9, 1, 70 * Second);
        var sound = take.Given[0].ToArray();
        sound.AsSpan(38 * Second).Clear();
        take.Becomes(0, sound);
        var verdict = take.Judge();
        Faults(verdict, 0).ShouldBe(["Track 1 is silent from 00:38 on."]);
        verdict.Sentence.ShouldBe("The track is not what it should be. Track 1: Track 1 is silent from 00:38 on.");
    }

    [Fact]
    public void What_is_clipped_is_told_with_how_often_and_where_first()
    {
        var take = new MadeTake(10, 1, 5 * Second);
        var sound = take.Given[0].ToArray();
        sound.AsSpan((3 * Second) + 100, 5).Fill(1.2f);
        sound.AsSpan((4 * Second) + 100, 4).Fill(-1.2f);
        take.Becomes(0, sound);
        var verdict = take.Judge();
        Faults(verdict, 0).ShouldBe(["It is clipped: 2 times, first at 00:03."]);
        verdict.Tracks[0].ExactSeconds.ShouldBe(5, "what the engine gave was held at full scale, and that is so in the file");
        verdict.Tracks[0].PeakDb.ShouldBe(0);
    }

    [Fact]
    public void A_file_that_is_shorter_than_the_others_is_told()
    {
        var take = new MadeTake(11, 2, 5 * Second);
        take.Files[1] = take.Files[1][..(3 * Second)];
        Faults(take.Judge(), 1).ShouldBe(["Its file has 3.000 s of 5.000 s."]);
    }

    [Fact]
    public void Where_the_form_has_loss_it_is_held_against_how_loud_it_should_be_second_by_second()
    {
        var take = new MadeTake(12, 2, 8 * Second, TakeForm.Opus);
        for (var t = 0; t < 2; t++)
        {
            // What such an encoder does: not the same samples, and a little late.
            var noise = Signals.Noise(t, take.Frames, 0.002);
            take.Files[t] = [.. take.Files[t].Select((_, n) => n < 312 ? 0 : take.Files[t][n - 312] + noise[n])];
        }

        take.Judge().Standing.ShouldBe(TakeStanding.Sound);
        take.Files[0].AsSpan(3 * Second, 3 * Second).Clear();
        Faults(take.Judge(), 0).ShouldHaveSingleItem().ShouldMatch("^From 00:0[34] to 00:0[56] it is not as loud as what the engine gave\\.$");
    }

    [Fact]
    public void Where_nobody_knows_what_the_engine_gave_the_files_alone_are_judged()
    {
        var take = new MadeTake(13, 2, 5 * Second) { IsGivenKnown = false };
        var verdict = take.Judge();
        verdict.Standing.ShouldBe(TakeStanding.Sound);
        verdict.Tracks.ShouldAllBe(t => t.ExactSeconds == 0);
        verdict.Sentence.ShouldBe("All 2 tracks were read to the end, 5.000 s each. What the engine gave is not known, so the files alone were judged.");
    }

    [Fact]
    public void Seconds_in_which_a_track_went_over_to_another_time_are_not_compared_and_those_behind_are()
    {
        // The engine's sound; the track goes over to 700 frames later of it after 2.5 s.
        var given = MadeTake.Voice(14, 9 * Second);
        int[] cut = [(2 * Second) + 24_000, (2 * Second) + 24_000 + 512];
        float[] file = [.. given.AsSpan(0, cut[0]), .. new float[512], .. given.AsSpan(cut[1] + 700, 4 * Second)];
        var printing = new Printing(1, TakeForm.Wav32);
        printing.Append(given, given);
        var reading = new TrackReading(1, TakeForm.Wav32, [new(0, 0), new(cut[0], -1), new(cut[1], cut[1] + 700)], []);
        reading.Append(file, file);
        var content = reading.Finish();
        content.Seconds.Keys.Order().ShouldBe([0L, 1, 3, 4, 5]);
        content.Seconds.ShouldAllBe(s => s.Value.Hash == printing.Seconds[(int)s.Key].Hash);
    }

    private static IEnumerable<string> Faults(TakeVerdict verdict, int track) => verdict.Tracks[track].Remarks.Where(r => r.IsFault).Select(r => r.Words);
}

using System.Collections.Immutable;
using Kinetra.Core.Engine;
using Kinetra.Core.Metering;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Core.Voice;

namespace Kinetra.Core.Tests.Voice;

/// <summary>A bed that covers the words is brought under them, to what is wanted, and comes back after; one that does not is left alone.</summary>
public class BedCleanUpTests
{
    private const int Seconds = 15;
    private static readonly ImmutableArray<Point> Speakers = [new SourcePoint(new SourceId("host"))];
    private static readonly Lazy<float[]>[] Voices = [new(() => Spoken(11, 115)), new(() => Spoken(23, 205))];

    [Theory]
    [InlineData(0, -24)]
    [InlineData(0, -30)]
    [InlineData(1, -27)]
    [InlineData(1, -33)]
    public void A_bed_that_covers_the_words_lies_as_far_under_them_afterwards_as_is_wanted_and_is_back_between(int speaker, double level)
    {
        var (bed, speech) = (Bed(speaker, level), new SoundBuffer(Voices[speaker].Value, null));
        var before = BedReport.Of(bed, new SoundBeside(speech));
        var proposed = BedCleanUp.For(before, Speakers);
        var ducker = proposed.Steps.Single(s => s.Fault == VoiceFault.Covers);
        ducker.Reason.ShouldContain("under speech, back in");
        ducker.Processor!.Keys.ShouldBe(Speakers);
        Ducker.Type.Parameters.ShouldAllBe(p => ducker.Processor.Values[p.Key] >= p.Min && ducker.Processor.Values[p.Key] <= p.Max);
        BedCleanUp.Measures(before).Single(m => m.Fault == VoiceFault.Covers).IsInOrder.ShouldBeFalse();

        // Judged by the programme meter on the words alone, and on the last half second, long after the last word.
        var gain = (float)Signals.FromDb(proposed.Steps.Sum(s => s.Trim ?? 0));
        var trimmed = new SoundBuffer([.. bed.Left.Select(x => x * gain)], null);
        var after = LoopRender.Render(trimmed, [ducker.Processor], speech, TestContext.Current.CancellationToken);
        var words = Enumerable.Range(0, Seconds * 50).Where(h => Rms(speech.Left, h * 960, 960) > 0.01).SelectMany(h => Enumerable.Range(h * 960, 960)).ToArray();
        var under = Loudness([.. words.Select(n => speech.Left[n])]) - Loudness([.. words.Select(n => after.Left[n])]);
        under.ShouldBeInRange(BedCleanUp.Least, BedCleanUp.Wanted + 3);
        Signals.Db(Rms(after.Left, (Seconds * 48_000) - 30_000, 24_000) / Rms(trimmed.Left, (Seconds * 48_000) - 30_000, 24_000)).ShouldBe(0, 0.1);
        BedReport.Of(after, new SoundBeside(speech)).Under.ShouldBe(under, 1);
    }

    [Theory]
    [InlineData(0, -40)]
    [InlineData(1, -42)]
    public void A_bed_that_lies_far_enough_under_the_words_is_left_as_it_is(int speaker, double level)
    {
        var report = BedReport.Of(Bed(speaker, level), new SoundBeside(new SoundBuffer(Voices[speaker].Value, null)));
        var proposed = BedCleanUp.For(report, Speakers);
        proposed.Steps.ShouldBeEmpty(report.ToString());
        proposed.Unmendable.ShouldBeEmpty(report.ToString());
        BedCleanUp.Measures(report).ShouldAllBe(m => m.IsInOrder);
    }

    [Fact]
    public void As_a_mix_turns_them_is_how_far_it_is_told_to_lie_under_and_when_somebody_speaks_is_told_by_the_voice_as_it_is()
    {
        var (bed, speech) = (Bed(0, -30), new SoundBuffer(Voices[0].Value, null));
        var asItIs = BedReport.Of(bed, new SoundBeside(speech));
        foreach (var decibels in new[] { -40.0, -8, 12 })
        {
            var turned = BedReport.Of(bed, new SoundBeside(speech, new([.. speech.Left.Select(x => (float)(x * Signals.FromDb(decibels)))], null)));
            turned.Under.ShouldBe(asItIs.Under + decibels, 0.01);
            (turned.Speech - asItIs.Speech).ShouldBe(decibels, 0.01);
            (turned.SoftTop, turned.RoomTop, turned.Pause, turned.Bed).ShouldBe((asItIs.SoftTop, asItIs.RoomTop, asItIs.Pause, asItIs.Bed));
        }
    }

    [Theory]
    [InlineData(-12, -1)]
    [InlineData(-60, 1)]
    public void One_that_is_far_too_loud_or_too_soft_by_itself_is_brought_nearer_first(double level, int sign)
    {
        var proposed = BedCleanUp.For(BedReport.Of(Bed(0, level), new SoundBeside(new SoundBuffer(Voices[0].Value, null))), Speakers);
        Math.Sign(proposed.Steps[0].Trim!.Value).ShouldBe(sign);
    }

    [Fact]
    public void Where_nobody_speaks_or_nothing_plays_it_says_so_and_what_is_clipped_is_told()
    {
        var silence = new SoundBuffer(new float[Seconds * 48_000], null);
        var (bed, speech) = (Bed(0, -30), new SoundBuffer(Voices[0].Value, null));
        BedCleanUp.For(BedReport.Of(bed, new SoundBeside(silence)), Speakers).Unmendable.ShouldHaveSingleItem().Words.ShouldContain("Nobody spoke");
        BedCleanUp.For(BedReport.Of(silence, new SoundBeside(speech)), Speakers).Unmendable.ShouldHaveSingleItem().Words.ShouldContain("Nothing was heard of the bed");
        BedCleanUp.Measures(BedReport.Of(silence, new SoundBeside(silence))).ShouldBeEmpty();
        var clipped = new SoundBuffer([.. bed.Left.Select(x => Math.Clamp(x, -0.03f, 0.03f))], null);
        BedCleanUp.For(BedReport.Of(clipped, new SoundBeside(speech)), Speakers).Unmendable.ShouldContain(u => u.Fault == VoiceFault.Clipped);
        Should.Throw<ArgumentException>(() => BedReport.Of(bed, new SoundBeside(new SoundBuffer(new float[48_000], null))));
    }

    // The last two seconds are silent.
    private static float[] Spoken(int seed, double pitch) => [.. MadeVoice.Of(seed, pitch, Seconds - 2).Samples, .. new float[2 * 48_000]];

    // Swells of noise about a level, dBFS RMS.
    private static SoundBuffer Bed(int seed, double level)
    {
        var noise = Signals.Noise(seed + 40, Seconds * 48_000, 1);
        var shaped = noise.Select((x, n) => x * (float)(1 + (0.3 * Math.Sin(n / 30_000.0)))).ToArray();
        var scale = (float)(Signals.FromDb(level) / Math.Sqrt(2) / Rms(shaped, 0, shaped.Length));
        return new SoundBuffer([.. shaped.Select(x => x * scale)], null);
    }

    private static double Rms(float[] samples, int from, int count) => Math.Sqrt(samples.AsSpan(from, count).ToArray().Average(x => (double)x * x));

    private static double Loudness(float[] mono)
    {
        var measured = new Measurement(1, 48_000);
        measured.Add([mono], mono.Length);
        return measured.Finish().IntegratedLufs!.Value;
    }
}

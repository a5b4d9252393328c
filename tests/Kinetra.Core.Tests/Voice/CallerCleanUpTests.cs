using Kinetra.Core.Engine;
using Kinetra.Core.Metering;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Voice;

namespace Kinetra.Core.Tests.Voice;

/// <summary>Somebody who calls too quietly is as loud afterwards as those they talk with, and nothing is held against them that is the line's.</summary>
public class CallerCleanUpTests
{
    private const double Wanted = -20;
    private static readonly Lazy<MadeVoice>[] Callers = [new(() => MadeVoice.Of(31, 130, 14)), new(() => MadeVoice.Of(47, 215, 14))];

    [Theory]
    [InlineData(0, -10)]
    [InlineData(0, -14)]
    [InlineData(1, -10)]
    [InlineData(1, -14)]
    public void One_who_came_too_quiet_is_as_loud_as_those_they_talk_with_and_never_overloads(int caller, double by)
    {
        var talk = Talk(caller, by, -80);
        var report = CallerReport.Of(new SoundBuffer(talk, null));
        report.HasPauses.ShouldBeTrue();
        var proposed = CallerCleanUp.For(report, Wanted);
        proposed.Steps[0].Fault.ShouldBe(VoiceFault.Level, report.ToString());
        proposed.Steps[0].Reason.ShouldContain("those they talk with");
        CallerCleanUp.Measures(report, Wanted).Single(m => m.Fault == VoiceFault.Level).IsInOrder.ShouldBeFalse();
        var mended = LoopRender.Render(new SoundBuffer(talk, null), [.. proposed.Steps.Select(s => s.Processor!)], cancel: TestContext.Current.CancellationToken);
        var measured = new Measurement(1, 48_000);
        measured.Add([mended.Left], mended.Frames);
        measured.Finish().IntegratedLufs!.Value.ShouldBe(Wanted, 2, string.Join("\n", proposed.Steps.Select(s => s.Reason)));
        Signals.Db(mended.Left.Max(Math.Abs)).ShouldBeLessThan(-1);
    }

    [Theory]
    [InlineData(0)]
    [InlineData(1)]
    public void One_who_is_as_loud_as_the_others_on_a_quiet_line_is_left_alone(int caller)
    {
        var talk = Talk(caller, 0, -80);
        var loudness = CallerReport.Of(new SoundBuffer(talk, null)).Voice.Loudness;
        var proposed = CallerCleanUp.For(CallerReport.Of(new SoundBuffer(talk, null)), loudness + 1);
        proposed.Steps.Where(s => s.Fault != VoiceFault.Sudden).ShouldBeEmpty();
        proposed.Unmendable.ShouldBeEmpty();
    }

    [Theory]
    [InlineData(0)]
    [InlineData(1)]
    public void A_telephones_line_is_no_dullness_of_the_voice_and_nothing_is_offered_for_it(int caller)
    {
        var talk = Talk(caller, -8, -80);
        var line = new SoundBuffer(talk, null);
        var narrow = LoopRender.Render(line, [.. Enumerable.Range(0, 3).SelectMany(_ => new[] { Processor.Of(Cuts.HighCut, ("frequency", 3_000), ("slope", 3)), Processor.Of(Cuts.LowCut, ("frequency", 250), ("slope", 3)) })], cancel: TestContext.Current.CancellationToken);
        var report = CallerReport.Of(narrow);
        report.Reach.ShouldBeInRange(2_800, CallerCleanUp.NarrowLine);
        var proposed = CallerCleanUp.For(report, Wanted);
        proposed.Steps.ShouldNotContain(s => s.Fault == VoiceFault.Dull || s.Fault == VoiceFault.Thin);
        proposed.Unmendable.ShouldContain(u => u.Fault == VoiceFault.Dull && u.Words.Contains("another line"));
        CallerReport.Of(line).Reach.ShouldBeGreaterThan(8_000);
    }

    [Fact]
    public void A_noisy_line_is_gated_between_the_words_and_silence_is_told()
    {
        var talk = Talk(0, -12, -63);
        var report = CallerReport.Of(new SoundBuffer(talk, null));
        CallerCleanUp.For(report, Wanted).Steps.ShouldContain(s => s.Fault == VoiceFault.Noise && s.Processor!.Type == Gate.Type.Key, report.ToString());
        var silence = new SoundBuffer(new float[10 * 48_000], null);
        CallerCleanUp.For(CallerReport.Of(silence), Wanted).Unmendable.ShouldHaveSingleItem().Words.ShouldContain("Nothing was heard");
        CallerCleanUp.Measures(CallerReport.Of(silence), Wanted).ShouldBeEmpty();
        Should.Throw<ArgumentException>(() => CallerReport.Of(new SoundBuffer(new float[48_000], null)));
    }

    [Fact]
    public void More_than_24_dB_is_told_to_be_no_answer()
    {
        var proposed = CallerCleanUp.For(CallerReport.Of(new SoundBuffer(Talk(1, -34, -90), null)), Wanted);
        proposed.Steps[0].Processor!.Values["gain"].ShouldBe(24);
        proposed.Unmendable.ShouldContain(u => u.Words.Contains("come closer"));
    }

    private static float[] Talk(int caller, double by, double noise)
    {
        var samples = Callers[caller].Value.Samples.Select(x => x * (float)Signals.FromDb(by)).ToArray();
        return MadeVoice.Sum(samples, MadeVoice.Room(caller + 3, noise, samples.Length), new float[samples.Length]);
    }
}

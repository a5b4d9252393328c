using Kinetra.Core.Engine;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Voice;

namespace Kinetra.Core.Tests.Voice;

/// <summary>The fault that was put into a voice is found, none is found in the clean one, and what is proposed makes it better and nothing else worse.</summary>
public class CleanUpTests
{
    private const int SilenceFrames = 4 * 48_000;

    private static readonly Lazy<MadeVoice>[] Speakers = [new(() => MadeVoice.Of(11, 115)), new(() => MadeVoice.Of(23, 205))];

    public static TheoryData<VoiceFault, double, int> Faults()
    {
        var data = new TheoryData<VoiceFault, double, int>();
        foreach (var (fault, strengths) in new (VoiceFault, double[])[]
        {
            (VoiceFault.Noise, [-52, -46]), (VoiceFault.Hum, [-30, -62, 50, 62]), (VoiceFault.Rumble, [-55, -45]), (VoiceFault.Sibilance, [12, 16]), (VoiceFault.Muddy, [7, 11]),
            (VoiceFault.Nasal, [8, 12]), (VoiceFault.Thin, [280, 400]), (VoiceFault.Dull, [2_500, 4_000]), (VoiceFault.Level, [-20, -34]), (VoiceFault.Plosives, [0.1, 0.25]),
        })
        {
            foreach (var strength in strengths)
            {
                data.Add(fault, strength, 0);
                data.Add(fault, strength, 1);
            }
        }

        return data;
    }

    [Theory]
    [InlineData(0, -75)]
    [InlineData(1, -75)]
    [InlineData(0, -66)]
    [InlineData(1, -66)]
    public void Of_a_clean_voice_in_a_quiet_room_nothing_is_said(int speaker, double room)
    {
        var report = Report(Made(speaker, room));
        var proposed = CleanUp.For(report);
        proposed.Steps.Select(s => s.Fault).ShouldBeEmpty(report.ToString());
        proposed.Unmendable.Select(u => u.Fault).ShouldBeEmpty(report.ToString());
        var measures = CleanUp.Measures(report);
        measures.Select(m => m.Fault).ShouldBe(Enum.GetValues<VoiceFault>().Except([VoiceFault.Covers, VoiceFault.Sudden]), ignoreOrder: true);
        measures.ShouldAllBe(m => m.IsInOrder && m.Words.Length > 0);
        report.Bands.Length.ShouldBe(20);
        report.Bands.ShouldAllBe(b => Math.Abs(b.Voice - b.Usual) < 12 && b.Room < b.Voice);
    }

    [Theory]
    [MemberData(nameof(Faults))]
    public void The_fault_that_was_put_in_is_found_and_what_is_proposed_makes_it_better_and_nothing_else_worse(VoiceFault fault, double strength, int speaker)
    {
        var sound = Spoiled(fault, strength, speaker);
        var before = Report(sound);
        var proposed = CleanUp.For(before);
        var step = proposed.Steps.FirstOrDefault(s => s.Fault == fault || (fault is VoiceFault.Nasal or VoiceFault.Dull or VoiceFault.Muddy or VoiceFault.Thin && s.Processor?.Type == Equaliser.Type.Key));
        step.ShouldNotBeNull($"{before}");
        step.Reason.ShouldNotBeNullOrWhiteSpace();
        CleanUp.Measures(before).Single(m => m.Fault == fault).IsInOrder.ShouldBeFalse();
        foreach (var processor in proposed.Steps.Select(s => s.Processor).OfType<Processor>())
        {
            // What is proposed can stand in a chain: within what each parameter allows.
            ProcessorTypes.Find(processor.Type)!.Parameters.ShouldAllBe(p => processor.Values[p.Key] >= p.Min && processor.Values[p.Key] <= p.Max);
        }

        var trimmed = sound.Select(x => x * (float)Signals.FromDb(proposed.Steps.Sum(s => s.Trim ?? 0))).ToArray();
        var mended = LoopRender.Render(new SoundBuffer(trimmed, null), [.. proposed.Steps.Select(s => s.Processor).OfType<Processor>()], cancel: TestContext.Current.CancellationToken);
        var after = Report(mended.Left);
        var words = $"{before}\n{after}\n{string.Join("\n", proposed.Steps.Select(s => s.Reason))}";
        switch (fault)
        {
            case VoiceFault.Noise:
                after.OverRoom.ShouldBeGreaterThan(before.OverRoom + 8, words);
                break;
            case VoiceFault.Hum:
                before.Hum!.Base.ShouldBe(strength < 0 ? 50 : 60);
                (after.Hum?.Level ?? -120).ShouldBeLessThan(before.Hum.Level - 15, words);
                break;
            case VoiceFault.Rumble:
                after.Rumble.ShouldBeLessThan(before.Rumble - 8, words);
                break;
            case VoiceFault.Sibilance:
                after.Sibilance.ShouldBeLessThan(before.Sibilance - 1.5, words);
                break;
            case VoiceFault.Muddy:
                after.Muddy.ShouldBeLessThan(before.Muddy - 1.5, words);
                break;
            case VoiceFault.Nasal:
                after.Nasal.ShouldBeLessThan(before.Nasal - 1.5, words);
                break;
            case VoiceFault.Thin:
                after.Thin.ShouldBeLessThan(before.Thin - 1.5, words);
                break;
            case VoiceFault.Dull:
                after.Dull.ShouldBeLessThan(before.Dull - 1.5, words);
                break;
            case VoiceFault.Level:
                after.Loudness.ShouldBeInRange(-30, -14, words);
                break;
            case VoiceFault.Plosives:
                after.Plosives.ShouldBeLessThan(before.Plosives / 2, words);
                break;
        }

        // What it did not aim at is no worse by more than 2.5 dB, unless it stays in order.
        Worse(after.Sibilance, before.Sibilance, CleanUp.SibilanceOver);
        Worse(after.Muddy, before.Muddy, CleanUp.MuddyOver);
        Worse(after.Nasal, before.Nasal, CleanUp.NasalOver);
        Worse(after.Thin, before.Thin, CleanUp.ThinOver);
        Worse(after.Dull, before.Dull, CleanUp.DullOver);
        Worse(-after.OverRoom, -before.OverRoom, -CleanUp.NoisyOver);
        after.Peak.ShouldBeLessThan(0, words);

        void Worse(double now, double then, double inOrder) => (now <= then + 2.5 || now <= inOrder).ShouldBeTrue(words);
    }

    [Theory]
    [InlineData(0, 3)]
    [InlineData(0, 8)]
    [InlineData(1, 3)]
    [InlineData(1, 8)]
    public void Clipping_before_the_trim_is_told_and_no_processor_is_offered_for_it(int speaker, double drive)
    {
        var highest = Speakers[speaker].Value.Samples.Max(Math.Abs);
        var sound = Made(speaker, -75, v => [.. v.Samples.Select(x => Math.Clamp((float)(x * drive), -highest, highest) * 0.5f)]);
        var proposed = CleanUp.For(Report(sound));
        proposed.Unmendable.ShouldContain(u => u.Fault == VoiceFault.Clipped);
        proposed.Steps.ShouldNotContain(s => s.Fault == VoiceFault.Clipped);
    }

    [Theory]
    [InlineData(0, 0.8)]
    [InlineData(0, 1.4)]
    [InlineData(1, 0.8)]
    [InlineData(1, 1.4)]
    public void A_voice_that_is_far_away_in_its_room_is_told_to_come_closer(int speaker, double seconds)
    {
        var report = Report(Made(speaker, -75, v => MadeVoice.Distant(v.Samples, 1, seconds, 0)));
        report.Decay.ShouldBe(seconds, seconds * 0.4);
        CleanUp.For(report).Unmendable.ShouldContain(u => u.Fault == VoiceFault.Distant && u.Words.Contains("closer"));
    }

    [Theory]
    [InlineData(0)]
    [InlineData(1)]
    public void Where_the_room_is_as_loud_as_the_softest_words_no_gate_is_proposed_and_it_says_why(int speaker)
    {
        var proposed = CleanUp.For(Report(Made(speaker, -34)));
        proposed.Steps.ShouldNotContain(s => s.Processor != null && s.Processor.Type == Gate.Type.Key);
        proposed.Unmendable.ShouldContain(u => u.Fault == VoiceFault.Noise && u.Words.Contains("over the room"));
    }

    [Theory]
    [InlineData(0)]
    [InlineData(1)]
    public void Where_somebody_spoke_in_the_silence_it_says_so_since_then_the_room_is_not_known(int speaker)
    {
        var sound = Made(speaker, -66);
        Array.Copy(Speakers[speaker].Value.Samples, 0, sound, 48_000, 48_000);
        var report = Report(sound);
        CleanUp.For(report).Unmendable.Single(u => u.Fault == VoiceFault.Noise).Words.ShouldContain("was not silent");
        CleanUp.For(report).Steps.ShouldNotContain(s => s.Fault == VoiceFault.Noise);
        CleanUp.Measures(report).Single(m => m.Fault == VoiceFault.Noise).IsInOrder.ShouldBeFalse();
    }

    [Fact]
    public void Of_nobody_it_says_that_nobody_was_heard_and_what_is_too_short_is_not_taken()
    {
        var silence = new SoundBuffer(new float[SilenceFrames], null);
        CleanUp.For(VoiceReport.Of(silence, new SoundBuffer(new float[5 * 48_000], null))).Unmendable.ShouldHaveSingleItem().Fault.ShouldBe(VoiceFault.Level);
        Should.Throw<ArgumentException>(() => VoiceReport.Of(new SoundBuffer(new float[1_000], null), silence));
        Should.Throw<ArgumentException>(() => VoiceReport.Of(silence, silence));
    }

    private static float[] Spoiled(VoiceFault fault, double strength, int speaker) => fault switch
    {
        VoiceFault.Noise => Made(speaker, strength),
        VoiceFault.Hum => Made(speaker, -75, more: n => MadeVoice.Hum(strength < 0 ? 50 : 60, -Math.Abs(strength), n)),
        VoiceFault.Rumble => Made(speaker, -75, more: n => MadeVoice.Rumble(speaker, strength, n)),
        VoiceFault.Sibilance => Made(speaker, -75, v => v.Sharper(strength)),
        VoiceFault.Muddy => Made(speaker, -75, v => MadeVoice.Peaked(v.Samples, 290, 0.9, strength)),
        VoiceFault.Nasal => Made(speaker, -75, v => MadeVoice.Peaked(v.Samples, 1_000, 1.2, strength)),
        VoiceFault.Thin => Made(speaker, -75, v => MadeVoice.Thinner(v.Samples, strength)),
        VoiceFault.Dull => Made(speaker, -75, v => MadeVoice.Duller(v.Samples, strength)),
        VoiceFault.Plosives => Made(speaker, -75, v => MadeVoice.Thumped(v.Samples, strength)),
        _ => [.. Made(speaker, -75).Select(x => x * (float)Signals.FromDb(strength))],
    };

    // Silence, and then speech.
    private static float[] Made(int speaker, double room, Func<MadeVoice, float[]>? spoil = null, Func<int, float[]>? more = null)
    {
        var speech = (spoil ?? (v => v.Samples))(Speakers[speaker].Value);
        float[] all = [.. new float[SilenceFrames], .. speech];
        return MadeVoice.Sum(all, MadeVoice.Room(5 + speaker, room, all.Length), more?.Invoke(all.Length) ?? new float[all.Length]);
    }

    private static VoiceReport Report(float[] sound) => VoiceReport.Of(new SoundBuffer(sound[..SilenceFrames], null), new SoundBuffer(sound[SilenceFrames..], null));
}

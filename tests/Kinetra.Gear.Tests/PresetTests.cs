using Kinetra.Core.Engine;
using Kinetra.Core.Metering;
using Kinetra.Core.Planning;
using Kinetra.Core.Processors;
using Kinetra.Core.Signal;

namespace Kinetra.Gear.Tests;

/// <summary>Presets on the demo's own sounds, by figures: what each is for, it does, and not much else.</summary>
public class PresetTests(MadeStandIns made) : IClassFixture<MadeStandIns>
{
    private const int Seconds = 40;

    [Theory]
    [InlineData("voiceNatural", "host-mic")]
    [InlineData("voiceClose", "host-mic")]
    [InlineData("voiceNoisyRoom", "host-mic")]
    [InlineData("voiceHeadset", "host-mic")]
    [InlineData("caller", "guest-call")]
    public void A_voice_keeps_its_place_and_gets_steadier(string preset, string device)
    {
        var before = Measure(made.All.Sound(device));
        var after = Measure(Through(preset, made.All.Sound(device)));
        TestContext.Current.TestOutputHelper!.WriteLine($"{preset}: {before.Integrated:0.0} LUFS {before.TruePeak:0.0} dBTP {before.Pauses:0.0} → {after.Integrated:0.0} {after.TruePeak:0.0} {after.Pauses:0.0}");
        after.Integrated.ShouldBe(before.Integrated, 4);
        after.TruePeak.ShouldBeLessThan(-1);
        (after.TruePeak - after.Integrated).ShouldBeLessThan(before.TruePeak - before.Integrated);
    }

    [Theory]
    [InlineData("voiceNoisyRoom", "host-mic", 10)]
    [InlineData("voiceHeadset", "host-mic", 6)]
    [InlineData("caller", "guest-call", 8)]
    public void What_shuts_in_pauses_takes_the_rooms_noise_down_against_the_voice(string preset, string device, double atLeast)
    {
        var before = Measure(made.All.Sound(device));
        var after = Measure(Through(preset, made.All.Sound(device)));
        TestContext.Current.TestOutputHelper!.WriteLine($"{preset}: {before.Integrated:0.0} LUFS {before.TruePeak:0.0} dBTP {before.Pauses:0.0} → {after.Integrated:0.0} {after.TruePeak:0.0} {after.Pauses:0.0}");
        (before.Pauses - before.Integrated - (after.Pauses - after.Integrated)).ShouldBeGreaterThan(atLeast);
    }

    [Fact]
    public void The_game_stays_below_its_ceiling_and_the_music_under_the_voice_keeps_its_loudness()
    {
        Measure(Through("gameBed", made.All.Sound("skerry-keeper"))).TruePeak.ShouldBeLessThan(-5.9);
        var before = Measure(made.All.Sound("record-shelf"));
        Measure(Through("musicBed", made.All.Sound("record-shelf"))).Integrated.ShouldBe(before.Integrated - 3, 3);
    }

    [Fact]
    public void Mix_safety_changes_nothing_that_is_in_order()
    {
        var sound = made.All.Sound("record-shelf");
        var safe = Through("mixSafety", sound);
        var latency = Enumerable.Range(0, 1_000).First(lag => Enumerable.Range(20_000, 500).All(n => safe.Left[n + lag] == sound.Left[n]));
        safe.Left[latency..(10 * AudioFormat.SampleRate)].ShouldBe(sound.Left[..((10 * AudioFormat.SampleRate) - latency)]);
    }

    private static SoundBuffer Through(string preset, SoundBuffer sound)
    {
        var (left, right) = (Part(sound.Left), sound.Right is null ? null : Part(sound.Right));
        foreach (var processor in ChainPresets.Find(preset)!.Make())
        {
            var type = ProcessorTypes.Find(processor.Type)!;
            var slot = new ChainSlot(type, new ProcessorSettings(right is null ? 1 : 2, processor.ValuesOf(type)));
            for (var at = 0; at < left.Length; at += AudioFormat.BlockFrames)
            {
                var length = Math.Min(AudioFormat.BlockFrames, left.Length - at);
                slot.Process(left.AsSpan(at, length), right is null ? default : right.AsSpan(at, length), default);
            }
        }

        return new SoundBuffer(left, right);
    }

    private static (double Integrated, double Range, double TruePeak, double Pauses) Measure(SoundBuffer sound)
    {
        var (left, right) = (Part(sound.Left), sound.Right is null ? [] : Part(sound.Right));
        var channels = right.Length > 0 ? 2 : 1;
        var (level, peak, programme) = (new LevelMeter(channels), new TruePeakMeter(channels), new ProgrammeLoudness());
        var momentary = new List<double>();
        for (var at = 0; at + Hop.Frames <= left.Length; at += Hop.Frames)
        {
            for (var part = at; part < at + Hop.Frames; part += 240)
            {
                var rightPart = channels == 2 ? right.AsSpan(part, 240) : default;
                level.Add(left.AsSpan(part, 240), rightPart);
                peak.Add(left.AsSpan(part, 240), rightPart);
            }

            level.CloseHop();
            peak.CloseHop();
            programme.CloseHop(level.Momentary, level.ShortTerm);
            momentary.Add(level.Momentary);
        }

        // The quietest twentieth: nobody speaks.
        return (programme.Integrated, programme.Range, peak.Most, momentary.Skip(Hop.Momentary).Order().ElementAt(momentary.Count / 20));
    }

    private static float[] Part(float[] samples) => samples[..Math.Min(samples.Length, Seconds * AudioFormat.SampleRate)];
}

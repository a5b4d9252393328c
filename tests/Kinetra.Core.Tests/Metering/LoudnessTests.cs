using Kinetra.Core.Metering;

namespace Kinetra.Core.Tests.Metering;

public class LoudnessTests
{
    [Theory]
    [InlineData(-23)]
    [InlineData(-33)]
    [InlineData(-3)]
    public void A_1_kHz_stereo_sine_reads_its_peak_level_in_LUFS(double dbfs)
    {
        var meter = Measure(Signals.Sine(1000, Signals.FromDb(dbfs), 4 * Signals.Rate));
        meter.Momentary.ShouldBe(dbfs, 0.1);
        meter.ShortTerm.ShouldBe(dbfs, 0.1);
    }

    [Fact]
    public void Mono_reads_3_LU_less_than_the_same_in_both_channels()
    {
        var sine = Signals.Sine(1000, 0.1, 4 * Signals.Rate);
        Measure(sine, channels: 1).ShortTerm.ShouldBe(Measure(sine).ShortTerm - 3.01, 0.01);
    }

    [Fact]
    public void A_997_Hz_sine_of_full_scale_in_one_channel_reads_minus_3_01_LUFS()
    {
        Measure(Signals.Sine(997, 1, 4 * Signals.Rate), channels: 1).ShortTerm.ShouldBe(-3.01, 0.01);
    }

    [Fact]
    public void The_windows_are_exactly_400_ms_and_3_s_long()
    {
        var meter = new LevelMeter(1);
        Hops(meter, Signals.Sine(1000, 0.1, 3 * Signals.Rate));
        var shortTerm = meter.ShortTerm;
        var momentary = meter.Momentary;
        Hops(meter, new float[Signals.Rate * 2 / 10]);
        meter.Momentary.ShouldBe(momentary - 3.01, 0.02);
        meter.ShortTerm.ShouldBe(shortTerm - (10 * Math.Log10(30.0 / 28)), 0.02);
        Hops(meter, new float[Signals.Rate * 28 / 10]);
        meter.Momentary.ShouldBeLessThan(-150);
        meter.ShortTerm.ShouldBeLessThan(-70);
    }

    [Fact]
    public void RMS_of_a_full_scale_sine_is_0_dBFS_and_its_peak_too()
    {
        var meter = Measure(Signals.Sine(1000, 1, Signals.Rate));
        meter.Rms.ShouldBe(0, 0.01);
        meter.PeakHold.ShouldBe(0, 0.01);
        meter.TakePeak().ShouldBe(0, 0.01);
        meter.TakePeak().ShouldBe(double.NegativeInfinity);
    }

    [Fact]
    public void Silence_reads_minus_infinity_never_NaN()
    {
        var meter = Measure(new float[Signals.Rate]);
        foreach (var value in new[] { meter.Rms, meter.Momentary, meter.ShortTerm, meter.PeakHold, meter.TakePeak() })
        {
            value.ShouldBe(double.NegativeInfinity);
        }
    }

    [Fact]
    public void Reference_loudness_is_that_of_the_speech_not_of_its_pauses()
    {
        var reference = new ReferenceLoudness();
        var meter = new LevelMeter(1);
        var speech = Signals.Sine(1000, 0.1, 5 * Signals.Rate);
        var room = Signals.Sine(1000, 0.001, 5 * Signals.Rate);
        for (var turn = 0; turn < 4; turn++)
        {
            Hops(meter, speech, reference);
            Hops(meter, room, reference);
        }

        // The speech alone reads −23.0; its onsets, on which the 3 s window still holds the pause, pull a little.
        reference.Lufs.ShouldBe(-23.0, 1.5);
        var before = reference.Lufs;
        Hops(meter, new float[60 * Signals.Rate], reference);
        reference.Lufs.ShouldBe(before, 0.1);
    }

    [Fact]
    public void Reference_loudness_of_a_steady_sound_is_its_loudness()
    {
        var reference = new ReferenceLoudness();
        Hops(new LevelMeter(1), Signals.Sine(1000, 0.1, 63 * Signals.Rate), reference);
        reference.Lufs.ShouldBe(-23.0, 0.1);
    }

    [Fact]
    public void A_source_that_was_never_active_has_no_reference_loudness()
    {
        var reference = new ReferenceLoudness();
        Hops(new LevelMeter(1), new float[5 * Signals.Rate], reference);
        reference.Lufs.ShouldBe(double.NegativeInfinity);
    }

    private static LevelMeter Measure(float[] samples, int channels = 2)
    {
        var meter = new LevelMeter(channels);
        Hops(meter, samples);
        return meter;
    }

    private static void Hops(LevelMeter meter, float[] samples, ReferenceLoudness? reference = null)
    {
        for (var at = 0; at + Hop.Frames <= samples.Length; at += Hop.Frames)
        {
            var hop = samples.AsSpan(at, Hop.Frames);
            meter.Add(hop, hop);
            meter.CloseHop();
            reference?.CloseHop(meter.Momentary, meter.ShortTerm);
        }
    }
}

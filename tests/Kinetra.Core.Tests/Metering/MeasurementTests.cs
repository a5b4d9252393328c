using Kinetra.Core.Metering;

namespace Kinetra.Core.Tests.Metering;

public class MeasurementTests
{
    [Theory]
    [InlineData(44_100)]
    [InlineData(48_000)]
    [InlineData(96_000)]
    public void A_stereo_sine_measures_at_any_rate_what_the_standard_says(int rate)
    {
        // EBU Tech 3341, case 1: 1 kHz at −23 dBFS in both channels reads −23 LUFS.
        var sine = Signals.Sine(1_000, Signals.FromDb(-23), 20 * rate, rate);
        var measured = Measure(rate, sine, sine);
        measured.Seconds.ShouldBe(20);
        measured.IntegratedLufs!.Value.ShouldBe(-23, 0.1);
        measured.MaxMomentaryLufs!.Value.ShouldBe(-23, 0.1);
        measured.MaxShortTermLufs!.Value.ShouldBe(-23, 0.1);
        measured.LoudnessRangeLu!.Value.ShouldBe(0, 0.1);
        measured.TruePeakDbtp!.Value.ShouldBe(-23, 0.1);
        measured.SamplePeakDbfs!.Value.ShouldBe(-23, 0.1);
        measured.RmsDbfs!.Value.ShouldBe(-23, 0.01);
        measured.Correlation.ShouldBe(1);
        measured.Clips.ShouldBe(0);
    }

    [Fact]
    public void What_silence_does_not_have_is_nothing_and_not_a_number_that_was_made_up()
    {
        var measured = Measure(48_000, new float[480_000], new float[480_000]);
        measured.ShouldBe(new Measured(10, null, null, null, null, null, null, null, null, 0, 0, 0, null));
        Measure(48_000, [[]]).ShouldBe(new Measured(0, null, null, null, null, null, null, null, null, 0, 0, 0, null));
    }

    [Fact]
    public void A_recording_that_is_too_short_for_a_window_has_no_such_value()
    {
        var half = Measure(48_000, Signals.Noise(1, 24_000));
        half.MaxMomentaryLufs.ShouldNotBeNull();
        half.IntegratedLufs.ShouldNotBeNull();
        half.MaxShortTermLufs.ShouldBeNull();
        half.LoudnessRangeLu.ShouldBeNull();
        Measure(48_000, Signals.Noise(1, 4_800)).IntegratedLufs.ShouldBeNull();
    }

    [Fact]
    public void Offset_clips_floor_and_correlation_are_those_of_the_samples()
    {
        var left = Signals.Noise(1, 480_000, 0.001);
        for (var n = 0; n < left.Length; n++)
        {
            left[n] += n % 96_000 < 48_000 ? (float)(0.5 * Math.Sin(2 * Math.PI * 440 * n / 48_000.0)) : 0;
        }

        var right = left.Select(x => -x).ToArray();
        for (var n = 0; n < left.Length; n++)
        {
            right[n] += 0.1f;
        }

        left[1_000] = left[1_001] = 1;
        left[200_000] = -1.5f;
        var measured = Measure(48_000, left, right);
        measured.DcOffset.ShouldBe(0.1, 0.001);
        measured.Clips.ShouldBe(2);
        measured.SamplePeakDbfs!.Value.ShouldBe(Signals.Db(1.5), 1e-3);
        Measure(48_000, left).NoiseFloorDbfs!.Value.ShouldBe(Signals.Db(0.001 / Math.Sqrt(3) * Math.Sqrt(2)), 0.3);
        Measure(48_000, left, [.. left.Select(x => -x)]).Correlation!.Value.ShouldBe(-1, 1e-9);
        Measure(48_000, Signals.Noise(1, 480_000), Signals.Noise(2, 480_000)).Correlation!.Value.ShouldBe(0, 0.01);
        Measure(48_000, left).Correlation.ShouldBeNull();
    }

    [Fact]
    public void A_channel_counts_as_it_is_heard_low_frequencies_not_at_all_and_the_sides_more()
    {
        var sine = Signals.Sine(1_000, 0.1, 240_000);
        double? Heard(Speaker speaker)
        {
            var measurement = new Measurement(2, 48_000, [speaker, Speaker.Plain]);
            measurement.Add([(float[])sine.Clone(), new float[sine.Length]], sine.Length);
            return measurement.Finish().IntegratedLufs;
        }

        Heard(Speaker.Side)!.Value.ShouldBe(Heard(Speaker.Plain)!.Value + (10 * Math.Log10(1.41)), 0.01);
        Heard(Speaker.LowFrequency).ShouldBeNull();
    }

    [Fact]
    public void At_forty_eight_thousand_hertz_the_designed_weighting_is_the_printed_one()
    {
        var (shelf, rollOff) = KWeighting.At(48_000.000_001);
        foreach (var (designed, printed) in new[] { (shelf, KWeighting.Shelf), (rollOff, KWeighting.RollOff) })
        {
            foreach (var (one, other) in new[] { (designed.B0, printed.B0), (designed.B1, printed.B1), (designed.B2, printed.B2), (designed.A1, printed.A1), (designed.A2, printed.A2) })
            {
                one.ShouldBe(other, 1e-6);
            }
        }
    }

    [Fact]
    public void What_is_not_finite_is_measured_as_the_engine_would_take_it()
    {
        var measured = Measure(48_000, [float.NaN, float.PositiveInfinity, float.NegativeInfinity, .. Signals.Noise(1, 48_000)]);
        double.IsFinite(measured.RmsDbfs!.Value).ShouldBeTrue();
        double.IsFinite(measured.TruePeakDbtp!.Value).ShouldBeTrue();
    }

    [Fact]
    public void In_pieces_of_any_length_the_same_is_measured()
    {
        var (left, right) = (Signals.Noise(1, 150_000), Signals.Noise(2, 150_000));
        var measurement = new Measurement(2, 44_100);
        for (int at = 0, piece = 1; at < left.Length; at += piece, piece = Math.Min((piece * 2) + 7, left.Length - at))
        {
            measurement.Add([left[at..(at + piece)], right[at..(at + piece)]], piece);
            if (at + piece == left.Length)
            {
                break;
            }
        }

        var pieces = measurement.Finish();
        var whole = Measure(44_100, left, right);
        pieces.IntegratedLufs!.Value.ShouldBe(whole.IntegratedLufs!.Value, 1e-9);
        pieces.TruePeakDbtp.ShouldBe(whole.TruePeakDbtp);
        pieces.NoiseFloorDbfs.ShouldBe(whole.NoiseFloorDbfs);
    }

    private static Measured Measure(int rate, params float[][] channels)
    {
        var measurement = new Measurement(channels.Length, rate);
        measurement.Add([.. channels.Select(c => (float[])c.Clone())], channels[0].Length);
        return measurement.Finish();
    }
}

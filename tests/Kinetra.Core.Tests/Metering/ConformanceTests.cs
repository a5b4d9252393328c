using System.Globalization;
using System.Text.RegularExpressions;
using Kinetra.Core.Metering;
using Kinetra.Core.Tests.Processors;

namespace Kinetra.Core.Tests.Metering;

/// <summary>The test signals of EBU Tech 3341 and 3342 that are defined by description, with the documents' tolerances.</summary>
public class ConformanceTests
{
    private const int Second = Signals.Rate;

    [Theory]
    [InlineData("1", "-23:20")]
    [InlineData("2", "-33:20")]
    [InlineData("3", "-36:10 -23:60 -36:10")]
    [InlineData("4", "-72:10 -36:10 -23:60 -36:10 -72:10")]
    [InlineData("5", "-26:20 -20:20.1 -26:20")]
    public void Tech_3341_integrated_loudness(string number, string tones)
    {
        var meters = Measure(Tones(tones));
        meters.Integrated.ShouldBe(number == "2" ? -33 : -23, 0.1);
        if (number is "1" or "2")
        {
            meters.Momentary[^1].ShouldBe(meters.Integrated, 0.1);
            meters.ShortTerm[^1].ShouldBe(meters.Integrated, 0.1);
        }
    }

    [Fact]
    public void Tech_3341_case_9_short_term_loudness_stands_still()
    {
        var meters = Measure(Tones(string.Join(' ', Enumerable.Repeat("-20:1.34 -30:1.66", 5))));
        meters.ShortTerm.Skip(150).ShouldAllBe(s => Math.Abs(s + 23) <= 0.1);
    }

    [Fact]
    public void Tech_3341_case_10_short_term_loudness_finds_a_tone_of_3_s_wherever_it_begins()
    {
        for (var i = 0; i < 20; i++)
        {
            Measure([.. new float[(int)(i * 0.15 * Second)], .. Tones("-23:3"), .. new float[Second]]).ShortTerm.Max().ShouldBe(-23, 0.1);
        }
    }

    [Fact]
    public void Tech_3341_case_12_momentary_loudness_stands_still()
    {
        var meters = Measure(Tones(string.Join(' ', Enumerable.Repeat("-20:0.18 -30:0.22", 25))));
        meters.Momentary.Skip(50).ShouldAllBe(m => Math.Abs(m + 23) <= 0.1);
    }

    [Fact]
    public void Tech_3341_case_13_momentary_loudness_finds_a_tone_of_400_ms_wherever_it_begins()
    {
        for (var i = 0; i < 20; i++)
        {
            Measure([.. new float[(int)(i * 0.02 * Second)], .. Tones("-23:0.4"), .. new float[Second]]).Momentary.Max().ShouldBe(-23, 0.1);
        }
    }

    [Theory]
    [InlineData(4, 0, 0.5, -6)]
    [InlineData(4, 45, 0.5, -6)]
    [InlineData(6, 60, 0.5, -6)]
    [InlineData(8, 67.5, 0.5, -6)]
    [InlineData(4, 45, 1.41, 3)]
    public void Tech_3341_cases_15_to_19_true_peak(double divisor, double degrees, double amplitude, double expected)
    {
        // Faded in and out: a sine that begins at once has higher peaks than its own.
        var sine = Signals.Sine(Second / divisor, amplitude, Second, phase: degrees * Math.PI / 180);
        for (var n = 0; n < 4_800; n++)
        {
            sine[n] *= n / 4_800f;
            sine[^(n + 1)] *= n / 4_800f;
        }

        Measure(sine).TruePeak.ShouldBeInRange(expected - 0.4, expected + 0.2);
    }

    [Theory]
    [InlineData("-20:20 -30:20", 10)]
    [InlineData("-20:20 -15:20", 5)]
    [InlineData("-40:20 -20:20", 20)]
    [InlineData("-50:20 -35:20 -20:20 -35:20 -50:20", 15)]
    public void Tech_3342_range(string tones, double expected) => Measure(Tones(tones)).Range.ShouldBe(expected, 1);

    [Fact]
    public void On_mixed_material_it_agrees_with_an_independent_program()
    {
        var random = new Random(8);
        var sound = new float[2 * 90 * Second];
        double gain = 0.1, low = 0, other = 0;
        for (var n = 0; n < 90 * Second; n++)
        {
            gain = n % 20_000 == 0 ? Signals.FromDb(-45 * random.NextDouble()) : gain;
            low += 0.2 * (random.NextDouble() - 0.5 - low);
            other += 0.05 * (random.NextDouble() - 0.5 - other);
            var tone = Math.Sin(2 * Math.PI * (200 + (n / 900 % 40 * 90)) * n / Second);
            sound[2 * n] = (float)(gain * (low + (0.3 * tone)));
            sound[(2 * n) + 1] = (float)(gain * (low - other + (0.1 * tone)));
        }

        var log = Judge.Run(sound, 2, "-af", "ebur128=peak=true", "-f", "null", "-").Log;
        var summary = log[log.LastIndexOf("Summary:", StringComparison.Ordinal)..];
        double Said(string name) => double.Parse(Regex.Match(summary, name + @":\s+(-?[\d.]+)").Groups[1].Value, CultureInfo.InvariantCulture);
        var left = sound.Where((_, i) => i % 2 == 0).ToArray();
        var right = sound.Where((_, i) => i % 2 == 1).ToArray();
        var meters = Measure(left, right);
        meters.Integrated.ShouldBe(Said("I"), 0.1);
        meters.Range.ShouldBe(Said("LRA"), 0.15);
        meters.TruePeak.ShouldBe(Said("Peak"), 0.2);
    }

    [Fact]
    public void The_true_peak_of_a_full_scale_sine_is_read_at_most_0_15_dB_too_low_up_to_20_kHz_at_any_phase()
    {
        var random = new Random(2);
        for (var i = 0; i < 150; i++)
        {
            var hertz = i < 50 ? 19_000 + (i * 20) : 20 * Math.Pow(1_000, random.NextDouble());
            var sine = Signals.Sine(hertz, 1, 9_600, phase: 2 * Math.PI * random.NextDouble());
            var meter = new TruePeakMeter(1);
            for (var at = 0; at < sine.Length; at += 240)
            {
                // The beginning of a sine is no sine.
                meter.Add(sine.AsSpan(at, 240), default);
                meter.CloseHop();
                if (at == 2_400)
                {
                    meter.Reset();
                }
            }

            meter.Most.ShouldBeInRange(-0.15, 0.01, $"{hertz} Hz");
        }
    }

    private static (double Integrated, double Range, double TruePeak, List<double> Momentary, List<double> ShortTerm) Measure(float[] left, float[]? right = null)
    {
        right ??= left;
        var meter = new LevelMeter(2);
        var programme = new ProgrammeLoudness();
        var peak = new TruePeakMeter(2);
        var (momentary, shortTerm) = (new List<double>(), new List<double>());
        for (var at = 0; at + Hop.Frames <= left.Length; at += Hop.Frames)
        {
            meter.Add(left.AsSpan(at, Hop.Frames), right.AsSpan(at, Hop.Frames));
            for (var part = 0; part < Hop.Frames; part += 240)
            {
                peak.Add(left.AsSpan(at + part, 240), right.AsSpan(at + part, 240));
            }

            meter.CloseHop();
            peak.CloseHop();
            programme.CloseHop(meter.Momentary, meter.ShortTerm);
            momentary.Add(meter.Momentary);
            shortTerm.Add(meter.ShortTerm);
        }

        return (programme.Integrated, programme.Range, peak.Most, momentary, shortTerm);
    }

    // "level:seconds level:seconds …": 1 kHz, in phase in both channels, levels in dBFS of the peak.
    private static float[] Tones(string tones)
    {
        var sound = new List<float>();
        foreach (var tone in tones.Split(' '))
        {
            var (level, seconds) = (double.Parse(tone.Split(':')[0], CultureInfo.InvariantCulture), double.Parse(tone.Split(':')[1], CultureInfo.InvariantCulture));
            sound.AddRange(Signals.Sine(1_000, Signals.FromDb(level), (int)Math.Round(seconds * Second)));
        }

        return [.. sound];
    }
}

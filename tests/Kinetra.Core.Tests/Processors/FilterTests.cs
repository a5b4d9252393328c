using System.Diagnostics;
using System.Globalization;
using System.Numerics;
using CsCheck;
using Kinetra.Core.Dsp;
using Kinetra.Core.Processors;
using MathNet.Numerics.IntegralTransforms;

namespace Kinetra.Core.Tests.Processors;

public class FilterTests
{
    // Eleven seconds: a cut at 20 Hz of the lowest Q rings that long.
    private const int Length = 524_288;
    private const double Bin = (double)Signals.Rate / Length;

    public static TheoryData<string> Filters => ["lowCut", "highCut", "equaliser"];

    [Theory]
    [MemberData(nameof(Filters))]
    public void The_curve_that_is_drawn_is_the_response_that_an_impulse_shows(string key)
    {
        var type = ProcessorTypes.Find(key)!;
        Gen.Double[0, 1].Array[type.Parameters.Length].Sample(
            shares =>
            {
                var values = type.Parameters.Select((p, i) => Value(p, shares[i])).ToArray();
                var sections = new BiquadCoefficients[type.Sections];
                type.Design!(values, sections);
                var response = Response(Rack.Run(new(type, new ProcessorSettings(1, [.. values])), Impulse()).Left);
                for (var bin = 218; bin * Bin < 20_000; bin += 58)
                {
                    var drawn = Signals.Db(FilterDesign.Magnitude(sections, bin * Bin));
                    if (drawn > -60)
                    {
                        response[bin].ShouldBe(drawn, 0.05, $"{bin * Bin} Hz");
                    }
                }
            },
            iter: 25);
    }

    [Theory]
    [MemberData(nameof(Filters))]
    public void It_agrees_with_the_plain_difference_equation_in_64_bit_to_120_dB_below_full_scale(string key)
    {
        var type = ProcessorTypes.Find(key)!;
        var noise = Signals.Noise(1, Signals.Rate, 0.5);
        var values = type.Parameters.Select((p, i) => Value(p, key == "equaliser" ? 0.3 + (0.01 * i) : 0.4)).ToArray();
        var sections = new BiquadCoefficients[type.Sections];
        type.Design!(values, sections);
        var ideal = noise.Select(x => (double)x).ToArray();
        foreach (var c in sections)
        {
            // y[n] = b0 x[n] + b1 x[n−1] + b2 x[n−2] − a1 y[n−1] − a2 y[n−2]
            double x1 = 0, x2 = 0, y1 = 0, y2 = 0;
            for (var n = 0; n < ideal.Length; n++)
            {
                var x = ideal[n];
                var y = (c.B0 * x) + (c.B1 * x1) + (c.B2 * x2) - (c.A1 * y1) - (c.A2 * y2);
                (x2, x1, y2, y1) = (x1, x, y1, y);
                ideal[n] = y;
            }
        }

        var heard = Rack.Run(new(type, new ProcessorSettings(1, [.. values])), noise).Left;
        Signals.Db(heard.Zip(ideal, (h, i) => Math.Abs(h - i)).Max()).ShouldBeLessThan(-120 + Signals.Db(ideal.Max(Math.Abs)));
    }

    [Theory]
    [InlineData("lowCut", 80)]
    [InlineData("lowCut", 1_000)]
    [InlineData("highCut", 500)]
    [InlineData("highCut", 8_000)]
    [InlineData("highCut", 16_000)]
    public void A_cut_is_3_dB_down_at_its_frequency_and_falls_by_its_slope(string key, double frequency)
    {
        var type = ProcessorTypes.Find(key)!;
        for (var slope = 0; slope < 4; slope++)
        {
            var response = Response(Rack.Run(type, Impulse(), ("frequency", frequency), ("slope", slope)));
            At(response, frequency).ShouldBe(-3.01, 0.1);
            var away = key == "lowCut" ? frequency / 2 : frequency * 2;
            if (away < 12_000)
            {
                // Butterworth of order n: 1 / √(1 + 2^2n) an octave away.
                At(response, away).ShouldBe(-10 * Math.Log10(1 + Math.Pow(2, 4 * (slope + 1))), 0.35);
            }
        }
    }

    [Theory]
    [InlineData(100, 6, 1)]
    [InlineData(1_000, -12, 4)]
    [InlineData(10_000, 12, 1)]
    [InlineData(16_000, 9, 2)]
    [InlineData(16_000, -9, 2)]
    public void A_peak_keeps_the_analogue_shape_up_to_20_kHz(double frequency, double gain, double q)
    {
        var response = Response(Rack.Run(Equaliser.Type, Impulse(), ("shape2", 1), ("frequency2", frequency), ("gain2", gain), ("q2", q)));
        var a = Math.Pow(10, gain / 40);
        for (var f = 30.0; f < 20_000; f *= 1.07)
        {
            var s = new Complex(0, f / frequency);
            var analogue = ((s * s) + (s * a / q) + 1) / ((s * s) + (s / (a * q)) + 1);
            At(response, f).ShouldBe(Signals.Db(analogue.Magnitude), 0.6, $"{f} Hz");
        }

        At(response, frequency).ShouldBe(gain, 0.05);
    }

    [Theory]
    [InlineData("lowCut", "frequency=120;slope=0", "highpass=f=120:t=q:w=0.70710678", 5_000)]
    [InlineData("highCut", "frequency=2000;slope=0", "lowpass=f=2000:t=q:w=0.70710678", 2_500)]
    [InlineData("equaliser", "shape2=1;frequency2=400;gain2=9;q2=1.5", "equalizer=f=400:t=q:w=1.5:g=9", 5_000)]
    [InlineData("equaliser", "shape1=2;frequency1=150;gain1=-8;q1=0.70710678", "lowshelf=f=150:t=q:w=0.70710678:g=-8", 20_000)]
    [InlineData("equaliser", "shape4=3;frequency4=6000;gain4=7;q4=0.70710678", "highshelf=f=6000:t=q:w=0.70710678:g=7", 20_000)]
    [InlineData("equaliser", "shape3=4;frequency3=3000;q3=3", "bandreject=f=3000:t=q:w=3", 20_000)]
    public void An_independent_program_hears_the_same(string key, string settings, string filter, double upTo)
    {
        var type = ProcessorTypes.Find(key)!;
        var values = settings.Split(';').Select(s => (s.Split('=')[0], double.Parse(s.Split('=')[1], CultureInfo.InvariantCulture))).ToArray();
        var ours = Response(Rack.Run(type, Impulse(), values));
        var theirs = Response(Judge.Filter(Impulse(), filter));
        for (var f = 30.0; f < upTo; f *= 1.05)
        {
            if (At(theirs, f) > -50)
            {
                At(ours, f).ShouldBe(At(theirs, f), 0.1, $"{f} Hz");
            }
        }
    }

    private static double At(double[] response, double frequency) => response[(int)Math.Round(frequency / Bin)];

    private static double Value(Parameter parameter, double share)
    {
        var value = parameter.Scale == ParameterScale.Logarithmic
            ? parameter.Min * Math.Pow(parameter.Max / parameter.Min, share)
            : parameter.Min + (share * (parameter.Max - parameter.Min));
        return parameter.Scale == ParameterScale.Choice ? Math.Round(value) : value;
    }

    private static float[] Impulse() => [1, .. new float[Length - 1]];

    private static double[] Response(float[] impulse)
    {
        var spectrum = impulse.Select(x => new Complex(x, 0)).ToArray();
        Fourier.Forward(spectrum, FourierOptions.NoScaling);
        return [.. spectrum.Take(Length / 2).Select(x => Signals.Db(x.Magnitude))];
    }
}

/// <summary>ffmpeg, as a judge that knows nothing of us.</summary>
static class Judge
{
    /// <summary>A mono sound through a filter.</summary>
    public static float[] Filter(float[] sound, string filter)
    {
        var bytes = Run(sound, 1, "-af", filter, "-f", "f32le", "-").Output;
        var samples = new float[bytes.Length / sizeof(float)];
        Buffer.BlockCopy(bytes, 0, samples, 0, samples.Length * sizeof(float));
        return samples;
    }

    /// <summary>Interleaved sound in, whatever ffmpeg says out.</summary>
    public static (byte[] Output, string Log) Run(float[] interleaved, int channels, params string[] arguments)
    {
        string[] before = ["-hide_banner", "-nostats", "-f", "f32le", "-ar", "48000", "-ac", channels.ToString(CultureInfo.InvariantCulture), "-i", "-"];
        var start = new ProcessStartInfo("ffmpeg", [.. before, .. arguments])
        {
            RedirectStandardInput = true,
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        using var process = Process.Start(start)!;
        var log = process.StandardError.ReadToEndAsync();
        var writing = Task.Run(() =>
        {
            var bytes = new byte[interleaved.Length * sizeof(float)];
            Buffer.BlockCopy(interleaved, 0, bytes, 0, bytes.Length);
            process.StandardInput.BaseStream.Write(bytes);
            process.StandardInput.Close();
        });
        using var output = new MemoryStream();
        process.StandardOutput.BaseStream.CopyTo(output);
        writing.Wait();
        process.WaitForExit();
        process.ExitCode.ShouldBe(0, log.Result);
        return (output.ToArray(), log.Result);
    }
}

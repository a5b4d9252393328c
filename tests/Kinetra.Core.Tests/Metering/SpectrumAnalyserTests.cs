using CsCheck;
using Kinetra.Core.Metering;

namespace Kinetra.Core.Tests.Metering;

/// <summary>The spectrum that is drawn says how loud a tone or a noise is, at its frequency.</summary>
public class SpectrumAnalyserTests
{
    [Fact]
    public void A_full_scale_sine_reads_0_at_its_frequency_whatever_that_is()
    {
        Gen.Select(Gen.Double[Math.Log(40), Math.Log(19_000)], Gen.Double[0, 6]).Sample(
            (log, phase) =>
            {
                var hertz = Math.Exp(log);
                var read = Read(Signals.Sine(hertz, 1, SpectrumAnalyser.Length, phase: phase));
                Nearest(read, hertz).ShouldBe(0, 0.15f, $"{hertz:0.0} Hz");
                read.Max().ShouldBeLessThan(0.1f);
            },
            iter: 400);
    }

    [Fact]
    public void A_tone_an_octave_away_is_at_least_100_dB_down()
    {
        foreach (var hertz in new[] { 100.0, 440, 1_234, 5_000 })
        {
            var read = Read(Signals.Sine(hertz, 1, SpectrumAnalyser.Length));
            Nearest(read, hertz * 2).ShouldBeLessThan(hertz < 400 ? -60 : -100);
        }
    }

    [Fact]
    public void Noise_as_loud_in_each_hertz_rises_by_3_dB_for_each_octave()
    {
        // Averaged over many windows: of one, a band is as uncertain as its bins are few.
        var analyser = new SpectrumAnalyser();
        var noise = Signals.Noise(3, SpectrumAnalyser.Length * 600, 0.5);
        for (var i = 0; i < 600; i++)
        {
            analyser.Take(noise.AsSpan(i * SpectrumAnalyser.Length, SpectrumAnalyser.Length), default, 0.002);
        }

        var read = new float[SpectrumAnalyser.Points];
        analyser.CopyTo(read);
        for (var hertz = 500; hertz <= 8_000; hertz *= 2)
        {
            (Nearest(read, hertz * 2) - Nearest(read, hertz)).ShouldBe(3.01f, 0.7f, $"{hertz}");
        }

        // Evenly spread over 24 kHz at the noise's own level: that of a band is its share.
        var power = 2 * noise.Average(x => (double)x * x);
        var width = 4_000 * (Math.Pow(2, 1.0 / 12) - Math.Pow(2, -1.0 / 12));
        Nearest(read, 4_000).ShouldBe((float)(10 * Math.Log10(power * width / 24_000)), 0.5f);
    }

    [Fact]
    public void Of_two_channels_the_mean_of_their_powers_counts()
    {
        var sine = Signals.Sine(1_000, 1, SpectrumAnalyser.Length);
        Nearest(Read(sine, new float[sine.Length]), 1_000).ShouldBe(-3.01f, 0.05f);
        Nearest(Read(sine, [.. sine.Select(x => -x)]), 1_000).ShouldBe(0, 0.05f);
        Nearest(Read(sine, Signals.Sine(3_000, 1, SpectrumAnalyser.Length)), 3_000).ShouldBe(-3.01f, 0.05f);
    }

    [Fact]
    public void A_change_is_shown_by_63_percent_after_the_time_that_it_states()
    {
        var analyser = new SpectrumAnalyser();
        var (loud, silent) = (Signals.Sine(1_000, 1, SpectrumAnalyser.Length), new float[SpectrumAnalyser.Length]);
        analyser.Take(loud, default, 1);
        for (var i = 0; i < 5; i++)
        {
            analyser.Take(silent, default, SpectrumAnalyser.Averaging / 5);
        }

        var read = new float[SpectrumAnalyser.Points];
        analyser.CopyTo(read);
        Nearest(read, 1_000).ShouldBe((float)(10 * Math.Log10(Math.Exp(-1))), 0.1f);
        analyser.Reset();
        analyser.Take(silent, default, 0.001);
        analyser.CopyTo(read);
        read.ShouldAllBe(x => x == (float)SpectrumAnalyser.Floor);
    }

    private static float[] Read(float[] left, float[]? right = null)
    {
        var analyser = new SpectrumAnalyser();
        analyser.Take(left, right ?? [], 1);
        var read = new float[SpectrumAnalyser.Points];
        analyser.CopyTo(read);
        return read;
    }

    private static float Nearest(float[] read, double hertz) => read[SpectrumAnalyser.Frequencies.Select((f, i) => (Away: Math.Abs(Math.Log(f / hertz)), i)).Min().i];
}

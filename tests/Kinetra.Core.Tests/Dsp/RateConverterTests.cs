using CsCheck;
using Kinetra.Core.Dsp;

namespace Kinetra.Core.Tests.Dsp;

public class RateConverterTests
{
    [Fact]
    public void A_tone_in_the_pass_band_comes_out_as_the_same_tone_and_nothing_else()
    {
        Rates.Select(Gen.Double[0.001, 0.9], (rates, share) => (rates.From, rates.To, Hertz: share * Math.Min(rates.From, rates.To) / 2)).Sample(
            t =>
            {
                var output = RateConverter.Convert(Signals.Sine(t.Hertz, 0.9, Length(t.From), t.From), t.From, t.To);
                var (amplitude, rest) = Fit(output, t.Hertz, t.To);
                Math.Abs(Signals.Db(amplitude / 0.9)).ShouldBeLessThan(0.01, $"{t}");
                Signals.Db(rest).ShouldBeLessThan(-120, $"{t}");
            },
            iter: 60,
            threads: 1);
    }

    [Fact]
    public void What_the_lower_rate_cannot_hold_is_gone_by_120_dB()
    {
        Rates.Where(r => r.To < r.From).Select(Gen.Double[0, 1], (rates, share) => (rates.From, rates.To, Hertz: ((rates.To / 2.0) * (1 - share)) + (rates.From * 0.499 * share))).Sample(
            t => GoneBy(t.Hertz, t.From, t.To).ShouldBeLessThan(-120, $"{t}"),
            iter: 40,
            threads: 1);
    }

    // Where both rates are nearly the same, the edge is where most comes together: images, and what the table errs by.
    [Fact]
    public void Just_beyond_what_the_lower_rate_can_hold_all_is_gone_by_120_dB()
    {
        Gen.Select(Gen.Int[8_000, 192_000], Gen.Double[0.98, 0.999], Gen.Double[0, 0.01], (from, share, beyond) => (From: from, To: (int)(from * share), Beyond: beyond)).Sample(
            t =>
            {
                var hertz = Math.Min(t.To / 2.0 * (1 + t.Beyond), t.From * 0.4999);
                GoneBy(hertz, t.From, t.To).ShouldBeLessThan(-120, $"{t}");
            },
            iter: 60,
            threads: 1);
        GoneBy(68_273.385, 137_326, 136_305).ShouldBeLessThan(-120);
    }

    [Fact]
    public void In_pieces_of_any_length_the_same_comes_out()
    {
        var noise = Signals.Noise(1, 20_000);
        var whole = RateConverter.Convert(noise, 44_100, 48_000);
        Gen.Int[1, 3_000].List[1, 30].Sample(
            pieces =>
            {
                var converter = new RateConverter(44_100, 48_000);
                var made = new List<float>();
                var at = 0;
                foreach (var piece in pieces.Select(p => Math.Min(p, noise.Length - at)))
                {
                    var room = new float[converter.MostFrom(piece)];
                    made.AddRange(room[..converter.Process(noise.AsSpan(at, piece), room)]);
                    at += piece;
                }

                made.ToArray().ShouldBe(whole[..made.Count]);
            },
            iter: 30);
    }

    [Fact]
    public void Equal_rates_change_nothing()
    {
        var noise = Signals.Noise(1, 1000);
        RateConverter.Convert(noise, 48_000, 48_000).ShouldBe(noise);
    }

    private static readonly Gen<(int From, int To)> Rates = Gen.OneOf(
        Gen.Select(Common(), Common()),
        Gen.Select(Gen.Int[8_000, 192_000], Gen.Int[8_000, 192_000])).Where(r => r.Item1 != r.Item2);

    private static Gen<int> Common()
    {
        int[] rates = [8_000, 11_025, 16_000, 22_050, 32_000, 44_100, 48_000, 88_200, 96_000, 176_400, 192_000];
        return Gen.Int[0, rates.Length - 1].Select(i => rates[i]);
    }

    // What is left of a tone of full scale, away from the ends, dB.
    private static double GoneBy(double hertz, int from, int to)
    {
        var output = RateConverter.Convert(Signals.Sine(hertz, 1, Length(from), from), from, to);
        var edge = output.Length / 4;
        return Signals.Db(Math.Max(output[edge..^edge].Max(), -output[edge..^edge].Min()));
    }

    private static int Length(int rate) => rate / 4;

    // The tone that fits best, and the most that differs from it, away from the ends.
    private static (double Amplitude, double Left) Fit(float[] samples, double hertz, int rate)
    {
        var edge = samples.Length / 4;
        double ss = 0, cc = 0, sc = 0, xs = 0, xc = 0;
        for (var n = edge; n < samples.Length - edge; n++)
        {
            var (s, c) = Math.SinCos(2 * Math.PI * hertz * n / rate);
            (ss, cc, sc, xs, xc) = (ss + (s * s), cc + (c * c), sc + (s * c), xs + (samples[n] * s), xc + (samples[n] * c));
        }

        var determinant = (ss * cc) - (sc * sc);
        var (a, b) = (((xs * cc) - (xc * sc)) / determinant, ((xc * ss) - (xs * sc)) / determinant);
        double rest = 0;
        for (var n = edge; n < samples.Length - edge; n++)
        {
            var (s, c) = Math.SinCos(2 * Math.PI * hertz * n / rate);
            rest = Math.Max(rest, Math.Abs(samples[n] - (a * s) - (b * c)));
        }

        return (Math.Sqrt((a * a) + (b * b)), rest);
    }
}

using CsCheck;
using Kinetra.Core.Metering;

namespace Kinetra.Core.Tests.Metering;

public class SoundPlaceTests
{
    private static readonly Gen<(int At, int Frames, double Gain, double Noise, int Seed)> Pieces =
        Gen.Select(Gen.Int[0, 300_000], Gen.Int[24_000, 96_000], Gen.Double[-1, 1], Gen.Double[0, 0.5], Gen.Int[0, 1_000]);

    [Fact]
    public void A_piece_is_found_where_it_was_taken_from_whatever_its_level_its_polarity_and_what_coding_adds() =>
        Pieces.Where(p => Math.Abs(p.Gain) > 0.01).Sample(
            p =>
            {
                var whole = Voice(400_000, p.Seed);
                var noise = new Random(p.Seed + 1);
                var piece = whole.Skip(p.At).Take(p.Frames).Select(s => (float)(p.Gain * (s + (p.Noise * 0.1 * ((noise.NextDouble() * 2) - 1))))).ToArray();
                var found = SoundPlace.Find(piece, whole).ShouldNotBeNull();
                Math.Abs(found.Frame - p.At).ShouldBeLessThanOrEqualTo(6);
                found.Likeness.ShouldBeGreaterThan(0.7);
            },
            iter: 40);

    [Fact]
    public void What_is_another_sound_or_silence_is_not_found() =>
        Gen.Int[0, 1_000].Sample(
            seed =>
            {
                SoundPlace.Find(Voice(96_000, seed + 5_000), Voice(400_000, seed)).ShouldBeNull();
                SoundPlace.Find(new float[96_000], Voice(200_000, seed)).ShouldBeNull();
                SoundPlace.Find(Voice(48_000, seed), new float[200_000]).ShouldBeNull();
                SoundPlace.Find(Voice(48_000, seed), Voice(24_000, seed)).ShouldBeNull();
            },
            iter: 10);

    // Low noise that comes and goes as syllables do.
    private static float[] Voice(int frames, int seed)
    {
        var random = new Random(seed);
        var (sound, low, high) = (new float[frames], 0.0, 0.0);
        var syllable = 3_000 + random.Next(6_000);
        for (var n = 0; n < frames; n++)
        {
            var white = (random.NextDouble() * 2) - 1;
            low += 0.15 * (white - low);
            high += 0.01 * (low - high);
            sound[n] = (float)((low - high) * (0.3 + Math.Abs(Math.Sin(Math.PI * n / syllable))));
        }

        return sound;
    }
}

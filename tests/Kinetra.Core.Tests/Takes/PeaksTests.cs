using CsCheck;
using Kinetra.Core.Takes;

namespace Kinetra.Core.Tests.Takes;

/// <summary>An outline is as high as the sound is, wherever it is looked at.</summary>
public class PeaksTests
{
    [Fact]
    public void In_whatever_pieces_a_sound_comes_its_outline_is_the_highest_of_each_1024_frames() =>
        Gen.Select(Gen.Int[1, 40_000], Gen.Int[0, 1_000], Gen.Int[1, 5_000]).Sample(
            (frames, seed, piece) =>
            {
                var (left, right) = (Signals.Noise(seed, frames, 1.5), Signals.Noise(seed + 1, frames, 0.2));
                var peaks = new Peaks();
                var got = new List<ushort>();
                for (var at = 0; at < frames; at += piece)
                {
                    var count = Math.Min(piece, frames - at);
                    peaks.Append(left.AsSpan(at, count), right.AsSpan(at, count));
                    got.AddRange(peaks.Take());
                }

                peaks.Finish();
                got.AddRange(peaks.Take());
                got.ShouldBe(Enumerable.Range(0, (frames + 1_023) / 1_024).Select(p =>
                    (ushort)Math.Min(65_534, Math.Round(Enumerable.Range(p * 1_024, Math.Min(1_024, frames - (p * 1_024))).Max(n => Math.Max(Math.Abs(left[n]), Math.Abs(right[n]))) * 32_767f))));
            },
            iter: 100);

    [Fact]
    public void However_few_values_are_shown_none_of_what_is_high_is_left_out_and_beyond_the_end_there_is_nothing() =>
        Gen.Select(Gen.Int[1, 3_000], Gen.Int[1, 500], Gen.Int[0, 2_999]).Sample(
            (length, width, high) =>
            {
                var values = new ushort[length];
                values[high % length] = 9;
                Peaks.Shown(values, 0, length, width).Max().ShouldBe((ushort)9);
                var beyond = Peaks.Shown(values, 0, length * 2, 2 * width);
                beyond[..width].Max().ShouldBe((ushort)9);
                beyond[(width + 1)..].ShouldAllBe(v => v == 0);
            },
            iter: 500);
}

using Kinetra.Core.Voice;

namespace Kinetra.Core.Tests.Voice;

/// <summary>The last half minute of a sound is there when somebody asks for it, and no more than that.</summary>
public class RecentSoundTests
{
    private const int Block = 256;

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    public void What_was_given_in_the_last_half_minute_is_kept_and_differs_from_it_by_less_than_its_blocks_last_bit(int channels)
    {
        var recent = new RecentSound(channels);
        var blocks = RecentSound.Blocks + 100;

        // From loud to hardly there: every block has a scale of its own.
        var left = Signals.Noise(3, blocks * Block, 0.9).Select((x, n) => x * MathF.Pow(10, -5f * (n % 48_000) / 48_000)).ToArray();
        var right = Signals.Noise(4, blocks * Block, 0.5);
        for (var b = 0; b < blocks; b++)
        {
            recent.Add((b + 7L) * Block, left.AsSpan(b * Block, Block), right.AsSpan(b * Block, Block));
        }

        recent.Kept.ShouldBe((107L * Block, (blocks + 7L) * Block));
        var kept = recent.Take(0, int.MaxValue)!;
        kept.Frames.ShouldBe(30 * 48_000);
        kept.Channels.ShouldBe(channels);
        for (var b = 0; b < RecentSound.Blocks; b++)
        {
            Check(left.AsSpan((100 + b) * Block, Block), kept.Left.AsSpan(b * Block, Block));
            if (channels == 2)
            {
                Check(right.AsSpan((100 + b) * Block, Block), kept.Right.AsSpan(b * Block, Block));
            }
        }

        static void Check(ReadOnlySpan<float> given, ReadOnlySpan<float> kept)
        {
            var highest = 0f;
            foreach (var x in given)
            {
                highest = Math.Max(highest, Math.Abs(x));
            }

            for (var n = 0; n < given.Length; n++)
            {
                Math.Abs(given[n] - kept[n]).ShouldBeLessThanOrEqualTo(highest / 32_767 * 0.51f);
            }
        }
    }

    [Fact]
    public void A_stretch_is_taken_out_to_the_frame_and_what_was_missed_is_silence()
    {
        var recent = new RecentSound(1);
        var ones = Enumerable.Repeat(0.5f, Block).ToArray();
        recent.Add(0, ones, default);
        recent.Add(3 * Block, ones, default);
        recent.Take(100, 3 * Block)!.Left.ShouldBe([.. Enumerable.Repeat(0.5f, 156), .. new float[2 * Block], .. Enumerable.Repeat(0.5f, 100)]);
        recent.Take(4 * Block, 10).ShouldBeNull();
    }

    [Fact]
    public void What_is_forgotten_or_too_long_ago_is_not_given_and_what_is_no_number_is_silence()
    {
        var recent = new RecentSound(1);
        recent.Take(0, 10).ShouldBeNull();
        recent.Add(0, Signals.Noise(1, Block), default);
        recent.Forget();
        recent.Take(0, Block).ShouldBeNull();
        recent.Kept.ShouldBe((0L, 0L));
        recent.Add(0, Signals.Noise(1, Block), default);
        var late = (RecentSound.Blocks + 5L) * Block;
        recent.Add(late, [.. Enumerable.Repeat(float.NaN, Block)], default);
        recent.Kept.ShouldBe((late, late + Block));
        recent.Take(0, Block)!.Left.ShouldAllBe(x => x == 0);
    }
}

using CsCheck;
using Kinetra.Core.Clocks;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Clocks;

/// <summary>Each frame that is handed over says which it is: its number, from 1 on. So what comes out is judged by itself.</summary>
public class PacedInputTests
{
    private const int Block = AudioFormat.BlockFrames;
    private const int Second = AudioFormat.SampleRate;

    [Fact]
    public void What_is_handed_over_in_time_comes_out_to_the_sample_on_both_channels_and_ends_where_it_ends() =>
        Gen.Select(Gen.Int[1, 2], Gen.Int[1, 5_000], Gen.Int[1, 60_000]).Sample((channels, part, frames) =>
        {
            var input = new PacedInput(channels);
            List<float>[] heard = [[], []];
            var written = 0;
            for (long frame = 0; !input.IsOver; frame += Block)
            {
                while (written < frames && input.Room > 0)
                {
                    written += Write(input, written, Math.Min(Math.Min(part, input.Room), frames - written));
                }

                if (written == frames)
                {
                    input.End();
                }

                Hear(input, frame, heard);
            }

            for (var c = 0; c < channels; c++)
            {
                var sound = heard[c].SkipWhile(s => s == 0).Take(frames).ToArray();
                sound.ShouldBe(Enumerable.Range(0, frames).Select(n => Value(n, c)).ToArray());
                heard[c].SkipWhile(s => s == 0).Skip(frames).ShouldAllBe(s => s == 0);
            }

            (input.Frames, input.Gaps, input.Lost).ShouldBe((frames, 0, 0));
        });

    [Fact]
    public void Whoever_is_too_late_is_silent_for_as_long_as_is_counted_and_no_frame_of_it_is_lost_or_told_twice() =>
        Gen.Int[0, 40].Array[20, 400].Sample(schedule =>
        {
            var input = new PacedInput(1);
            List<float>[] heard = [[], []];
            var written = 0;
            var frame = 0L;
            foreach (var some in schedule)
            {
                // Mostly less than is taken, now and then much.
                written += Write(input, written, Math.Min(input.Room, some > 30 ? 20_000 : some * 12));
                for (var n = 0; n < 1 + (some % 7); n++)
                {
                    Hear(input, frame, heard);
                    frame += Block;
                }
            }

            input.End();
            for (; !input.IsOver; frame += Block)
            {
                Hear(input, frame, heard);
            }

            var sound = heard[0];
            var begin = sound.FindIndex(s => s != 0);
            begin = begin < 0 ? sound.Count : begin;
            input.Frames.ShouldBe(written);
            var end = sound.FindLastIndex(s => s != 0) + 1;

            // Where it falls silent and rises again a block is ramped: there it does not go on by one from sample to sample, and is left out.
            var told = sound.Chunk(Block).Select(b => b.TakeWhile(s => s != 0).ToList()).Where(b => b.Zip(b.Skip(1)).All(s => s.Second - s.First == 1)).SelectMany(b => b).ToList();
            told.ShouldBeInOrder();
            (written - told.Distinct().Count()).ShouldBeLessThanOrEqualTo((int)(input.Gaps * 2 * Block));

            // From its first sound on, all is either sound or a silence that is counted; the last block may be begun only.
            (end - begin).ShouldBeInRange((int)(input.Frames + input.Lost) - (2 * Block), (int)(input.Frames + input.Lost) + (2 * Block));
        });

    [Fact]
    public void Whoever_hands_over_a_second_at_once_is_waited_for_after_a_few_gaps_and_has_none_from_then_on()
    {
        var input = new PacedInput(1);
        List<float>[] heard = [[], []];
        var (written, gaps) = (0, 0L);
        for (var second = 0; second < 600; second++)
        {
            written += Write(input, written, Math.Min(input.Room, Second));
            var late = second % 2 == 0 ? 0 : 40;
            for (var n = 0; n < (Second / Block) + late - (second % 2 == 0 ? 40 : 0); n++)
            {
                Hear(input, ((long)second * 2 * Second) + (n * Block), heard);
            }

            gaps = second == 20 ? input.Gaps : gaps;
        }

        gaps.ShouldBeInRange(1, 4);
        input.Gaps.ShouldBe(gaps);
        input.Starving.ShouldBe(0);
    }

    [Fact]
    public void Two_that_ask_for_the_same_block_get_the_same_and_what_is_handed_over_beyond_the_room_is_refused()
    {
        var input = new PacedInput(2);
        Write(input, 0, input.Room).ShouldBeGreaterThan(PacedInput.LeastHeld);
        List<float>[] one = [[], []], other = [[], []];
        for (var n = 0; n < 10; n++)
        {
            Hear(input, n * Block, one);
            Hear(input, n * Block, other);
        }

        one[0].ShouldBe(other[0]);
        one[1].ShouldBe(other[1]);
        one[0][0].ShouldBe(1);
        Should.Throw<ArgumentException>(() => input.Write(new float[2 * 300_000]));
    }

    private static float Value(int n, int channel) => channel == 0 ? n + 1 : -(n + 1);

    private static int Write(PacedInput input, int from, int frames)
    {
        var some = new float[frames * input.Channels];
        for (var n = 0; n < some.Length; n++)
        {
            some[n] = Value(from + (n / input.Channels), n % input.Channels);
        }

        input.Write(some);
        return frames;
    }

    private static void Hear(PacedInput input, long frame, List<float>[] heard)
    {
        float[][] block = [new float[Block], new float[Block]];
        input.Process(frame, block);
        heard[0].AddRange(block[0]);
        heard[1].AddRange(block[1]);
    }
}

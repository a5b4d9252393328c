using Kinetra.Core.Clocks;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Clocks;

public class DriftingInputTests
{
    private const int Block = AudioFormat.BlockFrames;

    [Theory]
    [InlineData(300, 997)]
    [InlineData(-300, 997)]
    [InlineData(300, 10_007)]
    public void A_sine_stays_a_sine_for_a_minute_with_distortion_and_noise_below_100_dB(double ppm, double hertz)
    {
        var heard = Play(ppm, seconds: 75, n => (float)(0.5 * Math.Sin(2 * Math.PI * hertz * n / 48_000)), out var input);
        input.Gaps.ShouldBe(0);

        // As AES17 measures it: what is left beside the sine and its near neighbourhood, here 5 %, up to 20 kHz.
        var last = heard.AsSpan(15 * 48_000).ToArray();
        for (var from = 0; from + 48_000 <= last.Length; from += 48_000)
        {
            Signals.DistortionAndNoise(last.AsSpan(from, 48_000), hertz, 0.05).ShouldBeLessThan(-100);
        }
    }

    [Fact]
    public void Nothing_is_heard_before_anything_arrives_and_a_broken_sound_ends_and_begins_without_a_click()
    {
        var input = new DriftingInput(1_700);
        var inlet = new DriftingInlet(input, 0, null);
        var block = new float[Block];
        inlet.Read(0, block, default);
        block.ShouldAllBe(x => x == 0);

        var heard = Play(0, seconds: 8, n => (float)(0.5 * Math.Sin(2 * Math.PI * 100 * n / 48_000)), out input, stall: (4, 4.2));
        input.Gaps.ShouldBe(1);
        heard.Skip(4 * 48_000).Take(9_600).Count(x => x == 0).ShouldBeGreaterThan(4_800);
        var jumps = heard.Zip(heard.Skip(1), (a, b) => Math.Abs(a - b)).Max();
        jumps.ShouldBeLessThan(0.02f);
    }

    [Fact]
    public void Two_people_on_one_device_are_two_feeds_in_step()
    {
        var input = new DriftingInput(1_700);
        var first = new DriftingInlet(input, 0, null);
        var second = new DriftingInlet(input, 1, null);
        var missing = new DriftingInlet(input, 5, null);
        var both = new DriftingInlet(input, 0, 1);
        var packet = new float[2 * 128];
        var (a, b, c, left, right) = (new float[Block], new float[Block], new float[Block], new float[Block], new float[Block]);
        var heard = false;
        for (long own = 0; own < 48_000; own += Block)
        {
            for (var part = 0; part < 2; part++)
            {
                for (var n = 0; n < 128; n++)
                {
                    packet[n] = (float)Math.Sin((own + (part * 128) + n) / 30.0);
                    packet[128 + n] = -packet[n];
                }

                input.Write(own + (part * 128), packet, 2, own);
            }

            first.Read(own, a, default);
            second.Read(own, b, default);
            missing.Read(own, c, default);
            both.Read(own, left, right);
            b.ShouldBe(a.Select(x => -x));
            left.ShouldBe(a);
            right.ShouldBe(b);
            c.ShouldAllBe(x => x == 0);
            heard |= a.Any(x => x != 0);
        }

        heard.ShouldBeTrue();
    }

    [Fact]
    public void Frames_that_never_arrive_are_counted_and_silent_and_those_after_them_stand_in_their_place()
    {
        var input = new DriftingInput(1_700);
        var block = new float[Block];
        var heard = new List<float>();
        for (long own = 0; own < 2 * 48_000; own += Block)
        {
            // 1 024 frames are missing after a second; the frame's own number is its value.
            if (own is < 48_128 or >= 49_152)
            {
                input.Write(own, [.. Enumerable.Range(0, Block).Select(n => (own + n) / 100_000f)], 1, own);
            }

            input.Advance(own);
            input.Channel(0).CopyTo(block);
            heard.AddRange(block);
        }

        input.Lost.ShouldBe(1_024);
        var offset = heard.FindIndex(x => Math.Abs(x - 0.45f) < 5e-6f) - 45_000;
        heard[60_000 + offset].ShouldBe(0.6f, 1e-4f);
        heard.GetRange(48_128 + 100 + offset, 800).ShouldAllBe(x => x == 0);
    }

    [Fact]
    public void No_number_however_wrong_leaves_it()
    {
        var input = new DriftingInput(1_700);
        float[] wrong = [float.NaN, float.PositiveInfinity, float.NegativeInfinity, float.MaxValue, float.Epsilon, 1];
        for (long own = 0; own < 48_000; own += Block)
        {
            input.Write(own, [.. Enumerable.Range(0, Block).Select(n => wrong[n % wrong.Length])], 1, own);
            input.Advance(own);
            foreach (var x in input.Channel(0))
            {
                float.IsFinite(x).ShouldBeTrue();
            }
        }
    }

    [Fact]
    public void Reading_and_writing_allocate_nothing()
    {
        var input = new DriftingInput(1_700);
        var packet = new float[Block];
        var own = 0L;
        void Run()
        {
            input.Write(own, packet, 1, own);
            input.Advance(own);
            own += Block;
        }

        while (own < 96_000)
        {
            Run();
        }

        Allocations.Of(384_000 / Block, _ => Run()).ShouldBe(0);
    }

    private static float[] Play(double ppm, int seconds, Func<long, float> made, out DriftingInput input, (double From, double To)? stall = null)
    {
        var device = new BurstyDevice(ppm, seed: 5);
        if (stall is var (from, to))
        {
            (device.StallFrom, device.StallUntil) = (from * 48_000, to * 48_000);
        }

        input = new DriftingInput(1_700);
        var inlet = new DriftingInlet(input, 0, null);
        var heard = new float[seconds * 48_000 / Block * Block];
        var packet = new float[128];
        long sent = 0;
        for (long own = 0; own < heard.Length; own += Block)
        {
            foreach (var (end, at) in device.ArrivedBy(own))
            {
                for (; sent < end; sent += packet.Length)
                {
                    for (var n = 0; n < packet.Length; n++)
                    {
                        packet[n] = made(sent + n);
                    }

                    input.Write(sent, packet, 1, at);
                }
            }

            inlet.Read(own, heard.AsSpan((int)own, Block), default);
        }

        return heard;
    }
}

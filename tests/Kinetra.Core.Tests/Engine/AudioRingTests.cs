using Kinetra.Core.Engine;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Engine;

public class AudioRingTests
{
    [Fact]
    public void A_reader_that_keeps_up_gets_every_frame_once_in_order()
    {
        var ring = new AudioRing(1);
        ring.Begin(1024);
        long position = 0;
        var next = 0;
        var buffer = new float[700];
        for (var b = 0; b < 3000; b++)
        {
            Write(ring, b);
            var count = ring.Read(ref position, buffer, buffer, out var lost);
            lost.ShouldBe(0);
            for (var n = 0; n < count; n++)
            {
                buffer[n].ShouldBe(next++ % 65536);
            }
        }

        position.ShouldBe(1024 + (3000 * AudioFormat.BlockFrames));
    }

    [Fact]
    public void A_reader_that_falls_behind_is_told_how_much_it_lost_and_goes_on_with_whole_data()
    {
        var ring = new AudioRing(1);
        var blocks = (2 * AudioRing.Capacity / AudioFormat.BlockFrames) + 5;
        for (var b = 0; b < blocks; b++)
        {
            Write(ring, b);
        }

        long position = 0;
        var buffer = new float[AudioRing.Capacity];
        var count = ring.Read(ref position, buffer, buffer, out var lost);
        (lost + count).ShouldBe((long)blocks * AudioFormat.BlockFrames);
        buffer[0].ShouldBe(lost % 65536);
        buffer[count - 1].ShouldBe((((long)blocks * AudioFormat.BlockFrames) - 1) % 65536);
    }

    [Fact]
    public async Task Readers_on_other_threads_never_see_torn_data()
    {
        var ring = new AudioRing(2);
        ring.Begin(0);
        var done = false;
        var reader = Task.Run(() =>
        {
            long position = 0;
            long got = 0;
            var left = new float[4096];
            var right = new float[4096];
            while (!Volatile.Read(ref done) || ring.End > position)
            {
                var count = ring.Read(ref position, left, right, out _);
                for (var n = 0; n < count; n++)
                {
                    left[n].ShouldBe((position - count + n) % 65536);
                    right[n].ShouldBe(left[n]);
                }

                got += count;
            }

            return got;
        }, TestContext.Current.CancellationToken);
        for (var b = 0; b < 40_000; b++)
        {
            Write(ring, b);
        }

        Volatile.Write(ref done, true);
        (await reader).ShouldBeGreaterThan(0);
    }

    private static void Write(AudioRing ring, int block)
    {
        Span<float> samples = stackalloc float[AudioFormat.BlockFrames];
        for (var n = 0; n < samples.Length; n++)
        {
            samples[n] = (((long)block * AudioFormat.BlockFrames) + n) % 65536;
        }

        ring.Write(samples, samples);
    }
}

using Kinetra.Core.Engine;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Engine;

public class ListenerTests
{
    private readonly AudioRing _low = new(2);
    private readonly AudioRing _high = new(2);
    private readonly Listener _listener = new();
    private readonly List<float> _heard = [];
    private long _frame;

    [Fact]
    public void From_one_mix_to_another_and_to_silence_nothing_clicks()
    {
        Run(20);
        _listener.Select(_low);
        Run(60);
        _listener.Select(_high);
        Run(60);
        _listener.Select(_low);
        Run(1);
        _listener.Select(_high);
        Run(60);
        _listener.Select(null);
        Run(60);

        // Both are sines of 100 Hz, at different levels and phases.
        float[] all = [.. new float[2000], .. _heard, .. new float[2000]];
        Signals.RmsAbove(5000, all, 512, all.Length - 512).ShouldBeLessThan(-80);
        _heard.Skip(40 * 256).Take(4800).Max().ShouldBe(0.2f, 0.001f);
        _heard.Skip(90 * 256).Take(4800).Max().ShouldBe(0.7f, 0.001f);
        _listener.Lost.ShouldBe(0);
    }

    [Fact]
    public void What_is_heard_is_the_ring_sample_for_sample()
    {
        Run(1);
        _listener.Select(_high);
        Run(40);
        for (var n = 512; n < _heard.Count; n++)
        {
            _heard[n].ShouldBe(Sample(0.7, 1, n + 512));
        }
    }

    [Fact]
    public void Nothing_is_heard_of_nothing()
    {
        Run(10);
        _heard.ShouldBeEmpty();
    }

    [Fact]
    public void A_listener_that_sleeps_goes_on_with_the_newest_sound_and_counts_what_it_lost()
    {
        _listener.Select(_low);
        Run(4);
        for (var b = 0; b < 400; b++)
        {
            Write();
        }

        _heard.Clear();
        Read();
        ((double)_listener.Lost).ShouldBe(400 * 256, 512);
        _heard.Count.ShouldBeLessThanOrEqualTo(512);
    }

    [Fact]
    public void A_mix_that_has_gone_does_not_hold_up_the_next()
    {
        _listener.Select(_low);
        Run(10);
        for (var b = 0; b < 200; b++)
        {
            Fill(_high, 0.7, 1);
            _frame += 256;
        }

        _heard.Clear();
        _listener.Select(_high);
        for (var b = 0; b < 10; b++)
        {
            Fill(_high, 0.7, 1);
            _frame += 256;
            Read();
        }

        _heard.Count.ShouldBeGreaterThan(512);
        _heard[^1].ShouldBe(Sample(0.7, 1, _frame - 1));
    }

    private static float Sample(double amplitude, double phase, long frame) =>
        (float)(amplitude * Math.Sin((2 * Math.PI * 100 * frame / Signals.Rate) + phase));

    private static float[] Block(double amplitude, double phase, long frame) =>
        [.. Enumerable.Range(0, AudioFormat.BlockFrames).Select(n => Sample(amplitude, phase, frame + n))];

    private void Run(int blocks)
    {
        for (var b = 0; b < blocks; b++)
        {
            Write();
            Read();
        }
    }

    private void Write()
    {
        Fill(_low, 0.2, 0);
        Fill(_high, 0.7, 1);
        _frame += AudioFormat.BlockFrames;
    }

    private void Fill(AudioRing ring, double amplitude, double phase)
    {
        var block = Block(amplitude, phase, _frame);
        ring.Write(block, block);
    }

    private void Read()
    {
        var left = new float[1024];
        var right = new float[1024];
        int count;
        while ((count = _listener.Read(left, right, out _)) > 0)
        {
            right.AsSpan(0, count).SequenceEqual(left.AsSpan(0, count)).ShouldBeTrue();
            _heard.AddRange(left[..count]);
        }
    }
}

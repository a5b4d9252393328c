using CsCheck;
using Kinetra.Core.Engine;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Engine;

public class SoundInletTests
{
    [Fact]
    public void A_loop_goes_on_without_a_gap_and_once_ends_in_exact_silence_whatever_the_length()
    {
        Gen.Select(Gen.Int[1, 900], Gen.Bool).Sample((frames, loop) =>
        {
            var sound = Enumerable.Range(1, frames).Select(n => (float)n).ToArray();
            var inlet = new SoundInlet(new SoundBuffer(sound, null), loop, beginsWithSource: true);
            var played = Play(inlet, 8);
            for (var n = 0; n < played.Length; n++)
            {
                played[n].ShouldBe(loop ? sound[n % frames] : n < frames ? sound[n] : 0);
            }
        });
    }

    [Fact]
    public void Playing_it_again_starts_with_its_first_sample_and_lets_the_old_fade_out()
    {
        var sound = Signals.Sine(100, 0.5, Signals.Rate);
        var inlet = new SoundInlet(new SoundBuffer(sound, null), loop: false, beginsWithSource: true);
        var before = Play(inlet, 33);
        inlet.Restart();
        var played = Play(inlet, 20);
        played.AsSpan(512, 2000).ToArray().ShouldBe(sound[512..2512]);

        // The new beginning is exact; what is added to it is the old sound, fading.
        var old = played.AsSpan(0, 512).ToArray().Select((x, n) => x - sound[n]).ToArray();
        ((double)old[0]).ShouldBe(sound[33 * 256], 0.01);
        ((double)old[511]).ShouldBe(0, 1e-6);
        Signals.RmsAbove(5000, [.. before, .. old, .. new float[2048]], 4096, (33 * 256) + 2048).ShouldBeLessThan(-80);
    }

    [Fact]
    public void Playing_it_again_and_again_within_moments_never_clicks()
    {
        var sound = Signals.Sine(100, 0.5, Signals.Rate);
        var inlet = new SoundInlet(new SoundBuffer(sound, null), loop: false, beginsWithSource: true);
        var all = Play(inlet, 33).ToList();
        foreach (var pause in new[] { 1, 1, 3, 1, 7 })
        {
            inlet.Restart();
            all.AddRange(Play(inlet, pause));
        }

        all.AddRange(Play(inlet, 10));
        // A sine that begins at 0 has a kink there, no step: 5 kHz is the bound for it, not silence.
        Signals.RmsAbove(5000, [.. all], 4096, all.Count - 512).ShouldBeLessThan(-60);
        all.Max(Math.Abs).ShouldBeLessThanOrEqualTo(1.01f);
    }

    private static float[] Play(SoundInlet inlet, int blocks)
    {
        var all = new float[blocks * AudioFormat.BlockFrames];
        for (var b = 0; b < blocks; b++)
        {
            inlet.Read(b * AudioFormat.BlockFrames, all.AsSpan(b * AudioFormat.BlockFrames, AudioFormat.BlockFrames), default);
        }

        return all;
    }
}

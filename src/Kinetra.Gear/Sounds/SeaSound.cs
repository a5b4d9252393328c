using Kinetra.Core.Engine;
using static Kinetra.Core.Dsp.BiquadCoefficients;

namespace Kinetra.Gear.Sounds;

/// <summary>A hydrophone under the rocks: rumble, surge, pebbles, and small things that snap.</summary>
static class SeaSound
{
    public static SoundBuffer Make(ulong seed)
    {
        var random = new Seeded(seed);
        var frames = Synth.Frames(47);
        var all = frames + Synth.Frames(2);
        var rumble = Synth.Noise(random, all, LowPass(70, 0.6, Synth.Rate), HighPass(18, 0.7, Synth.Rate));
        var surge = Synth.Noise(random, all, LowPass(420, 0.5, Synth.Rate), HighPass(60, 0.6, Synth.Rate));
        var pebbles = Synth.Noise(random, all, BandPass(2600, 0.9, Synth.Rate));
        var swell = Synth.Swell(random, all, frames, 6, 7, 11);
        var samples = new double[all];
        for (var n = 0; n < all; n++)
        {
            var wave = swell[n];
            samples[n] = (5 * rumble[n]) + ((0.3 + (1.6 * wave * wave)) * surge[n]) + (0.5 * wave * wave * wave * wave * wave * pebbles[n]);
        }

        var loop = Synth.Seamless(samples, frames);
        for (var snap = 0; snap < 160; snap++)
        {
            var click = Synth.Burst(random, 0.012, 0.0006, BandPass(random.Between(3500, 9000), 1.5, Synth.Rate));
            Synth.AddWrapped(loop, (int)random.Between(0, frames), click, Math.Pow(random.Next(), 3) * 1.2);
        }

        Synth.Level(-37, loop);
        return new SoundBuffer(loop, null);
    }
}

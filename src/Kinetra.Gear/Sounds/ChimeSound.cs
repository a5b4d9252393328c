using Kinetra.Core.Engine;

namespace Kinetra.Gear.Sounds;

/// <summary>Struck bells in a row: the computer's own sounds, a sampler's, a call's test sound.</summary>
static class ChimeSound
{
    /// <summary>Bells every few seconds.</summary>
    /// <param name="hertz">The lowest of them.</param>
    /// <param name="every">How far apart, seconds.</param>
    /// <param name="rms">How loud the whole is, dBFS.</param>
    public static SoundBuffer Make(double hertz, double every, double rms)
    {
        double[] steps = [1, 1.5, 1.25, 2];
        var loop = new float[Synth.Frames(every * steps.Length)];
        for (var i = 0; i < steps.Length; i++)
        {
            var tone = hertz * steps[i];
            Synth.AddWrapped(loop, Synth.Frames(every * i), Synth.Struck(Math.Min(2.5, every), (tone, 0.5, 0.9), (tone * 2.01, 0.2, 0.5), (tone * 3.03, 0.1, 0.3)), 1);
        }

        Synth.Level(rms, loop);
        return new SoundBuffer(loop, null);
    }
}

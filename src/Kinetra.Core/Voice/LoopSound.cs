using Kinetra.Core.Dsp;
using Kinetra.Core.Engine;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Voice;

/// <summary>Makes of a stretch of sound one that goes round and round without a click.</summary>
public static class LoopSound
{
    /// <summary>The shortest and the longest stretch, seconds.</summary>
    public const int ShortestSeconds = 5, LongestSeconds = 30;

    /// <summary>By so much the loop is shorter than the stretch: the end is faded into the beginning, 20 ms.</summary>
    public const int SeamFrames = AudioFormat.SampleRate / 50;

    /// <summary>The loop.</summary>
    /// <param name="sound">From <see cref="ShortestSeconds"/> to <see cref="LongestSeconds"/> at 48 kHz.</param>
    /// <exception cref="ArgumentException">It is too short or too long.</exception>
    public static SoundBuffer Closed(SoundBuffer sound)
    {
        ArgumentNullException.ThrowIfNull(sound);
        return sound.Frames is >= ShortestSeconds * AudioFormat.SampleRate and <= LongestSeconds * AudioFormat.SampleRate
            ? new SoundBuffer(Closed(sound.Left), sound.Right is null ? null : Closed(sound.Right))
            : throw new ArgumentException($"A loop is {ShortestSeconds} to {LongestSeconds} s long.", nameof(sound));
    }

    // What was the end lies under the beginning. Two parts of speech have nothing to do with one another: their powers add up to one.
    private static float[] Closed(ReadOnlySpan<float> samples)
    {
        var closed = samples[..^SeamFrames].ToArray();
        var end = samples[^SeamFrames..];
        for (var n = 0; n < SeamFrames; n++)
        {
            var part = (n + 1f) / SeamFrames;
            closed[n] = (MathF.Sin(part * MathF.PI / 2) * closed[n]) + (MathF.Cos(part * MathF.PI / 2) * end[n]);
        }

        SampleGuard.MakeFinite(closed);
        return closed;
    }
}

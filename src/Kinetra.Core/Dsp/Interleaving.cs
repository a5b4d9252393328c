using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;

namespace Kinetra.Core.Dsp;

/// <summary>Channels that lie in turns, as in files, taken apart.</summary>
public static class Interleaving
{
    /// <summary>Writes one channel's samples in a row.</summary>
    /// <param name="interleaved">Frames of all channels in turns.</param>
    /// <param name="channels">How many, 1 or more.</param>
    /// <param name="channel">Which of them, from 0.</param>
    /// <param name="plane">As many samples as are wanted, at most one for each frame.</param>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static void Take(ReadOnlySpan<float> interleaved, int channels, int channel, Span<float> plane)
    {
        var n = 0;
        if (channels == 2)
        {
            // Eight frames at once: l r l r … → the even or the odd ones.
            ref var from = ref MemoryMarshal.GetReference(interleaved[..(2 * plane.Length)]);
            ref var to = ref MemoryMarshal.GetReference(plane);
            for (; n <= plane.Length - 8; n += 8)
            {
                var frames = Vector512.LoadUnsafe(ref from, (nuint)(2 * n));
                var apart = Vector512.Shuffle(frames, Vector512.Create(0, 2, 4, 6, 8, 10, 12, 14, 1, 3, 5, 7, 9, 11, 13, 15));
                (channel == 0 ? apart.GetLower() : apart.GetUpper()).StoreUnsafe(ref to, (nuint)n);
            }
        }

        for (var at = (n * channels) + channel; n < plane.Length; n++, at += channels)
        {
            plane[n] = interleaved[at];
        }
    }
}

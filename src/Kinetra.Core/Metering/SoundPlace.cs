using Kinetra.Core.Dsp;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Metering;

/// <summary>Where a piece of sound lies within a longer one, whatever its level and whichever way up.</summary>
/// <param name="Frame">The frame of the longer one at which the piece begins, at 48 kHz; exact to 6 frames.</param>
/// <param name="Likeness">How alike both are there, 0 to 1: the magnitude of their correlation.</param>
public readonly record struct SoundPlace(long Frame, double Likeness)
{
    /// <summary>Below this a piece is not found: two sounds that have nothing in common are seldom more alike.</summary>
    public const double Least = 0.5;

    // Compared at 8 kHz: where speech and music are the most.
    private const int Step = 6;
    private const int Rate = AudioFormat.SampleRate / Step;
    private const int MostPoints = 1 << 20;

    // What is quieter than −90 dBFS is no sound that could be found again.
    private const double LeastPower = 1e-9;

    /// <summary>Finds it: the greatest of the normalised cross-correlation, by Fourier transforms.</summary>
    /// <param name="piece">The piece, 48 kHz, one channel.</param>
    /// <param name="within">The longer one, at most two minutes.</param>
    /// <returns>Null: there is nothing like it in there, or one of both is silent.</returns>
    /// <exception cref="ArgumentOutOfRangeException">It is too long.</exception>
    public static SoundPlace? Find(ReadOnlySpan<float> piece, ReadOnlySpan<float> within)
    {
        var (small, large) = (Thinned(piece), Thinned(within));
        var length = 2;
        while (length < small.Length + large.Length)
        {
            length *= 2;
        }

        ArgumentOutOfRangeException.ThrowIfGreaterThan(length, MostPoints, nameof(within));
        var power = small.Sum(s => (double)s * s);
        if (small.Length == 0 || small.Length > large.Length || power < LeastPower * small.Length)
        {
            return null;
        }

        var correlation = Correlation(small, large, length);
        var (best, likeness) = (-1, 0.0);
        var energy = 0.0;
        for (var n = 0; n < small.Length; n++)
        {
            energy += (double)large[n] * large[n];
        }

        for (var at = 0; at + small.Length <= large.Length; at++)
        {
            if (at > 0)
            {
                energy += ((double)large[at + small.Length - 1] * large[at + small.Length - 1]) - ((double)large[at - 1] * large[at - 1]);
            }

            var here = energy < LeastPower * small.Length ? 0 : Math.Abs(correlation[at]) / Math.Sqrt(power * energy);
            if (here > likeness)
            {
                (best, likeness) = (at, here);
            }
        }

        return likeness < Least ? null : new SoundPlace((long)best * Step, Math.Min(1, likeness));
    }

    private static float[] Correlation(float[] small, float[] large, int length)
    {
        var transform = new FourierTransform(length);
        var (one, oneIm) = (new float[length], new float[length]);
        var (other, otherIm) = (new float[length], new float[length]);
        small.CopyTo(one, 0);
        large.CopyTo(other, 0);
        transform.Forward(one, oneIm);
        transform.Forward(other, otherIm);
        for (var k = 0; k < length; k++)
        {
            (other[k], otherIm[k]) = ((other[k] * one[k]) + (otherIm[k] * oneIm[k]), (otherIm[k] * one[k]) - (other[k] * oneIm[k]));
        }

        transform.Back(other, otherIm);
        return other;
    }

    private static float[] Thinned(ReadOnlySpan<float> sound)
    {
        var converter = new RateConverter(AudioFormat.SampleRate, Rate);
        var thinned = new float[converter.MostFrom(sound.Length)];
        return thinned[..converter.Process(sound, thinned)];
    }
}

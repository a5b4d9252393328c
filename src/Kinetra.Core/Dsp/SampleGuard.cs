using System.Numerics;
using System.Runtime.CompilerServices;

namespace Kinetra.Core.Dsp;

/// <summary>Keeps what comes from outside fit for computing with.</summary>
public static class SampleGuard
{
    /// <summary>The largest magnitude that enters: +60 dBFS.</summary>
    public const float Limit = 1000;

    /// <summary>The smallest magnitude that enters: −300 dBFS. Neither its square nor any gain makes a denormal of it.</summary>
    public const float Least = 1e-15f;

    /// <summary>In place: NaN becomes 0, what lies beyond ±<see cref="Limit"/> (infinities too) is held there, denormals become 0.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static void MakeFinite(Span<float> samples)
    {
        var i = 0;
        var limit = new Vector<float>(Limit);
        var tiny = new Vector<float>(Least);
        for (; i <= samples.Length - Vector<float>.Count; i += Vector<float>.Count)
        {
            var x = new Vector<float>(samples[i..]);
            var held = Vector.Min(Vector.Max(x, -limit), limit);
            var usable = Vector.GreaterThanOrEqual(Vector.Abs(x), tiny);
            Vector.ConditionalSelect(usable, held, Vector<float>.Zero).CopyTo(samples[i..]);
        }

        for (; i < samples.Length; i++)
        {
            samples[i] = MakeFinite(samples[i]);
        }
    }

    /// <summary>The same for one sample: the plain form of the law.</summary>
    public static float MakeFinite(float sample) =>
        MathF.Abs(sample) >= Least ? Math.Clamp(sample, -Limit, Limit) : 0;
}

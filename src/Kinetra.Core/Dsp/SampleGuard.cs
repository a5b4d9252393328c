using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;

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
        var limit = Vector512.Create(Limit);
        var tiny = Vector512.Create(Least);
        ref var first = ref MemoryMarshal.GetReference(samples);
        for (; i <= samples.Length - Vector512<float>.Count; i += Vector512<float>.Count)
        {
            var x = Vector512.LoadUnsafe(ref first, (nuint)i);
            var held = Vector512.MinNative(Vector512.MaxNative(x, -limit), limit);
            var usable = Vector512.GreaterThanOrEqual(Vector512.Abs(x), tiny);
            Vector512.ConditionalSelect(usable, held, Vector512<float>.Zero).StoreUnsafe(ref first, (nuint)i);
        }

        for (; i < samples.Length; i++)
        {
            samples[i] = MakeFinite(samples[i]);
        }
    }

    /// <summary>In place: what lies beyond full scale is held there, as every converter holds it.</summary>
    public static void HoldFullScale(Span<float> samples) => System.Numerics.Tensors.TensorPrimitives.Clamp(samples, -1f, 1f, samples);

    /// <summary>The same for one sample: the plain form of the law.</summary>
    public static float MakeFinite(float sample) =>
        MathF.Abs(sample) >= Least ? Math.Clamp(sample, -Limit, Limit) : 0;
}

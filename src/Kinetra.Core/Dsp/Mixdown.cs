using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;

namespace Kinetra.Core.Dsp;

/// <summary>The inner loops of mixing. Spans of equal length; input and output may be the same span, not overlap otherwise.</summary>
public static class Mixdown
{
    /// <summary><c>samples[n] *= factor</c>.</summary>
    public static void Scale(Span<float> samples, float factor)
    {
        if (factor == 1)
        {
            return;
        }

        System.Numerics.Tensors.TensorPrimitives.Multiply(samples, factor, samples);
    }

    /// <summary><c>samples[n] *= factors[n]</c>.</summary>
    public static void Scale(Span<float> samples, ReadOnlySpan<float> factors) =>
        System.Numerics.Tensors.TensorPrimitives.Multiply(samples, factors, samples);

    /// <summary><c>sum[n] += samples[n] · factor</c>, rounded twice on every machine alike (no fused multiply-add).</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static void Add(Span<float> sum, ReadOnlySpan<float> samples, float factor)
    {
        var i = 0;
        var f = Vector512.Create(factor);
        ref var to = ref MemoryMarshal.GetReference(sum);
        ref var from = ref MemoryMarshal.GetReference(samples[..sum.Length]);
        for (; i <= sum.Length - Vector512<float>.Count; i += Vector512<float>.Count)
        {
            (Vector512.LoadUnsafe(ref to, (nuint)i) + (Vector512.LoadUnsafe(ref from, (nuint)i) * f)).StoreUnsafe(ref to, (nuint)i);
        }

        for (; i < sum.Length; i++)
        {
            sum[i] += samples[i] * factor;
        }
    }

    /// <summary><c>sum[n] += samples[n] · factors[n]</c>, rounded twice.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static void Add(Span<float> sum, ReadOnlySpan<float> samples, ReadOnlySpan<float> factors)
    {
        var i = 0;
        ref var to = ref MemoryMarshal.GetReference(sum);
        ref var from = ref MemoryMarshal.GetReference(samples[..sum.Length]);
        ref var by = ref MemoryMarshal.GetReference(factors[..sum.Length]);
        for (; i <= sum.Length - Vector512<float>.Count; i += Vector512<float>.Count)
        {
            (Vector512.LoadUnsafe(ref to, (nuint)i) + (Vector512.LoadUnsafe(ref from, (nuint)i) * Vector512.LoadUnsafe(ref by, (nuint)i))).StoreUnsafe(ref to, (nuint)i);
        }

        for (; i < sum.Length; i++)
        {
            sum[i] += samples[i] * factors[i];
        }
    }
}

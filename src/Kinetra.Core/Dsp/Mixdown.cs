using System.Numerics;
using System.Runtime.CompilerServices;

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
        var f = new Vector<float>(factor);
        for (; i <= sum.Length - Vector<float>.Count; i += Vector<float>.Count)
        {
            (new Vector<float>(sum[i..]) + (new Vector<float>(samples[i..]) * f)).CopyTo(sum[i..]);
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
        for (; i <= sum.Length - Vector<float>.Count; i += Vector<float>.Count)
        {
            (new Vector<float>(sum[i..]) + (new Vector<float>(samples[i..]) * new Vector<float>(factors[i..]))).CopyTo(sum[i..]);
        }

        for (; i < sum.Length; i++)
        {
            sum[i] += samples[i] * factors[i];
        }
    }
}

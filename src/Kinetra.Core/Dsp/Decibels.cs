using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;

namespace Kinetra.Core.Dsp;

/// <summary>
/// Magnitudes as decibels and decibels as factors, in 32 bits, sixteen at once: within 0.00002 dB, and 2 · 10⁻⁷ and the rounding
/// of the argument. The plain form, for what is left over, has the same arithmetic, to the bit.
/// Source of the polynomials: S. L. Moshier, Cephes Math Library 2.2, logf.c and exp2f.c.
/// </summary>
static class Decibels
{
    /// <summary>What is quieter counts as this, dBFS.</summary>
    public const float Floor = -140;

    private const float FloorMagnitude = 1e-7f;

    // 20 log₁₀ 2, and 20 log₁₀ e.
    private const float PerOctave = 6.0205999f;
    private const float PerNeper = 8.6858896f;

    // ln(1 + x) = x − x²/2 + x³ · (…) for √½ − 1 … √2 − 1, the highest power first.
    private const float L0 = 7.0376836292e-2f, L1 = -1.1514610310e-1f, L2 = 1.1676998740e-1f, L3 = -1.2420140846e-1f, L4 = 1.4249322787e-1f;
    private const float L5 = -1.6668057665e-1f, L6 = 2.0000714765e-1f, L7 = -2.4999993993e-1f, L8 = 3.3333331174e-1f;

    // 2^x = 1 + x · (…) for −½ … ½, the highest power first.
    private const float E0 = 1.535336188319500e-4f, E1 = 1.339887440266574e-3f, E2 = 9.618437357674640e-3f;
    private const float E3 = 5.550332471162809e-2f, E4 = 2.402264791363012e-1f, E5 = 6.931472028550421e-1f;

    // The bits of √½; where the exponent stands; the bits of the mantissa; what is added to an exponent.
    private const int HalfRoot = 0x3f3504f3, Exponent = 23, Mantissa = 0x007fffff, Bias = 127;

    // Beyond these, factors could not be told from 0 and infinity.
    private const float MostOctaves = 126;

    /// <summary>A single factor, 0 or more, in dB; not below <see cref="Floor"/>.</summary>
    public static double Of(double factor) => Math.Max(Floor, 20 * Math.Log10(factor));

    /// <summary>Magnitudes, finite, in dBFS, in place; not below <see cref="Floor"/>.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static void OfMagnitudes(Span<float> values)
    {
        var n = 0;
        ref var first = ref MemoryMarshal.GetReference(values);
        for (; n <= values.Length - Vector512<float>.Count; n += Vector512<float>.Count)
        {
            var bits = Vector512.MaxNative(Vector512.LoadUnsafe(ref first, (nuint)n), Vector512.Create(FloorMagnitude)).AsInt32() - Vector512.Create(HalfRoot);
            var x = ((bits & Vector512.Create(Mantissa)) + Vector512.Create(HalfRoot)).AsSingle() - Vector512<float>.One;
            var p = Vector512.FusedMultiplyAdd(Vector512.Create(L0), x, Vector512.Create(L1));
            p = Vector512.FusedMultiplyAdd(p, x, Vector512.Create(L2));
            p = Vector512.FusedMultiplyAdd(p, x, Vector512.Create(L3));
            p = Vector512.FusedMultiplyAdd(p, x, Vector512.Create(L4));
            p = Vector512.FusedMultiplyAdd(p, x, Vector512.Create(L5));
            p = Vector512.FusedMultiplyAdd(p, x, Vector512.Create(L6));
            p = Vector512.FusedMultiplyAdd(p, x, Vector512.Create(L7));
            p = Vector512.FusedMultiplyAdd(p, x, Vector512.Create(L8));
            var log = Vector512.FusedMultiplyAdd(Vector512.FusedMultiplyAdd(p, x, Vector512.Create(-0.5f)), x * x, x);
            var octaves = Vector512.ConvertToSingle(Vector512.ShiftRightArithmetic(bits, Exponent));
            Vector512.FusedMultiplyAdd(octaves, Vector512.Create(PerOctave), log * PerNeper).StoreUnsafe(ref first, (nuint)n);
        }

        for (; n < values.Length; n++)
        {
            values[n] = OfMagnitude(values[n]);
        }
    }

    /// <summary>The plain form.</summary>
    public static float OfMagnitude(float magnitude)
    {
        var bits = BitConverter.SingleToInt32Bits(MathF.Max(magnitude, FloorMagnitude)) - HalfRoot;
        var x = BitConverter.Int32BitsToSingle((bits & Mantissa) + HalfRoot) - 1;
        var p = MathF.FusedMultiplyAdd(L0, x, L1);
        p = MathF.FusedMultiplyAdd(p, x, L2);
        p = MathF.FusedMultiplyAdd(p, x, L3);
        p = MathF.FusedMultiplyAdd(p, x, L4);
        p = MathF.FusedMultiplyAdd(p, x, L5);
        p = MathF.FusedMultiplyAdd(p, x, L6);
        p = MathF.FusedMultiplyAdd(p, x, L7);
        p = MathF.FusedMultiplyAdd(p, x, L8);
        var log = MathF.FusedMultiplyAdd(MathF.FusedMultiplyAdd(p, x, -0.5f), x * x, x);
        return MathF.FusedMultiplyAdd(bits >> Exponent, PerOctave, log * PerNeper);
    }

    /// <summary>Decibels as factors, in place. 0 dB is exactly 1, so that what is at rest changes no sample.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static void ToFactors(Span<float> values)
    {
        var n = 0;
        ref var first = ref MemoryMarshal.GetReference(values);
        for (; n <= values.Length - Vector512<float>.Count; n += Vector512<float>.Count)
        {
            var octaves = Vector512.LoadUnsafe(ref first, (nuint)n) * (1 / PerOctave);
            octaves = Vector512.MinNative(Vector512.MaxNative(octaves, Vector512.Create(-MostOctaves)), Vector512.Create(MostOctaves));
            var whole = Vector512.Round(octaves);
            var x = octaves - whole;
            var p = Vector512.FusedMultiplyAdd(Vector512.Create(E0), x, Vector512.Create(E1));
            p = Vector512.FusedMultiplyAdd(p, x, Vector512.Create(E2));
            p = Vector512.FusedMultiplyAdd(p, x, Vector512.Create(E3));
            p = Vector512.FusedMultiplyAdd(p, x, Vector512.Create(E4));
            p = Vector512.FusedMultiplyAdd(p, x, Vector512.Create(E5));
            p = Vector512.FusedMultiplyAdd(p, x, Vector512<float>.One);
            var power = Vector512.ShiftLeft(Vector512.ConvertToInt32Native(whole) + Vector512.Create(Bias), Exponent).AsSingle();
            (p * power).StoreUnsafe(ref first, (nuint)n);
        }

        for (; n < values.Length; n++)
        {
            values[n] = ToFactor(values[n]);
        }
    }

    /// <summary>The plain form.</summary>
    public static float ToFactor(float decibels)
    {
        var octaves = MathF.Min(MathF.Max(decibels * (1 / PerOctave), -MostOctaves), MostOctaves);
        var whole = MathF.Round(octaves);
        var x = octaves - whole;
        var p = MathF.FusedMultiplyAdd(E0, x, E1);
        p = MathF.FusedMultiplyAdd(p, x, E2);
        p = MathF.FusedMultiplyAdd(p, x, E3);
        p = MathF.FusedMultiplyAdd(p, x, E4);
        p = MathF.FusedMultiplyAdd(p, x, E5);
        p = MathF.FusedMultiplyAdd(p, x, 1);
        return p * BitConverter.Int32BitsToSingle(((int)whole + Bias) << Exponent);
    }
}

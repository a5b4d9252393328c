using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;
using System.Runtime.Intrinsics.X86;

namespace Kinetra.Core.Dsp;

/// <summary>
/// Eight signals side by side, one in each lane of a vector: what one recursion waits for, seven others wait for with it. Here
/// they are turned from rows of samples to a vector for each frame, and back.
/// </summary>
static class Lanes
{
    /// <summary>How many signals.</summary>
    public const int Count = 8;

    /// <summary>Fewer signals cost no more one by one.</summary>
    public const int Fewest = 3;

    /// <summary>Frames that are computed at a time, so that all of it stays in the first-level cache. A whole number of these is a block.</summary>
    public const int Part = 64;

    /// <summary>Frames that are turned at once: their number must be a multiple of it.</summary>
    private const int Turned = 4;

    /// <summary>Reads frames of eight signals.</summary>
    /// <param name="signals">Eight of them.</param>
    /// <param name="at">The first frame.</param>
    /// <param name="lanes">A vector for each frame, a multiple of four.</param>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static void Load(ReadOnlySpan<float[]> signals, int at, Span<Vector512<double>> lanes)
    {
        ref float r0 = ref Row(signals, 0, at), r1 = ref Row(signals, 1, at), r2 = ref Row(signals, 2, at), r3 = ref Row(signals, 3, at);
        ref float r4 = ref Row(signals, 4, at), r5 = ref Row(signals, 5, at), r6 = ref Row(signals, 6, at), r7 = ref Row(signals, 7, at);
        ref var to = ref MemoryMarshal.GetReference(lanes);
        for (var n = 0; n < lanes.Length; n += Turned)
        {
            Turn(
                Vector256.Create(Vector128.LoadUnsafe(ref r0, (nuint)n), Vector128.LoadUnsafe(ref r4, (nuint)n)),
                Vector256.Create(Vector128.LoadUnsafe(ref r1, (nuint)n), Vector128.LoadUnsafe(ref r5, (nuint)n)),
                Vector256.Create(Vector128.LoadUnsafe(ref r2, (nuint)n), Vector128.LoadUnsafe(ref r6, (nuint)n)),
                Vector256.Create(Vector128.LoadUnsafe(ref r3, (nuint)n), Vector128.LoadUnsafe(ref r7, (nuint)n)),
                out var f0,
                out var f1,
                out var f2,
                out var f3);
            Unsafe.Add(ref to, n) = Widen(f0);
            Unsafe.Add(ref to, n + 1) = Widen(f1);
            Unsafe.Add(ref to, n + 2) = Widen(f2);
            Unsafe.Add(ref to, n + 3) = Widen(f3);
        }
    }

    /// <summary>The plain form.</summary>
    public static void LoadPlain(ReadOnlySpan<float[]> signals, int at, Span<Vector512<double>> lanes)
    {
        for (var n = 0; n < lanes.Length; n++)
        {
            for (var s = 0; s < Count; s++)
            {
                lanes[n] = lanes[n].WithElement(s, signals[s][at + n]);
            }
        }
    }

    /// <summary>Writes frames of eight signals, rounded to 32 bits.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static void Store(ReadOnlySpan<Vector512<double>> lanes, ReadOnlySpan<float[]> signals, int at)
    {
        ref var from = ref MemoryMarshal.GetReference(lanes);
        ref float r0 = ref Row(signals, 0, at), r1 = ref Row(signals, 1, at), r2 = ref Row(signals, 2, at), r3 = ref Row(signals, 3, at);
        ref float r4 = ref Row(signals, 4, at), r5 = ref Row(signals, 5, at), r6 = ref Row(signals, 6, at), r7 = ref Row(signals, 7, at);
        for (var n = 0; n < lanes.Length; n += Turned)
        {
            ref var four = ref Unsafe.Add(ref from, n);
            Spread(
                Narrow(four),
                Narrow(Unsafe.Add(ref four, 1)),
                Narrow(Unsafe.Add(ref four, 2)),
                Narrow(Unsafe.Add(ref four, 3)),
                n, ref r0, ref r1, ref r2, ref r3, ref r4, ref r5, ref r6, ref r7);
        }
    }

    /// <summary>Writes frames of eight signals; of each frame eight values.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static void Store(ReadOnlySpan<float> values, ReadOnlySpan<float[]> signals, int at)
    {
        ref var from = ref MemoryMarshal.GetReference(values);
        ref float r0 = ref Row(signals, 0, at), r1 = ref Row(signals, 1, at), r2 = ref Row(signals, 2, at), r3 = ref Row(signals, 3, at);
        ref float r4 = ref Row(signals, 4, at), r5 = ref Row(signals, 5, at), r6 = ref Row(signals, 6, at), r7 = ref Row(signals, 7, at);
        for (var n = 0; n < values.Length / Count; n += Turned)
        {
            ref var four = ref Unsafe.Add(ref from, n * Count);
            Spread(
                Vector256.LoadUnsafe(ref four),
                Vector256.LoadUnsafe(ref four, Count),
                Vector256.LoadUnsafe(ref four, 2 * Count),
                Vector256.LoadUnsafe(ref four, 3 * Count),
                n, ref r0, ref r1, ref r2, ref r3, ref r4, ref r5, ref r6, ref r7);
        }
    }

    /// <summary>The plain form.</summary>
    public static void StorePlain(ReadOnlySpan<float> values, ReadOnlySpan<float[]> signals, int at)
    {
        for (var i = 0; i < values.Length; i++)
        {
            signals[i % Count][at + (i / Count)] = values[i];
        }
    }

    /// <summary>One frame of values as it is computed with.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Vector512<double> Get(ReadOnlySpan<float> values, int frame) =>
        Widen(Vector256.LoadUnsafe(ref MemoryMarshal.GetReference(values), (nuint)(frame * Count)));

    /// <summary>Puts down one frame of values, rounded to 32 bits.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static void Put(Vector512<double> lanes, Span<float> values, int frame) =>
        Narrow(lanes).StoreUnsafe(ref MemoryMarshal.GetReference(values), (nuint)(frame * Count));

    /// <summary>Rounded to 32 bits.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Vector256<float> Narrow(Vector512<double> lanes) =>
        Avx512F.IsSupported ? Avx512F.ConvertToVector256Single(lanes) : Vector256.Narrow(lanes.GetLower(), lanes.GetUpper());

    /// <summary>In 64 bits.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Vector512<double> Widen(Vector256<float> values)
    {
        if (Avx512F.IsSupported)
        {
            return Avx512F.ConvertToVector512Double(values);
        }

        var (low, high) = Vector256.Widen(values);
        return Vector512.Create(low, high);
    }

    // Four frames of eight lanes, to each signal its four samples.
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static void Spread(
        Vector256<float> a,
        Vector256<float> b,
        Vector256<float> c,
        Vector256<float> d,
        int n,
        ref float r0,
        ref float r1,
        ref float r2,
        ref float r3,
        ref float r4,
        ref float r5,
        ref float r6,
        ref float r7)
    {
        Turn(a, b, c, d, out var s0, out var s1, out var s2, out var s3);
        s0.GetLower().StoreUnsafe(ref r0, (nuint)n);
        s1.GetLower().StoreUnsafe(ref r1, (nuint)n);
        s2.GetLower().StoreUnsafe(ref r2, (nuint)n);
        s3.GetLower().StoreUnsafe(ref r3, (nuint)n);
        s0.GetUpper().StoreUnsafe(ref r4, (nuint)n);
        s1.GetUpper().StoreUnsafe(ref r5, (nuint)n);
        s2.GetUpper().StoreUnsafe(ref r6, (nuint)n);
        s3.GetUpper().StoreUnsafe(ref r7, (nuint)n);
    }

    // Each half by itself: what was in the rows is in the columns.
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static void Turn(
        Vector256<float> a,
        Vector256<float> b,
        Vector256<float> c,
        Vector256<float> d,
        out Vector256<float> first,
        out Vector256<float> second,
        out Vector256<float> third,
        out Vector256<float> fourth)
    {
        if (Avx.IsSupported)
        {
            var (lowAb, highAb) = (Avx.UnpackLow(a, b).AsDouble(), Avx.UnpackHigh(a, b).AsDouble());
            var (lowCd, highCd) = (Avx.UnpackLow(c, d).AsDouble(), Avx.UnpackHigh(c, d).AsDouble());
            first = Avx.UnpackLow(lowAb, lowCd).AsSingle();
            second = Avx.UnpackHigh(lowAb, lowCd).AsSingle();
            third = Avx.UnpackLow(highAb, highCd).AsSingle();
            fourth = Avx.UnpackHigh(highAb, highCd).AsSingle();
            return;
        }

        first = Vector256.Create(a[0], b[0], c[0], d[0], a[4], b[4], c[4], d[4]);
        second = Vector256.Create(a[1], b[1], c[1], d[1], a[5], b[5], c[5], d[5]);
        third = Vector256.Create(a[2], b[2], c[2], d[2], a[6], b[6], c[6], d[6]);
        fourth = Vector256.Create(a[3], b[3], c[3], d[3], a[7], b[7], c[7], d[7]);
    }

    private static ref float Row(ReadOnlySpan<float[]> signals, int signal, int at) => ref signals[signal][at];
}

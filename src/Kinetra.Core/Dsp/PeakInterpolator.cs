using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;
using Kinetra.Core.Engine;

namespace Kinetra.Core.Dsp;

/// <summary>
/// How far one channel reaches between its samples: the largest magnitude in each interval from one sample to the next, at
/// eight times the rate, by a Kaiser-windowed sinc. On a full-scale sine of 20 kHz that grid misses at most 0.12 dB of the
/// peak (cos π/19.2).
/// <para>
/// The wide form takes sixteen intervals at once, and the phases p and 8 − p together: their weights are each other's mirror, so
/// that the sums and the differences of two samples as far from the middle serve both.
/// </para>
/// Source: ITU-R BS.1770-5, Annex 2.
/// </summary>
sealed class PeakInterpolator
{
    private const int Phases = 8;
    private const double Beta = 8;
    private const int Lanes = 16;

    private static readonly Kernels Meter = new(16);
    private static readonly Kernels Strict = new(24);

    private readonly Kernels _kernels;
    private readonly int _taps;
    private readonly float[] _samples;

    /// <summary>Makes one that has heard nothing.</summary>
    /// <param name="isStrict">False: flat to 20 kHz within 0.01 dB, 32 taps. True: to 21 kHz, 48 taps.</param>
    public PeakInterpolator(bool isStrict = false)
    {
        _kernels = isStrict ? Strict : Meter;
        _taps = _kernels.Taps;
        _samples = new float[_taps - 1 + AudioFormat.BlockFrames];
    }

    /// <summary>Frames by which an interval's peak comes after its first sample.</summary>
    public int Latency => _taps / 2;

    /// <summary>The <see cref="Latency"/> of one of this kind.</summary>
    public static int LatencyOf(bool isStrict) => (isStrict ? Strict : Meter).Taps / 2;

    /// <summary>Takes in samples, at most a block.</summary>
    /// <param name="samples">What comes next.</param>
    /// <param name="peaks">As many peaks: the n-th is that of the interval that begins <see cref="Latency"/> frames before the n-th sample.</param>
    public void Process(ReadOnlySpan<float> samples, Span<float> peaks)
    {
        samples.CopyTo(_samples.AsSpan(_taps - 1));
        var wide = samples.Length / Lanes * Lanes;
        Wide(peaks[..wide]);
        Plain(wide, peaks[wide..samples.Length]);
        _samples.AsSpan(samples.Length, _taps - 1).CopyTo(_samples);
    }

    /// <summary>The same, all by the plain form.</summary>
    public void ProcessPlain(ReadOnlySpan<float> samples, Span<float> peaks)
    {
        samples.CopyTo(_samples.AsSpan(_taps - 1));
        Plain(0, peaks[..samples.Length]);
        _samples.AsSpan(samples.Length, _taps - 1).CopyTo(_samples);
    }

    /// <summary>Forgets all it has heard.</summary>
    public void Reset() => Array.Clear(_samples);

    // The largest of the eight sums, as the formula says.
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private void Plain(int from, Span<float> peaks)
    {
        for (var n = 0; n < peaks.Length; n++)
        {
            float most = 0;
            for (var p = 0; p < Phases; p++)
            {
                most = MathF.Max(most, MathF.Abs(System.Numerics.Tensors.TensorPrimitives.Dot(_kernels.Of(p), _samples.AsSpan(from + n, _taps))));
            }

            peaks[n] = most;
        }
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private void Wide(Span<float> peaks)
    {
        ref var weights = ref MemoryMarshal.GetArrayDataReference(_kernels.Folded);
        ref var samples = ref MemoryMarshal.GetArrayDataReference(_samples);
        ref var to = ref MemoryMarshal.GetReference(peaks);
        var half = _taps / 2;
        var n = 0;

        // Twice sixteen share each weight that is read.
        for (; n <= peaks.Length - (2 * Lanes); n += 2 * Lanes)
        {
            Vector512<float> even1 = default, even2 = default, even3 = default, middle = default, odd1 = default, odd2 = default, odd3 = default;
            Vector512<float> even1B = default, even2B = default, even3B = default, middleB = default, odd1B = default, odd2B = default, odd3B = default;
            for (var k = 0; k < half; k++)
            {
                ref var w = ref Unsafe.Add(ref weights, k * (Phases - 1));
                ref var near = ref Unsafe.Add(ref samples, n + k);
                ref var far = ref Unsafe.Add(ref samples, n + _taps - 1 - k);
                Add(Vector512.LoadUnsafe(ref near), Vector512.LoadUnsafe(ref far), ref w, ref even1, ref even2, ref even3, ref middle, ref odd1, ref odd2, ref odd3);
                Add(Vector512.LoadUnsafe(ref near, Lanes), Vector512.LoadUnsafe(ref far, Lanes), ref w, ref even1B, ref even2B, ref even3B, ref middleB, ref odd1B, ref odd2B, ref odd3B);
            }

            Most(Vector512.LoadUnsafe(ref samples, (nuint)(n + half - 1)), even1, even2, even3, middle, odd1, odd2, odd3).StoreUnsafe(ref to, (nuint)n);
            Most(Vector512.LoadUnsafe(ref samples, (nuint)(n + Lanes + half - 1)), even1B, even2B, even3B, middleB, odd1B, odd2B, odd3B).StoreUnsafe(ref to, (nuint)(n + Lanes));
        }

        for (; n < peaks.Length; n += Lanes)
        {
            Vector512<float> even1 = default, even2 = default, even3 = default, middle = default, odd1 = default, odd2 = default, odd3 = default;
            for (var k = 0; k < half; k++)
            {
                var near = Vector512.LoadUnsafe(ref samples, (nuint)(n + k));
                var far = Vector512.LoadUnsafe(ref samples, (nuint)(n + _taps - 1 - k));
                Add(near, far, ref Unsafe.Add(ref weights, k * (Phases - 1)), ref even1, ref even2, ref even3, ref middle, ref odd1, ref odd2, ref odd3);
            }

            Most(Vector512.LoadUnsafe(ref samples, (nuint)(n + half - 1)), even1, even2, even3, middle, odd1, odd2, odd3).StoreUnsafe(ref to, (nuint)n);
        }
    }

    // A sample and the one as far on the other side, times the weights of their sum and of their difference.
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static void Add(
        Vector512<float> near,
        Vector512<float> far,
        ref float w,
        ref Vector512<float> even1,
        ref Vector512<float> even2,
        ref Vector512<float> even3,
        ref Vector512<float> middle,
        ref Vector512<float> odd1,
        ref Vector512<float> odd2,
        ref Vector512<float> odd3)
    {
        var (sum, difference) = (near + far, near - far);
        even1 = Vector512.MultiplyAddEstimate(Vector512.Create(w), sum, even1);
        even2 = Vector512.MultiplyAddEstimate(Vector512.Create(Unsafe.Add(ref w, 1)), sum, even2);
        even3 = Vector512.MultiplyAddEstimate(Vector512.Create(Unsafe.Add(ref w, 2)), sum, even3);
        middle = Vector512.MultiplyAddEstimate(Vector512.Create(Unsafe.Add(ref w, 3)), sum, middle);
        odd1 = Vector512.MultiplyAddEstimate(Vector512.Create(Unsafe.Add(ref w, 4)), difference, odd1);
        odd2 = Vector512.MultiplyAddEstimate(Vector512.Create(Unsafe.Add(ref w, 5)), difference, odd2);
        odd3 = Vector512.MultiplyAddEstimate(Vector512.Create(Unsafe.Add(ref w, 6)), difference, odd3);
    }

    // |e + o| and |e − o|: the larger of both is |e| + |o|.
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static Vector512<float> Most(
        Vector512<float> itself,
        Vector512<float> even1,
        Vector512<float> even2,
        Vector512<float> even3,
        Vector512<float> middle,
        Vector512<float> odd1,
        Vector512<float> odd2,
        Vector512<float> odd3)
    {
        var most = Vector512.MaxNative(Vector512.Abs(middle), Vector512.Abs(itself));
        most = Vector512.MaxNative(most, Vector512.Abs(even1) + Vector512.Abs(odd1));
        most = Vector512.MaxNative(most, Vector512.Abs(even2) + Vector512.Abs(odd2));
        return Vector512.MaxNative(most, Vector512.Abs(even3) + Vector512.Abs(odd3));
    }

    private sealed class Kernels
    {
        private readonly float[] _phases;

        public Kernels(int half)
        {
            Taps = 2 * half;
            _phases = new float[Phases * Taps];
            Folded = new float[half * (Phases - 1)];
            for (var p = 0; p < Phases; p++)
            {
                var weights = new double[Taps];
                for (var k = 0; k < Taps; k++)
                {
                    var t = k - (half - 1) - ((double)p / Phases);
                    weights[k] = KaiserWindow.Sinc(t) * KaiserWindow.At(t / half, Beta);
                }

                var sum = weights.Sum();
                for (var k = 0; k < Taps; k++)
                {
                    // What is as good as nothing is nothing: it would only make denormal numbers.
                    _phases[(p * Taps) + k] = Math.Abs(weights[k] / sum) < 1e-9 ? 0 : (float)(weights[k] / sum);
                }
            }

            for (var k = 0; k < half; k++)
            {
                for (var p = 1; p <= Phases / 2; p++)
                {
                    var (near, far) = (Of(p)[k], Of(p)[Taps - 1 - k]);
                    Folded[(k * (Phases - 1)) + p - 1] = (near + far) / 2;
                    if (p < Phases / 2)
                    {
                        Folded[(k * (Phases - 1)) + 3 + p] = (near - far) / 2;
                    }
                }
            }
        }

        public int Taps { get; }

        /// <summary>For each tap of the first half: the even parts of phases 1, 2, 3, phase 4, and the odd parts of 1, 2, 3.</summary>
        public float[] Folded { get; }

        public ReadOnlySpan<float> Of(int phase) => _phases.AsSpan(phase * Taps, Taps);
    }
}

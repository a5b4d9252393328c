using System.Numerics;
using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;

namespace Kinetra.Core.Dsp;

/// <summary>
/// The discrete Fourier transform of one length, a power of two: X[k] = Σ x[n]·e^(−2πikn/N), and back with 1/N. Real and imaginary parts in arrays
/// of their own; radix 2, self-sorting (T. Stockham, AFIPS 1966), so that all but the last stages run in vectors. Not safe for several threads.
/// </summary>
public sealed class FourierTransform
{
    private readonly float[] _cos;
    private readonly float[] _sin;
    private readonly float[] _re;
    private readonly float[] _im;

    /// <summary>A transform.</summary>
    /// <param name="length">How many points, a power of two from 2 to 2²⁰.</param>
    /// <exception cref="ArgumentOutOfRangeException">It is none.</exception>
    public FourierTransform(int length)
    {
        if (length is < 2 or > 1 << 20 || !BitOperations.IsPow2(length))
        {
            throw new ArgumentOutOfRangeException(nameof(length), length, "A power of two from 2 to 1048576.");
        }

        Length = length;
        (_re, _im) = (new float[length], new float[length]);
        (_cos, _sin) = (new float[length / 2], new float[length / 2]);
        for (var i = 0; i < length / 2; i++)
        {
            (_cos[i], _sin[i]) = ((float)Math.Cos(2 * Math.PI * i / length), (float)-Math.Sin(2 * Math.PI * i / length));
        }
    }

    /// <summary>How many points.</summary>
    public int Length { get; }

    /// <summary>Transforms in place.</summary>
    /// <param name="re">Real parts, <see cref="Length"/> of them.</param>
    /// <param name="im">Imaginary parts, as many.</param>
    public void Forward(Span<float> re, Span<float> im) => Run(re, im);

    /// <summary>Transforms back in place, with 1/N.</summary>
    /// <param name="re">Real parts, <see cref="Length"/> of them.</param>
    /// <param name="im">Imaginary parts, as many.</param>
    public void Back(Span<float> re, Span<float> im)
    {
        // With both parts exchanged, forward is back.
        Run(im, re);
        var scale = 1f / Length;
        for (var i = 0; i < Length; i++)
        {
            re[i] *= scale;
            im[i] *= scale;
        }
    }

    // Stage by stage from one pair of arrays to the other: at each, N/(2·stride) butterflies of `stride` neighbours that share a factor.
    private void Run(Span<float> re, Span<float> im)
    {
        Span<float> fromRe = re[..Length], fromIm = im[..Length], toRe = _re, toIm = _im;
        for (var stride = 1; stride < Length; stride *= 2)
        {
            if (stride < Vector<float>.Count)
            {
                Narrow(fromRe, fromIm, toRe, toIm, stride);
            }
            else
            {
                Wide(fromRe, fromIm, toRe, toIm, stride);
            }

            var spare = fromRe;
            fromRe = toRe;
            toRe = spare;
            spare = fromIm;
            fromIm = toIm;
            toIm = spare;
        }

        if (fromRe != re[..Length])
        {
            fromRe.CopyTo(re);
            fromIm.CopyTo(im);
        }
    }

    private void Narrow(ReadOnlySpan<float> fromRe, ReadOnlySpan<float> fromIm, Span<float> toRe, Span<float> toIm, int stride)
    {
        var half = fromRe.Length / 2;
        ref var ar = ref MemoryMarshal.GetReference(fromRe);
        ref var ai = ref MemoryMarshal.GetReference(fromIm);
        ref var yr = ref MemoryMarshal.GetReference(toRe);
        ref var yi = ref MemoryMarshal.GetReference(toIm);
        for (var block = 0; block < half; block += stride)
        {
            var (cos, sin) = (_cos[block], _sin[block]);
            for (int i = block, to = 2 * block; i < block + stride; i++, to++)
            {
                var (pr, pi, qr, qi) = (Unsafe.Add(ref ar, i), Unsafe.Add(ref ai, i), Unsafe.Add(ref ar, i + half), Unsafe.Add(ref ai, i + half));
                var (dr, di) = (pr - qr, pi - qi);
                Unsafe.Add(ref yr, to) = pr + qr;
                Unsafe.Add(ref yi, to) = pi + qi;
                Unsafe.Add(ref yr, to + stride) = (dr * cos) - (di * sin);
                Unsafe.Add(ref yi, to + stride) = (dr * sin) + (di * cos);
            }
        }
    }

    private void Wide(ReadOnlySpan<float> fromRe, ReadOnlySpan<float> fromIm, Span<float> toRe, Span<float> toIm, int stride)
    {
        var half = fromRe.Length / 2;
        ref var ar = ref MemoryMarshal.GetReference(fromRe);
        ref var ai = ref MemoryMarshal.GetReference(fromIm);
        ref var yr = ref MemoryMarshal.GetReference(toRe);
        ref var yi = ref MemoryMarshal.GetReference(toIm);
        for (var block = 0; block < half; block += stride)
        {
            var (cos, sin) = (new Vector<float>(_cos[block]), new Vector<float>(_sin[block]));
            for (int i = block, to = 2 * block; i < block + stride; i += Vector<float>.Count, to += Vector<float>.Count)
            {
                var pr = Vector.LoadUnsafe(ref ar, (nuint)i);
                var pi = Vector.LoadUnsafe(ref ai, (nuint)i);
                var qr = Vector.LoadUnsafe(ref ar, (nuint)(i + half));
                var qi = Vector.LoadUnsafe(ref ai, (nuint)(i + half));
                (pr + qr).StoreUnsafe(ref yr, (nuint)to);
                (pi + qi).StoreUnsafe(ref yi, (nuint)to);
                var (dr, di) = (pr - qr, pi - qi);
                ((dr * cos) - (di * sin)).StoreUnsafe(ref yr, (nuint)(to + stride));
                ((dr * sin) + (di * cos)).StoreUnsafe(ref yi, (nuint)(to + stride));
            }
        }
    }
}

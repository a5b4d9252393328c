using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Dsp;

/// <summary>The least of the last values at each frame, at the same cost whatever the values: windows of 1, 2, 4 … are doubled.</summary>
/// <param name="capacity">The longest window.</param>
/// <param name="rest">What all values were before the first.</param>
sealed class SlidingLeast(int capacity, float rest)
{
    private readonly float[] _values = Filled(capacity, rest);
    private readonly float[] _least = new float[capacity + AudioFormat.BlockFrames];

    /// <summary>Takes in values, at most a block, and writes the least of the last <paramref name="window"/> in their place.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public void Process(Span<float> values, int window)
    {
        // What lies further back than the window is not looked at.
        var count = window - 1 + values.Length;
        values.CopyTo(_values.AsSpan(capacity));
        var least = _least.AsSpan(0, count);
        _values.AsSpan(capacity - (window - 1), count).CopyTo(least);
        var width = 1;
        for (; width * 2 <= window; width *= 2)
        {
            Shrink(least, width);
        }

        if (width < window)
        {
            Shrink(least, window - width);
        }

        least[(window - 1)..].CopyTo(values);
        _values.AsSpan(values.Length, capacity).CopyTo(_values);
    }

    /// <summary>Forgets all it has heard.</summary>
    public void Reset() => _values.AsSpan().Fill(rest);

    // values[n] = min(values[n], values[n − by]), of the old ones: from the end, so that none is read after it was written.
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static void Shrink(Span<float> values, int by)
    {
        var n = values.Length;
        ref var first = ref MemoryMarshal.GetReference(values);
        while (n - Vector512<float>.Count >= by)
        {
            n -= Vector512<float>.Count;
            Vector512.MinNative(Vector512.LoadUnsafe(ref first, (nuint)n), Vector512.LoadUnsafe(ref first, (nuint)(n - by))).StoreUnsafe(ref first, (nuint)n);
        }

        while (--n >= by)
        {
            values[n] = MathF.Min(values[n], values[n - by]);
        }
    }

    private static float[] Filled(int capacity, float rest)
    {
        var values = new float[capacity + AudioFormat.BlockFrames];
        values.AsSpan().Fill(rest);
        return values;
    }
}

/// <summary>The mean of the last values. Sums of floats that are near each other are exact in 64 bits, so nothing drifts.</summary>
/// <param name="capacity">The longest mean.</param>
sealed class MovingAverage(int capacity)
{
    private readonly float[] _ring = new float[capacity];
    private readonly float[] _leaving = new float[capacity];
    private int _length = 1;
    private int _at;
    private double _sum;

    /// <summary>Starts over, with all values alike.</summary>
    public void Start(int length, float value)
    {
        _length = length;
        _at = 0;
        _ring.AsSpan().Fill(value);
        _sum = (double)length * value;
    }

    /// <summary>Values become means, in place.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public void Process(Span<float> values)
    {
        while (!values.IsEmpty)
        {
            // As far as what leaves lies in a row.
            var part = values[..Math.Min(values.Length, _length - _at)];
            var ring = _ring.AsSpan(_at, part.Length);
            var leaving = _leaving.AsSpan(0, part.Length);
            ring.CopyTo(leaving);
            part.CopyTo(ring);
            Recursions.SlidingSum(part, leaving, ref _sum, 1.0 / _length);
            _at = _at + part.Length == _length ? 0 : _at + part.Length;
            values = values[part.Length..];
        }
    }
}

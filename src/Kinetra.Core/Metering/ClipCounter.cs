using System.Runtime.CompilerServices;
using Kinetra.Core.Dsp;

namespace Kinetra.Core.Metering;

/// <summary>Counts how often a signal reaches full scale, above or below: samples in a row count once.</summary>
/// <param name="fullScale">The largest positive sample that the format can hold: 1, or what a whole number of some bits leaves of it.</param>
public sealed class ClipCounter(float fullScale = 1)
{
    private bool _isClipping;

    /// <summary>How often since the start.</summary>
    public long Clips { get; private set; }

    /// <summary>Looks at the next samples.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public void Add(ReadOnlySpan<float> samples)
    {
        // Most sound does not: one look at all of it.
        if (Recursions.LargestMagnitude(samples) < fullScale)
        {
            _isClipping &= samples.IsEmpty;
            return;
        }

        foreach (var sample in samples)
        {
            var clips = sample >= fullScale || sample <= -1;
            if (clips && !_isClipping)
            {
                Clips++;
            }

            _isClipping = clips;
        }
    }

    /// <summary>Starts over.</summary>
    public void Reset() => Clips = 0;
}

/// <summary>
/// Counts tops that were cut off flat below full scale, as of a sound that was clipped and then lowered: three samples or more that are
/// alike, at −20 dBFS or above, which the sound comes to and leaves by 0.1 % of full scale at least. A smooth top, however slow, comes to its
/// height by less.
/// </summary>
/// <param name="fullScale">What reaches this is a clip of another kind.</param>
sealed class FlatTopCounter(float fullScale)
{
    private const int Fewest = 3;
    private const float Lowest = 0.1f;
    private const float Leap = 0.001f;

    private float _top;
    private int _alike;
    private bool _isLeap;

    public long Count { get; private set; }

    public void Add(ReadOnlySpan<float> samples)
    {
        foreach (var sample in samples)
        {
            if (sample == _top)
            {
                _alike++;
                continue;
            }

            var size = Math.Abs(_top);
            var isLower = Math.Abs(sample) <= size - Leap || Math.Sign(sample) != Math.Sign(_top);
            if (_isLeap && isLower && _alike >= Fewest && size >= Lowest && _top < fullScale && _top > -1)
            {
                Count++;
            }

            var from = Math.Sign(sample) == Math.Sign(_top) ? size : 0;
            (_top, _alike, _isLeap) = (sample, 1, Math.Abs(sample) >= from + Leap);
        }
    }
}

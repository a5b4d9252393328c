using System.Numerics.Tensors;
using System.Runtime.CompilerServices;
using Kinetra.Core.Dsp;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Processors;

/// <summary>
/// One pass of a look-ahead limiter. From each interval's true peak follows the greatest gain that holds the ceiling there;
/// the least of these over the look-ahead, let go with the release and smoothed by two moving averages, is applied to the
/// sound, which waits meanwhile. The smoothed gain never exceeds the least one at any frame that a peak is made of.
/// </summary>
sealed class LimiterStage
{
    /// <summary>The longest look-ahead, frames.</summary>
    public const int MaxLookAhead = 480;

    // The interpolation makes an interval's peak of this many frames to each side; the gain is down in all that matter.
    private const int Around = 4;
    private const int MaxWindow = MaxLookAhead + (2 * Around) + 2;

    private const int MaxLatency = MaxLookAhead + 32;

    private readonly PeakInterpolator _leftPeaks;
    private readonly PeakInterpolator _rightPeaks;
    private readonly SteppedDelay _left = new(MaxLatency, 0);
    private readonly SteppedDelay _right = new(MaxLatency, 0);
    private readonly SlidingLeast _needed = new(MaxWindow, rest: 1);
    private readonly float[] _gains = new float[AudioFormat.BlockFrames];
    private readonly float[] _other = new float[AudioFormat.BlockFrames];
    private readonly MovingAverage _first = new(MaxLookAhead);
    private readonly MovingAverage _second = new(MaxLookAhead);
    private readonly int _channels;
    private readonly bool _skips;
    private int _average;
    private int _window;
    private double _taken;

    // For so many frames nothing at all was taken away.
    private int _still;

    /// <summary>Makes one.</summary>
    /// <param name="channels">1 or 2.</param>
    /// <param name="lookAhead">Frames.</param>
    /// <param name="isStrict">True: it looks at what lies between 20 and 21 kHz too.</param>
    /// <param name="skips">False: the plain form, which computes what cannot matter too. To the bit the same.</param>
    public LimiterStage(int channels, int lookAhead, bool isStrict = false, bool skips = true)
    {
        _channels = channels;
        _skips = skips;
        _leftPeaks = new PeakInterpolator(isStrict);
        _rightPeaks = new PeakInterpolator(isStrict);
        Start(lookAhead);
    }

    /// <summary>Frames by which it delays.</summary>
    public int Latency => _leftPeaks.Latency + (2 * (_average - 1)) + Around;

    /// <summary>By how many frames one of this look-ahead, frames, delays.</summary>
    public static int LatencyOf(int lookAhead, bool isStrict) =>
        PeakInterpolator.LatencyOf(isStrict) + (2 * (AverageOf(lookAhead) - 1)) + Around;

    /// <summary>Forgets all it has heard, and takes another look-ahead, frames.</summary>
    public void Start(int lookAhead)
    {
        _average = AverageOf(lookAhead);

        // An interval lies between two frames: one more.
        _window = (2 * (_average - 1)) + 1 + (2 * Around) + 1;
        _leftPeaks.Reset();
        _rightPeaks.Reset();
        _left.Set(Latency);
        _right.Set(Latency);
        _left.Reset();
        _right.Reset();
        _needed.Reset();
        _first.Start(_average, 1);
        _second.Start(_average, 1);
        _taken = 0;
        _still = 2 * _average;
    }

    /// <summary>Limits frames in place.</summary>
    /// <param name="left">Left, or the only channel.</param>
    /// <param name="right">Right; empty for mono.</param>
    /// <param name="ceilings">The ceiling at each frame, a magnitude.</param>
    /// <param name="releaseMemory">What is left, after a frame, of the way back to no reduction; 0: it lets go at once.</param>
    /// <returns>The gain of each frame; valid until the next call.</returns>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public ReadOnlySpan<float> Process(Span<float> left, Span<float> right, ReadOnlySpan<float> ceilings, double releaseMemory)
    {
        var length = left.Length;
        var gains = _gains.AsSpan(0, length);
        var least = _skips ? TensorPrimitives.Min(ceilings) : -1;
        _leftPeaks.Process(left, gains, least);
        if (_channels == 2)
        {
            var other = _other.AsSpan(0, length);
            _rightPeaks.Process(right, other, least);
            TensorPrimitives.Max(gains, other, gains);
        }

        // Where nothing is too loud, and nothing was for as long as anything lasts, all gains are 1 and stay it.
        var isQuiet = Recursions.LargestMagnitude(gains) <= least;
        if (isQuiet && _still >= 2 * _average)
        {
            gains.Fill(1);
            Delay(left, right);
            return gains;
        }

        // A frame belongs to the interval before it and to the one after it; the window is one longer for that.
        TensorPrimitives.Max(gains, ceilings, gains);
        TensorPrimitives.Divide(ceilings, gains, gains);
        _needed.Process(gains, _window);

        // What is taken away rises at once and falls with the release.
        TensorPrimitives.Subtract(1, gains, gains);
        Recursions.FallingPeak(gains, ref _taken, releaseMemory);
        _taken = _taken < 1e-9 ? 0 : _taken;
        TensorPrimitives.Subtract(1, gains, gains);
        _still = isQuiet && _taken == 0 && TensorPrimitives.Min<float>(gains) == 1 ? Math.Min(_still + length, 2 * _average) : 0;
        _first.Process(gains);
        _second.Process(gains);
        Delay(left, right);
        TensorPrimitives.Multiply(left, gains, left);
        if (_channels == 2)
        {
            TensorPrimitives.Multiply(right, gains, right);
        }

        return gains;
    }

    private void Delay(Span<float> left, Span<float> right)
    {
        _left.Process(left, left);
        if (_channels == 2)
        {
            _right.Process(right, right);
        }
    }

    private static int AverageOf(int lookAhead) => Math.Max(1, lookAhead / 2);
}

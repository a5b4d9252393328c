using Kinetra.Core.Dsp;
using Kinetra.Core.Metering;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Voice;

/// <summary>
/// By how much two forms of one sound differ in loudness: K-weighted energy over the last ten seconds, of those hops of 20 ms alone in which the sound is there
/// (not more than 20 LU below the mean of what is), the same hops for both: what a gate takes out of the pauses makes nobody quieter. Not safe for several threads.
/// Source of the weighting: ITU-R BS.1770-5, Annex 1.
/// </summary>
public sealed class LoudnessMatch
{
    /// <summary>Hops that are remembered: ten seconds.</summary>
    public const int Hops = 10 * Hop.PerSecond;

    /// <summary>Before so many hops were there, nothing is said: 400 ms.</summary>
    public const int FewestHops = Hop.Momentary;

    // −60 LUFS, of one channel; what is quieter is nothing.
    private const double Silence = 1e-6;
    private const double Relative = 0.01;

    private readonly (double With, double Without)[] _hops = new (double, double)[Hops];
    private readonly KWeighting[] _filters = new KWeighting[4];
    private (double With, double Without) _open;
    private int _position;
    private int _count;
    private int _next;

    /// <summary>By how many LU the first form is louder than the second; null: not known yet.</summary>
    public double? Difference { get; private set; }

    /// <summary>Takes the next frames of both, left and right, at most a block.</summary>
    public void Add(ReadOnlySpan<float> withLeft, ReadOnlySpan<float> withRight, ReadOnlySpan<float> withoutLeft, ReadOnlySpan<float> withoutRight)
    {
        for (var at = 0; at < withLeft.Length;)
        {
            var length = Math.Min(withLeft.Length - at, Hop.Frames - _position);
            var with = _filters[0].SumOfSquares(withLeft.Slice(at, length)) + _filters[1].SumOfSquares(withRight.Slice(at, length));
            var without = _filters[2].SumOfSquares(withoutLeft.Slice(at, length)) + _filters[3].SumOfSquares(withoutRight.Slice(at, length));
            _open = (_open.With + with, _open.Without + without);
            at += length;
            _position += length;
            if (_position == Hop.Frames)
            {
                Close();
            }
        }
    }

    /// <summary>Measures anew, since one of both is another now; until that is known, what was found before counts.</summary>
    public void Restart() => (_open, _position, _count, _next) = (default, 0, 0, 0);

    private void Close()
    {
        _hops[_next] = _open;
        _next = (_next + 1) % Hops;
        _count = Math.Min(Hops, _count + 1);
        (_open, _position) = (default, 0);
        var silence = Silence * Hop.Frames;
        var mean = Mean(silence, silence);
        if (mean is null)
        {
            return;
        }

        // The gate is relative to what both are: whichever of them one stands in, the same hops count.
        var gated = Mean(Math.Max(silence, mean.Value.With * Relative), Math.Max(silence, mean.Value.Without * Relative));
        if (gated is { } found)
        {
            Difference = 10 * Math.Log10(found.With / found.Without);
        }
    }

    private (double With, double Without)? Mean(double leastWith, double leastWithout)
    {
        var (with, without, count) = (0.0, 0.0, 0);
        for (var i = 0; i < _count; i++)
        {
            var hop = _hops[i];
            if (hop.With >= leastWith && hop.Without >= leastWithout)
            {
                (with, without, count) = (with + hop.With, without + hop.Without, count + 1);
            }
        }

        return count < FewestHops ? null : (with / count, without / count);
    }
}

using System.Collections.Concurrent;
using System.Numerics.Tensors;

namespace Kinetra.Core.Dsp;

/// <summary>
/// Values of a signal at any place between its samples, at another rate if wished: a Kaiser-windowed sinc, tabulated finely
/// enough that straight lines between two rows err by less than −125 dB. Passes up to 0.9 of the lower of both Nyquist
/// frequencies within 0.01 dB; what lies beyond that Nyquist frequency is 120 dB down.
/// Source: J. O. Smith, "Digital Audio Resampling", 2002 (the table); J. F. Kaiser, "Nonrecursive digital filter design using
/// the I0-sinh window function", 1974 (the window).
/// </summary>
public sealed class SincTable
{
    // A stop band about 130 dB down, so that with its images all is 120 dB down; the half-width in zero crossings makes the transition a
    // tenth of the Nyquist frequency wide.
    private const double Beta = 13.3;
    private const int ZeroCrossings = 84;
    private const double Cutoff = 0.948;
    private const int Rows = 2_048;
    private const int FewestRows = 128;

    private static readonly ConcurrentDictionary<double, SincTable> Made = new();

    private readonly int _rows;
    private readonly float[] _table;

    private SincTable(double share)
    {
        var cutoff = Cutoff * share;
        Ahead = (int)Math.Ceiling(ZeroCrossings / cutoff);
        _rows = Math.Max(FewestRows, (int)(Rows * share));
        _table = new float[(_rows + 1) * Taps];
        var weights = new double[Taps];
        for (var row = 0; row <= _rows; row++)
        {
            double sum = 0;
            for (var k = 0; k < Taps; k++)
            {
                var t = k - Behind - ((double)row / _rows);
                weights[k] = KaiserWindow.Sinc(cutoff * t) * KaiserWindow.At(t / Ahead, Beta);
                sum += weights[k];
            }

            // Every row passes a constant at exactly 0 dB.
            for (var k = 0; k < Taps; k++)
            {
                _table[(row * Taps) + k] = (float)(weights[k] / sum);
            }
        }
    }

    /// <summary>The table where the new rate is this share of the old one; from 1 on it is always the same.</summary>
    public static SincTable For(double share) => Made.GetOrAdd(Math.Min(1, share), s => new SincTable(s));

    /// <summary>Samples that one value is made of.</summary>
    public int Taps => 2 * Ahead;

    /// <summary>How many samples after the one at or before a place its value needs.</summary>
    public int Ahead { get; }

    /// <summary>How many samples before the one at or before a place its value needs.</summary>
    public int Behind => Ahead - 1;

    /// <summary>The weights for a place between two samples.</summary>
    /// <param name="fraction">How far behind the earlier of both, in samples: 0 … 1.</param>
    /// <param name="kernel"><see cref="Taps"/> weights; the first is for the sample <see cref="Behind"/> before the earlier one.</param>
    public void Kernel(double fraction, Span<float> kernel)
    {
        var place = Math.Clamp(fraction, 0, 1) * _rows;
        var row = Math.Min((int)place, _rows - 1);
        TensorPrimitives.Lerp(_table.AsSpan(row * Taps, Taps), _table.AsSpan((row + 1) * Taps, Taps), (float)(place - row), kernel);
    }
}

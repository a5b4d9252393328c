using System.Runtime.CompilerServices;
using Kinetra.Core.Dsp;

namespace Kinetra.Core.Metering;

/// <summary>
/// K-weighting of one channel at 48 kHz: the spherical-head shelf, then the low-frequency roll-off.
/// Source: ITU-R BS.1770-5, Annex 1, tables 1 and 2 (coefficients as printed there).
/// </summary>
public struct KWeighting
{
    private static readonly BiquadCoefficients Shelf = new(
        1.53512485958697, -2.69169618940638, 1.19839281085285, -1.69065929318241, 0.73248077421585);

    private static readonly BiquadCoefficients RollOff = new(1, -2, 1, -1.99004745483398, 0.99007225036621);

    private Biquad _shelf;
    private Biquad _rollOff;

    /// <summary>Filters the next samples and returns the sum of the squares of what comes out.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public double SumOfSquares(ReadOnlySpan<float> samples)
    {
        // Local copies keep the state in registers.
        var shelf = _shelf;
        var rollOff = _rollOff;
        double sum = 0;
        foreach (var sample in samples)
        {
            var y = rollOff.Next(RollOff, shelf.Next(Shelf, sample));
            sum += y * y;
        }

        shelf.Flush();
        rollOff.Flush();
        _shelf = shelf;
        _rollOff = rollOff;
        return sum;
    }
}

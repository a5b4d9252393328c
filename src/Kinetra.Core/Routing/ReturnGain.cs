using System.Numerics.Tensors;

namespace Kinetra.Core.Routing;

/// <summary>
/// What comes back to a point of a circle if it is opened there, by whatever ways, inner circles and all: the return ratio; of several channels, the
/// spectral radius. A circle that dies away has that of the point where it is most, so that its inverse is how much louder any one point may become before
/// it builds up; one that builds up, that of the point where it is least: by how much that one has to become softer. Both are 0 dB at the same time.
/// Sources: H. W. Bode, Network Analysis and Feedback Amplifier Design (1945), the return ratio; A. Berman, R. J. Plemmons, Nonnegative Matrices (1979),
/// chapter 6: a circle dies away just where elimination without exchanges meets positive pivots only.
/// </summary>
/// <param name="starts">Where each point's channels begin in the matrix, and the end.</param>
sealed class ReturnGain(int[] starts)
{
    private const int Squarings = 24;

    private readonly int _size = starts[^1];
    private readonly double[] _work = new double[starts[^1] * starts[^1]];

    /// <summary>
    /// The gain, as a factor; null where the circle builds up whatever a single point does. No more than what is known already may be
    /// told as anything that is no more.
    /// </summary>
    /// <param name="ways">By what each channel gets each, row by row: the row is where it comes to. Not negative.</param>
    /// <param name="known">What is known to come back, as a factor.</param>
    public double? Of(double[] ways, double known)
    {
        if (starts.Length == 2)
        {
            return Radius(ways, _size);
        }

        return TryInvert(ways) ? Most(ways) : Least(ways, known);
    }

    // Of the inverse of what is left of one when the ways are taken off it: N = 1 + W N, and opened at a point W N / N comes back there.
    private double Most(double[] ways)
    {
        var most = 0.0;
        for (var p = 0; p + 1 < starts.Length; p++)
        {
            var (start, size) = (starts[p], starts[p + 1] - starts[p]);
            var (block, comes) = (new double[size * size], new double[size * size]);
            for (var r = 0; r < size; r++)
            {
                for (var c = 0; c < size; c++)
                {
                    block[(r * size) + c] = _work[((start + r) * _size) + start + c];
                    for (var k = 0; k < _size; k++)
                    {
                        comes[(r * size) + c] += ways[((start + r) * _size) + k] * _work[(k * _size) + start + c];
                    }
                }
            }

            most = Math.Max(most, size == 1 ? comes[0] / block[0] : Radius(Solved(block, comes, size), size));
        }

        return most;
    }

    private double? Least(double[] ways, double known)
    {
        double? least = null;
        for (var p = 0; p + 1 < starts.Length && !(least <= known); p++)
        {
            if (OpenedAt(p, ways) is { } returned && !(returned >= least))
            {
                least = returned;
            }
        }

        return least;
    }

    // Everything else is eliminated first; null where that builds up by itself.
    private double? OpenedAt(int point, double[] ways)
    {
        var (start, end) = (starts[point], starts[point + 1]);
        int[] order = [.. Enumerable.Range(0, start), .. Enumerable.Range(end, _size - end), .. Enumerable.Range(start, end - start)];
        for (var r = 0; r < _size; r++)
        {
            for (var c = 0; c < _size; c++)
            {
                _work[(r * _size) + c] = (r == c ? 1 : 0) - ways[(order[r] * _size) + order[c]];
            }
        }

        var others = _size - (end - start);
        for (var p = 0; p < others; p++)
        {
            var pivot = Row(p)[p];
            if (!(pivot > 0))
            {
                return null;
            }

            for (var r = p + 1; r < _size; r++)
            {
                var factor = Row(r)[p] / pivot;
                if (factor != 0)
                {
                    TensorPrimitives.MultiplyAdd(Row(p)[p..], -factor, Row(r)[p..], Row(r)[p..]);
                }
            }
        }

        var size = end - start;
        var returned = new double[size * size];
        for (var r = 0; r < size; r++)
        {
            for (var c = 0; c < size; c++)
            {
                returned[(r * size) + c] = Math.Max(0, (r == c ? 1 : 0) - Row(others + r)[others + c]);
            }
        }

        return Radius(returned, size);
    }

    // In place, without exchanges. False where the circle does not die away.
    private bool TryInvert(double[] ways)
    {
        for (var i = 0; i < ways.Length; i++)
        {
            _work[i] = -ways[i];
        }

        for (var p = 0; p < _size; p++)
        {
            Row(p)[p] += 1;
        }

        for (var p = 0; p < _size; p++)
        {
            var row = Row(p);
            var pivot = row[p];
            if (!(pivot > 0))
            {
                return false;
            }

            row[p] = 1;
            TensorPrimitives.Divide(row, pivot, row);
            for (var r = 0; r < _size; r++)
            {
                var factor = Row(r)[p];
                if (r != p && factor != 0)
                {
                    Row(r)[p] = 0;
                    TensorPrimitives.MultiplyAdd(row, -factor, Row(r), Row(r));
                }
            }
        }

        return true;
    }

    private Span<double> Row(int row) => _work.AsSpan(row * _size, _size);

    // What multiplied by the one gives the other.
    private static double[] Solved(double[] one, double[] other, int size)
    {
        for (var p = 0; p < size; p++)
        {
            for (var r = 0; r < size; r++)
            {
                if (r != p)
                {
                    Subtract(one, r, p, one[(r * size) + p] / one[(p * size) + p]);
                }
            }
        }

        for (var i = 0; i < other.Length; i++)
        {
            other[i] = Math.Max(0, other[i] / one[(i / size * size) + (i / size)]);
        }

        return other;

        void Subtract(double[] left, int row, int pivot, double factor)
        {
            for (var c = 0; c < size; c++)
            {
                left[(row * size) + c] -= factor * left[(pivot * size) + c];
                other[(row * size) + c] -= factor * other[(pivot * size) + c];
            }
        }
    }

    // Of gains that are not negative; beyond two channels the root of the size of a high power. Logarithms keep it within range.
    private static double Radius(double[] gains, int size)
    {
        if (size == 1)
        {
            return gains[0];
        }

        if (size == 2)
        {
            var (mean, half) = ((gains[0] + gains[3]) / 2, (gains[0] - gains[3]) / 2);
            return mean + Math.Sqrt((half * half) + (gains[1] * gains[2]));
        }

        double logarithm = 0;
        for (var k = 0; k < Squarings; k++)
        {
            var most = gains.Max();
            if (most == 0)
            {
                return 0;
            }

            logarithm += Math.Log(most) / Math.Pow(2, k);
            var square = new double[gains.Length];
            for (var i = 0; i < gains.Length; i++)
            {
                for (var m = 0; m < size; m++)
                {
                    square[i] += gains[(i / size * size) + m] / most * (gains[(m * size) + (i % size)] / most);
                }
            }

            gains = square;
        }

        return Math.Exp(logarithm);
    }
}

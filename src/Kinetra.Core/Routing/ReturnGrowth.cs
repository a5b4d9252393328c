namespace Kinetra.Core.Routing;

/// <summary>
/// How fast a circle builds up whatever any one of its points does: what a sound gains with each way, and that as often as the shortest of its
/// rounds has ways.
/// Source: L. Collatz, H. Wielandt (bounds of the spectral radius by any positive vector).
/// </summary>
/// <param name="ways">The ways of the circle.</param>
/// <param name="channels">How many channels there are.</param>
sealed class ReturnGrowth(LoopWay[] ways, int channels)
{
    private const double Accuracy = 1 + 1e-7;
    private const int MostSteps = 4_000;

    private int? _shortest;

    /// <summary>The gain of a round, as a factor, at least 1.</summary>
    /// <param name="gains">By what each way multiplies, filters and all; not negative.</param>
    public double Of(double[] gains)
    {
        var (vector, next) = (new double[channels], new double[channels]);
        Array.Fill(vector, 1);
        var (least, most) = (0.0, double.MaxValue);
        for (var step = 0; step < MostSteps && most > least * Accuracy; step++)
        {
            Array.Clear(next);
            for (var i = 0; i < ways.Length; i++)
            {
                next[ways[i].To] += gains[i] * vector[ways[i].From];
            }

            var ratios = next.Zip(vector, (n, v) => n / v).ToArray();
            (least, most) = (ratios.Min(), ratios.Max());

            // Shifted, so that rings do not swing.
            var largest = 0.0;
            for (var i = 0; i < channels; i++)
            {
                vector[i] = next[i] + (most * vector[i]);
                largest = Math.Max(largest, vector[i]);
            }

            for (var i = 0; i < channels; i++)
            {
                vector[i] = Math.Max(vector[i] / largest, 1e-150);
            }
        }

        return Math.Max(1, Math.Pow(Math.Sqrt(least * most), _shortest ??= Shortest()));
    }

    private int Shortest()
    {
        var onward = ways.ToLookup(w => w.From, w => w.To);
        return Enumerable.Range(0, channels).Min(From);

        int From(int start)
        {
            var (seen, at, steps) = (new HashSet<int>(), new HashSet<int> { start }, 0);
            while (at.Count > 0)
            {
                steps++;
                at = [.. at.SelectMany(c => onward[c])];
                if (at.Contains(start))
                {
                    return steps;
                }

                at.RemoveWhere(c => !seen.Add(c));
            }

            return int.MaxValue;
        }
    }
}

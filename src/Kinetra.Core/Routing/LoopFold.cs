namespace Kinetra.Core.Routing;

/// <summary>
/// The points of a circle at which it matters what comes back. One that has its sound from one other alone, or gives it to one other alone, is on no
/// circle that does not pass that other: it is folded into its ways. A plain ring is one point with one way to itself.
/// </summary>
sealed class LoopFold
{
    private readonly int[] _slotOf;
    private readonly List<(int Sum, int In, int Out)> _products = [];
    private readonly (int Cell, int Slot)[] _cells;
    private readonly double[] _slots;
    private readonly double[] _matrix;

    /// <param name="ways">The ways of the circle.</param>
    /// <param name="pointOf">Which point each channel belongs to.</param>
    public LoopFold(LoopWay[] ways, int[] pointOf)
    {
        var (into, from) = (Adjacent(pointOf.Length), Adjacent(pointOf.Length));
        var slots = 0;
        _slotOf = Array.ConvertAll(ways, w => SlotOf(w.From, w.To));
        var points = pointOf.Select((p, c) => (p, c)).GroupBy(x => x.p, x => x.c).ToDictionary(g => g.Key, g => g.ToArray());
        int left;
        do
        {
            // A dictionary may lose what is gone through.
            left = points.Count;
            foreach (var point in points.Keys.Where(CanGo))
            {
                Fold(point);
            }
        }
        while (points.Count < left);

        // Each point's channels side by side.
        var kept = points.Values.SelectMany(c => c).ToArray();
        Starts = [0, .. points.Values.Select(c => c.Length)];
        for (var p = 1; p < Starts.Length; p++)
        {
            Starts[p] += Starts[p - 1];
        }

        var places = kept.Select((c, i) => (c, i)).ToDictionary(x => x.c, x => x.i);
        _cells = [.. kept.SelectMany(c => into[c].Select(i => ((places[c] * kept.Length) + places[i.Key], i.Value)))];
        (_slots, _matrix) = (new double[slots], new double[kept.Length * kept.Length]);

        void Fold(int point)
        {
            foreach (var c in points[point])
            {
                foreach (var (before, way) in into[c])
                {
                    foreach (var (after, onward) in from[c])
                    {
                        _products.Add((SlotOf(before, after), way, onward));
                    }

                    from[before].Remove(c);
                }

                foreach (var after in from[c].Keys)
                {
                    into[after].Remove(c);
                }
            }

            points.Remove(point);
        }

        int SlotOf(int one, int other)
        {
            if (!into[other].TryGetValue(one, out var slot))
            {
                slot = slots++;
                (into[other][one], from[one][other]) = (slot, slot);
            }

            return slot;
        }

        bool CanGo(int point)
        {
            var (before, after) = (Others(into, point), Others(from, point));
            return !before.Contains(point) && (before.Count == 1 || after.Count == 1);
        }

        HashSet<int> Others(Dictionary<int, int>[] ends, int point) => [.. points[point].SelectMany(c => ends[c].Keys).Select(c => pointOf[c])];
    }

    /// <summary>Where each point's channels begin in the matrix, and the end.</summary>
    public int[] Starts { get; }

    /// <summary>By what each channel that is left gets each, row by row: the row is where it comes to. Valid until the next call.</summary>
    /// <param name="gains">By what each way multiplies, filters and all; not negative.</param>
    public double[] Of(double[] gains)
    {
        Array.Clear(_slots);
        for (var i = 0; i < gains.Length; i++)
        {
            _slots[_slotOf[i]] += gains[i];
        }

        foreach (var (sum, one, other) in _products)
        {
            _slots[sum] += _slots[one] * _slots[other];
        }

        foreach (var (cell, slot) in _cells)
        {
            _matrix[cell] = _slots[slot];
        }

        return _matrix;
    }

    private static Dictionary<int, int>[] Adjacent(int count) => [.. Enumerable.Range(0, count).Select(_ => new Dictionary<int, int>())];
}

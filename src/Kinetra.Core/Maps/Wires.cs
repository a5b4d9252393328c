namespace Kinetra.Core.Maps;

/// <summary>One track between two columns: from a height on the left to one on the right.</summary>
/// <param name="FromY">The height that it leaves.</param>
/// <param name="ToY">The height that it comes to; of all wires, each another.</param>
/// <param name="Group">What it comes to: wires of one group do not cross each other.</param>
readonly record struct Wire(double FromY, double ToY, int Group);

/// <summary>Where the slant of each wire lies, so that no two lie on one another: from where it leaves to where it merges.</summary>
/// <remarks>
/// A wire runs level, then on a slant of one steepness, then level. Level stretches never meet, since all heights differ. Two slants that fall are
/// parallel: each has a number of its own, where it would cut the axis, and those differ by a stated gap wherever two would lie beside each other.
/// So do two that rise; one that falls and one that rises only cross.
/// </remarks>
static class Wires
{
    // How far a slant goes to the right for each pixel up or down, at most; and how far the longest goes.
    private const double MostSlant = 0.55;
    private const double Longest = 900;

    // Level, between the last merge and what is come to.
    private const double Margin = 12;

    /// <summary>Lays wires out.</summary>
    /// <param name="wires">All of them.</param>
    /// <param name="left">Nothing leaves further left, px.</param>
    /// <param name="least">The right end lies at least here, px.</param>
    /// <param name="gap">Between two slants that lie beside each other, px along the level.</param>
    /// <param name="height">From the highest of all heights to the lowest, px, or more.</param>
    /// <returns>For each wire where it leaves and where it merges, px; the same for one that goes straight on; and where the right end lies.</returns>
    public static ((double Leave, double Merge)[] Places, double Right) Lay(IReadOnlyList<Wire> wires, double left, double least, double gap, double height)
    {
        // Right is 0 for now.
        var cuts = new double[wires.Count];
        var slant = Math.Min(MostSlant, Longest / height);
        Fall(wires, cuts, slant, gap, down: true);
        Fall(wires, cuts, slant, gap, down: false);
        var furthest = 0.0;
        for (var i = 0; i < wires.Count; i++)
        {
            if (wires[i].FromY != wires[i].ToY)
            {
                furthest = Math.Min(furthest, cuts[i] + (slant * Height(wires[i].FromY, wires[i])));
            }
        }

        // In steps, so that a small edit leaves the rest where it was.
        var right = Math.Max(least, left + (Math.Ceiling(-furthest / 80) * 80));
        var places = new (double, double)[wires.Count];
        for (var i = 0; i < wires.Count; i++)
        {
            var wire = wires[i];
            places[i] = wire.FromY == wire.ToY ? (right, right) : (right + cuts[i] + (slant * Height(wire.FromY, wire)), right + cuts[i] + (slant * Height(wire.ToY, wire)));
        }

        return (places, right);
    }

    // What rises is what falls, upside down.
    private static double Height(double y, Wire wire) => wire.ToY > wire.FromY ? y : -y;

    private static void Fall(IReadOnlyList<Wire> wires, double[] cuts, double slant, double gap, bool down)
    {
        var taken = new Dictionary<long, List<(double From, double To)>>();
        var order = Enumerable.Range(0, wires.Count).Where(i => down ? wires[i].ToY > wires[i].FromY : wires[i].ToY < wires[i].FromY)
            .OrderBy(i => wires[i].Group).ThenBy(i => Height(wires[i].ToY, wires[i])).ToList();
        var (group, limit) = (int.MinValue, long.MaxValue);
        foreach (var i in order)
        {
            var wire = wires[i];
            var (from, to) = (Height(wire.FromY, wire), Height(wire.ToY, wire));

            // As far right as it can: what comes from furthest merges last, so that it crosses none of its group.
            var best = (long)Math.Floor((-Margin - (slant * to)) / gap);
            if (wire.Group != group)
            {
                (group, limit) = (wire.Group, long.MaxValue);
            }

            var cut = Math.Min(best, limit);
            while (taken.TryGetValue(cut, out var others) && others.Exists(o => o.From < to + gap && from < o.To + gap))
            {
                cut--;
            }

            if (!taken.TryGetValue(cut, out var here))
            {
                taken[cut] = here = [];
            }

            here.Add((from, to));
            limit = cut - 1;
            cuts[i] = cut * gap;
        }
    }
}

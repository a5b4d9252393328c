using Kinetra.Core.Dsp;

namespace Kinetra.Core.Routing;

/// <summary>What the links of a wiring do to a sound now, at 1 kHz, with the links that close circles cut.</summary>
sealed class LinkTable(Routed routed)
{
    private const double Frequency = 1_000;

    private readonly double[]?[] _gains = new double[routed.Wiring.Links.Length][];

    /// <summary>By what a link multiplies, from channel to channel, row by row (to × from); empty: nothing passes.</summary>
    public double[] GainsOf(int index)
    {
        if (_gains[index] is { } known)
        {
            return known;
        }

        var link = routed.Wiring.Links[index];
        if (link.Use != LinkUse.Sound || link.Factor == 0 || routed.Order.IsLate(index) || routed.Order.IsCut(index))
        {
            return _gains[index] = [];
        }

        var (from, to) = (link.Map.From, link.Map.To);
        var (own, cross, filtered) = (link.Factor, 0.0, 1.0);
        if (!link.Chain.IsEmpty)
        {
            (own, cross) = ChainGain.Steady(link);
            filtered = FilterDesign.Magnitude(ChainGain.SectionsOf(link), Frequency);
        }

        var gains = new double[from * to];
        foreach (var cell in link.Map.Cells)
        {
            gains[(cell.To * from) + cell.From] += cell.Gain * own * filtered;
            if (from == 2 && cross != 0)
            {
                gains[(cell.To * from) + 1 - cell.From] += cell.Gain * cross * filtered;
            }
        }

        return _gains[index] = Array.TrueForAll(gains, g => g == 0) ? [] : gains;
    }

    /// <summary>How late what comes out of a link is, frames: it waits, looks ahead, is set, buffered or outside.</summary>
    public int DelayOf(int index)
    {
        var delays = routed.Wiring.Links[index].Delays;
        return routed.Alignment.WaitOf(index) + delays.LookAhead + delays.Set + delays.Buffer + delays.Device;
    }
}

using Kinetra.Core.Dsp;
using Kinetra.Core.Processors;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Routing;

/// <summary>
/// What a sound gains with each round of a loop, at the frequency at which it gains most: what comes back to a point if the loop is opened there
/// (<see cref="ReturnGain"/>), so that loops that share a point add up. It says nothing of which links close it, nor of the order in which anything was
/// made. Gains are magnitudes, chains as they are when nothing is reduced: what a loop does before a limiter holds it.
/// </summary>
sealed class LoopGain
{
    private const int PointsPerOctave = 12;
    private const double LowestFrequency = 20;
    private const double HighestFrequency = 22_000;

    private readonly LoopFold _fold;
    private readonly ReturnGain _returns;
    private readonly ReturnGrowth _growth;
    private readonly LoopWay[] _ways;
    private readonly BiquadCoefficients[][] _filters;

    private LoopGain(ChannelGraph graph, Circle circle)
    {
        var places = circle.Channels.Select((c, i) => (c, i)).ToDictionary(x => x.c, x => x.i);
        var links = circle.Links.ToDictionary(l => l, l => graph.Wiring.Links[l]);
        var sections = links.Select(l => (l.Key, Sections: ChainGain.SectionsOf(l.Value))).Where(l => l.Sections.Length > 0).ToArray();
        _filters = [.. sections.Select(l => l.Sections)];
        var filters = sections.Select((l, i) => (l.Key, i)).ToDictionary(l => l.Key, l => l.i);
        var steady = links.ToDictionary(l => l.Key, l => ChainGain.Steady(l.Value));
        _ways =
        [
            .. circle.Ways.Select(w => new LoopWay(
                places[w.From],
                places[w.To],
                w.Factor * (w.Crosses ? steady[w.Link].Cross : steady[w.Link].Own),
                filters.TryGetValue(w.Link, out var filter) ? filter : null)),
        ];
        _fold = new(_ways, [.. circle.Channels.Select(graph.PointOf)]);
        _returns = new(_fold.Starts);
        _growth = new(_ways, circle.Channels.Length);
    }

    /// <summary>The factor by which a round of the loop raises a tone at the worst frequency.</summary>
    public static double Of(ChannelGraph graph, Circle circle) => new LoopGain(graph, circle).Worst();

    private double Worst()
    {
        var worst = 0.0;

        // The loudest first: whatever is no louder anywhere cannot come back louder.
        var looked = new List<double[]>();
        foreach (var magnitudes in Frequencies().Select(MagnitudesAt).OrderByDescending(m => m.Sum(x => Math.Log(x + double.Epsilon))))
        {
            if (looked.Exists(l => l.Zip(magnitudes).All(p => p.Second <= p.First)))
            {
                continue;
            }

            var gains = Array.ConvertAll(_ways, w => w.Gain * (w.Filter is { } filter ? magnitudes[filter] : 1));
            if (_returns.Of(_fold.Of(gains), worst) is { } returned)
            {
                looked.Add(magnitudes);
                worst = Math.Max(worst, returned);
            }
            else
            {
                worst = Math.Max(worst, _growth.Of(gains));
            }
        }

        return worst;
    }

    private double[] MagnitudesAt(double frequency) => Array.ConvertAll(_filters, f => FilterDesign.Magnitude(f, frequency));

    // Where each section is loudest or softest, too: between two of them the grid is fine enough.
    private IEnumerable<double> Frequencies()
    {
        if (_filters.Length == 0)
        {
            return [1_000];
        }

        IEnumerable<double> ends = [0, AudioFormat.SampleRate / 2];
        return ends.Concat(_filters.SelectMany(f => f).Distinct().SelectMany(FilterDesign.Extremes)).Concat(Grid()).Distinct();
    }

    private static IEnumerable<double> Grid()
    {
        for (var f = LowestFrequency; f <= HighestFrequency; f *= Math.Pow(2, 1.0 / PointsPerOctave))
        {
            yield return f;
        }
    }
}

/// <summary>A way between two of a circle's channels.</summary>
/// <param name="From">The place of the channel that it leaves.</param>
/// <param name="To">The place of the one that it comes to.</param>
/// <param name="Gain">By what it multiplies, filters apart.</param>
/// <param name="Filter">Whose filters it passes, or null.</param>
readonly record struct LoopWay(int From, int To, double Gain, int? Filter);

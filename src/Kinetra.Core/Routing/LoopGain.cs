using System.Numerics.Tensors;
using Kinetra.Core.Dsp;
using Kinetra.Core.Processors;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Routing;

/// <summary>
/// What a sound gains with each round of a loop, at the frequency at which it gains most. A round is the way from the closing links to the
/// closing links; with several of them the gain is the spectral radius of that matrix, so that loops that share a link add up. Whether it builds
/// up (0 dB) does not depend on which ways were cut; below and above, a circle that passes several closing links counts as a round with each of them. Gains are magnitudes, chains as they are when nothing is reduced: what a loop does before a
/// limiter holds it.
/// Sources: L. Collatz, H. Wielandt (bounds of the radius by any positive vector); I. Gelfand (its formula, by repeated squaring).
/// </summary>
sealed class LoopGain
{
    private const int PointsPerOctave = 12;
    private const double LowestFrequency = 20;
    private const double HighestFrequency = 22_000;

    // 0.001 dB.
    private const double Accuracy = 1.000_115;
    private const int MostSteps = 150;
    private const int Squarings = 24;

    private readonly Way[] _closing;
    private readonly Way[][] _onward;
    private readonly Filtered[] _filtered;
    private readonly double[] _there;

    // By what the filters of each way multiply at the frequency that is looked at; 1 for those without.
    private readonly double[] _magnitudes;

    private LoopGain(ChannelGraph graph, Circle circle)
    {
        var places = new Dictionary<int, int>(circle.Channels.Length);
        for (var i = 0; i < circle.Channels.Length; i++)
        {
            places[circle.Channels[i]] = i;
        }

        var links = circle.Links.Select(l => (Index: l, Link: graph.Wiring.Links[l])).ToArray();
        var filtered = links.Where(l => ChainGain.SectionsOf(l.Link).Length > 0).ToArray();
        var filters = filtered.Select((l, i) => (l.Index, Place: i + 1)).ToDictionary(l => l.Index, l => l.Place);
        _filtered = [.. filtered.Select(l => new Filtered(ChainGain.SectionsOf(l.Link)))];
        _magnitudes = new double[_filtered.Length + 1];
        _magnitudes[0] = 1;
        var steady = links.ToDictionary(l => l.Index, l => ChainGain.Steady(l.Link));
        var ways = circle.Ways.ToLookup(w => graph.Order.IsLate(w.Link));
        _closing = [.. ways[true].Select(Of)];
        var onward = ways[false].Select(Of).ToLookup(w => w.From);
        _onward = [.. circle.Channels.Select((_, i) => onward[i].ToArray())];
        _there = new double[circle.Channels.Length];

        Way Of(ChannelWay way)
        {
            var (own, cross) = steady[way.Link];
            return new Way(places[way.From], places[way.To], way.Factor * (way.Crosses ? cross : own), filters.GetValueOrDefault(way.Link));
        }
    }

    /// <summary>The factor by which a round of the loop raises a tone at the worst frequency.</summary>
    public static double Of(ChannelGraph graph, Circle circle) => new LoopGain(graph, circle).Worst();

    private double Worst()
    {
        double[] frequencies = _filtered.Length > 0
            ? [.. _filtered.SelectMany(f => f.Sections).Distinct().SelectMany(FilterDesign.Extremes).Distinct(), 0, AudioFormat.SampleRate / 2, .. Grid()]
            : [1_000];
        var worst = 0.0;
        var vector = new double[_closing.Length];
        Array.Fill(vector, 1);
        foreach (var frequency in frequencies)
        {
            for (var i = 0; i < _filtered.Length; i++)
            {
                _magnitudes[i + 1] = FilterDesign.Magnitude(_filtered[i].Sections, frequency);
            }

            worst = Math.Max(worst, Radius(vector, worst));
        }

        return worst;
    }

    // The radius, or 0 where it is no more than what was found already: one step tells that.
    private double Radius(double[] vector, double known)
    {
        var next = new double[vector.Length];
        for (var step = 0; step < MostSteps; step++)
        {
            Round(vector, next);
            var (least, most) = (double.MaxValue, 0.0);
            for (var i = 0; i < vector.Length; i++)
            {
                var ratio = next[i] / vector[i];
                (least, most) = (Math.Min(least, ratio), Math.Max(most, ratio));
            }

            if (most <= known)
            {
                return 0;
            }

            if (most <= least * Accuracy)
            {
                return Math.Sqrt(most * least);
            }

            // Shifted, so that circles of several closing links do not swing.
            var largest = 0.0;
            for (var i = 0; i < vector.Length; i++)
            {
                next[i] += most * vector[i];
                largest = Math.Max(largest, next[i]);
            }

            for (var i = 0; i < vector.Length; i++)
            {
                vector[i] = Math.Max(next[i] / largest, 1e-150);
            }
        }

        return BySquaring();
    }

    private void Round(double[] vector, double[] next)
    {
        Array.Clear(_there);
        for (var i = 0; i < _closing.Length; i++)
        {
            _there[_closing[i].To] += vector[i] * _closing[i].Gain * _magnitudes[_closing[i].Filter];
        }

        for (var c = 0; c < _onward.Length; c++)
        {
            var here = _there[c];
            if (here == 0)
            {
                continue;
            }

            foreach (ref readonly var way in _onward[c].AsSpan())
            {
                _there[way.To] += here * way.Gain * _magnitudes[way.Filter];
            }
        }

        for (var i = 0; i < _closing.Length; i++)
        {
            next[i] = _there[_closing[i].From];
        }
    }

    // Of gains that are not negative: the root of the size of a high power. Logarithms keep it within range.
    private double BySquaring()
    {
        var size = _closing.Length;
        var gains = new double[size][];
        var unit = new double[size];
        for (var i = 0; i < size; i++)
        {
            unit[i] = 1;
            gains[i] = new double[size];
            Round(unit, gains[i]);
            unit[i] = 0;
        }

        double logarithm = 0;
        for (var k = 0; k < Squarings; k++)
        {
            var most = gains.Max(r => r.Max());
            if (most == 0)
            {
                return 0;
            }

            logarithm += Math.Log(most) / Math.Pow(2, k);
            var square = new double[size][];
            for (var i = 0; i < size; i++)
            {
                square[i] = new double[size];
                for (var m = 0; m < size; m++)
                {
                    var factor = gains[i][m] / most / most;
                    if (factor != 0)
                    {
                        TensorPrimitives.MultiplyAdd(gains[m], factor, square[i], square[i]);
                    }
                }
            }

            gains = square;
        }

        return Math.Exp(logarithm);
    }

    private static IEnumerable<double> Grid()
    {
        for (var f = LowestFrequency; f <= HighestFrequency; f *= Math.Pow(2, 1.0 / PointsPerOctave))
        {
            yield return f;
        }
    }

    /// <summary>A way between two of the circle's channels.</summary>
    /// <param name="From">The place of the channel that it leaves.</param>
    /// <param name="To">The place of the one that it comes to.</param>
    /// <param name="Gain">By what it multiplies, filters apart.</param>
    /// <param name="Filter">Whose filters it passes, a place in the magnitudes.</param>
    private readonly record struct Way(int From, int To, double Gain, int Filter);

    /// <summary>The filters of a link. Where each section is loudest or softest is looked at: between two of them the grid is fine enough.</summary>
    private sealed record Filtered(BiquadCoefficients[] Sections);
}

using System.Collections.Immutable;
using Kinetra.Core.Dsp;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;

namespace Kinetra.Core.Routing;

/// <summary>A circle that a sound goes round in, or several that share a part of their ways.</summary>
/// <param name="Nodes">What belongs to it, in the order in which it is computed.</param>
/// <param name="GainDecibels">What a sound gains with each round at the frequency that is worst: from 0 dB on it builds up.</param>
/// <param name="Closing">The links that close it, each one block late.</param>
/// <param name="Held">Those of them that are held muted, since nobody has allowed them yet.</param>
public sealed record SoundLoop(
    ImmutableArray<SoundNode> Nodes, double GainDecibels, ImmutableArray<SoundLink> Closing, ImmutableArray<SoundLink> Held);

/// <summary>
/// Finds every loop: the strongly connected parts of the graph, and for each the gain of a round. With one closing link that is
/// the product of the gains on the way, parallel ways added; with several it is the spectral radius of the gains from each to
/// each, so that loops that share a link add up. From 0 dB on it builds up, whichever way it is cut. Gains are those of the
/// loudest channel, chains as they are when nothing is reduced: what a loop does before a limiter holds it.
/// Source of the radius: I. Gelfand's formula, by repeated squaring.
/// </summary>
public static class Loops
{
    /// <summary>From this gain on, dB, a loop is held until somebody allows it.</summary>
    public const double HeldFrom = -6;

    private const int PointsPerOctave = 12;
    private const double LowestFrequency = 20;
    private const double HighestFrequency = 20_000;

    /// <summary>All loops of a graph.</summary>
    public static ImmutableArray<SoundLoop> Of(SoundGraph graph, RunOrder order)
    {
        ArgumentNullException.ThrowIfNull(graph);
        ArgumentNullException.ThrowIfNull(order);
        if (order.Late.IsEmpty)
        {
            return [];
        }

        var flowing = graph.Links.Where(l => l.Kind == LinkKind.Sound && l.Factor > 0).ToArray();
        var ways = flowing.ToLookup(l => l.From);
        var found = ImmutableArray.CreateBuilder<SoundLoop>();
        var seen = new HashSet<SoundNode>();
        foreach (var closing in flowing.Where(order.Late.Contains))
        {
            // What the link's end reaches and what reaches it again is the part that it belongs to.
            var after = Reached(closing.To, n => ways[n].Select(l => l.To));
            if (!after.Contains(closing.From) || seen.Contains(closing.To))
            {
                continue;
            }

            var back = flowing.ToLookup(l => l.To);
            var part = after.Intersect(Reached(closing.From, n => back[n].Select(l => l.From))).ToHashSet();
            seen.UnionWith(part);
            var links = flowing.Where(l => part.Contains(l.From) && part.Contains(l.To)).ToArray();
            ImmutableArray<SoundLink> closes = [.. links.Where(order.Late.Contains)];
            var gain = 20 * Math.Log10(WorstRound([.. order.Nodes.Where(part.Contains)], links, closes));
            found.Add(new SoundLoop(
                [.. order.Nodes.Where(part.Contains)], gain, closes, gain < HeldFrom ? [] : [.. closes.Where(l => !l.LoopAllowed)]));
        }

        return found.ToImmutable();
    }

    private static HashSet<SoundNode> Reached(SoundNode from, Func<SoundNode, IEnumerable<SoundNode>> next)
    {
        var seen = new HashSet<SoundNode> { from };
        var open = new Stack<SoundNode>([from]);
        while (open.TryPop(out var at))
        {
            foreach (var node in next(at).Where(seen.Add))
            {
                open.Push(node);
            }
        }

        return seen;
    }

    private static double WorstRound(ImmutableArray<SoundNode> nodes, SoundLink[] links, ImmutableArray<SoundLink> closing)
    {
        var chained = links.SelectMany(l => l.Chain).Where(p => !p.Bypassed).ToArray();
        double[] frequencies = chained.Any(p => ProcessorTypes.Find(p.Type)?.Design is not null) ? [.. Grid(), .. Centres(chained)] : [1_000];
        var ways = links.Except(closing).ToLookup(l => l.From);
        return frequencies.Max(frequency =>
        {
            var gains = links.ToDictionary(l => l, l => l.Chain.Where(p => !p.Bypassed).Aggregate(l.Factor, (g, p) => g * Gain(p, frequency)));
            var rounds = new double[closing.Length, closing.Length];
            for (var j = 0; j < closing.Length; j++)
            {
                var there = nodes.ToDictionary(n => n, n => n == closing[j].To ? gains[closing[j]] : 0);
                foreach (var node in nodes)
                {
                    foreach (var link in ways[node])
                    {
                        there[link.To] += there[node] * gains[link];
                    }
                }

                for (var i = 0; i < closing.Length; i++)
                {
                    rounds[i, j] = there[closing[i].From];
                }
            }

            return Radius(rounds);
        });
    }

    private static IEnumerable<double> Grid()
    {
        for (var f = LowestFrequency; f <= HighestFrequency; f *= Math.Pow(2, 1.0 / PointsPerOctave))
        {
            yield return f;
        }
    }

    private static IEnumerable<double> Centres(IEnumerable<Processor> processors) =>
        from p in processors
        let type = ProcessorTypes.Find(p.Type)
        where type?.Design is not null
        from parameter in type.Parameters
        where parameter.Unit == "Hz"
        select p.ValuesOf(type)[type.IndexOf(parameter.Key)];

    private static double Gain(Processor processor, double frequency)
    {
        var type = ProcessorTypes.Find(processor.Type)!;
        var values = processor.ValuesOf(type);
        if (type.Design is null)
        {
            return type.MostGain(values);
        }

        var sections = new BiquadCoefficients[type.Sections];
        type.Design(values.AsSpan(), sections);
        return FilterDesign.Magnitude(sections, frequency);
    }

    // Of gains that are not negative: the root of the size of a high power. Logarithms keep it within range.
    private static double Radius(double[,] gains)
    {
        const int squarings = 40;
        var size = gains.GetLength(0);
        double logarithm = 0;
        for (var k = 0; k < squarings; k++)
        {
            double most = 0;
            foreach (var gain in gains)
            {
                most = Math.Max(most, gain);
            }

            if (most == 0)
            {
                return 0;
            }

            logarithm += Math.Log(most) / Math.Pow(2, k);
            var square = new double[size, size];
            for (var i = 0; i < size; i++)
            {
                for (var j = 0; j < size; j++)
                {
                    for (var m = 0; m < size; m++)
                    {
                        square[i, j] += gains[i, m] / most * (gains[m, j] / most);
                    }
                }
            }

            gains = square;
        }

        return Math.Exp(logarithm);
    }
}

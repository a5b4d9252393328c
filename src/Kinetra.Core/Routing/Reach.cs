using System.Collections.Immutable;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Routing;

/// <summary>One way that a sound goes to a listener.</summary>
/// <param name="Links">The links, one after the other.</param>
/// <param name="GainDecibels">What it gains on the way at 1 kHz, dB: of the power of all its channels together, chains as they are when nothing is reduced.</param>
/// <param name="DelayFrames">How late it is there, frames at 48 kHz: what waits, looks ahead, is set, buffered or outside.</param>
public sealed record SoundPath(ImmutableArray<Link> Links, double GainDecibels, int DelayFrames)
{
    /// <summary>The same after each of its links; of a way that is listed by <see cref="Reach"/> only.</summary>
    public ImmutableArray<(double GainDecibels, int DelayFrames)> After { get; init; } = [];
}

/// <summary>All that comes from a sound to a listener.</summary>
/// <param name="Paths">The strongest ways, the strongest first; at most <see cref="Reach.MostPaths"/>.</param>
/// <param name="Count">How many ways there are, listed or not.</param>
/// <param name="MostDecibels">What all of them could add up to at most, dB: as if each came in step with the others.</param>
public sealed record Arrivals(ImmutableArray<SoundPath> Paths, double Count, double MostDecibels);

/// <summary>
/// Where the sound of a point goes, with the links that close circles cut and with what sounds now. Ways that go on are counted and summed point by
/// point, so that a wiring with millions of them costs no more than its links; only the strongest are listed, best first, by what can still be gained
/// (A*: P. Hart, N. Nilsson, B. Raphael, 1968).
/// </summary>
public sealed class Reach
{
    /// <summary>The most ways that are listed.</summary>
    public const int MostPaths = 64;

    /// <summary>The most channels of a point that can be asked about.</summary>
    public const int MostChannels = 8;

    private const int MostSteps = 20_000;

    private readonly Routed _routed;
    private readonly int _start;
    private readonly int _channels;
    private readonly LinkTable _table;
    private readonly Dictionary<UInt128, double>?[] _counts;
    private readonly double[]?[] _sums;

    private readonly int[] _asked;

    private Reach(Routed routed, int start, int[]? asked)
    {
        (_routed, _start, _channels) = (routed, start, routed.Wiring.Channels[start]);
        _asked = asked ?? [.. Enumerable.Range(0, _channels)];
        var wiring = routed.Wiring;
        _table = new LinkTable(routed);
        (_counts, _sums) = (new Dictionary<UInt128, double>[wiring.Points.Length], new double[wiring.Points.Length][]);
        (_counts[start], _sums[start]) = (new() { [PatternOf(Identity())] = 1 }, Identity());
        foreach (var place in routed.Order.Places)
        {
            foreach (var link in place == start ? [] : wiring.Shape.Into(place))
            {
                var from = wiring.Ends[link].From;
                if (_counts[from] is { Count: > 0 } counts && _table.GainsOf(link) is { Length: > 0 } gains)
                {
                    Add(place, link, counts, gains);
                }
            }
        }
    }

    /// <summary>Works out where the sound of a point goes.</summary>
    /// <param name="routed">What is wired.</param>
    /// <param name="from">The point, of at most <see cref="MostChannels"/> channels.</param>
    /// <param name="channels">Which of its channels, from 0; null: all.</param>
    /// <exception cref="ArgumentException">There is no such point, it has too many channels, or not those.</exception>
    public static Reach Of(Routed routed, Point from, int[]? channels = null)
    {
        ArgumentNullException.ThrowIfNull(routed);
        ArgumentNullException.ThrowIfNull(from);
        return routed.Wiring.PlaceOf(from) is >= 0 and var place && routed.Wiring.Channels[place] <= MostChannels && channels?.All(c => c >= 0 && c < routed.Wiring.Channels[place]) != false
            ? new Reach(routed, place, channels)
            : throw new ArgumentException($"There is no point {from} of at most {MostChannels} channels.", nameof(from));
    }

    /// <summary>What of it comes to a point, and how.</summary>
    /// <param name="to">A point; one that is not there gets nothing.</param>
    public Arrivals At(Point to)
    {
        var target = _routed.Wiring.PlaceOf(to);
        return target >= 0 && _counts[target] is { Count: > 0 } counts
            ? new Arrivals(Strongest(target), counts.Values.Sum(), Decibels(_sums[target]!))
            : new Arrivals([], 0, double.NegativeInfinity);
    }

    private double Decibels(double[] gains) => 10 * Math.Log10(gains.Sum(g => g * g) / _asked.Length);

    private double[] Identity()
    {
        var one = new double[_channels * _channels];
        foreach (var c in _asked)
        {
            one[(c * _channels) + c] = 1;
        }

        return one;
    }

    // Which of the sound's channels come to which of the point's.
    private static UInt128 PatternOf(double[] gains)
    {
        UInt128 pattern = 0;
        for (var i = 0; i < gains.Length; i++)
        {
            pattern |= gains[i] != 0 ? UInt128.One << i : 0;
        }

        return pattern;
    }

    private void Add(int place, int link, Dictionary<UInt128, double> counts, double[] gains)
    {
        var (from, to) = (_routed.Wiring.Links[link].Map.From, _routed.Wiring.Channels[place]);
        foreach (var (pattern, count) in counts)
        {
            UInt128 next = 0;
            for (var t = 0; t < to; t++)
            {
                for (var f = 0; f < from; f++)
                {
                    if (gains[(t * from) + f] != 0)
                    {
                        next |= ((pattern >> (f * _channels)) & ((UInt128.One << _channels) - 1)) << (t * _channels);
                    }
                }
            }

            if (next != 0)
            {
                var known = _counts[place] ??= [];
                known[next] = known.GetValueOrDefault(next) + count;
            }
        }

        var (sum, more) = (_sums[place] ??= new double[to * _channels], Times(gains, _sums[_routed.Wiring.Ends[link].From]!, from, to));
        for (var i = 0; i < sum.Length; i++)
        {
            sum[i] += Math.Abs(more[i]);
        }
    }

    // A link's gains after those of a way to it.
    private double[] Times(double[] link, double[] way, int from, int to)
    {
        var product = new double[to * _channels];
        for (var t = 0; t < to; t++)
        {
            for (var f = 0; f < from; f++)
            {
                if (link[(t * from) + f] is not 0 and var gain)
                {
                    for (var c = 0; c < _channels; c++)
                    {
                        product[(t * _channels) + c] += gain * way[(f * _channels) + c];
                    }
                }
            }
        }

        return product;
    }

    private ImmutableArray<SoundPath> Strongest(int target)
    {
        var wiring = _routed.Wiring;
        var (most, onward) = Ahead(target);
        var open = new PriorityQueue<Step, double>();
        open.Enqueue(new Step(_start, null, -1, Identity(), 0), 0);
        var found = ImmutableArray.CreateBuilder<SoundPath>();
        for (var steps = 0; found.Count < MostPaths && steps < MostSteps && open.TryDequeue(out var at, out _); steps++)
        {
            if (at.Place == target)
            {
                found.Add(new SoundPath(at.Links(wiring), Decibels(at.Gains), at.Delay) { After = [.. at.FromTheFirst().Select(s => (Decibels(s.Gains), s.Delay))] });
                continue;
            }

            foreach (var link in onward[at.Place])
            {
                var next = Times(_table.GainsOf(link), at.Gains, wiring.Links[link].Map.From, wiring.Links[link].Map.To);
                var size = Math.Sqrt(next.Sum(g => g * g));
                if (size > 0)
                {
                    var to = wiring.Ends[link].To;
                    open.Enqueue(new Step(to, at, link, next, at.Delay + _table.DelayOf(link)), -size * most[to]);
                }
            }
        }

        return found.ToImmutable();
    }

    // From each point, by how much a way to the target can raise what is there at most, and the links that lead there.
    private (double[] Most, List<int>[] Onward) Ahead(int target)
    {
        var wiring = _routed.Wiring;
        var (most, onward) = (new double[wiring.Points.Length], new List<int>[wiring.Points.Length]);
        Array.Fill(onward, []);
        most[target] = 1;
        for (var i = _routed.Order.Places.Length - 1; i >= 0; i--)
        {
            var place = _routed.Order.Places[i];
            if (most[place] == 0 || place == _start)
            {
                continue;
            }

            foreach (var link in wiring.Shape.Into(place))
            {
                var from = wiring.Ends[link].From;
                if (_counts[from] is { Count: > 0 } && _table.GainsOf(link) is { Length: > 0 } gains)
                {
                    most[from] = Math.Max(most[from], Norm(gains, wiring.Links[link].Map.From) * most[place]);
                    onward[from] = [.. onward[from], link];
                }
            }
        }

        return (most, onward);
    }

    // No less than the spectral norm: the root of the largest row times the largest column.
    private static double Norm(double[] gains, int from)
    {
        var columns = new double[from];
        var (row, largest) = (0.0, 0.0);
        for (var i = 0; i < gains.Length; i++)
        {
            row = i % from == 0 ? 0 : row;
            row += Math.Abs(gains[i]);
            largest = Math.Max(largest, row);
            columns[i % from] += Math.Abs(gains[i]);
        }

        return Math.Sqrt(largest * columns.Max());
    }

    private sealed record Step(int Place, Step? Before, int Link, double[] Gains, int Delay)
    {
        public ImmutableArray<Link> Links(Wiring wiring) => [.. FromTheFirst().Select(s => wiring.Links[s.Link])];

        public Stack<Step> FromTheFirst()
        {
            var steps = new Stack<Step>();
            for (var at = this; at.Before is not null; at = at.Before)
            {
                steps.Push(at);
            }

            return steps;
        }
    }
}

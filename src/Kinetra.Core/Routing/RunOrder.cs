using System.Collections.Immutable;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Routing;

/// <summary>
/// In which order the points of a wiring are computed, so that each comes after all that it needs. Where sound or keys go round in a
/// circle through a cable, one link that leaves a cable is taken one block late; of several, the one that stands last in the rig. A
/// send that nobody hears counts as if it were heard, so that bringing it in changes no order, unless it would close a circle without a
/// cable: then it is out of the order until the rig is another. A circle of links that must be there in time has no order.
/// </summary>
public sealed class RunOrder
{
    /// <summary>The most points of one wave: as many as are computed side by side, so that what one gives is still at hand for the next.</summary>
    public const int MostOfAWave = 8;

    private RunOrder(Wiring wiring, ImmutableArray<int> order, ImmutableArray<ImmutableArray<int>> waves, bool[] late, bool[] cut)
    {
        (Places, IsLate, IsCut) = (order, late, cut);
        Points = [.. order.Select(p => wiring.Points[p])];
        Waves = [.. waves.Select(w => (ImmutableArray<Point>)[.. w.Select(p => wiring.Points[p])])];
        Late = [.. wiring.Links.Where((_, i) => late[i])];
    }

    /// <summary>The points in their order.</summary>
    public ImmutableArray<Point> Points { get; }

    /// <summary>The same points in waves: those of a wave are of one kind, and need nothing of one another.</summary>
    public ImmutableArray<ImmutableArray<Point>> Waves { get; }

    /// <summary>The links that close a circle: what they give is what was there a block ago.</summary>
    public ImmutableArray<Link> Late { get; }

    /// <summary>The points' places in the wiring, in their order.</summary>
    internal ImmutableArray<int> Places { get; }

    /// <summary>For each link of the wiring, whether it is a block late.</summary>
    internal bool[] IsLate { get; }

    /// <summary>For each link of the wiring, whether it is out of the order.</summary>
    internal bool[] IsCut { get; }

    /// <summary>The order, or null where there is none (<see cref="FindCircle"/> says why).</summary>
    public static RunOrder? Of(Wiring wiring)
    {
        ArgumentNullException.ThrowIfNull(wiring);
        var needs = new Needs(wiring.Points.Length);
        var (late, cut) = (new bool[wiring.Links.Length], new bool[wiring.Links.Length]);
        return Add(wiring, needs, Breaking.Never, null) && Add(wiring, needs, Breaking.Late, cut) && Add(wiring, needs, Breaking.Hold, late)
            ? new RunOrder(wiring, needs.Sorted(), WavesOf(wiring, needs), late, cut)
            : null;
    }

    /// <summary>A link that would need what it leads to itself, or null where there is an order.</summary>
    public static Link? FindCircle(Wiring wiring)
    {
        ArgumentNullException.ThrowIfNull(wiring);
        var needs = new Needs(wiring.Points.Length);

        // Keys last: what a person would change.
        for (var use = LinkUse.Sound; use <= LinkUse.Key; use++)
        {
            for (var i = 0; i < wiring.Links.Length; i++)
            {
                var link = wiring.Links[i];
                if (link.Breaking == Breaking.Never && link.Use == use && !needs.TryAdd(wiring.Ends[i].To, wiring.Ends[i].From))
                {
                    return link;
                }
            }
        }

        return null;
    }

    // False where a link that must be in the order closes a circle.
    private static bool Add(Wiring wiring, Needs needs, Breaking breaking, bool[]? out_)
    {
        for (var i = 0; i < wiring.Links.Length; i++)
        {
            if (wiring.Links[i].Breaking == breaking && !needs.TryAdd(wiring.Ends[i].To, wiring.Ends[i].From))
            {
                if (out_ is null)
                {
                    return false;
                }

                out_[i] = true;
            }
        }

        return true;
    }

    // What was computed last goes on as far as it can; then as many as can be computed by now of the lowest kind.
    private static ImmutableArray<ImmutableArray<int>> WavesOf(Wiring wiring, Needs needs)
    {
        var kinds = wiring.Points.Select(KindOf).ToArray();
        var waves = ImmutableArray.CreateBuilder<ImmutableArray<int>>();
        var open = needs.Counts();
        var ready = new SortedSet<(int Kind, int Place)>(Enumerable.Range(0, kinds.Length).Where(p => open[p] == 0).Select(p => (kinds[p], p)));
        List<int> wave = [];
        while (ready.Count > 0)
        {
            var next = wave.Select(p => (Kind: kinds[p] + 1, Place: p + 1)).ToList();
            var goesOn = wave.Count > 0 && (kinds[wave[0]] % StagesEach) < StagesEach - 1 && kinds[wave[0]] < CableKind && next.TrueForAll(ready.Contains);
            wave = goesOn
                ? [.. next.Select(n => n.Place)]
                : [.. ready.TakeWhile(r => r.Kind == ready.Min.Kind).Take(MostOfAWave).Select(r => r.Place)];
            waves.Add([.. wave]);
            foreach (var place in wave)
            {
                ready.Remove((kinds[place], place));
                foreach (var after in needs.NeededBy(place))
                {
                    if (--open[after] == 0)
                    {
                        ready.Add((kinds[after], after));
                    }
                }
            }
        }

        return waves.ToImmutable();
    }

    private const int StagesEach = 3;
    private const int CableKind = 2 * StagesEach;

    // A source's or a mix's points stand one after the other in a wiring, and so do their kinds.
    private static int KindOf(Point point) => point switch
    {
        SourcePoint source => StageOf(source.Tap),
        MixPoint mix => StagesEach + StageOf(mix.Tap),
        _ => CableKind,
    };

    private static int StageOf(Tap tap) => tap switch { Tap.Raw => 0, Tap.BeforeChain => 1, _ => 2 };

    /// <summary>Which point needs which, and, as bits, all that each needs by whatever way.</summary>
    private sealed class Needs
    {
        private readonly int _words;
        private readonly ulong[] _all;
        private readonly List<int>[] _direct;
        private readonly List<int>[] _neededBy;

        public Needs(int points)
        {
            _words = (points + 63) / 64;
            _all = new ulong[points * _words];
            _direct = [.. Enumerable.Range(0, points).Select(_ => new List<int>())];
            _neededBy = [.. Enumerable.Range(0, points).Select(_ => new List<int>())];
            for (var p = 0; p < points; p++)
            {
                Of(p)[p / 64] |= 1UL << (p % 64);
            }
        }

        /// <summary>False where the other needs this one already.</summary>
        public bool TryAdd(int point, int needed)
        {
            var more = Of(needed);
            if (Has(more, point))
            {
                return false;
            }

            _direct[point].Add(needed);
            _neededBy[needed].Add(point);
            if (Has(Of(point), needed))
            {
                return true;
            }

            for (var p = 0; p < _direct.Length; p++)
            {
                var all = Of(p);
                if (Has(all, point))
                {
                    for (var w = 0; w < _words; w++)
                    {
                        all[w] |= more[w];
                    }
                }
            }

            return true;
        }

        public List<int> NeededBy(int point) => _neededBy[point];

        public int[] Counts() => [.. _direct.Select(d => d.Count)];

        // Depth first, in the order of the points.
        public ImmutableArray<int> Sorted()
        {
            var order = ImmutableArray.CreateBuilder<int>(_direct.Length);
            var done = new bool[_direct.Length];
            for (var p = 0; p < _direct.Length; p++)
            {
                Visit(p);
            }

            return order.ToImmutable();

            void Visit(int point)
            {
                if (done[point])
                {
                    return;
                }

                done[point] = true;
                foreach (var needed in _direct[point].Order())
                {
                    Visit(needed);
                }

                order.Add(point);
            }
        }

        private static bool Has(ReadOnlySpan<ulong> all, int point) => (all[point / 64] & (1UL << (point % 64))) != 0;

        private Span<ulong> Of(int point) => _all.AsSpan(point * _words, _words);
    }
}

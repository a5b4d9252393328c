using System.Collections.Immutable;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Routing;

/// <summary>
/// In which order the points of a wiring are computed, so that each comes after all that it needs. Where sound or keys go round in a
/// circle, one link that leaves a cable, a device or a program, or that goes to a destination, is taken one block late; of several, the one
/// that stands last in the rig, and one of the computer's own only where no other would do. A
/// send that nobody hears counts as if it were heard, so that bringing it in changes no order, unless it would close a circle without a
/// cable: then it is out of the order until the rig is another. A circle of links that must be there in time has no order.
/// </summary>
public sealed class RunOrder
{
    /// <summary>The most points of one wave: as many as are computed side by side, so that what one gives is still at hand for the next.</summary>
    public const int MostOfAWave = 8;

    private readonly bool[] _late;
    private readonly bool[] _cut;

    private RunOrder(Ground ground, ImmutableArray<int> order, ImmutableArray<ImmutableArray<int>> waves, bool[] late, bool[] cut)
    {
        (Places, WavePlaces, _late, _cut) = (order, waves, late, cut);
        Points = [.. order.Select(p => ground.Points[p])];
        Waves = [.. waves.Select(w => (ImmutableArray<Point>)[.. w.Select(p => ground.Points[p])])];
        HasLate = Array.Exists(late, l => l);
    }

    /// <summary>The points in their order.</summary>
    public ImmutableArray<Point> Points { get; }

    /// <summary>The same points in waves: those of a wave are of one kind, and need nothing of one another.</summary>
    public ImmutableArray<ImmutableArray<Point>> Waves { get; }

    /// <summary>True where any link is a block late.</summary>
    public bool HasLate { get; }

    /// <summary>The points' places in the wiring, in their order.</summary>
    internal ImmutableArray<int> Places { get; }

    /// <summary>The points' places in the wiring, in waves.</summary>
    internal ImmutableArray<ImmutableArray<int>> WavePlaces { get; }

    /// <summary>The order, or null where there is none (<see cref="FindCircle"/> says why).</summary>
    public static RunOrder? Of(Wiring wiring)
    {
        ArgumentNullException.ThrowIfNull(wiring);
        return wiring.Shape.Order;
    }

    /// <summary>Whether the link at that place of the wiring closes a circle: what it gives is what was there a block ago.</summary>
    public bool IsLate(int link) => _late[link];

    /// <summary>Whether the link at that place of the wiring is out of the order.</summary>
    public bool IsCut(int link) => _cut[link];

    internal static RunOrder? Of(Shape shape)
    {
        var (late, cut) = (new bool[shape.Count], new bool[shape.Count]);
        var ways = new Ways(shape, late, cut);
        if (!ways.TrySort(out var order))
        {
            // Which links a circle is broken at takes more: what each point needs by whatever way.
            var needs = new Needs(shape.Ground.Points.Length);
            if (!Add(shape, needs, Breaking.Never, null) || !Add(shape, needs, Breaking.Late, cut) || !Add(shape, needs, Breaking.Outside, late) || !Add(shape, needs, Breaking.Hold, late))
            {
                return null;
            }

            ways = new Ways(shape, late, cut);
            ways.TrySort(out order);
        }

        return new RunOrder(shape.Ground, order, WavesOf(shape.Ground, ways), late, cut);
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
    private static bool Add(Shape shape, Needs needs, Breaking breaking, bool[]? leftOut)
    {
        for (var i = 0; i < shape.Count; i++)
        {
            if (shape.BreakingOf(i) == breaking && !needs.TryAdd(shape.Ends[i].To, shape.Ends[i].From))
            {
                if (leftOut is null)
                {
                    return false;
                }

                leftOut[i] = true;
            }
        }

        return true;
    }

    // What was computed last goes on as far as it can; then as many as can be computed by now of the lowest kind.
    private static ImmutableArray<ImmutableArray<int>> WavesOf(Ground ground, Ways ways)
    {
        var waves = ImmutableArray.CreateBuilder<ImmutableArray<int>>();
        var count = ground.Points.Length;
        var kinds = new int[count];
        for (var p = 0; p < count; p++)
        {
            kinds[p] = KindOf(ground, p);
        }

        var open = ways.Counts();
        var left = count;
        List<int> wave = [];
        var next = new List<int>();
        while (left > 0)
        {
            next.Clear();
            if (wave.Count > 0 && kinds[wave[0]] < CableKind && kinds[wave[0]] % Ground.TapsEach < Ground.TapsEach - 1 && wave.TrueForAll(p => open[p + 1] == 0))
            {
                next.AddRange(wave.Select(p => p + 1));
            }
            else
            {
                var lowest = int.MaxValue;
                for (var p = 0; p < count; p++)
                {
                    lowest = open[p] == 0 ? Math.Min(lowest, kinds[p]) : lowest;
                }

                for (var p = 0; p < count && next.Count < MostOfAWave; p++)
                {
                    if (open[p] == 0 && kinds[p] == lowest)
                    {
                        next.Add(p);
                    }
                }
            }

            (wave, next) = (next, wave);
            waves.Add([.. wave]);
            left -= wave.Count;
            foreach (var place in wave)
            {
                // Done: it is never ready again.
                open[place] = -1;
                foreach (var after in ways.NeededBy(place))
                {
                    open[after]--;
                }
            }
        }

        return waves.ToImmutable();
    }

    private const int CableKind = 2 * Ground.TapsEach;
    private const int PortKind = CableKind + 1;

    // A source's or a mix's points stand one after the other, and so do their kinds.
    private static int KindOf(Ground ground, int place) => ground.At(place) switch
    {
        (PointKind.Source, _, var tap) => tap,
        (PointKind.Mix, _, var tap) => Ground.TapsEach + tap,
        (PointKind.Port, _, _) => PortKind,
        _ => CableKind,
    };

    /// <summary>Which point needs which directly, without the links that are out of it.</summary>
    private sealed class Ways
    {
        private readonly int[] _needed;
        private readonly int[] _neededStart;
        private readonly int[] _after;
        private readonly int[] _afterStart;

        public Ways(Shape shape, bool[] late, bool[] cut)
        {
            var count = shape.Ground.Points.Length;
            (_neededStart, _afterStart) = (new int[count + 1], new int[count + 1]);
            var links = 0;
            for (var i = 0; i < shape.Count; i++)
            {
                if (!late[i] && !cut[i])
                {
                    links++;
                    _neededStart[shape.Ends[i].To + 1]++;
                    _afterStart[shape.Ends[i].From + 1]++;
                }
            }

            for (var p = 0; p < count; p++)
            {
                _neededStart[p + 1] += _neededStart[p];
                _afterStart[p + 1] += _afterStart[p];
            }

            (_needed, _after) = (new int[links], new int[links]);
            var (needed, after) = (_neededStart[..count], _afterStart[..count]);
            for (var i = 0; i < shape.Count; i++)
            {
                if (!late[i] && !cut[i])
                {
                    var (from, to) = shape.Ends[i];
                    _needed[needed[to]++] = from;
                    _after[after[from]++] = to;
                }
            }

            for (var p = 0; p < count; p++)
            {
                _needed.AsSpan(_neededStart[p].._neededStart[p + 1]).Sort();
            }
        }

        public ReadOnlySpan<int> NeededBy(int point) => _after.AsSpan(_afterStart[point].._afterStart[point + 1]);

        public int[] Counts() => [.. _neededStart.Zip(_neededStart.Skip(1), (from, to) => to - from)];

        /// <summary>Depth first, in the order of the points; false where there is a circle.</summary>
        public bool TrySort(out ImmutableArray<int> order)
        {
            const byte Open = 1, Done = 2;
            var count = _neededStart.Length - 1;
            var found = ImmutableArray.CreateBuilder<int>(count);
            var (state, next) = (new byte[count], _neededStart[..count]);
            var path = new Stack<int>();
            order = [];
            for (var p = 0; p < count; p++)
            {
                if (state[p] == Done)
                {
                    continue;
                }

                state[p] = Open;
                path.Push(p);
                while (path.TryPeek(out var at))
                {
                    if (next[at] == _neededStart[at + 1])
                    {
                        state[at] = Done;
                        found.Add(at);
                        path.Pop();
                    }
                    else if (_needed[next[at]++] is var needed && state[needed] == Open)
                    {
                        return false;
                    }
                    else if (state[needed] != Done)
                    {
                        state[needed] = Open;
                        path.Push(needed);
                    }
                }
            }

            order = found.MoveToImmutable();
            return true;
        }
    }

    /// <summary>As bits, all that each point needs by whatever way.</summary>
    private sealed class Needs
    {
        private readonly int _points;
        private readonly int _words;
        private readonly ulong[] _all;

        public Needs(int points)
        {
            (_points, _words) = (points, (points + 63) / 64);
            _all = new ulong[points * _words];
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

            if (Has(Of(point), needed))
            {
                return true;
            }

            for (var p = 0; p < _points; p++)
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

        private static bool Has(ReadOnlySpan<ulong> all, int point) => (all[point / 64] & (1UL << (point % 64))) != 0;

        private Span<ulong> Of(int point) => _all.AsSpan(point * _words, _words);
    }
}

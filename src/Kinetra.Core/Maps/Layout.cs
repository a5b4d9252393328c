using System.Collections.Immutable;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Maps;

/// <summary>A place, px; x to the right, y down.</summary>
/// <param name="X">To the right.</param>
/// <param name="Y">Down.</param>
public sealed record Spot(double X, double Y);

/// <summary>One track from a start to a mix, from a mix to an end, or past all mixes.</summary>
/// <param name="Start">Whose sound: which start.</param>
/// <param name="Mix">To or from which mix; −1: past all.</param>
/// <param name="End">To which end; −1: to the mix.</param>
/// <param name="State">How sound goes along it.</param>
/// <param name="Line">Its corners from left to right, after what it has in common with others of its start.</param>
public sealed record Track(int Start, int Mix, int End, TrackState State, ImmutableArray<Spot> Line);

/// <summary>A tick across one track or more, with what it says.</summary>
/// <param name="At">Its upper end, px.</param>
/// <param name="Height">How far down it goes, px; 0: across one track.</param>
/// <param name="Tick">What is passed there.</param>
/// <param name="Of">Whose: a start's, a mix's or an end's point.</param>
public sealed record TickPlace(Spot At, double Height, Tick Tick, Point Of);

/// <summary>Where a column's thing stands: from its upper to its lower track, px.</summary>
/// <param name="Top">Its upper track.</param>
/// <param name="Bottom">Its lower track; where it has none, the same.</param>
public sealed record Extent(double Top, double Bottom);

/// <summary>
/// A map of all paths, laid out: starts on the left, mixes in the midst, ends on the right; each track level, then on a slant, then level again. No two
/// tracks lie on one place. Deterministic; and a small edit moves little, since each thing keeps its column and its order, and rooms are as large as they may become.
/// </summary>
/// <param name="Diagram">What is drawn.</param>
/// <param name="Width">All of it, px.</param>
/// <param name="Height">All of it, px.</param>
/// <param name="Starts">The height of each start.</param>
/// <param name="Trunks">For each start, where the last of its tracks leaves, px.</param>
/// <param name="MixX">Where mixes stand.</param>
/// <param name="Mixes">The height of each mix.</param>
/// <param name="EndX">Where ends stand.</param>
/// <param name="Ends">The height of each end.</param>
/// <param name="Tracks">All tracks.</param>
/// <param name="Ticks">All ticks.</param>
public sealed record Layout(
    Diagram Diagram,
    double Width,
    double Height,
    ImmutableArray<double> Starts,
    ImmutableArray<double> Trunks,
    double MixX,
    ImmutableArray<Extent> Mixes,
    double EndX,
    ImmutableArray<Extent> Ends,
    ImmutableArray<Track> Tracks,
    ImmutableArray<TickPlace> Ticks)
{
    // Between two tracks of a ribbon, and between two slants, px: less where a show may have more tracks than anybody reads at once.
    private static (double Pitch, double Gap) Density(int tracks) => tracks switch { <= 400 => (5, 6), <= 1_200 => (3, 3), _ => (2, 1.5) };

    // Above a ribbon stands what it is called, and below it what waits there.
    private const double Above = 18;
    private const double Below = 12;

    // Between two starts, at least and at most.
    private const double LeastRow = 26;
    private const double MostRow = 62;

    // What a screen shows without scrolling.
    private const double Page = 560;

    // What every map has to the left of the first track that leaves, and to the right of the last that merges.
    private const double Trunk = 170;
    private const double Onward = 150;

    /// <summary>Lays a diagram out.</summary>
    public static Layout Of(Diagram diagram)
    {
        ArgumentNullException.ThrowIfNull(diagram);
        return new Drawing(diagram).Layout();
    }

    private sealed class Drawing(Diagram d)
    {
        private readonly int _rows = Math.Max(1, d.Starts.Length);

        // As many as there may be, whatever is sent where now.
        private readonly (double Pitch, double Gap) _density = Density(d.Starts.Length * (d.Mixes.Length + d.Onwards.Length));
        private readonly ILookup<int, Branch> _branches = d.Branches.Where(b => b.Mix >= 0).ToLookup(b => b.Mix);
        private readonly List<Track> _tracks = [];
        private readonly List<TickPlace> _ticks = [];

        public Layout Layout()
        {
            var homes = Homes();
            var blocks = Blocks(homes);
            var rooms = blocks.Sum(b => b.Room);
            var height = Math.Max(rooms, _rows * Math.Clamp(Page / _rows, LeastRow, MostRow));
            var row = Math.Min(MostRow, height / _rows);
            var starts = Enumerable.Range(0, d.Starts.Length).Select(i => Math.Round((row * (i + 0.5)) + ((height - (row * _rows)) / 2))).ToArray();
            var spare = (height - rooms) / Math.Max(1, blocks.Count);
            var top = 0.0;
            foreach (var block in blocks)
            {
                block.Place(Math.Round(top + (spare / 2)), starts);
                top += block.Room + spare;
            }

            return Drawn(blocks, starts, height);
        }

        // An end stands beside the first mix that leads to it and to which no other end stands beside, so that its ribbon goes straight on.
        private int[] Homes()
        {
            var (homes, hosts) = (Enumerable.Repeat(-1, d.Ends.Length).ToArray(), new HashSet<int>());
            foreach (var onward in d.Onwards)
            {
                if (homes[onward.End] < 0 && hosts.Add(onward.Mix))
                {
                    homes[onward.End] = onward.Mix;
                }
            }

            return homes;
        }

        // Rooms from top to bottom: each mix with the end beside it, and below it the ends of their own to which it leads first.
        private List<Block> Blocks(int[] homes)
        {
            var blocks = new List<Block>();
            var placed = new HashSet<int>();
            for (var m = 0; m < d.Mixes.Length; m++)
            {
                var beside = Array.IndexOf(homes, m);
                blocks.Add(new Block(d, _branches, m, beside, _density.Pitch));
                placed.Add(beside);
                foreach (var onward in d.Onwards.Where(o => o.Mix == m && homes[o.End] < 0 && placed.Add(o.End)))
                {
                    blocks.Add(new Block(d, _branches, -1, onward.End, _density.Pitch));
                }
            }

            foreach (var end in Enumerable.Range(0, d.Ends.Length).Where(e => homes[e] < 0 && placed.Add(e)))
            {
                blocks.Add(new Block(d, _branches, -1, end, _density.Pitch));
            }

            return blocks;
        }

        private Layout Drawn(List<Block> blocks, double[] starts, double height)
        {
            // To the mixes, and past them.
            var branches = d.Branches.ToArray();
            var heights = blocks.SelectMany(b => b.Slots).ToDictionary(x => (x.Key.Start, x.Key.Mix, x.Key.End), x => x.Value);
            var first = branches.Select(b => new Wire(starts[b.Start], heights[(b.Start, b.Mix, b.End)], b.Mix >= 0 ? b.Mix : d.Mixes.Length + b.End)).ToArray();
            var (places, mixX) = Wires.Lay(first, Trunk, Trunk + 240, _density.Gap, height);

            // From the mixes to the ends.
            var onward = d.Onwards.SelectMany(o => _branches[o.Mix].Select(b => (o, b))).ToArray();
            var second = onward.Select(x => new Wire(heights[(x.b.Start, x.b.Mix, -1)], heights[(x.b.Start, x.b.Mix, x.o.End)], x.o.End)).ToArray();
            var (along, endX) = Wires.Lay(second, mixX + 40, mixX + Onward, _density.Gap, height);
            endX = second.Any(w => w.FromY != w.ToY) ? endX + 90 : endX;
            var trunks = new double[starts.Length];
            for (var i = 0; i < branches.Length; i++)
            {
                var (b, wire, (leave, merge)) = (branches[i], first[i], places[i]);
                trunks[b.Start] = Math.Max(trunks[b.Start], leave);
                var to = b.Mix >= 0 ? mixX : endX;
                _tracks.Add(new Track(b.Start, b.Mix, b.End, b.State, Line(leave, wire.FromY, merge, wire.ToY, to)));
                if (b.Mix < 0 && b.Cables.Length > 0)
                {
                    _ticks.Add(new TickPlace(new(endX - 60, wire.ToY), 0, new(string.Join(", ", b.Cables), ""), d.Ends[b.End].Point));
                }
            }

            for (var i = 0; i < onward.Length; i++)
            {
                var ((o, b), wire, (leave, merge)) = (onward[i], second[i], along[i]);
                _tracks.Add(new Track(b.Start, b.Mix, o.End, b.State == TrackState.On ? o.State : b.State, Line(mixX, wire.FromY, leave, wire.FromY, merge, wire.ToY, endX)));
            }

            foreach (var o in d.Onwards.Where(o => o.Cables.Length > 0))
            {
                var ys = _branches[o.Mix].Select(b => heights[(b.Start, b.Mix, o.End)]).ToArray();
                if (ys.Length > 0)
                {
                    _ticks.Add(new TickPlace(new(endX - 60, ys.Min()), ys.Max() - ys.Min(), new(string.Join(", ", o.Cables), ""), d.Ends[o.End].Point));
                }
            }

            for (var i = 0; i < starts.Length; i++)
            {
                for (var t = 0; t < d.Starts[i].Ticks.Length; t++)
                {
                    _ticks.Add(new TickPlace(new(60 + (80 * t), starts[i]), 0, d.Starts[i].Ticks[t], d.Starts[i].Point));
                }
            }

            var mixes = Enumerable.Range(0, d.Mixes.Length).Select(m => blocks.First(b => b.Mix == m)).Select(b => b.ExtentOf(_branches[b.Mix].Select(x => heights[(x.Start, x.Mix, -1)]))).ToArray();
            for (var m = 0; m < mixes.Length; m++)
            {
                foreach (var tick in d.Mixes[m].Ticks)
                {
                    _ticks.Add(new TickPlace(new(mixX + 26, mixes[m].Top), mixes[m].Bottom - mixes[m].Top, tick, new MixPoint(d.Mixes[m].Id)));
                }
            }

            var byEnd = heights.ToLookup(h => h.Key.End, h => h.Value);
            var ends = Enumerable.Range(0, d.Ends.Length).Select(e => blocks.First(b => b.End == e).ExtentOf(byEnd[e])).ToArray();
            return new(d, endX, height, [.. starts], [.. trunks], mixX, [.. mixes], endX, [.. ends], [.. _tracks], [.. _ticks]);
        }

        private static ImmutableArray<Spot> Line(double leave, double from, double merge, double to, double end) =>
            from == to ? [new(leave, from), new(end, to)] : [new(leave, from), new(merge, to), new(end, to)];

        private static ImmutableArray<Spot> Line(double begin, double from, double leave, double level, double merge, double to, double end) =>
            from == to ? [new(begin, from), new(end, to)] : [new(begin, from), new(leave, level), new(merge, to), new(end, to)];
    }

    // A room on the right: a mix's ribbon, with the end beside it, or an end alone.
    private sealed class Block
    {
        private readonly List<(int Start, int Mix, int End)> _keys = [];
        private readonly double _pitch;
        private double _top;

        public Block(Diagram d, ILookup<int, Branch> branches, int mix, int end, double pitch)
        {
            (Mix, End, _pitch) = (mix, end, pitch);
            var starts = d.Starts.Length;
            if (mix >= 0)
            {
                _keys.AddRange(branches[mix].OrderBy(b => b.Start).Select(b => (b.Start, b.Mix, -1)));
            }

            if (end >= 0)
            {
                _keys.AddRange(d.Onwards.Where(o => o.End == end && o.Mix != mix).SelectMany(o => branches[o.Mix].Select(b => (b.Start, b.Mix, end))));
                _keys.AddRange(d.Branches.Where(b => b.Mix < 0 && b.End == end).OrderBy(b => b.Start).Select(b => (b.Start, -1, end)));
            }

            // As many as there may be in the mix, so that what is sent into it later moves nothing else; and room where starts' own tracks run through.
            var feeders = end < 0 ? 0 : d.Onwards.Count(o => o.End == end && o.Mix != mix);
            var tracks = (starts * (feeders + (mix >= 0 ? 1 : 0))) + _keys.Count(k => k.Mix < 0);
            Room = Above + Below + (pitch * (tracks + 2 + (tracks * pitch / LeastRow)));
        }

        public int Mix { get; }

        public int End { get; }

        public double Room { get; }

        public Dictionary<(int Start, int Mix, int End), double> Slots { get; } = [];

        public void Place(double top, double[] starts)
        {
            _top = top + Above;
            var y = _top;
            foreach (var key in _keys)
            {
                while (Array.Exists(starts, s => Math.Abs(s - y) < _pitch))
                {
                    y += 1;
                }

                Slots[key] = y;
                if (key.End < 0 && End >= 0)
                {
                    // Straight on to the end beside it.
                    Slots[(key.Start, key.Mix, End)] = y;
                }

                y += _pitch;
            }
        }

        public Extent ExtentOf(IEnumerable<double> heights)
        {
            var all = heights.ToArray();
            return all.Length == 0 ? new(_top, _top) : new(all.Min(), all.Max());
        }
    }
}

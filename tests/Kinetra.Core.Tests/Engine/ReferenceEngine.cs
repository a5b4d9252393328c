using System.Numerics;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using MathNet.Numerics.LinearAlgebra;

namespace Kinetra.Core.Tests.Engine;

/// <summary>
/// The same show in the plainest way: 64 bit, one sample after the other, nothing smoothed, nothing kept but arrays. It works out by itself
/// in which order things come, which way out of a cable is a block late, which loops are held and what waits for what, and has filters of
/// its own: it shares no code with what it judges. It knows chains of utility (gain), delay, equaliser (its shelves) and gates that only wait.
/// </summary>
sealed class ReferenceEngine
{
    // 54 dBFS.
    private const double Loud = 500;
    private const int Block = 256;

    private readonly Rig _rig;
    private readonly IReadOnlyDictionary<string, double[][]> _sounds;
    private readonly Dictionary<string, double[][]> _values = [];
    private readonly Dictionary<string, PlainChain> _chains = [];
    private readonly Dictionary<string, List<Wire>> _into = [];
    private readonly Dictionary<string, int> _latencies = [];
    private readonly List<string> _order;

    public ReferenceEngine(Rig rig, IReadOnlyDictionary<string, double[][]> sounds, int frames)
    {
        (_rig, _sounds) = (rig, sounds);
        foreach (var cable in rig.Cables)
        {
            Add($"cable {cable.Id}", cable.Channels, frames, null);
        }

        foreach (var source in rig.Sources)
        {
            var channels = source.Input is CableInput input ? (input.Right is null ? 1 : 2) : sounds[source.Id.Value].Length;
            Add($"{source.Id} before", channels, frames, null);
            Add($"{source.Id} after", channels, frames, new PlainChain(source.Chain, channels));
        }

        foreach (var mix in rig.Mixes)
        {
            Add($"{mix.Id} before", 2, frames, null);
            Add($"{mix.Id} after", 2, frames, new PlainChain(mix.Chain, 2));
        }

        AddWires();
        _order = Sorted();
        HoldLoops();
        _order.ForEach(n => _latencies[n] = LatencyInto(n) + (_chains[n]?.Latency ?? 0));
        for (; Length < frames; Length++)
        {
            foreach (var node in _order)
            {
                Compute(node, Length);
                Loudest = Math.Max(Loudest, _values[node].Max(v => Math.Abs(v[Length])));
                if (Loudest > Loud)
                {
                    return;
                }
            }
        }
    }

    /// <summary>How many frames there are: an allowed loop may grow beyond what an engine lets through, and nothing is said of what comes then.</summary>
    public int Length { get; private set; }

    /// <summary>The largest magnitude anywhere in it, at least 1: what 32 bits round is a part of that.</summary>
    public double Loudest { get; private set; } = 1;

    /// <summary>How many ways are held muted.</summary>
    public int Held { get; private set; }

    public double[][] Mix(int index) => _values[$"{_rig.Mixes[index].Id} after"];

    private void Add(string node, int channels, int frames, PlainChain? chain)
    {
        _values[node] = [.. Enumerable.Range(0, channels).Select(_ => new double[frames])];
        _chains[node] = chain!;
        _into[node] = [];
    }

    private void AddWires()
    {
        foreach (var source in _rig.Sources)
        {
            if (source.Input is CableInput input)
            {
                var cells = new List<(int, int, double)> { (input.Left, 0, source.Trim.Linear) };
                if (input.Right is { } right)
                {
                    cells.Add((right, 1, source.Trim.Linear));
                }

                _into[$"{source.Id} before"].Add(new Wire($"cable {input.Cable}", cells, 1, _rig.Find(input.Cable)!.BufferFrames, true, input.LoopAllowed));
            }

            _into[$"{source.Id} after"].Add(Straight($"{source.Id} before"));
        }

        foreach (var mix in _rig.Mixes)
        {
            foreach (var send in mix.Sends)
            {
                var from = Name(send.Source.Value, send.Tap);
                var angle = (send.Pan + 1) * Math.PI / 4;
                List<(int, int, double)> cells = _values[from].Length == 1
                    ? [(0, 0, Math.Cos(angle)), (0, 1, Math.Sin(angle))]
                    : [(0, 0, Math.Min(1, 1 - send.Pan)), (1, 1, Math.Min(1, 1 + send.Pan))];
                var gain = send.Heard && !send.Muted ? Math.Pow(10, send.Gain.Decibels / 20) : 0;
                _into[$"{mix.Id} before"].Add(new Wire(from, cells, gain * Math.Pow(10, mix.Gain.Decibels / 20), 0, false, false));
            }

            _into[$"{mix.Id} after"].Add(Straight($"{mix.Id} before"));
        }

        foreach (var cable in _rig.Cables)
        {
            foreach (var feed in cable.Feeds)
            {
                var gain = feed.On ? Math.Pow(10, feed.Gain.Decibels / 20) : 0;
                var from = feed.From switch
                {
                    SourcePoint source => Name(source.Id.Value, source.Tap),
                    MixPoint mix => Name(mix.Id.Value, mix.Tap),
                    _ => $"cable {((CablePoint)feed.From).Id}",
                };
                var count = _values[from].Length;
                var cells = new List<(int, int, double)>();
                if (feed.From is CablePoint)
                {
                    for (var c = 0; c < count && feed.Into.Left + c < cable.Channels; c++)
                    {
                        cells.Add((c, feed.Into.Left + c, 1));
                    }
                }
                else if (feed.Into.Right is { } right)
                {
                    cells.AddRange([(0, feed.Into.Left, 1), (count - 1, right, 1)]);
                }
                else
                {
                    cells.AddRange(Enumerable.Range(0, count).Select(c => (c, feed.Into.Left, 1.0 / count)));
                }

                var buffer = feed.From is CablePoint other ? _rig.Find(other.Id)!.BufferFrames : 0;
                _into[$"cable {cable.Id}"].Add(new Wire(from, cells, gain, buffer, feed.From is CablePoint, feed.LoopAllowed));
            }
        }
    }

    private Wire Straight(string from) => new(from, [.. Enumerable.Range(0, _values[from].Length).Select(c => (c, c, 1.0))], 1, 0, false, false);

    // Ways out of cables in the order of the rig, sources before cables: each that would need what it leads to itself is a block late.
    private List<string> Sorted()
    {
        var needs = _into.ToDictionary(n => n.Key, n => n.Value.Where(w => !w.LeavesCable).Select(w => w.From).ToHashSet());
        foreach (var node in _into.Keys.Where(n => !n.StartsWith("cable", StringComparison.Ordinal)).Concat(_into.Keys.Where(n => n.StartsWith("cable", StringComparison.Ordinal))).ToList())
        {
            foreach (var wire in _into[node].Where(w => w.LeavesCable))
            {
                wire.IsLate = Needs(wire.From, node, []);
                if (!wire.IsLate)
                {
                    needs[node].Add(wire.From);
                }
            }
        }

        var order = new List<string>();
        while (order.Count < needs.Count)
        {
            order.Add(needs.First(n => !order.Contains(n.Key) && n.Value.All(order.Contains)).Key);
        }

        return order;

        bool Needs(string node, string other, HashSet<string> seen) => node == other || (seen.Add(node) && needs[node].Any(n => Needs(n, other, seen)));
    }

    // Held from −6 dB: where it comes back no softer than that to any node that is opened, or builds up.
    private void HoldLoops()
    {
        var closing = _into.SelectMany(n => n.Value.Where(w => w.IsLate).SelectMany(w => w.Cells.Select(c => (To: n.Key, Wire: w, Cell: c)))).Where(c => c.Wire.Gain > 0).ToList();
        foreach (var part in Parts(closing))
        {
            var channels = part.SelectMany(i => OnCircle(closing[i])).Distinct().OrderBy(c => c).ToList();
            if (Frequencies().Any(f => ComesBack(channels, f) >= Math.Pow(10, (-6 - 1e-7) / 20)))
            {
                foreach (var wire in part.Select(i => closing[i].Wire).Where(w => !w.Allowed))
                {
                    wire.IsHeld = true;
                }
            }
        }

        Held = closing.Count(c => c.Wire.IsHeld);
    }

    // Which closing cells reach one another both ways; those of one wire go together.
    private List<List<int>> Parts(List<(string To, Wire Wire, (int From, int To, double Gain) Cell)> closing)
    {
        var circles = closing.Select(OnCircle).ToList();
        var parts = new List<List<int>>();
        foreach (var i in Enumerable.Range(0, closing.Count).Where(i => circles[i].Count > 0))
        {
            var same = parts.Where(p => p.Exists(j => circles[i].Overlaps(circles[j]) || Ways(i).Overlaps(Ways(j)))).ToList();
            parts.RemoveAll(same.Contains);
            parts.Add([.. same.SelectMany(p => p), i]);
        }

        return parts;

        // Two circles on the two sides of one wire, or of anything that both pass, are told as one.
        HashSet<(string, string)> Ways(int i) =>
            [.. from node in _into
                from wire in node.Value
                where wire.Gain > 0 && wire.Cells.Exists(c => c.Gain != 0 && circles[i].Contains((wire.From, c.From)) && circles[i].Contains((node.Key, c.To)))
                select (wire.From, node.Key)];
    }

    // What a closing cell leads to and is led to by; nothing where it closes nothing that sounds.
    private HashSet<(string Node, int Channel)> OnCircle((string To, Wire Wire, (int From, int To, double Gain) Cell) closing)
    {
        var forward = Spread(closing.To, closing.Cell.To, onward: true);
        return forward.Contains((closing.Wire.From, closing.Cell.From)) ? [.. forward.Intersect(Spread(closing.Wire.From, closing.Cell.From, onward: false))] : [];
    }

    private HashSet<(string Node, int Channel)> Spread(string node, int channel, bool onward)
    {
        var seen = new HashSet<(string, int)> { (node, channel) };
        var open = new Queue<(string, int)>(seen);
        while (open.TryDequeue(out var at))
        {
            foreach (var (to, wire) in _into.SelectMany(n => n.Value.Where(w => w.Gain > 0).Select(w => (n.Key, w))))
            {
                foreach (var cell in wire.Cells.Where(c => c.Gain != 0))
                {
                    var (one, other) = onward ? ((wire.From, cell.From), (to, cell.To)) : ((to, cell.To), (wire.From, cell.From));
                    if (one == at && seen.Add(other))
                    {
                        open.Enqueue(other);
                    }
                }
            }
        }

        return seen;
    }

    // With both ends: a low shelf raises most where nobody hears it, and a loop grows there all the same.
    private static IEnumerable<double> Frequencies()
    {
        yield return 0;
        yield return 24_000;
        for (var f = 20.0; f < 23_000; f *= 1.02)
        {
            yield return f;
        }
    }

    // What all rounds together add up to, by a library: where that is negative, they do not, and it builds up.
    private double ComesBack(List<(string Node, int Channel)> channels, double frequency)
    {
        var ways = Matrix<double>.Build.Dense(channels.Count, channels.Count);
        var places = channels.Select((c, i) => (c, i)).ToDictionary(x => x.c, x => x.i);
        foreach (var node in channels.Select(c => c.Node).Distinct())
        {
            var chain = _chains[node]?.Magnitude(frequency) ?? 1;
            foreach (var wire in _into[node])
            {
                foreach (var (from, to, gain) in wire.Cells.Where(c => places.ContainsKey((wire.From, c.From)) && places.ContainsKey((node, c.To))))
                {
                    ways[places[(node, to)], places[(wire.From, from)]] += Math.Abs(gain) * wire.Gain * chain;
                }
            }
        }

        var sum = (Matrix<double>.Build.DenseIdentity(channels.Count) - ways).Inverse();
        if (sum.Enumerate().Any(x => !(x > -1e-9)))
        {
            return double.PositiveInfinity;
        }

        return channels.GroupBy(c => c.Node).Max(node =>
        {
            var own = node.Select(c => places[c]).ToArray();
            var there = Matrix<double>.Build.Dense(own.Length, own.Length, (r, c) => sum[own[r], own[c]]);
            var back = Matrix<double>.Build.DenseIdentity(own.Length) - there.Inverse();
            return own.Length == 1 ? back[0, 0] : back.Evd().EigenValues.Max(e => e.Magnitude);
        });
    }

    // What look-ahead there is on the slowest way to a node, closing links apart; what is docked counts.
    private int LatencyInto(string node) => _into[node].Where(w => !w.IsLate).Select(w => _latencies[w.From]).Append(0).Max();

    private void Compute(string node, int n)
    {
        var values = _values[node];
        var source = _rig.Sources.FirstOrDefault(s => node == $"{s.Id} before");
        if (source is not null and not { Input: CableInput })
        {
            for (var c = 0; c < values.Length; c++)
            {
                values[c][n] = Math.Pow(10, source.Trim.Decibels / 20) * _sounds[source.Id.Value][c][n];
            }
        }

        foreach (var wire in _into[node].Where(w => !w.IsHeld && w.Gain > 0))
        {
            var wait = wire.IsLate ? Math.Max(wire.Buffer, Block) : wire.Buffer + LatencyInto(node) - _latencies[wire.From];
            foreach (var (from, to, gain) in wire.Cells)
            {
                values[to][n] += n < wait ? 0 : gain * wire.Gain * _values[wire.From][from][n - wait];
            }
        }

        if (_chains[node] is { } chain)
        {
            var through = chain.Step([.. values.Select(v => v[n])]);
            for (var c = 0; c < values.Length; c++)
            {
                values[c][n] = through[c];
            }
        }
    }

    private static string Name(string id, Tap tap) => $"{id} {(tap == Tap.AfterChain ? "after" : "before")}";

    private sealed record Wire(string From, List<(int From, int To, double Gain)> Cells, double Gain, int Buffer, bool LeavesCable, bool Allowed)
    {
        public bool IsLate { get; set; }

        public bool IsHeld { get; set; }
    }
}

/// <summary>A chain sample by sample.</summary>
sealed class PlainChain
{
    private readonly List<Func<int, double, double>> _steps = [];
    private readonly List<Func<double, double>> _magnitudes = [];
    private readonly int _channels;

    public PlainChain(IEnumerable<Processor> chain, int channels)
    {
        _channels = channels;
        foreach (var processor in chain)
        {
            double Value(string key) => processor.Values[key];
            var on = !processor.Bypassed;
            if (processor.Type == "gate")
            {
                Latency += AddWait(Value("lookAhead"));
            }
            else if (processor.Type == "delay" && on)
            {
                _ = AddWait(Value("time"));
            }
            else if (processor.Type == "utility" && on)
            {
                var gain = Math.Pow(10, Value("gain") / 20);
                _steps.Add((_, x) => gain * x);
                _magnitudes.Add(_ => gain);
            }
            else if (processor.Type == "equaliser" && on)
            {
                // The first band is a low shelf, the fourth a high one; the others are at 0 dB.
                AddShelf(Value("frequency1"), Value("q1"), Value("gain1"), low: true);
                AddShelf(Value("frequency4"), Value("q4"), Value("gain4"), low: false);
            }
        }
    }

    public int Latency { get; }

    public double[] Step(double[] frame) => [.. Enumerable.Range(0, _channels).Select(c => _steps.Aggregate(frame[c], (x, step) => step(c, x)))];

    public double Magnitude(double frequency) => _magnitudes.Aggregate(1.0, (m, of) => m * of(frequency));

    private int AddWait(double milliseconds)
    {
        var frames = (int)Math.Round(milliseconds * 48);
        if (frames > 0)
        {
            var waiting = Enumerable.Range(0, _channels).Select(_ => new Queue<double>(new double[frames])).ToArray();
            _steps.Add((c, x) =>
            {
                waiting[c].Enqueue(x);
                return waiting[c].Dequeue();
            });
        }

        return frames;
    }

    // R. Bristow-Johnson's cookbook, as it is written there: by the bilinear transform of the analogue shelf.
    private void AddShelf(double frequency, double q, double decibels, bool low)
    {
        var a = Math.Pow(10, decibels / 40);
        var w = 2 * Math.PI * frequency / 48_000;
        var alpha = Math.Sin(w) / (2 * q);
        var (cos, root) = (Math.Cos(w), 2 * Math.Sqrt(a) * alpha);
        double[] b = low
            ? [a * (a + 1 - ((a - 1) * cos) + root), 2 * a * (a - 1 - ((a + 1) * cos)), a * (a + 1 - ((a - 1) * cos) - root)]
            : [a * (a + 1 + ((a - 1) * cos) + root), -2 * a * (a - 1 + ((a + 1) * cos)), a * (a + 1 + ((a - 1) * cos) - root)];
        double[] d = low
            ? [a + 1 + ((a - 1) * cos) + root, -2 * (a - 1 + ((a + 1) * cos)), a + 1 + ((a - 1) * cos) - root]
            : [a + 1 - ((a - 1) * cos) + root, 2 * (a - 1 - ((a + 1) * cos)), a + 1 - ((a - 1) * cos) - root];
        var past = Enumerable.Range(0, _channels).Select(_ => new double[4]).ToArray();
        _steps.Add((c, x) =>
        {
            var p = past[c];
            var y = ((b[0] * x) + (b[1] * p[0]) + (b[2] * p[1]) - (d[1] * p[2]) - (d[2] * p[3])) / d[0];
            (p[0], p[1], p[2], p[3]) = (x, p[0], y, p[2]);
            return y;
        });
        _magnitudes.Add(f =>
        {
            var z = Complex.FromPolarCoordinates(1, -2 * Math.PI * f / 48_000);
            return ((b[0] + (z * (b[1] + (z * b[2])))) / (d[0] + (z * (d[1] + (z * d[2]))))).Magnitude;
        });
    }
}

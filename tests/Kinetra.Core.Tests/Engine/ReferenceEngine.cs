using Kinetra.Core.Dsp;
using Kinetra.Core.Engine;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Routing;

namespace Kinetra.Core.Tests.Engine;

/// <summary>
/// The same show in the plainest way: 64 bit, one sample after the other, nothing smoothed, nothing kept but arrays. It knows
/// chains of utility (gain), low cut, equaliser, delay, and gates that only wait.
/// </summary>
sealed class ReferenceEngine
{
    // 54 dBFS.
    private const double Loud = 500;

    private readonly Rig _rig;
    private readonly IReadOnlyDictionary<string, double[][]> _sounds;
    private readonly Dictionary<SoundNode, double[][]> _values = [];
    private readonly Dictionary<SoundNode, PlainChain> _chains = [];
    private readonly RunOrder _order;
    private readonly HashSet<(Stage, int, int)> _late = [];
    private readonly HashSet<(Stage, int, int)> _held = [];

    public ReferenceEngine(Rig rig, IReadOnlyDictionary<string, double[][]> sounds, int frames)
    {
        (_rig, _sounds) = (rig, sounds);
        var graph = SoundGraph.Of(rig);
        _order = RunOrder.Of(graph)!;
        var held = Loops.Of(graph, _order).SelectMany(l => l.Held).ToList();
        foreach (var link in graph.Links.Where(_order.Late.Contains))
        {
            var feed = link.To.Stage == Stage.Cable ? graph.Links.Where(l => l.To == link.To).ToList().IndexOf(link) : 0;
            _late.Add((link.To.Stage, link.To.Index, feed));
            if (held.Contains(link))
            {
                _held.Add((link.To.Stage, link.To.Index, feed));
            }
        }

        foreach (var node in graph.Nodes)
        {
            _values[node] = [.. Enumerable.Range(0, Channels(node)).Select(_ => new double[frames])];
            if (node.Stage is Stage.SourceOut or Stage.MixOut)
            {
                _chains[node] = new PlainChain(node.Stage == Stage.SourceOut ? rig.Sources[node.Index].Chain : rig.Mixes[node.Index].Chain, Channels(node));
            }
        }

        for (; Length < frames; Length++)
        {
            foreach (var node in _order.Nodes)
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

    public double[][] Mix(int index) => _values[new(Stage.MixOut, index)];

    private int Channels(SoundNode node) => node.Stage switch
    {
        Stage.Cable => _rig.Cables[node.Index].Channels,
        Stage.MixSum or Stage.MixOut => 2,
        _ => _rig.Sources[node.Index].Input is CableInput input ? (input.Right is null ? 1 : 2) : _sounds[_rig.Sources[node.Index].Id.Value].Length,
    };

    private void Compute(SoundNode node, int n)
    {
        var values = _values[node];
        switch (node.Stage)
        {
            case Stage.SourceIn:
                var source = _rig.Sources[node.Index];
                for (var c = 0; c < values.Length; c++)
                {
                    values[c][n] = source.Trim.Linear * (source.Input is CableInput input
                        ? Recorded(input.Cable, c == 0 ? input.Left : input.Right!.Value, n, (node.Stage, node.Index, 0), 0)
                        : _sounds[source.Id.Value][c][n]);
                }

                break;
            case Stage.SourceOut or Stage.MixOut:
                var before = _values[new(node.Stage - 1, node.Index)];
                var through = _chains[node].Step([.. before.Select(b => b[n])]);
                for (var c = 0; c < values.Length; c++)
                {
                    values[c][n] = through[c];
                }

                break;
            case Stage.MixSum:
                var mix = _rig.Mixes[node.Index];
                for (var s = 0; s < mix.Sends.Length; s++)
                {
                    var send = mix.Sends[s];
                    var from = new SoundNode(send.Tap == Tap.AfterChain ? Stage.SourceOut : Stage.SourceIn, s);
                    var sound = _values[from];
                    var at = n - (Latency(node) - Latency(from));
                    var angle = (send.Pan + 1) * Math.PI / 4;
                    var (left, right) = sound.Length == 1 ? (Math.Cos(angle), Math.Sin(angle)) : (Math.Min(1, 1 - send.Pan), Math.Min(1, 1 + send.Pan));
                    if (send.Heard && at >= 0)
                    {
                        values[0][n] += send.Factor * left * mix.Gain.Linear * sound[0][at];
                        values[1][n] += send.Factor * right * mix.Gain.Linear * sound[^1][at];
                    }
                }

                break;
            default:
                for (var f = 0; f < _rig.Cables[node.Index].Feeds.Length; f++)
                {
                    Play(node, f, n);
                }

                break;
        }
    }

    private void Play(SoundNode node, int index, int n)
    {
        var feed = _rig.Cables[node.Index].Feeds[index];
        var values = _values[node];
        if (feed.From.Cable is { } cable)
        {
            var other = _rig.Find(cable)!;
            var wait = _late.Contains((node.Stage, node.Index, index)) ? 0 : Latency(node) - Latency(new(Stage.Cable, _rig.Cables.IndexOf(other)));
            for (var c = 0; c < other.Channels && feed.Into.Left + c < values.Length; c++)
            {
                values[feed.Into.Left + c][n] += feed.Factor * Recorded(cable, c, n, (node.Stage, node.Index, index), wait);
            }

            return;
        }

        var from = feed.From.Source is { } source
            ? new SoundNode(feed.From.Tap == Tap.AfterChain ? Stage.SourceOut : Stage.SourceIn, _rig.Sources.IndexOf(_rig.Find(source)!))
            : new SoundNode(feed.From.Tap == Tap.AfterChain ? Stage.MixOut : Stage.MixSum, _rig.Mixes.IndexOf(_rig.Find(feed.From.Mix!.Value)!));
        var at = n - (Latency(node) - Latency(from));
        if (at < 0)
        {
            return;
        }

        var sound = _values[from];
        if (feed.Into.Right is { } right)
        {
            values[feed.Into.Left][n] += feed.Factor * sound[0][at];
            values[right][n] += feed.Factor * sound[^1][at];
        }
        else
        {
            values[feed.Into.Left][n] += feed.Factor * sound.Average(s => s[at]);
        }
    }

    private double Recorded(CableId id, int channel, int n, (Stage, int, int) place, int wait)
    {
        var cable = _rig.Find(id)!;
        var at = n - wait - (_late.Contains(place) ? Math.Max(cable.BufferFrames, AudioFormat.BlockFrames) : cable.BufferFrames);
        return at < 0 || _held.Contains(place) ? 0 : _values[new(Stage.Cable, _rig.Cables.IndexOf(cable))][channel][at];
    }

    // What look-ahead there is on the slowest way to a node, closing links apart.
    private int Latency(SoundNode node)
    {
        switch (node.Stage)
        {
            case Stage.SourceIn:
                return _rig.Sources[node.Index].Input is CableInput input && !_late.Contains((node.Stage, node.Index, 0))
                    ? Latency(new(Stage.Cable, _rig.Cables.IndexOf(_rig.Find(input.Cable)!)))
                    : 0;
            case Stage.SourceOut or Stage.MixOut:
                return Latency(new(node.Stage - 1, node.Index)) + _chains[node].Latency;
            case Stage.MixSum:
                return _rig.Mixes[node.Index].Sends
                    .Select((s, i) => s.Heard ? Latency(new(s.Tap == Tap.AfterChain ? Stage.SourceOut : Stage.SourceIn, i)) : 0)
                    .Append(0).Max();
            default:
                return _rig.Cables[node.Index].Feeds
                    .Select((f, i) => f.From switch
                    {
                        { Source: { } source } => Latency(new(f.From.Tap == Tap.AfterChain ? Stage.SourceOut : Stage.SourceIn, _rig.Sources.IndexOf(_rig.Find(source)!))),
                        { Mix: { } mix } => Latency(new(f.From.Tap == Tap.AfterChain ? Stage.MixOut : Stage.MixSum, _rig.Mixes.IndexOf(_rig.Find(mix)!))),
                        _ => _late.Contains((node.Stage, node.Index, i)) ? 0 : Latency(new(Stage.Cable, _rig.Cables.IndexOf(_rig.Find(f.From.Cable!.Value)!))),
                    })
                    .Append(0).Max();
        }
    }
}

/// <summary>A chain sample by sample.</summary>
sealed class PlainChain
{
    private readonly List<Func<int, double, double>> _steps = [];
    private readonly int _channels;

    public PlainChain(IEnumerable<Processor> chain, int channels)
    {
        _channels = channels;
        foreach (var processor in chain)
        {
            var type = ProcessorTypes.Find(processor.Type)!;
            var values = processor.ValuesOf(type);
            var delay = type == Gate.Type ? (int)Math.Round(values[type.IndexOf("lookAhead")] * 48) : type == Delay.Type && !processor.Bypassed ? (int)Math.Round(values[0] * 48) : 0;
            Latency += type == Gate.Type ? delay : 0;
            if (delay > 0)
            {
                var waiting = Enumerable.Range(0, channels).Select(_ => new Queue<double>(new double[delay])).ToArray();
                _steps.Add((c, x) =>
                {
                    waiting[c].Enqueue(x);
                    return waiting[c].Dequeue();
                });
            }
            else if (type == Utility.Type && !processor.Bypassed)
            {
                var gain = Signals.FromDb(values[type.IndexOf("gain")]);
                _steps.Add((_, x) => gain * x);
            }
            else if (type.Design is { } design && !processor.Bypassed)
            {
                var sections = new BiquadCoefficients[type.Sections];
                design(values.AsSpan(), sections);
                foreach (var s in sections)
                {
                    var past = Enumerable.Range(0, channels).Select(_ => new double[4]).ToArray();
                    _steps.Add((c, x) =>
                    {
                        var p = past[c];
                        var y = (s.B0 * x) + (s.B1 * p[0]) + (s.B2 * p[1]) - (s.A1 * p[2]) - (s.A2 * p[3]);
                        (p[0], p[1], p[2], p[3]) = (x, p[0], y, p[2]);
                        return y;
                    });
                }
            }
        }
    }

    public int Latency { get; }

    public double[] Step(double[] frame) => [.. Enumerable.Range(0, _channels).Select(c => _steps.Aggregate(frame[c], (x, step) => step(c, x)))];
}

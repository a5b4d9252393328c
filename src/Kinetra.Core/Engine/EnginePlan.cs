using System.Collections.Immutable;
using Kinetra.Core.Dsp;
using Kinetra.Core.Metering;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Routing;

namespace Kinetra.Core.Engine;

/// <summary>
/// A rig made ready to run: which nodes there are, in which order, and what their gains should be. Built off the engine
/// thread from a valid rig; what the previous plan had already is taken over with its state, so only what changed changes.
/// </summary>
public sealed class EnginePlan
{
    private readonly SoundGraph _graph;
    private readonly ImmutableArray<PlanWave> _waves;
    private readonly MeterWave _mixMeters;

    // A chain that is not there is null.
    private readonly ChainRun?[] _sourceChains;
    private readonly ChainRun?[] _mixChains;
    private readonly ChainRun?[][] _duckers;
    private readonly double[] _trims;
    private readonly double[] _mixGains;
    private readonly (double Left, double Right)[] _sendGains;
    private readonly (Tap Tap, int Wait)[] _taps;
    private readonly PlanCables _cables;

    private EnginePlan(Rig rig, Func<Source, ISourceFeed> feeds, EnginePlan? previous, IReadOnlyDictionary<SourceId, ISourceFeed> probes)
    {
        var graph = _graph = SoundGraph.Of(rig);
        var order = RunOrder.Of(graph) ?? throw new ArgumentException("The keys of this rig make a loop.", nameof(rig));
        var alignment = Alignment.Of(graph, order);
        Loops = Routing.Loops.Of(graph, order);
        _cables = new PlanCables(rig, previous?._cables);
        Sources = [.. rig.Sources.Select(s => SourceFor(s, s.Input is CableInput input ? _cables.ReaderFor(input, previous?.Find(s.Id)?.Feed) : feeds(s), previous))];
        Mixes = [.. rig.Mixes.Select(m => previous?.Find(m.Id) ?? new MixNode(m.Id, m.Gain.Linear))];
        Probes = [.. probes.Select(p => ProbeFor(p.Key, p.Value, previous))];
        _trims = [.. rig.Sources.Select(s => s.Trim.Linear)];
        _mixGains = [.. rig.Mixes.Select(m => m.Gain.Linear)];
        _sendGains = new (double, double)[Mixes.Length * Sources.Length];
        _taps = new (Tap, int)[_sendGains.Length];
        MixLatencies = [.. Mixes.Select((_, m) => alignment.LatencyOf(new SoundNode(Stage.MixOut, m)))];
        SourceLatencies = [.. Sources.Select((_, s) => alignment.LatencyOf(new SoundNode(Stage.SourceOut, s)))];
        var waits = graph.Links.Where(l => l.Kind == LinkKind.Sound && l.To.Stage == Stage.MixSum).ToDictionary(l => (l.To.Index, l.From.Index), alignment.WaitOf);
        Sends = new SendNode[Mixes.Length][];
        for (var m = 0; m < Mixes.Length; m++)
        {
            Sends[m] = new SendNode[Sources.Length];
            for (var s = 0; s < Sources.Length; s++)
            {
                var send = rig.Mixes[m].Sends[s];
                var gain = Gains(send, Sources[s].Channels);
                var tap = (send.Tap, waits.GetValueOrDefault((m, s)));
                _sendGains[(m * Sources.Length) + s] = gain;
                _taps[(m * Sources.Length) + s] = tap;
                Sends[m][s] = previous?.FindSend(Mixes[m], Sources[s]) ?? NewSend(Sources[s], gain, tap);
            }
        }

        _cables.Connect(graph, order, alignment, Loops, Find, Find, previous?._cables);
        if (previous is null)
        {
            _cables.Start();
        }

        var isOld = new Func<SourceNode, bool>(n => previous?.Sources.Contains(n) == true);
        var isOldMix = new Func<MixNode, bool>(n => previous?.Mixes.Contains(n) == true);
        _sourceChains = [.. rig.Sources.Select((s, i) => ChainFor(new ChainPlace(s.Id), s.Chain, Sources[i].Channels, isOld(Sources[i]) ? previous : null))];
        _mixChains = [.. rig.Mixes.Select((m, i) => ChainFor(new ChainPlace(null, m.Id), m.Chain, 2, isOldMix(Mixes[i]) ? previous : null))];
        _duckers =
        [
            .. rig.Mixes.Select((m, i) => m.Sends.Select((s, j) => ChainFor(
                new ChainPlace(s.Source, m.Id),
                s.Ducker is null ? [] : [s.Ducker],
                Sources[j].Channels,
                isOld(Sources[j]) && isOldMix(Mixes[i]) ? previous : null)).ToArray()),
        ];
        _waves = PlanWave.Of(order, Sources, Mixes, _sourceChains, _mixChains);
        _mixMeters = new MeterWave([.. Mixes.Select(m => new MeterWork(m.Meter, m.Block.Left, m.Block.Right))]);
        Chains = [.. _sourceChains.Concat(_mixChains).Concat(_duckers.SelectMany(d => d)).OfType<ChainRun>()];
        var layout = new MeterLayout(
            [.. Sources.Select(s => s.Id)], [.. Mixes.Select(m => m.Id)], [.. Chains.SelectMany(c => c.Steps).Select(s => s.Id)]);
        Meters = previous is not null && previous.Meters.Layout.IsSameAs(layout) ? previous.Meters : new MeterBoard(layout);
    }

    /// <summary>The sources' nodes, in the rig's order.</summary>
    public ImmutableArray<SourceNode> Sources { get; }

    /// <summary>The mixes' nodes, in the rig's order.</summary>
    public ImmutableArray<MixNode> Mixes { get; }

    /// <summary>The loops of the rig, with what is held of them.</summary>
    public ImmutableArray<SoundLoop> Loops { get; }

    /// <summary>By how many frames look-ahead makes each mix late, in the rig's order: what is summed there waits for the slowest.</summary>
    public ImmutableArray<int> MixLatencies { get; }

    /// <summary>By how many frames look-ahead makes each source late, in the rig's order.</summary>
    public ImmutableArray<int> SourceLatencies { get; }

    /// <summary>Sounds that no mix has and no meter shows, to be read from their rings: probes that measure the way.</summary>
    public ImmutableArray<SourceNode> Probes { get; }

    /// <summary>Where this plan's meters are published.</summary>
    public MeterBoard Meters { get; }

    /// <summary>For each mix, one send for each source.</summary>
    internal SendNode[][] Sends { get; }

    /// <summary>All chains that have processors: of the sources, the mixes, the sends.</summary>
    internal ImmutableArray<ChainRun> Chains { get; }

    /// <summary>Builds a plan.</summary>
    /// <param name="rig">A valid rig (<see cref="RigRules"/>).</param>
    /// <param name="feeds">Finds a source's feed. The same instance for a source keeps its node; another makes a new one.</param>
    /// <param name="previous">The plan that was posted before this one, or null.</param>
    /// <param name="probes">Probes by their ids; null: none.</param>
    public static EnginePlan Build(
        Rig rig, Func<Source, ISourceFeed> feeds, EnginePlan? previous, IReadOnlyDictionary<SourceId, ISourceFeed>? probes = null)
    {
        ArgumentNullException.ThrowIfNull(rig);
        ArgumentNullException.ThrowIfNull(feeds);
        return new EnginePlan(rig, feeds, previous, probes ?? ImmutableDictionary<SourceId, ISourceFeed>.Empty);
    }

    /// <summary>What a loop goes through, by the names that a person gave, each once.</summary>
    public ImmutableArray<string> NamesOf(SoundLoop loop)
    {
        ArgumentNullException.ThrowIfNull(loop);
        return [.. loop.Nodes.Select(_graph.NameOf).Distinct()];
    }

    /// <summary>The node of a mix, or null.</summary>
    public MixNode? Find(MixId id) => Mixes.FirstOrDefault(m => m.Id == id);

    /// <summary>The node of a source or a probe, or null.</summary>
    public SourceNode? Find(SourceId id) => Sources.FirstOrDefault(s => s.Id == id) ?? Probes.FirstOrDefault(s => s.Id == id);

    /// <summary>Engine thread: computes the block, up to what each mix would give.</summary>
    internal void Process(long frame, HopSplit hop)
    {
        foreach (var probe in Probes)
        {
            probe.Read(frame);
            probe.Publish(frame);
        }

        foreach (var wave in _waves)
        {
            wave.Chains.Process();
            foreach (var index in wave.Nodes)
            {
                switch (wave.Stage)
                {
                    case Stage.SourceIn:
                        Sources[index].Read(frame);
                        break;
                    case Stage.SourceOut:
                        Sources[index].Publish(frame);
                        break;
                    case Stage.MixSum:
                        Mixes[index].Sum(Sends[index], _duckers[index], frame, hop);
                        break;
                    case Stage.MixOut:
                        Mixes[index].Give(frame);
                        break;
                    case Stage.Cable:
                        _cables.Sum(index, frame);
                        break;
                }
            }

            if (wave.Meters is { } meters)
            {
                meters.Process(hop);
                for (var i = 0; i < wave.Nodes.Length; i++)
                {
                    Sources[wave.Nodes[i]].Measured(hop, meters.Before[i], meters.After[i]);
                }
            }
        }
    }

    /// <summary>Engine thread: measures what the mixes give, and lets whoever reads have it.</summary>
    internal void Publish(HopSplit hop)
    {
        _mixMeters.Process(hop);
        foreach (var mix in Mixes)
        {
            mix.Publish(hop);
        }
    }

    /// <summary>Engine thread: starts what is new with this plan at this frame, and sets every node's gains to this plan's.</summary>
    internal void Activate(long frame, bool hushed)
    {
        for (var s = 0; s < Sources.Length; s++)
        {
            Sources[s].Ring.Begin(frame);
            Sources[s].SetTrim(_trims[s]);
        }

        foreach (var probe in Probes)
        {
            probe.Ring.Begin(frame);
        }

        foreach (var chain in Chains)
        {
            chain.Activate();
        }

        _cables.Activate();
        for (var m = 0; m < Mixes.Length; m++)
        {
            Mixes[m].Begin(frame, hushed);
            Mixes[m].SetGain(_mixGains[m]);
            Mixes[m].LatencyFrames = MixLatencies[m];
            for (var s = 0; s < Sources.Length; s++)
            {
                var (left, right) = _sendGains[(m * Sources.Length) + s];
                Sends[m][s].SetGains(left, right);
                var (tap, wait) = _taps[(m * Sources.Length) + s];
                Sends[m][s].SetTap(tap, wait);
            }
        }
    }

    /// <summary>Engine thread: fades out what the next plan no longer has. True once all of that is silent.</summary>
    internal bool Retire(EnginePlan next)
    {
        var silent = _cables.Retire(next._cables);
        for (var s = 0; s < Sources.Length; s++)
        {
            if (next.Sources.Contains(Sources[s]))
            {
                silent &= _sourceChains[s]?.Retire(next.ChainOf(Sources[s])) ?? true;
                continue;
            }

            for (var m = 0; m < Mixes.Length; m++)
            {
                Sends[m][s].SetGains(0, 0);
                silent &= Sends[m][s].IsSilent;
            }
        }

        for (var m = 0; m < Mixes.Length; m++)
        {
            if (!next.Mixes.Contains(Mixes[m]))
            {
                continue;
            }

            silent &= _mixChains[m]?.Retire(next.ChainOf(Mixes[m])) ?? true;
            for (var s = 0; s < Sources.Length; s++)
            {
                if (_duckers[m][s] is { } ducker && next.Sources.Contains(Sources[s]))
                {
                    silent &= ducker.Retire(next.DuckerOf(Mixes[m], Sources[s]));
                }
            }
        }

        return silent;
    }

    private static SourceNode SourceFor(Source source, ISourceFeed feed, EnginePlan? previous)
    {
        var old = previous?.Find(source.Id);
        return old is not null && old.Feed == feed ? old : new SourceNode(source.Id, feed, source.Trim.Linear);
    }

    private static SourceNode ProbeFor(SourceId id, ISourceFeed feed, EnginePlan? previous) =>
        previous?.Probes.FirstOrDefault(p => p.Id == id && p.Feed == feed) ?? new SourceNode(id, feed, 1);

    private static SendNode NewSend(SourceNode source, (double Left, double Right) gain, (Tap Tap, int Wait) tap)
    {
        var send = source.Feed.BeginsWithSource ? new SendNode(source, (float)gain.Left, (float)gain.Right) : new SendNode(source, 0, 0);
        send.StartAt(tap.Tap, tap.Wait);
        return send;
    }

    private static (double Left, double Right) Gains(Send send, int channels)
    {
        var (left, right) = channels == 2 ? PanLaw.Balance(send.Pan) : PanLaw.Mono(send.Pan);
        return (left * send.Factor, right * send.Factor);
    }

    // In a place that sounded before, what is new fades in; in a new one all is there from the first frame.
    private ChainRun? ChainFor(ChainPlace place, ImmutableArray<Processor> chain, int channels, EnginePlan? previous)
    {
        if (chain.IsEmpty)
        {
            return null;
        }

        var before = previous?.Chains.FirstOrDefault(c => c.Place == place);
        var run = new ChainRun(place, [.. chain.Select(StepFor)]);
        run.Follow(before);
        return run;

        ChainStep StepFor(Processor processor)
        {
            var type = ProcessorTypes.Find(processor.Type)!;
            var values = processor.ValuesOf(type);
            var slot = before?.Steps.FirstOrDefault(s => s.Id == processor.Id && s.Slot.Type == type && s.Slot.Channels == channels)?.Slot
                ?? new ChainSlot(type, new ProcessorSettings(channels, values), processor.Bypassed, isPresent: previous is null);
            return new ChainStep(processor.Id, slot, values, processor.Bypassed, [.. processor.Keys.Select(TapOf)]);
        }
    }

    private KeyTap TapOf(Key key) => key.Mix is { } mix ? new KeyTap(null, Find(mix), key.Tap) : new KeyTap(Find(key.Source!.Value), null, key.Tap);

    private ChainRun? ChainOf(SourceNode source) => _sourceChains[Sources.IndexOf(source)];

    private ChainRun? ChainOf(MixNode mix) => _mixChains[Mixes.IndexOf(mix)];

    private ChainRun? DuckerOf(MixNode mix, SourceNode source) => _duckers[Mixes.IndexOf(mix)][Sources.IndexOf(source)];

    private SendNode? FindSend(MixNode mix, SourceNode source)
    {
        var m = Mixes.IndexOf(mix);
        var s = Sources.IndexOf(source);
        return m < 0 || s < 0 ? null : Sends[m][s];
    }
}

using System.Collections.Immutable;
using Kinetra.Core.Metering;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Engine;

/// <summary>
/// A rig made ready to run: its wiring's points as nodes, its links as links, and what their gains should be. Built off the engine thread
/// from a valid rig; what the previous plan had already is found by what it is and taken over with its state, so only what changed changes.
/// </summary>
public sealed class EnginePlan
{
    private readonly PlanLinks _links;
    private readonly ImmutableArray<PlanWave> _waves;
    private readonly LinkNode[][] _intoSources;
    private readonly LinkNode[][] _intoMixes;
    private readonly LinkNode[][] _intoBuses;
    private readonly Dictionary<Point, Outlet> _outlets = [];
    private readonly PlanChains _chains;
    private readonly IInlet?[] _inlets;
    private readonly double[] _trims;
    private readonly double[] _mixGains;
    private readonly int[] _mixLatencies;
    private readonly ImmutableArray<ChainRun?> _sourceChains;
    private readonly ImmutableArray<ChainRun?> _mixChains;
    private readonly Dictionary<MixId, MixDims> _dims = [];

    private static long s_openings;

    private EnginePlan(Rig rig, Func<Source, IInlet> inlets, EnginePlan? previous, IReadOnlyDictionary<SourceId, IInlet> probes, RunningGear gear)
    {
        Opening = previous?.Opening ?? Interlocked.Increment(ref s_openings);
        _inlets = [.. rig.Sources.Select(s => s.Input.IsLinked ? null : inlets(s))];
        Computer = new Computer(rig.Sources.Zip(_inlets).Where(p => p.Second is not null).ToDictionary(p => p.First.Id, p => p.Second!.Channels), gear.State);
        Routed = Routed.Of(rig, Computer, previous?.Routed);
        var before = new KeptNodes(previous);
        var ground = Routed.Wiring.Shape.Ground;
        Sources = [.. rig.Sources.Select((s, i) => ground.Channels[ground.PlaceOfSource(i)] is var channels && before.Source(i, s.Id, channels) is { } node
            ? node
            : new SourceNode(s.Id, channels, _inlets[i], s.Factor, isFadedIn: previous is not null && _inlets[i] is { BeginsWithSource: false }))];
        Mixes = [.. rig.Mixes.Select((m, i) => before.Mix(i, m.Id) ?? new MixNode(m.Id, m.Gain.Linear))];
        var ports = Enumerable.Range(ground.FirstPort, ground.Points.Length - ground.FirstPort);
        Buses =
        [
            .. rig.Cables.Select((c, i) => before.Bus(i, new CablePoint(c.Id), c.Channels) ?? new BusNode(new CablePoint(c.Id), c.Channels)),
            .. ports.Select((p, i) => before.Bus(rig.Cables.Length + i, ground.Points[p], ground.Channels[p])
                ?? new BusNode(ground.Points[p], ground.Channels[p], gear.Sounds(ground.Points[p], ground.Channels[p]))),
        ];
        Probes = [.. probes.Select(p => previous?.Probes.FirstOrDefault(o => o.Id == p.Key && o.Inlet == p.Value) ?? new SourceNode(p.Key, p.Value.Channels, p.Value, 1))];
        _trims = [.. rig.Sources.Select(s => s.Factor)];
        _mixGains = [.. rig.Mixes.Select(m => m.Gain.Linear)];
        AddOutlets();
        _chains = new PlanChains(Routed.Wiring, _outlets, previous?._chains, before);
        _sourceChains = [.. Sources.Select(s => _chains.At(new SourcePoint(s.Id)))];
        _mixChains = [.. Mixes.Select(m => _chains.At(new MixPoint(m.Id)))];
        _mixLatencies = [.. Mixes.Select(m => LatencyOf(new MixPoint(m.Id)))];
        _links = new PlanLinks(Routed, _outlets, _chains, Begins(previous, before), previous?._links, before.Has);
        _intoSources = [.. Sources.Select(s => _links.Into(new SourcePoint(s.Id, Tap.Raw)))];
        _intoMixes = [.. Mixes.Select(m => _links.Into(new MixPoint(m.Id, Tap.Raw)))];
        _intoBuses = [.. Buses.Select(b => _links.Into(b.Point))];
        _waves = previous is not null && RunsAs(previous) ? previous._waves : PlanWave.Of(Routed, Sources, Mixes, _sourceChains, _mixChains);
        Sends = SendsOf();
        AddDims(previous);
        var layout = new MeterLayout(
            [.. Sources.Select(s => s.Id)], [.. Mixes.Select(m => m.Id)], [.. Chains.SelectMany(c => c.Steps).Select(s => s.Id)], [.. Buses.Select(b => new BusLayout(b.Point, b.Channels))]);
        Meters = previous is not null && previous.Meters.Layout.IsSameAs(layout) ? previous.Meters : new MeterBoard(layout);
    }

    /// <summary>Whether a chain with processors leads to a point.</summary>
    public bool HasChain(Point point) => _chains.At(point) is not null;

    /// <summary>Of which opening of a show it is: that of the plan upon which it was built; of one that was built upon none, a number of its own, higher than any before.</summary>
    public long Opening { get; }

    /// <summary>What was there for it.</summary>
    public Computer Computer { get; }

    /// <summary>What was worked out about the rig: its wiring, order, alignment and loops.</summary>
    public Routed Routed { get; }

    /// <summary>The sources' nodes, in the rig's order.</summary>
    public ImmutableArray<SourceNode> Sources { get; }

    /// <summary>The mixes' nodes, in the rig's order.</summary>
    public ImmutableArray<MixNode> Mixes { get; }

    /// <summary>The nodes of the cables, in the rig's order, and then of the computer's devices and programs.</summary>
    public ImmutableArray<BusNode> Buses { get; }

    /// <summary>The loops of the rig, with what is held of them.</summary>
    public ImmutableArray<SoundLoop> Loops => Routed.Loops.All;

    /// <summary>Sounds that no mix has and no meter shows, to be read at their points: probes that measure the way.</summary>
    public ImmutableArray<SourceNode> Probes { get; }

    /// <summary>Where this plan's meters are published.</summary>
    public MeterBoard Meters { get; }

    /// <summary>For each mix, one send for each source.</summary>
    internal LinkNode[][] Sends { get; }

    /// <summary>All chains that have processors: of the sources, the mixes, the sends.</summary>
    internal ImmutableArray<ChainRun> Chains => _chains.All;

    /// <summary>Builds a plan.</summary>
    /// <param name="rig">A valid rig.</param>
    /// <param name="inlets">Finds a source's inlet. Another one than before is faded in, in the source as it is.</param>
    /// <param name="previous">The plan that was posted before this one, or null.</param>
    /// <param name="probes">Probes by their ids; null: none.</param>
    /// <param name="gear">The computer's devices and programs; null: there are none.</param>
    public static EnginePlan Build(
        Rig rig, Func<Source, IInlet> inlets, EnginePlan? previous, IReadOnlyDictionary<SourceId, IInlet>? probes = null, RunningGear? gear = null)
    {
        ArgumentNullException.ThrowIfNull(rig);
        ArgumentNullException.ThrowIfNull(inlets);
        return new EnginePlan(rig, inlets, previous, probes ?? ImmutableDictionary<SourceId, IInlet>.Empty, gear ?? RunningGear.None);
    }

    /// <summary>By how many frames look-ahead makes a point late; 0 where the plan does not have it.</summary>
    public int LatencyOf(Point point) => point is StagePoint stage
        ? LatencyOf(stage)
        : Routed.Wiring.ChannelsOf(point) == 0 ? 0 : Routed.Alignment.LatencyOf(point);

    /// <summary>How many channels a point gives; 0 where the plan does not have it.</summary>
    public int ChannelsOf(Point point) => OutletAt(point)?.Channels ?? 0;

    /// <summary>True where anything takes what a point gives.</summary>
    public bool IsRead(Point point)
    {
        foreach (var link in Routed.Wiring.Links)
        {
            if (link.Use == LinkUse.Sound && link.From == point)
            {
                return true;
            }
        }

        return false;
    }

    /// <summary>True where what gives a point has failed and is silent since.</summary>
    public bool IsBroken(Point point) => point switch
    {
        SourcePoint source => Sources.Any(s => s.Id == source.Id && s.IsBroken) || _links.Into(source).Any(l => l.IsBroken),
        MixPoint mix => Mixes.Any(m => m.Id == mix.Id && m.IsBroken),
        SendPoint send => _links.Find((send, new MixPoint(send.Mix, Tap.Raw)))?.IsBroken == true,
        _ => Buses.Any(b => b.Point == point && b.IsBroken) || _links.Into(point).Any(l => l.IsBroken),
    };

    /// <summary>What brings a link's level to what a rig says, without another plan; null where that takes one.</summary>
    /// <param name="rig">The rig after the change; it has the same sources, mixes and cables.</param>
    /// <param name="link">The link, as <see cref="Link.Identity"/> names it.</param>
    public LevelChange? Level(Rig rig, (Point From, Point To) link)
    {
        ArgumentNullException.ThrowIfNull(rig);
        if (Routed.Loops.IsOnCircle(link))
        {
            return null;
        }

        switch (link)
        {
            case (SendPoint point, MixPoint):
                return rig.Find(point.Mix, point.Source) is { } send && Source(point.Source) is { } node
                    ? _links.Level(link, ChannelMap.Pan(node.Channels, send.Pan), send.Factor)
                    : null;
            case (var from, CablePoint cable):
                return rig.Find(cable.Id)?.Find(from) is { } feed && Routed.Wiring.Find(link) is { } wired ? _links.Level(link, wired.Map, feed.Factor) : null;
            case (SourcePoint { Tap: Tap.Raw } source, SourcePoint):
                return Source(source.Id) is { } trimmed && rig.Find(source.Id) is { } found ? new LevelChange.OfTrim(trimmed, found.Factor) : null;
            case (MixPoint { Tap: Tap.Raw } mix, MixPoint):
                return Mixes.FirstOrDefault(m => m.Id == mix.Id) is { } blend && rig.Find(mix.Id) is { } blended ? new LevelChange.OfGain(blend, blended.Gain.Linear) : null;
            default:
                return null;
        }

        SourceNode? Source(SourceId id) => Sources.FirstOrDefault(s => s.Id == id);
    }

    /// <summary>What turns a processor to what a rig says, without another plan; null where that takes one.</summary>
    /// <param name="rig">The rig after the change; it has the same chains.</param>
    /// <param name="place">The point that the chain leads to.</param>
    /// <param name="id">The processor.</param>
    public LevelChange? Turn(Rig rig, Point place, ProcessorId id)
    {
        ArgumentNullException.ThrowIfNull(rig);
        if (Routed.Loops.IsOnCircle(LinkOf(place))
            || _chains.At(place) is not { } chain
            || chain.Steps.FirstOrDefault(s => s.Id == id) is not { } step
            || rig.ChainAt(place)?.FirstOrDefault(p => p.Id == id) is not { } processor)
        {
            return null;
        }

        // What looks further ahead moves others in time.
        var values = processor.ValuesOf(step.Slot.Type);
        return step.Slot.Type.LatencyOf(values) == step.Latency ? new LevelChange.OfProcessor(step, values, processor.Bypassed) : null;
    }

    /// <summary>
    /// What sets a whole chain, or one processor of it, aside for a comparison that all hear, and makes what the chain gives without it as loud. A source's sync delay stays.
    /// Null where there is none, or where it is on a circle: what is louder there could howl.
    /// </summary>
    /// <param name="place">The point that the chain leads to.</param>
    /// <param name="id">The processor; null: the whole chain.</param>
    /// <param name="factor">What is left is multiplied by.</param>
    public LevelChange? Aside(Point place, ProcessorId? id, float factor)
    {
        ArgumentNullException.ThrowIfNull(place);
        if (Routed.Loops.IsOnCircle(LinkOf(place)) || _chains.At(place) is not { } chain)
        {
            return null;
        }

        ImmutableArray<ChainSlot> slots = [.. chain.Steps.Where(s => s.Id != Source.SyncDelayId && (id is null || s.Id == id)).Select(s => s.Slot)];
        return slots.IsEmpty ? null : new LevelChange.OfAside(slots, chain.Steps[^1].Slot, factor);
    }

    /// <summary>A processor as it runs in the chain of a source or a mix; null: there is none of that id.</summary>
    public RunningProcessor? Find(ProcessorId id) =>
        _chains.Stage(id) is ({ Place: not SendPoint } run, { } step) ? Running(run, run.Steps.IndexOf(step)) : null;

    /// <summary>The point of a source or a mix that the chain leads to in which a processor stands; null: there is none of that id.</summary>
    public Point? PlaceOf(ProcessorId id) => _chains.Stage(id) is ({ Place: not SendPoint } run, _) ? run.Place : null;

    /// <summary>
    /// The processors of the chain that leads to a source's or a mix's point, in order, as they run, a source's sync delay (<see cref="Source.SyncDelayId"/>) last;
    /// empty: it has none.
    /// </summary>
    public ImmutableArray<RunningProcessor> ChainOf(Point place) =>
        place is not SendPoint && _chains.At(place) is { } run ? [.. run.Steps.Select((_, i) => Running(run, i))] : [];

    private static (Point From, Point To) LinkOf(Point place) => place switch
    {
        SourcePoint source => (source with { Tap = Tap.BeforeChain }, place),
        MixPoint mix => (mix with { Tap = Tap.BeforeChain }, place),
        SendPoint send => (send, new MixPoint(send.Mix, Tap.Raw)),
        _ => (place, place),
    };

    /// <summary>What a point gives, or null.</summary>
    internal Outlet? OutletAt(Point point) => point is StagePoint stage ? _chains.Stage(stage.Id)?.Step.Slot.Stage : _outlets.GetValueOrDefault(point);

    /// <summary>While a show is opened: the mix of this plan that follows a mix of the one before, or null.</summary>
    internal MixNode? Follower(MixId before)
    {
        foreach (var mix in Mixes)
        {
            if (mix.Follows?.Id == before)
            {
                return mix;
            }
        }

        return null;
    }

    /// <summary>Engine thread: computes the block. The way of a sample, from what comes in to what leaves, is here from top to bottom.</summary>
    internal void Process(in BlockWork work)
    {
        foreach (var probe in Probes)
        {
            Read(probe, [], work);
            probe.Trim(work);
            probe.Publish(work);
        }

        foreach (var wave in _waves)
        {
            wave.Chains.Process();
            foreach (var index in wave.Nodes)
            {
                switch (wave.Stage)
                {
                    case Stage.SourceRaw:
                        Read(Sources[index], _intoSources[index], work);
                        break;
                    case Stage.SourceTrim:
                        Sources[index].Trim(work);
                        break;
                    case Stage.SourceOut:
                        Sources[index].Publish(work);
                        break;
                    case Stage.MixSum:
                        Mixes[index].Sum(_intoMixes[index], work);
                        break;
                    case Stage.MixGain:
                        Mixes[index].Gain(work);
                        break;
                    case Stage.MixOut:
                        Mixes[index].Give(work);
                        break;
                    case Stage.Bus:
                        Buses[index].Sum(_intoBuses[index], work);
                        break;
                }
            }

            Measure(wave, work.Hop);
        }
    }

    /// <summary>Engine thread: starts what is new with this plan, and sets every node to what this plan wants.</summary>
    internal void Activate(long frame)
    {
        for (var s = 0; s < Sources.Length; s++)
        {
            Sources[s].SetInlet(_inlets[s]);
            Sources[s].SetTrim(_trims[s]);
            Sources[s].Chain = _sourceChains[s];
        }

        foreach (var chain in Chains)
        {
            chain.Activate();
        }

        for (var m = 0; m < Mixes.Length; m++)
        {
            Mixes[m].SetGain(_mixGains[m]);
            Mixes[m].Chain = _mixChains[m];
            Mixes[m].LatencyFrames = _mixLatencies[m];
            var dims = _dims.GetValueOrDefault(Mixes[m].Id);
            for (var s = 0; s < Sources.Length; s++)
            {
                Sends[m][s].Dims = _inlets[s] is IDimming ? null : dims;
            }
        }

        _links.Activate(frame);
    }

    /// <summary>Engine thread: a send; null: the mix or the source is not there.</summary>
    internal LinkNode? SendOf(MixId mix, SourceId source)
    {
        for (var m = 0; m < Mixes.Length; m++)
        {
            for (var s = 0; Mixes[m].Id == mix && s < Sources.Length; s++)
            {
                if (Sources[s].Id == source)
                {
                    return Sends[m][s];
                }
            }
        }

        return null;
    }

    /// <summary>Engine thread: plays a source from its beginning. One that is not there: nothing happens.</summary>
    internal void Restart(SourceId id)
    {
        foreach (var source in Sources)
        {
            if (source.Id == id)
            {
                source.Inlet?.Restart();
            }
        }
    }

    /// <summary>Engine thread, before it is this plan's turn: true once all that it reads later is kept.</summary>
    internal bool Arm(long frame) => _links.Arm(frame);

    /// <summary>Engine thread: fades out what the next plan no longer has. True once all of that is silent.</summary>
    internal bool Retire(EnginePlan next)
    {
        var silent = _links.Retire(next._links);
        foreach (var chain in Chains)
        {
            // Of a source or a mix that goes, all that leads from it fades.
            if (next.Has(chain.Place, this))
            {
                silent &= chain.Retire(next._chains.At(chain.Place));
            }
        }

        return silent;
    }

    private static RunningProcessor Running(ChainRun run, int index)
    {
        var step = run.Steps[index];
        Point before = index > 0
            ? new StagePoint(run.Steps[index - 1].Id)
            : run.Place is MixPoint mix ? mix with { Tap = Tap.BeforeChain } : (SourcePoint)run.Place with { Tap = Tap.BeforeChain };
        return new RunningProcessor(step.Id, step.Slot, before, step.Keys);
    }

    // What comes before its chain, and then the chain up to it.
    private int LatencyOf(StagePoint stage)
    {
        if (_chains.Stage(stage.Id) is not { } found)
        {
            return 0;
        }

        var before = found.Run.Place switch
        {
            SourcePoint source => LatencyOf(source with { Tap = Tap.BeforeChain }),
            MixPoint mix => LatencyOf(mix with { Tap = Tap.BeforeChain }),
            SendPoint send => LatencyOf(new SourcePoint(send.Source)),
            _ => 0,
        };
        return before + found.Run.Steps.TakeWhile(s => s != found.Step).Sum(s => s.Latency) + found.Step.Latency;
    }

    private bool RunsAs(EnginePlan other) =>
        Routed.Order == other.Routed.Order
        && Sources.AsSpan().SequenceEqual(other.Sources.AsSpan())
        && Mixes.AsSpan().SequenceEqual(other.Mixes.AsSpan())
        && _sourceChains.AsSpan().SequenceEqual(other._sourceChains.AsSpan())
        && _mixChains.AsSpan().SequenceEqual(other._mixChains.AsSpan());

    private LinkNode[][] SendsOf()
    {
        var wiring = Routed.Wiring;
        LinkNode[][] sends = [.. Mixes.Select(_ => new LinkNode[Sources.Length])];
        for (var i = 0; i < wiring.Links.Length; i++)
        {
            if (wiring.Links[i].Via is SendPoint)
            {
                sends[wiring.Shape.Ground.At(wiring.Ends[i].To).Index][wiring.Shape.Ground.At(wiring.Ends[i].From).Index] = _links.At(i)!;
            }
        }

        return sends;
    }

    private void AddOutlets()
    {
        foreach (var source in Sources.Concat(Probes))
        {
            for (var tap = Tap.AfterChain; tap <= Tap.Raw; tap++)
            {
                _outlets[new SourcePoint(source.Id, tap)] = source.At(tap);
            }
        }

        foreach (var mix in Mixes)
        {
            _outlets[new MixPoint(mix.Id)] = mix.Given;
            _outlets[new MixPoint(mix.Id, Tap.BeforeChain)] = mix.Clean;
        }

        foreach (var bus in Buses)
        {
            _outlets[bus.Point] = bus.Given;
        }
    }

    // What is under way already fades in, but for the very first plan, and for what begins with its source; a source that is new fades in itself.
    private Func<Link, bool> Begins(EnginePlan? previous, KeptNodes nodes) => link => link.Via is SendPoint send
        ? !nodes.Has(send)
            && ((previous is not null && !nodes.Has(link.From)) || Sources.First(s => s.Id == send.Source).Inlet is null or { BeginsWithSource: true })
        : previous is null;

    private void AddDims(EnginePlan? previous)
    {
        for (var m = 0; m < Mixes.Length; m++)
        {
            var dims = new MixDims(
                [.. _inlets.Select((inlet, s) => (Inlet: inlet as IDimming, Send: Sends[m][s])).Where(d => d.Inlet is not null).Select(d => (d.Inlet!, d.Send))],
                previous?._dims.GetValueOrDefault(Mixes[m].Id));
            if (!dims.IsEmpty)
            {
                _dims.Add(Mixes[m].Id, dims);
            }
        }
    }

    // True where a point, or the ends of a send, are given by the nodes that another plan has them given by.
    private bool Has(Point point, EnginePlan other) => point switch
    {
        SendPoint send => Has(new SourcePoint(send.Source), other) && Has(new MixPoint(send.Mix), other),
        _ => OutletAt(point) is { } outlet && other.OutletAt(point) == outlet,
    };

    // What gives a source its sound comes from anywhere, and may fail.
    private static void Read(SourceNode source, LinkNode[] inputs, in BlockWork work)
    {
        try
        {
            source.Read(inputs, work);
        }
        catch (Exception e)
        {
            source.Break(e, work);
        }
    }

    private void Measure(PlanWave wave, HopSplit hop)
    {
        if (wave.Meters is not { } meters)
        {
            return;
        }

        meters.Process(hop);
        for (var i = 0; i < wave.Nodes.Length; i++)
        {
            if (wave.Stage == Stage.SourceOut)
            {
                Sources[wave.Nodes[i]].Measured(hop, meters.Before[i], meters.After[i]);
            }
            else
            {
                Mixes[wave.Nodes[i]].Measured(hop);
            }
        }
    }
}

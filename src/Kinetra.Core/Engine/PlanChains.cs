using System.Collections.Immutable;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Engine;

/// <summary>The chains of a plan, by the places that they lead to.</summary>
sealed class PlanChains
{
    private readonly IReadOnlyDictionary<Point, Outlet> _outlets;
    private readonly Dictionary<Point, ChainRun> _runs = [];
    private readonly Dictionary<ProcessorId, (ChainRun Run, ChainStep Step)> _stages = [];

    /// <summary>Makes or takes over every chain. In a place that sounded before, what is new fades in; in a new one all is there from the first frame.</summary>
    /// <param name="wiring">What is to run.</param>
    /// <param name="outlets">What each point gives, for keys.</param>
    /// <param name="previous">The chains before; null: none.</param>
    /// <param name="nodes">Which places were there before.</param>
    public PlanChains(Wiring wiring, IReadOnlyDictionary<Point, Outlet> outlets, PlanChains? previous, KeptNodes nodes)
    {
        _outlets = outlets;
        foreach (var (place, chain) in wiring.Rig.Ways)
        {
            var isOld = nodes.Has(place);
            var before = isOld ? previous?.At(place) : null;
            var channels = wiring.ChannelsOf(place is SendPoint send ? new SourcePoint(send.Source) : place);
            ImmutableArray<ChainStep> steps = [.. chain.Select(p => StepFor(p, before, channels, isPresent: !isOld))];
            if (before is not null && before.Steps.AsSpan().SequenceEqual(steps.AsSpan()))
            {
                _runs[place] = before;
                continue;
            }

            var run = new ChainRun(place, steps);
            run.Follow(before);
            _runs[place] = run;
        }

        All = [.. _runs.Values];
        foreach (var run in All)
        {
            foreach (var step in run.Steps.Where(s => s.Id != Source.SyncDelayId))
            {
                _stages[step.Id] = (run, step);
            }
        }
    }

    /// <summary>All that have processors: of the sources, the mixes, the sends.</summary>
    public ImmutableArray<ChainRun> All { get; }

    /// <summary>The chain that leads to a place, or null.</summary>
    public ChainRun? At(Point place) => _runs.GetValueOrDefault(place);

    /// <summary>A processor with the chain that it stands in, or null.</summary>
    public (ChainRun Run, ChainStep Step)? Stage(ProcessorId id) => _stages.TryGetValue(id, out var found) ? found : null;

    private ChainStep StepFor(Processor processor, ChainRun? before, int channels, bool isPresent)
    {
        Outlet[] keys = processor.Keys.IsEmpty ? [] : [.. processor.Keys.Select(k => _outlets[k])];
        var old = before?.Steps.FirstOrDefault(s => s.Id == processor.Id);
        if (old?.IsOf(processor, channels, keys) == true)
        {
            return old;
        }

        var type = ProcessorTypes.Find(processor.Type)!;
        var values = processor.ValuesOf(type);
        var slot = old is not null && old.Slot.Type == type && old.Slot.Channels == channels
            ? old.Slot
            : new ChainSlot(type, new ProcessorSettings(channels, values), processor.Bypassed, isPresent);
        return new ChainStep(processor, values, slot, keys);
    }
}

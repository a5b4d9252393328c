using System.Collections.Immutable;
using Kinetra.Core.Dsp;
using Kinetra.Core.Rigs;

namespace Kinetra.Core.Engine;

/// <summary>
/// A rig made ready to run: which nodes there are, in which order, and what their gains should be. Built off the engine
/// thread from a valid rig; what the previous plan had already is taken over with its state, so only what changed changes.
/// </summary>
public sealed class EnginePlan
{
    private readonly double[] _trims;
    private readonly double[] _mixGains;
    private readonly (double Left, double Right)[] _sendGains;

    private EnginePlan(
        ImmutableArray<SourceNode> sources,
        ImmutableArray<MixNode> mixes,
        ImmutableArray<SourceNode> probes,
        SendNode[][] sends,
        double[] trims,
        double[] mixGains,
        (double Left, double Right)[] sendGains,
        MeterBoard meters)
    {
        Sources = sources;
        Mixes = mixes;
        Probes = probes;
        Sends = sends;
        _trims = trims;
        _mixGains = mixGains;
        _sendGains = sendGains;
        Meters = meters;
    }

    /// <summary>The sources' nodes, in the rig's order.</summary>
    public ImmutableArray<SourceNode> Sources { get; }

    /// <summary>The mixes' nodes, in the rig's order.</summary>
    public ImmutableArray<MixNode> Mixes { get; }

    /// <summary>Sounds that no mix has and no meter shows, to be read from their rings: probes that measure the way.</summary>
    public ImmutableArray<SourceNode> Probes { get; }

    /// <summary>Where this plan's meters are published.</summary>
    public MeterBoard Meters { get; }

    /// <summary>For each mix, one send for each source.</summary>
    internal SendNode[][] Sends { get; }

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
        var sources = rig.Sources.Select(s => SourceFor(s, feeds(s), previous)).ToImmutableArray();
        var mixes = rig.Mixes.Select(m => previous?.Find(m.Id) ?? new MixNode(m.Id, m.Gain.Linear)).ToImmutableArray();
        var sends = new SendNode[mixes.Length][];
        var gains = new (double Left, double Right)[mixes.Length * sources.Length];
        for (var m = 0; m < mixes.Length; m++)
        {
            sends[m] = new SendNode[sources.Length];
            for (var s = 0; s < sources.Length; s++)
            {
                var gain = Gains(rig.Mixes[m].Sends[s], sources[s].Channels);
                gains[(m * sources.Length) + s] = gain;
                sends[m][s] = previous?.FindSend(mixes[m], sources[s]) ?? NewSend(sources[s], gain);
            }
        }

        var layout = new MeterLayout([.. sources.Select(s => s.Id)], [.. mixes.Select(m => m.Id)]);
        var meters = previous is not null && previous.Meters.Layout.IsSameAs(layout) ? previous.Meters : new MeterBoard(layout);
        return new EnginePlan(
            sources,
            mixes,
            [.. (probes ?? ImmutableDictionary<SourceId, ISourceFeed>.Empty).Select(p => ProbeFor(p.Key, p.Value, previous))],
            sends,
            [.. rig.Sources.Select(s => s.Trim.Linear)],
            [.. rig.Mixes.Select(m => m.Gain.Linear)],
            gains,
            meters);
    }

    /// <summary>The node of a mix, or null.</summary>
    public MixNode? Find(MixId id) => Mixes.FirstOrDefault(m => m.Id == id);

    /// <summary>The node of a source or a probe, or null.</summary>
    public SourceNode? Find(SourceId id) => Sources.FirstOrDefault(s => s.Id == id) ?? Probes.FirstOrDefault(s => s.Id == id);

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

        for (var m = 0; m < Mixes.Length; m++)
        {
            Mixes[m].Begin(frame, hushed);
            Mixes[m].SetGain(_mixGains[m]);
            for (var s = 0; s < Sources.Length; s++)
            {
                var (left, right) = _sendGains[(m * Sources.Length) + s];
                Sends[m][s].SetGains(left, right);
            }
        }
    }

    /// <summary>Engine thread: fades out what the next plan no longer has. True once all of that is silent.</summary>
    internal bool Retire(EnginePlan next)
    {
        var silent = true;
        for (var m = 0; m < Mixes.Length; m++)
        {
            for (var s = 0; s < Sources.Length; s++)
            {
                if (!next.Sources.Contains(Sources[s]))
                {
                    Sends[m][s].SetGains(0, 0);
                    silent &= Sends[m][s].IsSilent;
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

    private static SendNode NewSend(SourceNode source, (double Left, double Right) gain) =>
        source.Feed.BeginsWithSource ? new SendNode(source, (float)gain.Left, (float)gain.Right) : new SendNode(source, 0, 0);

    private static (double Left, double Right) Gains(Send send, int channels)
    {
        var (left, right) = channels == 2 ? PanLaw.Balance(send.Pan) : PanLaw.Mono(send.Pan);
        return (left * send.Factor, right * send.Factor);
    }

    private SendNode? FindSend(MixNode mix, SourceNode source)
    {
        var m = Mixes.IndexOf(mix);
        var s = Sources.IndexOf(source);
        return m < 0 || s < 0 ? null : Sends[m][s];
    }
}

using System.Collections.Immutable;
using Kinetra.Core.Dsp;
using Kinetra.Core.Rigs;

namespace Kinetra.Core.Routing;

/// <summary>Where a sound is on its way.</summary>
public enum Stage
{
    /// <summary>A source after its trim, before its chain.</summary>
    SourceIn,

    /// <summary>A source after its chain.</summary>
    SourceOut,

    /// <summary>A mix summed, after its gain, before its chain.</summary>
    MixSum,

    /// <summary>A mix after its chain.</summary>
    MixOut,

    /// <summary>A cable.</summary>
    Cable,
}

/// <summary>A node of the graph: a stage of the source, mix or cable at an index of the rig's list.</summary>
public readonly record struct SoundNode(Stage Stage, int Index);

/// <summary>What a link is for.</summary>
public enum LinkKind
{
    /// <summary>Sound flows along it.</summary>
    Sound,

    /// <summary>A processor listens along it; its sound goes no further.</summary>
    Key,

    /// <summary>A send that the listener does not hear now: nothing flows, but it may still be fading.</summary>
    Docked,
}

/// <summary>A way from one node to the next.</summary>
/// <param name="From">Where the sound comes from.</param>
/// <param name="To">Where it goes.</param>
/// <param name="Kind">What it is for.</param>
public sealed record SoundLink(SoundNode From, SoundNode To, LinkKind Kind)
{
    /// <summary>The largest factor from any channel to any other, without the chain; 0: nothing flows now.</summary>
    public double Factor { get; init; } = 1;

    /// <summary>The processors on the way.</summary>
    public ImmutableArray<Processor> Chain { get; init; } = [];

    /// <summary>True where sound leaves a cable: the places at which a loop can be closed one block late, or held.</summary>
    public bool LeavesCable => From.Stage == Stage.Cable;

    /// <summary>True where the person has let it play although it closes a loop.</summary>
    public bool LoopAllowed { get; init; }
}

/// <summary>
/// A rig as a directed graph: sources, mixes and cables are its nodes, and every way that a sound can take is a link. Sound that
/// a rig sends nowhere has none.
/// </summary>
public sealed class SoundGraph
{
    private SoundGraph(Rig rig)
    {
        Rig = rig;
        Nodes =
        [
            .. rig.Cables.Select((_, i) => new SoundNode(Stage.Cable, i)),
            .. rig.Sources.SelectMany((_, i) => new SoundNode[] { new(Stage.SourceIn, i), new(Stage.SourceOut, i) }),
            .. rig.Mixes.SelectMany((_, i) => new SoundNode[] { new(Stage.MixSum, i), new(Stage.MixOut, i) }),
        ];
        Links = [.. Sources(), .. Mixes(), .. Cables()];
    }

    /// <summary>The rig.</summary>
    public Rig Rig { get; }

    /// <summary>All nodes.</summary>
    public ImmutableArray<SoundNode> Nodes { get; }

    /// <summary>All links.</summary>
    public ImmutableArray<SoundLink> Links { get; }

    /// <summary>Compiles a rig whose ids are known.</summary>
    public static SoundGraph Of(Rig rig)
    {
        ArgumentNullException.ThrowIfNull(rig);
        return new SoundGraph(rig);
    }

    /// <summary>What a person calls a node.</summary>
    public string NameOf(SoundNode node) => node.Stage switch
    {
        Stage.SourceIn or Stage.SourceOut => Rig.Sources[node.Index].Name,
        Stage.MixSum or Stage.MixOut => Rig.Mixes[node.Index].Name,
        _ => Rig.Cables[node.Index].Name,
    };

    /// <summary>The node at which a key listens.</summary>
    public SoundNode Heard(Key key)
    {
        ArgumentNullException.ThrowIfNull(key);
        return key.Mix is { } mix ? OfMix(mix, key.Tap) : OfSource(key.Source!.Value, key.Tap);
    }

    private IEnumerable<SoundLink> Sources()
    {
        for (var s = 0; s < Rig.Sources.Length; s++)
        {
            var source = Rig.Sources[s];
            var (read, given) = (new SoundNode(Stage.SourceIn, s), new SoundNode(Stage.SourceOut, s));
            yield return new SoundLink(read, given, LinkKind.Sound) { Chain = source.Chain };
            foreach (var key in Keys(source.Chain))
            {
                yield return new SoundLink(Heard(key), given, LinkKind.Key);
            }

            if (source.Input is CableInput input)
            {
                yield return new SoundLink(OfCable(input.Cable), read, LinkKind.Sound) { Factor = source.Trim.Linear, LoopAllowed = input.LoopAllowed };
            }
        }
    }

    private IEnumerable<SoundLink> Mixes()
    {
        for (var m = 0; m < Rig.Mixes.Length; m++)
        {
            var mix = Rig.Mixes[m];
            var (sum, given) = (new SoundNode(Stage.MixSum, m), new SoundNode(Stage.MixOut, m));
            yield return new SoundLink(sum, given, LinkKind.Sound) { Chain = mix.Chain };
            foreach (var key in Keys(mix.Chain))
            {
                yield return new SoundLink(Heard(key), given, LinkKind.Key);
            }

            foreach (var send in mix.Sends)
            {
                var (left, right) = Rig.Find(send.Source) is { Input: BrowserInput { Right: null } or CableInput { Right: null } }
                    ? PanLaw.Mono(send.Pan)
                    : PanLaw.Balance(send.Pan);
                yield return new SoundLink(OfSource(send.Source, send.Tap), sum, send.Heard ? LinkKind.Sound : LinkKind.Docked)
                {
                    Factor = send.Factor * mix.Gain.Linear * Math.Max(left, right),
                };
                foreach (var key in send.Heard && send.Ducker is { } ducker ? ducker.Keys : [])
                {
                    yield return new SoundLink(Heard(key), sum, LinkKind.Key);
                }
            }
        }
    }

    private IEnumerable<SoundLink> Cables()
    {
        for (var c = 0; c < Rig.Cables.Length; c++)
        {
            foreach (var feed in Rig.Cables[c].Feeds)
            {
                var from = feed.From switch
                {
                    { Source: { } source } => OfSource(source, feed.From.Tap),
                    { Mix: { } mix } => OfMix(mix, feed.From.Tap),
                    _ => OfCable(feed.From.Cable!.Value),
                };
                yield return new SoundLink(from, new SoundNode(Stage.Cable, c), LinkKind.Sound) { Factor = feed.Factor, LoopAllowed = feed.LoopAllowed };
            }
        }
    }

    private static IEnumerable<Key> Keys(ImmutableArray<Processor> chain) => chain.SelectMany(p => p.Keys);

    private SoundNode OfSource(SourceId id, Tap tap) => new(tap == Tap.AfterChain ? Stage.SourceOut : Stage.SourceIn, Index(Rig.Sources, s => s.Id == id));

    private SoundNode OfMix(MixId id, Tap tap) => new(tap == Tap.AfterChain ? Stage.MixOut : Stage.MixSum, Index(Rig.Mixes, m => m.Id == id));

    private SoundNode OfCable(CableId id) => new(Stage.Cable, Index(Rig.Cables, c => c.Id == id));

    private static int Index<T>(ImmutableArray<T> items, Func<T, bool> isIt)
    {
        for (var i = 0; i < items.Length; i++)
        {
            if (isIt(items[i]))
            {
                return i;
            }
        }

        throw new ArgumentException("The rig names something that it does not have.");
    }
}

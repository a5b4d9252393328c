using Kinetra.Core.Rigs;
using Kinetra.Core.Routing;

namespace Kinetra.Core.Engine;

/// <summary>The cables of a plan: their nodes, what plays into them and what records from them, and how late and how loud that is now.</summary>
sealed class PlanCables
{
    private readonly Rig _rig;
    private readonly CableNode[] _nodes;
    private readonly Dictionary<CableReader, Play> _readers = [];
    private readonly Dictionary<CableFeedNode, Play> _plays = [];
    private CableFeedNode[][] _feeds = [];

    /// <summary>Takes the nodes of the plan before, where it had the cable already.</summary>
    public PlanCables(Rig rig, PlanCables? previous)
    {
        _rig = rig;
        _nodes = [.. rig.Cables.Select(c => previous?._nodes.FirstOrDefault(n => n.Id == c.Id && n.Channels == c.Channels) ?? new CableNode(c.Id, c.Channels))];
    }

    /// <summary>What a source records with: the reader that it had, where that reads the same.</summary>
    public CableReader ReaderFor(CableInput input, ISourceFeed? before)
    {
        var cable = Node(input.Cable);
        return before is CableReader old && old.Cable == cable && old.Left == input.Left && old.Right == input.Right ? old : new CableReader(cable, input);
    }

    /// <summary>Once all nodes are there: what plays into each cable and what records from it.</summary>
    public void Connect(
        SoundGraph graph,
        RunOrder order,
        Alignment alignment,
        IEnumerable<SoundLoop> loops,
        Func<SourceId, SourceNode?> source,
        Func<MixId, MixNode?> mix,
        PlanCables? previous)
    {
        var held = loops.SelectMany(l => l.Held).ToHashSet(ReferenceEqualityComparer.Instance);
        var links = graph.Links.Where(l => l.To.Stage == Stage.Cable).ToLookup(l => l.To.Index);
        _feeds = [.. _rig.Cables.Select((c, i) => c.Feeds.Zip(links[i], (f, l) => FeedFor(_nodes[i], f, PlayOf(l, f.Factor))).ToArray())];
        foreach (var link in graph.Links.Where(l => l.LeavesCable && l.To.Stage == Stage.SourceIn))
        {
            _readers[(CableReader)source(_rig.Sources[link.To.Index].Id)!.Feed] = PlayOf(link, 1);
        }

        Play PlayOf(SoundLink link, double factor)
        {
            var isLate = order.Late.Contains(link);
            var buffer = link.LeavesCable ? _rig.Cables[link.From.Index].BufferFrames : 0;
            return new Play(held.Contains(link) ? 0 : factor, alignment.WaitOf(link) + (isLate ? Math.Max(buffer, AudioFormat.BlockFrames) : buffer), isLate);
        }

        CableFeedNode FeedFor(CableNode cable, CableFeed feed, Play play)
        {
            var from = feed.From switch
            {
                { Source: { } id, Tap: Tap.AfterChain } => source(id)!.Given,
                { Source: { } id } => source(id)!.Clean,
                { Mix: { } id, Tap: Tap.AfterChain } => mix(id)!.Given,
                { Mix: { } id } => mix(id)!.Clean,
                _ => Node(feed.From.Cable!.Value).Outlet,
            };
            var node = previous?._plays.Keys.FirstOrDefault(f => f.Cable == cable && f.Origin == feed.From && f.From == from && f.Into == feed.Into)
                ?? new CableFeedNode(cable, feed.From, from, feed.Into, play.Delay);
            _plays[node] = play;
            return node;
        }
    }

    /// <summary>Nothing sounded before: all is there from the first frame.</summary>
    public void Start()
    {
        foreach (var (reader, play) in _readers)
        {
            reader.Start(play.Delay, play.Factor == 0);
        }

        foreach (var (feed, play) in _plays)
        {
            feed.Start(play.Delay, play.Factor);
        }
    }

    /// <summary>Engine thread: sums a cable's block.</summary>
    public void Sum(int cable, long frame) => _nodes[cable].Sum(_feeds[cable], frame);

    /// <summary>Engine thread: sets how late and how loud all is to what this plan wants.</summary>
    public void Activate()
    {
        foreach (var (reader, play) in _readers)
        {
            reader.SetDelay(play.Delay);
            reader.SetHeld(play.Factor == 0);
        }

        foreach (var (feed, play) in _plays)
        {
            feed.SetDelay(play.Delay);
            feed.SetGain(play.Factor);
        }
    }

    /// <summary>
    /// Engine thread: fades out what the next plan no longer has, or reads a block later, which cannot be read in this one's time
    /// any more and comes out of silence. True once all of that is silent.
    /// </summary>
    public bool Retire(PlanCables next)
    {
        var silent = true;
        foreach (var (reader, play) in _readers)
        {
            if (!play.IsLate && next._readers.TryGetValue(reader, out var then) && then.IsLate)
            {
                reader.SetHeld(true);
                silent &= reader.IsSilent;
            }
        }

        foreach (var (feed, play) in _plays)
        {
            var stays = next._plays.TryGetValue(feed, out var then);
            if (!stays || (then.IsLate && !play.IsLate))
            {
                feed.SetGain(0);
                silent &= feed.IsSilent;
            }
        }

        return silent;
    }

    private CableNode Node(CableId id) => _nodes.First(n => n.Id == id);

    /// <summary>How a cable is played into, or recorded from.</summary>
    private readonly record struct Play(double Factor, int Delay, bool IsLate);
}

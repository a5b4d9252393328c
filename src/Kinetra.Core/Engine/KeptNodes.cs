using System.Collections.Immutable;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Engine;

/// <summary>The nodes of the plan before, found by what they are, and which of them the next plan has taken over.</summary>
sealed class KeptNodes(EnginePlan? previous)
{
    private readonly HashSet<Point> _kept = [];

    public SourceNode? Source(int index, SourceId id, int channels) =>
        Kept(Find(previous?.Sources, index, s => s.Id == id && s.Channels == channels), () => new SourcePoint(id));

    public MixNode? Mix(int index, MixId id) => Kept(Find(previous?.Mixes, index, m => m.Id == id), () => new MixPoint(id));

    public BusNode? Bus(int index, Point point, int channels) =>
        Kept(Find(previous?.Buses, index, b => b.Point == point && b.Channels == channels), () => point);

    /// <summary>True where a point, or both ends of a send, are given by nodes that the plan before had.</summary>
    public bool Has(Point point) => point switch
    {
        SourcePoint source => _kept.Contains(source with { Tap = Tap.AfterChain }),
        MixPoint mix => _kept.Contains(mix with { Tap = Tap.AfterChain }),
        SendPoint send => _kept.Contains(new SourcePoint(send.Source)) && _kept.Contains(new MixPoint(send.Mix)),
        _ => _kept.Contains(point),
    };

    // Most stand where they stood.
    private static T? Find<T>(ImmutableArray<T>? before, int index, Func<T, bool> isIt)
        where T : class =>
        before is not { } nodes ? null : index < nodes.Length && isIt(nodes[index]) ? nodes[index] : nodes.FirstOrDefault(isIt);

    private T? Kept<T>(T? node, Func<Point> point)
        where T : class
    {
        if (node is not null)
        {
            _kept.Add(point());
        }

        return node;
    }
}

using System.Collections.Immutable;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;

namespace Kinetra.Core.Routing;

/// <summary>
/// In which order chains and mixes are computed, so that whatever a processor listens to is there before it. A key that
/// listens to what its own processor makes has no such order: that is a loop.
/// </summary>
public static class KeyOrder
{
    /// <summary>Sources (their chains) and mixes in an order in which each comes after all that it needs; of a loop, null.</summary>
    /// <param name="rig">A rig whose keys exist.</param>
    public static ImmutableArray<ChainPlace>? Of(Rig rig)
    {
        ArgumentNullException.ThrowIfNull(rig);
        ChainPlace[] places = [.. rig.Sources.Select(s => new ChainPlace(s.Id)), .. rig.Mixes.Select(m => new ChainPlace(null, m.Id))];
        var order = ImmutableArray.CreateBuilder<ChainPlace>(places.Length);
        var state = new Dictionary<ChainPlace, bool>();
        return places.All(Visit) ? order.ToImmutable() : null;

        // False while it is being visited: to come by again is to have come round.
        bool Visit(ChainPlace place)
        {
            if (state.TryGetValue(place, out var isDone))
            {
                return isDone;
            }

            state[place] = false;
            if (!Needs(rig, place).All(Visit))
            {
                return false;
            }

            state[place] = true;
            order.Add(place);
            return true;
        }
    }

    /// <summary>What is wrong where a key closes a loop, or null.</summary>
    public static RigProblem? FindLoop(Rig rig)
    {
        ArgumentNullException.ThrowIfNull(rig);
        if (Of(rig) is not null)
        {
            return null;
        }

        foreach (var (place, chain) in rig.Chains)
        {
            foreach (var processor in chain)
            {
                foreach (var key in processor.Keys)
                {
                    var owner = place.Mix is { } mix ? new ChainPlace(null, mix) : place;
                    if (Needed(key) is { } needed && Reaches(rig, needed, owner, []))
                    {
                        return new RigProblem(
                            "keys",
                            $"{ProcessorTypes.Find(processor.Type)?.Name} on {Name(rig, place)} would listen to {Name(rig, new ChainPlace(key.Source, key.Mix))}, in which it sounds itself: a loop.",
                            "a key that does not hear this sound");
                    }
                }
            }
        }

        return new RigProblem("keys", "The keys make a loop.", "keys that do not hear the sound that they act on");
    }

    private static IEnumerable<ChainPlace> Needs(Rig rig, ChainPlace place)
    {
        var keys = (rig.ChainAt(place) ?? []).SelectMany(p => p.Keys).Select(Needed).OfType<ChainPlace>();
        if (place.Mix is not { } id || rig.Find(id) is not { } mix)
        {
            return keys;
        }

        var heard = mix.Sends.Where(s => s.Heard).ToArray();
        return
        [
            .. keys,
            .. heard.Where(s => s.Tap == Tap.AfterChain).Select(s => new ChainPlace(s.Source)),
            .. heard.Select(s => s.Ducker).OfType<Processor>().SelectMany(d => d.Keys).Select(Needed).OfType<ChainPlace>(),
        ];
    }

    // A source before its chain needs nothing of the block.
    private static ChainPlace? Needed(Key key) => key.Mix is { } mix
        ? new ChainPlace(null, mix)
        : key.Tap == Tap.AfterChain ? new ChainPlace(key.Source) : null;

    private static bool Reaches(Rig rig, ChainPlace from, ChainPlace to, HashSet<ChainPlace> seen) =>
        from == to || (seen.Add(from) && Needs(rig, from).Any(next => Reaches(rig, next, to, seen)));

    private static string Name(Rig rig, ChainPlace place) => place switch
    {
        { Source: { } source, Mix: { } mix } => $"{rig.Find(source)?.Name} in {rig.Find(mix)?.Name}",
        { Source: { } source } => rig.Find(source)?.Name ?? source.Value,
        _ => rig.Find(place.Mix!.Value)?.Name ?? "",
    };
}

using System.Collections.Immutable;
using Kinetra.Core.Processors;
using Kinetra.Core.Routing;

namespace Kinetra.Core.Rigs;

/// <summary>What makes the chains of a rig valid.</summary>
public static class ChainRules
{
    /// <summary>The most processors in one chain.</summary>
    public const int MaxProcessors = 16;

    /// <summary>The most keys of one processor.</summary>
    public const int MaxKeys = 8;

    internal static void Check(ImmutableArray<RigProblem>.Builder problems, Rig rig)
    {
        var ids = new HashSet<string>(StringComparer.Ordinal);
        for (var s = 0; s < rig.Sources.Length; s++)
        {
            CheckChain(problems, $"sources[{s}].chain", rig.Sources[s].Chain, ids, rig);
        }

        for (var m = 0; m < rig.Mixes.Length; m++)
        {
            CheckChain(problems, $"mixes[{m}].chain", rig.Mixes[m].Chain, ids, rig);
            for (var s = 0; s < rig.Mixes[m].Sends.Length; s++)
            {
                CheckSend(problems, $"mixes[{m}].sends[{s}]", rig.Mixes[m].Sends[s], ids, rig);
            }
        }

        if (problems.Count == 0 && RunOrder.FindLoop(SoundGraph.Of(rig)) is { } loop)
        {
            problems.Add(loop);
        }
    }

    private static void CheckSend(ImmutableArray<RigProblem>.Builder problems, string where, Send send, HashSet<string> ids, Rig rig)
    {
        if (!Enum.IsDefined(send.Tap))
        {
            problems.Add(new($"{where}.tap", "Unknown tap.", string.Join(", ", Enum.GetNames<Tap>())));
        }

        if (send.Ducker is { } ducker)
        {
            if (ducker.Type != Ducker.Type.Key)
            {
                problems.Add(new($"{where}.ducker.type", "Only a ducker stands on a send.", Ducker.Type.Key));
            }
            else
            {
                CheckProcessor(problems, $"{where}.ducker", ducker, ids, rig);
            }
        }
    }

    private static void CheckChain(
        ImmutableArray<RigProblem>.Builder problems, string where, ImmutableArray<Processor> chain, HashSet<string> ids, Rig rig)
    {
        if (chain.IsDefault)
        {
            problems.Add(new(where, "There is no chain.", "a list of processors, empty for none"));
            return;
        }

        if (chain.Length > MaxProcessors)
        {
            problems.Add(new(where, $"There are {chain.Length} processors.", $"at most {MaxProcessors}"));
        }

        for (var i = 0; i < chain.Length; i++)
        {
            CheckProcessor(problems, $"{where}[{i}]", chain[i], ids, rig);
        }
    }

    private static void CheckProcessor(
        ImmutableArray<RigProblem>.Builder problems, string where, Processor? processor, HashSet<string> ids, Rig rig)
    {
        if (processor is null || ProcessorTypes.Find(processor.Type) is not { } type)
        {
            problems.Add(new($"{where}.type", "Unknown processor.", string.Join(", ", ProcessorTypes.All.Select(t => t.Key))));
            return;
        }

        if (RigRules.CheckId($"{where}.id", processor.Id.Value) is { } problem)
        {
            problems.Add(problem);
        }
        else if (!ids.Add(processor.Id.Value))
        {
            problems.Add(new($"{where}.id", "This id is taken.", "an id that no other processor of the show has"));
        }

        foreach (var (key, value) in processor.Values)
        {
            var index = type.IndexOf(key);
            if (index < 0)
            {
                problems.Add(new($"{where}.values.{key}", $"{type.Name} has no such parameter.", string.Join(", ", type.Parameters.Select(p => p.Key))));
            }
            else if (type.Parameters[index].Check($"{where}.values.{key}", value) is { } wrong)
            {
                problems.Add(wrong);
            }
        }

        CheckKeys(problems, $"{where}.keys", processor, type, rig);
    }

    private static void CheckKeys(ImmutableArray<RigProblem>.Builder problems, string where, Processor processor, ProcessorType type, Rig rig)
    {
        var most = type.KeyUse == KeyUse.None ? 0 : MaxKeys;
        if (processor.Keys.IsDefault || processor.Keys.Length > most)
        {
            problems.Add(new(where, most == 0 ? $"{type.Name} takes no key." : "There are too many keys.", most == 0 ? "none" : $"at most {most}"));
            return;
        }

        for (var i = 0; i < processor.Keys.Length; i++)
        {
            var known = processor.Keys[i] switch
            {
                { Source: { } source, Mix: null } => rig.Find(source) is not null,
                { Source: null, Mix: { } mix } => rig.Find(mix) is not null,
                _ => false,
            };
            if (!known || !Enum.IsDefined(processor.Keys[i].Tap))
            {
                problems.Add(new($"{where}[{i}]", "There is nothing of that id to listen to.", "a source or a mix of the show, not both"));
            }
        }
    }
}

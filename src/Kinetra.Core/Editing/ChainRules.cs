using System.Collections.Immutable;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Editing;

/// <summary>What makes the chains of a rig valid.</summary>
public static class ChainRules
{
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

        if (problems.Count == 0 && FindCircle(rig) is { } circle)
        {
            problems.Add(circle);
        }
    }

    // What a processor listens to must be there before it; a circle through a cable is another matter, and is held.
    private static RigProblem? FindCircle(Rig rig)
    {
        if (rig.Chains.All(c => c.Chain.All(p => p.Keys.IsEmpty)) || RunOrder.FindCircle(Resolve.Of(rig, Computer.Unknown)) is not { } link)
        {
            return null;
        }

        var (place, processor) = rig.Chains.SelectMany(c => c.Chain.Select(p => (c.Place, Processor: p)))
            .FirstOrDefault(p => p.Processor.Keys.Contains(link.From) && (p.Place == link.To || (p.Place is SendPoint send && link.To == new MixPoint(send.Mix, Tap.Raw))));
        return new RigProblem(
            "keys",
            $"{ProcessorTypes.Find(processor?.Type)?.Name} on {rig.NameOf(place ?? link.To)} would listen to {rig.NameOf(link.From)}, in which it sounds itself: a loop.",
            "a key that does not hear this sound");
    }

    private static void CheckSend(ImmutableArray<RigProblem>.Builder problems, string where, Send send, HashSet<string> ids, Rig rig)
    {
        if (send.Tap is not (Tap.AfterChain or Tap.BeforeChain))
        {
            problems.Add(new($"{where}.tap", "A send is not taken there.", $"{Tap.AfterChain}, {Tap.BeforeChain}"));
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

        if (chain.Length > RigLimits.Processors)
        {
            problems.Add(new(where, $"There are {chain.Length} processors.", $"at most {RigLimits.Processors}"));
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

        problems.AddRange(CheckValues(where, processor));
        CheckKeys(problems, $"{where}.keys", processor, type, rig);
    }

    /// <summary>What is wrong with a processor's values; its type is known.</summary>
    /// <param name="where">Its path in a document.</param>
    /// <param name="processor">The processor.</param>
    public static ImmutableArray<RigProblem> CheckValues(string where, Processor processor)
    {
        var type = ProcessorTypes.Find(processor.Type)!;
        var problems = ImmutableArray.CreateBuilder<RigProblem>();
        foreach (var (key, value) in processor.Values)
        {
            var index = type.IndexOf(key);
            if (index < 0)
            {
                problems.Add(new($"{where}.values.{key}", $"{type.Name} has no such parameter.", string.Join(", ", type.Parameters.Select(p => p.Key))));
            }
            else if (!type.Parameters[index].Allows(value))
            {
                var parameter = type.Parameters[index];
                problems.Add(new($"{where}.values.{key}", $"{Parameter.Number(value)} is not allowed for {parameter.Name}.", parameter.Allowed));
            }
        }

        return problems.ToImmutable();
    }

    private static void CheckKeys(ImmutableArray<RigProblem>.Builder problems, string where, Processor processor, ProcessorType type, Rig rig)
    {
        var most = type.KeyUse == KeyUse.None ? 0 : RigLimits.Keys;
        if (processor.Keys.IsDefault || processor.Keys.Length > most)
        {
            problems.Add(new(where, most == 0 ? $"{type.Name} takes no key." : "There are too many keys.", most == 0 ? "none" : $"at most {most}"));
            return;
        }

        for (var i = 0; i < processor.Keys.Length; i++)
        {
            if (processor.Keys[i] is not (SourcePoint { Tap: not Tap.Raw } or MixPoint { Tap: not Tap.Raw }) || !rig.Has(processor.Keys[i]))
            {
                problems.Add(new($"{where}[{i}]", "There is nothing of that id to listen to.", "a source or a mix of the show, before or after its chain") { IsReference = true });
            }
        }
    }
}

using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Editing;

/// <summary>Puts a processor into a chain.</summary>
/// <param name="Place">Whose chain.</param>
/// <param name="Processor">The processor.</param>
/// <param name="Index">Where in the chain; null: last.</param>
public sealed record AddProcessor(Point Place, Processor Processor, int? Index = null) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets => [$"{TargetKeys.Chain(Place)}/{Processor.Id}"];

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig)
    {
        if (rig.ChainAt(Place) is not { } chain)
        {
            return ChainWords.NoPlace(Place);
        }

        if (Place is SendPoint && !chain.IsEmpty)
        {
            return new CommandResult.Refused([new RigProblem("type", "A send has one ducker at most.", "none there before")]);
        }

        var next = rig.With(Place, chain.Insert(Math.Clamp(Index ?? chain.Length, 0, chain.Length), Processor));
        return new CommandResult.Applied(
            next, new RemoveProcessor(Place, Processor.Id), $"Added {ChainWords.Type(Processor)} to {rig.NameOf(Place)}");
    }
}

/// <summary>Takes a processor out of a chain.</summary>
public sealed record RemoveProcessor(Point Place, ProcessorId Id) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets => [$"{TargetKeys.Chain(Place)}/{Id}"];

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig)
    {
        if (ChainWords.Find(rig, Place, Id) is not { } found)
        {
            return ChainWords.NoProcessor(rig, Place, Id);
        }

        var next = rig.With(Place, rig.ChainAt(Place)!.Value.RemoveAt(found.Index));
        return new CommandResult.Applied(
            next, new AddProcessor(Place, found.Processor, found.Index), $"Removed {ChainWords.Type(found.Processor)} from {rig.NameOf(Place)}");
    }
}

/// <summary>Puts a processor in another place of its chain.</summary>
/// <param name="Place">Whose chain.</param>
/// <param name="Id">Which one.</param>
/// <param name="Index">Its place after it, from 0; beyond the last means last.</param>
public sealed record MoveProcessor(Point Place, ProcessorId Id, int Index) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets => [$"{TargetKeys.Chain(Place)}/order"];

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig)
    {
        if (ChainWords.Find(rig, Place, Id) is not { } found)
        {
            return ChainWords.NoProcessor(rig, Place, Id);
        }

        var chain = rig.ChainAt(Place)!.Value;
        var to = Math.Clamp(Index, 0, chain.Length - 1);
        return new CommandResult.Applied(
            rig.With(Place, chain.RemoveAt(found.Index).Insert(to, found.Processor)),
            new MoveProcessor(Place, Id, found.Index),
            $"Moved {ChainWords.Type(found.Processor)} on {rig.NameOf(Place)} from place {found.Index + 1} to {to + 1}",
            found.Index == to);
    }
}

/// <summary>Changes a processor. What is null stays as it is.</summary>
/// <param name="Place">Whose chain.</param>
/// <param name="Id">Which one.</param>
/// <param name="Bypassed">Whether the sound passes it unchanged.</param>
/// <param name="Values">Parameters by their keys; those left out stay as they are.</param>
/// <param name="Keys">What it listens to.</param>
public sealed record SetProcessor(
    Point Place,
    ProcessorId Id,
    bool? Bypassed = null,
    ImmutableSortedDictionary<string, double>? Values = null,
    ImmutableArray<Point>? Keys = null) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets =>
    [
        .. TargetKeys.Of($"{TargetKeys.Chain(Place)}/{Id}", (Bypassed is not null, "bypassed"), (Keys is not null, "keys")),
        .. (Values ?? ImmutableSortedDictionary<string, double>.Empty).Keys.Select(k => $"{TargetKeys.Chain(Place)}/{Id}/values/{k}"),
    ];

    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<LevelEdit>? Levels => Keys is null ? [new LevelEdit(Place, Place, Id)] : null;

    /// <inheritdoc/>
    private protected override ImmutableArray<RigProblem> Check(Rig rig) => Keys is null
        ? ChainRules.CheckValues(ChainWords.WhereIs(rig, Place, Id), ChainWords.Find(rig, Place, Id)!.Value.Processor)
        : base.Check(rig);

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig)
    {
        if (ChainWords.Find(rig, Place, Id) is not { } found)
        {
            return ChainWords.NoProcessor(rig, Place, Id);
        }

        var old = found.Processor;
        var type = ProcessorTypes.Find(old.Type)!;
        var unknown = Values?.Keys.FirstOrDefault(k => type.IndexOf(k) < 0);
        if (unknown is not null)
        {
            return new CommandResult.Refused(
                [new RigProblem($"values.{unknown}", $"{type.Name} has no such parameter.", string.Join(", ", type.Parameters.Select(p => p.Key)))]);
        }

        var before = type.Parameters.Zip(old.ValuesOf(type)).ToImmutableSortedDictionary(p => p.First.Key, p => p.Second);
        var processor = old with
        {
            Bypassed = Bypassed ?? old.Bypassed,
            Values = Values is null ? old.Values : before.SetItems(Values),
            Keys = Keys ?? old.Keys,
        };
        var inverse = new SetProcessor(
            Place,
            Id,
            Bypassed is null ? null : old.Bypassed,
            Values?.ToImmutableSortedDictionary(v => v.Key, v => before[v.Key]),
            Keys is null ? null : old.Keys);
        var parts = ChainWords.Changes(rig, type, old, processor, before);
        return new CommandResult.Applied(
            rig.With(Place, rig.ChainAt(Place)!.Value.SetItem(found.Index, processor)),
            inverse,
            $"{type.Name} on {rig.NameOf(Place)} {(parts.Count == 0 ? "unchanged" : string.Join(", ", parts))}",
            parts.Count == 0);
    }
}

/// <summary>Puts a whole chain in place of another.</summary>
/// <param name="Place">Whose chain.</param>
/// <param name="Chain">The processors, in order.</param>
/// <param name="Name">What the chain is called, for the history; null: nothing.</param>
public sealed record SetChain(Point Place, ImmutableArray<Processor> Chain, string? Name = null) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets => [TargetKeys.Chain(Place)];

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig)
    {
        if (rig.ChainAt(Place) is not { } old)
        {
            return ChainWords.NoPlace(Place);
        }

        var sentence = Chain.IsEmpty
            ? $"Emptied the chain of {rig.NameOf(Place)}"
            : $"{rig.NameOf(Place)} has the chain {Name ?? string.Join(" – ", Chain.Select(ChainWords.Type))}";
        return new CommandResult.Applied(rig.With(Place, Chain), new SetChain(Place, old), sentence, old.IsEmpty && Chain.IsEmpty);
    }
}

/// <summary>What commands on chains say.</summary>
static class ChainWords
{
    public static (Processor Processor, int Index)? Find(Rig rig, Point place, ProcessorId id)
    {
        var chain = rig.ChainAt(place) ?? [];
        for (var i = 0; i < chain.Length; i++)
        {
            if (chain[i].Id == id)
            {
                return (chain[i], i);
            }
        }

        return null;
    }

    /// <summary>The path of a processor in a show's document.</summary>
    public static string WhereIs(Rig rig, Point place, ProcessorId id)
    {
        var index = Find(rig, place, id)?.Index ?? 0;
        return place switch
        {
            SourcePoint source => $"sources[{rig.Sources.IndexOf(rig.Find(source.Id)!)}].chain[{index}]",
            MixPoint mix => $"mixes[{rig.Mixes.IndexOf(rig.Find(mix.Id)!)}].chain[{index}]",
            SendPoint send => $"mixes[{rig.Mixes.IndexOf(rig.Find(send.Mix)!)}].sends[{rig.Sources.IndexOf(rig.Find(send.Source)!)}].ducker",
            _ => place.ToString(),
        };
    }

    public static string Type(Processor processor) => ProcessorTypes.Find(processor.Type)?.Name ?? processor.Type;

    public static CommandResult.Refused NoPlace(Point place) =>
        new([new RigProblem("place", $"There is no place “{place}”.", "a source, a mix, or a source in a mix, of the show")], IsUnknown: true);

    public static CommandResult.Refused NoProcessor(Rig rig, Point place, ProcessorId id) => rig.ChainAt(place) is null
        ? NoPlace(place)
        : new([new RigProblem("processor", $"There is no processor “{id}” on {rig.NameOf(place)}.", "an id that the chain has now")], IsUnknown: true);

    public static List<string> Changes(
        Rig rig, ProcessorType type, Processor old, Processor now, ImmutableSortedDictionary<string, double> before)
    {
        var parts = new List<string>();
        if (old.Bypassed != now.Bypassed)
        {
            parts.Add(now.Bypassed ? "bypassed" : "at work again");
        }

        foreach (var parameter in type.Parameters)
        {
            if (now.Values.TryGetValue(parameter.Key, out var value) && value != before[parameter.Key])
            {
                var word = char.ToLowerInvariant(parameter.Name[0]) + parameter.Name[1..];
                parts.Add($"{(parameter.Name.Length > 1 && char.IsUpper(parameter.Name[1]) ? parameter.Name : word)} {parameter.Format(before[parameter.Key])} → {parameter.Format(value)}");
            }
        }

        if (!old.Keys.SequenceEqual(now.Keys))
        {
            parts.Add(now.Keys.IsEmpty ? "listens to its own sound" : $"listens to {string.Join(", ", now.Keys.Select(rig.NameOf))}");
        }

        return parts;
    }
}

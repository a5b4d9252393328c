using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Kinetra.Core.Planning;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Editing;

/// <summary>Changes a source itself. What is null stays as it is.</summary>
public sealed record SetSource(
    SourceId Source,
    string? Name = null,
    Gain? Trim = null,
    SourceLook? Look = null,
    SourceInput? Input = null,
    bool? Inverted = null,
    bool? Fold = null,
    double? SyncDelay = null,
    SourceKind? Kind = null) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets => TargetKeys.Of(
        $"source/{Source}",
        (Name is not null, "name"),
        (Trim is not null, "trim"),
        (Look is not null, "look"),
        (Input is not null, "input"),
        (Inverted is not null, "inverted"),
        (Fold is not null, "fold"),
        (SyncDelay is not null, "syncDelay"),
        (Kind is not null, "kind"));

    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<LevelEdit>? Levels => Input is not null || Inverted is not null || Fold is not null || SyncDelay is not null
        ? null
        : Trim is null ? [] : [new LevelEdit(new SourcePoint(Source, Tap.Raw), new SourcePoint(Source, Tap.BeforeChain))];

    /// <inheritdoc/>
    private protected override ImmutableArray<RigProblem> Check(Rig rig)
    {
        var source = rig.Find(Source)!;
        return this is { Name: null, Look: null, Input: null, SyncDelay: null, Kind: null }
            ? RigRules.Only(RigRules.CheckGain($"sources[{rig.Sources.IndexOf(source)}].trim", source.Trim))
            : base.Check(rig);
    }

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig)
    {
        if (rig.Find(Source) is not { } old)
        {
            return Unknown("source", $"There is no source “{Source}”.");
        }

        var source = old with
        {
            Name = Name?.Trim() ?? old.Name,
            Trim = Trim ?? old.Trim,
            Look = Look ?? old.Look,
            Input = Input ?? old.Input,
            Inverted = Inverted ?? old.Inverted,
            Fold = Fold ?? old.Fold,
            SyncDelay = SyncDelay ?? old.SyncDelay,
            Kind = Kind ?? old.Kind,
        };
        var inverse = new SetSource(
            Source,
            Name is null ? null : old.Name,
            Trim is null ? null : old.Trim,
            Look is null ? null : old.Look,
            Input is null ? null : old.Input,
            Inverted is null ? null : old.Inverted,
            Fold is null ? null : old.Fold,
            SyncDelay is null ? null : old.SyncDelay,
            Kind is null ? null : old.Kind);
        return new CommandResult.Applied(rig.With(source), inverse, Sentences.Of(old, source), source == old);
    }
}

/// <summary>Adds a source, with its sends.</summary>
/// <param name="Source">The source.</param>
/// <param name="Index">Where among the sources; null: last.</param>
/// <param name="Sends">Its send in each mix by the mix's id; where one is missing, the proposed place is taken.</param>
public sealed record AddSource(Source Source, int? Index = null, ImmutableDictionary<string, Send>? Sends = null) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets => [$"source/{Source.Id}"];

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig)
    {
        var index = Math.Clamp(Index ?? rig.Sources.Length, 0, rig.Sources.Length);
        var added = Source with { Name = Source.Name?.Trim() ?? "" };
        var next = rig with
        {
            Sources = rig.Sources.Insert(index, added),
            Mixes = [.. rig.Mixes.Select(m => m with { Sends = m.Sends.Insert(index, SendIn(m)) })],
        };
        return new CommandResult.Applied(next, new RemoveSource(Source.Id), $"Added {added.Name}");
    }

    private Send SendIn(Mix mix) =>
        (Sends?.GetValueOrDefault(mix.Id.Value) ?? ProposedPlace.Of(Source.Kind, mix.Purpose, Source.Id)) with { Source = Source.Id };
}

/// <summary>Removes a source and its sends.</summary>
public sealed record RemoveSource(SourceId Source) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets => [$"source/{Source}"];

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig)
    {
        if (rig.Find(Source) is not { } old)
        {
            return Unknown("source", $"There is no source “{Source}”.");
        }

        var index = rig.Sources.IndexOf(old);
        var next = rig with
        {
            Sources = rig.Sources.RemoveAt(index),
            Mixes = [.. rig.Mixes.Select(m => m with { Sends = m.Sends.RemoveAt(index) })],
        };
        var sends = rig.Mixes.ToImmutableDictionary(m => m.Id.Value, m => m.Sends[index]);
        var (without, back) = KeysOf.Nobody(next, k => k is SourcePoint point && point.Id == Source);
        var (silent, playAgain) = FeedsOf.Nobody(without, o => o is SourcePoint point && point.Id == Source);
        var (free, promiseAgain) = PromisesOf.Nobody(silent, new SourcePoint(Source));
        var (unplanned, planAgain) = TracksOf.Nobody(free, p => p is SourcePoint point && point.Id == Source);
        return new CommandResult.Applied(unplanned, planAgain(promiseAgain(playAgain(back(new AddSource(old, index, sends))))), $"Removed {old.Name}");
    }
}

/// <summary>Puts a source in another place among the sources; in every lane it gets the same row.</summary>
/// <param name="Source">Which one.</param>
/// <param name="Index">Its place after it, from 0; beyond the last means last.</param>
public sealed record MoveSource(SourceId Source, int Index) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets => ["order/sources"];

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig)
    {
        if (rig.Find(Source) is not { } source)
        {
            return Unknown("source", $"There is no source “{Source}”.");
        }

        var from = rig.Sources.IndexOf(source);
        var to = Math.Clamp(Index, 0, rig.Sources.Length - 1);
        var next = rig with
        {
            Sources = rig.Sources.RemoveAt(from).Insert(to, source),
            Mixes = [.. rig.Mixes.Select(m => m with { Sends = m.Sends.RemoveAt(from).Insert(to, m.Sends[from]) })],
        };
        return new CommandResult.Applied(next, new MoveSource(Source, from), $"Moved {source.Name} from place {from + 1} to {to + 1}", from == to);
    }
}

/// <summary>Keys of something that goes.</summary>
static class KeysOf
{
    /// <summary>The rig without keys of some kind, and what makes of the command that brings the thing back one that brings its keys back too.</summary>
    public static (Rig Rig, Func<RigCommand, RigCommand> Back) Nobody(Rig rig, Predicate<Point> goes)
    {
        var restored = new List<RigCommand>();
        foreach (var (place, chain) in rig.Chains)
        {
            foreach (var processor in chain.Where(p => p.Keys.Any(k => goes(k))))
            {
                restored.Add(new SetProcessor(place, processor.Id, Keys: processor.Keys));
                rig = rig.With(place, rig.ChainAt(place)!.Value.Replace(processor, processor with { Keys = processor.Keys.RemoveAll(goes) }));
            }
        }

        return (rig, command => restored.Count == 0 ? command : new Several([command, .. restored]));
    }
}

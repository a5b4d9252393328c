using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Editing;

/// <summary>Adds a set of pads, with what lies in it.</summary>
/// <param name="Set">The set.</param>
/// <param name="Index">Where among the sets; null: last.</param>
public sealed record AddPadSet(PadSet Set, int? Index = null) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets => [$"padSet/{Set.Id}"];

    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<LevelEdit>? Levels => [];

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig)
    {
        var added = Set with { Name = Set.Name?.Trim() ?? "" };
        return new CommandResult.Applied(
            rig with { PadSets = rig.PadSets.Insert(Math.Clamp(Index ?? rig.PadSets.Length, 0, rig.PadSets.Length), added) },
            new RemovePadSet(Set.Id),
            Set.Pads.IsDefaultOrEmpty ? $"Added the pad set {added.Name}" : $"Added the pad set {added.Name}, {Set.Pads.Length} pads");
    }
}

/// <summary>Removes a set of pads, with what lies in it. What sounds of it fades out.</summary>
/// <param name="Set">Which one.</param>
public sealed record RemovePadSet(PadSetId Set) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets => [$"padSet/{Set}"];

    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<LevelEdit>? Levels => [];

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig) => rig.Find(Set) is { } old
        ? new CommandResult.Applied(rig with { PadSets = rig.PadSets.Remove(old) }, new AddPadSet(old, rig.PadSets.IndexOf(old)), $"Removed the pad set {old.Name}")
        : Unknown("set", $"There is no pad set “{Set}”.");
}

/// <summary>Changes a set of pads itself. What is null stays as it is.</summary>
/// <param name="Set">Which one.</param>
/// <param name="Name">1–60 characters.</param>
/// <param name="Index">Its place among the sets, from 0.</param>
public sealed record SetPadSet(PadSetId Set, string? Name = null, int? Index = null) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets => Index is null ? [$"padSet/{Set}/name"] : TargetKeys.Of($"padSet/{Set}", (Name is not null, "name")).Add("order/padSets");

    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<LevelEdit>? Levels => [];

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig)
    {
        if (rig.Find(Set) is not { } old)
        {
            return Unknown("set", $"There is no pad set “{Set}”.");
        }

        var (set, place) = (old with { Name = Name?.Trim() ?? old.Name }, rig.PadSets.IndexOf(old));
        var others = rig.PadSets.Remove(old);
        return new CommandResult.Applied(
            rig with { PadSets = others.Insert(Math.Clamp(Index ?? place, 0, others.Length), set) },
            new SetPadSet(Set, Name is null ? null : old.Name, Index is null ? null : place),
            set.Name == old.Name ? $"Moved the pad set {old.Name}" : $"Renamed the pad set {old.Name} to {set.Name}",
            set == old && (Index ?? place) == place);
    }
}

/// <summary>Adds a pad to a set.</summary>
/// <param name="Set">Which one.</param>
/// <param name="Pad">The pad.</param>
/// <param name="Index">Where in the set; null: last.</param>
public sealed record AddPad(PadSetId Set, Pad Pad, int? Index = null) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets => [$"pad/{Pad.Id}"];

    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<LevelEdit>? Levels => [];

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig)
    {
        if (rig.Find(Set) is not { } set)
        {
            return Unknown("set", $"There is no pad set “{Set}”.");
        }

        var added = Pad with { Name = Pad.Name?.Trim() ?? "" };
        return new CommandResult.Applied(
            rig.With(set with { Pads = set.Pads.Insert(Math.Clamp(Index ?? set.Pads.Length, 0, set.Pads.Length), added) }),
            new RemovePad(Pad.Id),
            $"Added the pad {added.Name}");
    }
}

/// <summary>Removes a pad. Where it sounds, it fades out.</summary>
/// <param name="Pad">Which one.</param>
public sealed record RemovePad(PadId Pad) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets => [$"pad/{Pad}"];

    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<LevelEdit>? Levels => [];

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig) => rig.Find(Pad) is var (set, old)
        ? new CommandResult.Applied(rig.With(set with { Pads = set.Pads.Remove(old) }), new AddPad(set.Id, old, set.Pads.IndexOf(old)), $"Removed the pad {old.Name}")
        : Unknown("pad", $"There is no pad “{Pad}”.");
}

/// <summary>Puts a pad elsewhere: into another set, or to another place in its own. In another set it loses its key where that is taken there.</summary>
/// <param name="Pad">Which one.</param>
/// <param name="Set">The set in which it lies then.</param>
/// <param name="Index">Its place there, from 0; null: last.</param>
/// <param name="Key">The key on which it lies then; null: the same.</param>
public sealed record MovePad(PadId Pad, PadSetId Set, int? Index = null, string? Key = null) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets => [$"pad/{Pad}/place", $"order/padSet/{Set}"];

    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<LevelEdit>? Levels => [];

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig)
    {
        if (rig.Find(Pad) is not var (home, old))
        {
            return Unknown("pad", $"There is no pad “{Pad}”.");
        }

        var place = home.Pads.IndexOf(old);
        var without = rig.With(home with { Pads = home.Pads.Remove(old) });
        if (without.Find(Set) is not { } to)
        {
            return Unknown("set", $"There is no pad set “{Set}”.");
        }

        var pad = old with { Key = Key ?? old.Key };
        if (Key is null && to.Pads.Any(p => p.Key.Length > 0 && p.Key == pad.Key))
        {
            pad = pad with { Key = "" };
        }

        var at = Math.Clamp(Index ?? to.Pads.Length, 0, to.Pads.Length);
        return new CommandResult.Applied(
            without.With(to with { Pads = to.Pads.Insert(at, pad) }),
            new MovePad(Pad, home.Id, place, old.Key),
            home.Id == Set ? $"Moved the pad {old.Name}" : $"Moved the pad {old.Name} to {to.Name}",
            home.Id == Set && at == place && pad == old);
    }
}

/// <summary>Changes a pad. What is null stays as it is.</summary>
public sealed record SetPad(
    PadId Pad,
    string? Name = null,
    string? Sound = null,
    SourceId? Source = null,
    double? Begin = null,
    double? End = null,
    double? FadeIn = null,
    double? FadeOut = null,
    Gain? Gain = null,
    PadPlay? Play = null,
    string? Key = null,
    string? Group = null,
    double? Dim = null,
    SourceLook? Look = null) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets => TargetKeys.Of(
        $"pad/{Pad}",
        (Name is not null, "name"),
        (Sound is not null, "sound"),
        (Source is not null, "source"),
        (Begin is not null, "begin"),
        (End is not null, "end"),
        (FadeIn is not null, "fadeIn"),
        (FadeOut is not null, "fadeOut"),
        (Gain is not null, "gain"),
        (Play is not null, "play"),
        (Key is not null, "key"),
        (Group is not null, "group"),
        (Dim is not null, "dim"),
        (Look is not null, "look"));

    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<LevelEdit>? Levels => [];

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig)
    {
        if (rig.Find(Pad) is not var (set, old))
        {
            return Unknown("pad", $"There is no pad “{Pad}”.");
        }

        var pad = old with
        {
            Name = Name?.Trim() ?? old.Name,
            Sound = Sound ?? old.Sound,
            Source = Source ?? old.Source,
            Begin = Begin ?? old.Begin,
            End = End ?? old.End,
            FadeIn = FadeIn ?? old.FadeIn,
            FadeOut = FadeOut ?? old.FadeOut,
            Gain = Gain ?? old.Gain,
            Play = Play ?? old.Play,
            Key = Key ?? old.Key,
            Group = Group?.Trim() ?? old.Group,
            Dim = Dim ?? old.Dim,
            Look = Look ?? old.Look,
        };
        var inverse = new SetPad(
            Pad,
            Name is null ? null : old.Name,
            Sound is null ? null : old.Sound,
            Source is null ? null : old.Source,
            Begin is null ? null : old.Begin,
            End is null ? null : old.End,
            FadeIn is null ? null : old.FadeIn,
            FadeOut is null ? null : old.FadeOut,
            Gain is null ? null : old.Gain,
            Play is null ? null : old.Play,
            Key is null ? null : old.Key,
            Group is null ? null : old.Group,
            Dim is null ? null : old.Dim,
            Look is null ? null : old.Look);
        return new CommandResult.Applied(rig.With(set with { Pads = set.Pads.Replace(old, pad) }), inverse, $"Pad {Sentences.Of(old, pad)}", pad == old);
    }
}

using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Editing;

/// <summary>Adds a cue.</summary>
/// <param name="Cue">The cue.</param>
/// <param name="Index">Where in the list; null: last.</param>
public sealed record AddCue(Cue Cue, int? Index = null) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets => [$"cue/{Cue.Id}"];

    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<LevelEdit>? Levels => [];

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig)
    {
        var added = Cue with { Name = Cue.Name?.Trim() ?? "" };
        return new CommandResult.Applied(
            rig with { Cues = rig.Cues.Insert(Math.Clamp(Index ?? rig.Cues.Length, 0, rig.Cues.Length), added) }, new RemoveCue(Cue.Id), $"Added the cue {added.Name}");
    }
}

/// <summary>Removes a cue.</summary>
/// <param name="Cue">Which one.</param>
public sealed record RemoveCue(CueId Cue) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets => [$"cue/{Cue}"];

    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<LevelEdit>? Levels => [];

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig) => CuesOf.Find(rig, Cue) is var (index, old)
        ? new CommandResult.Applied(rig with { Cues = rig.Cues.RemoveAt(index) }, new AddCue(old, index), $"Removed the cue {old.Name}")
        : Unknown("cue", $"There is no cue “{Cue}”.");
}

/// <summary>Changes a cue. What is null stays as it is.</summary>
/// <param name="Cue">Which one.</param>
/// <param name="Name">1–60 characters.</param>
/// <param name="Notes">At most 1000 characters.</param>
/// <param name="Begin">What begins it.</param>
/// <param name="Wait">How long it waits behind that, ms.</param>
/// <param name="Acts">What it does.</param>
/// <param name="Index">Its place in the list, from 0.</param>
public sealed record SetCue(
    CueId Cue, string? Name = null, string? Notes = null, CueBegin? Begin = null, double? Wait = null, ImmutableArray<CueAct>? Acts = null, int? Index = null) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets
    {
        get
        {
            var own = TargetKeys.Of($"cue/{Cue}", (Name is not null, "name"), (Notes is not null, "notes"), (Begin is not null, "begin"), (Wait is not null, "wait"), (Acts is not null, "acts"));
            return Index is null ? own : own.Add("order/cues");
        }
    }

    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<LevelEdit>? Levels => [];

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig)
    {
        if (CuesOf.Find(rig, Cue) is not var (place, old))
        {
            return Unknown("cue", $"There is no cue “{Cue}”.");
        }

        var cue = old with { Name = Name?.Trim() ?? old.Name, Notes = Notes ?? old.Notes, Begin = Begin ?? old.Begin, Wait = Wait ?? old.Wait, Acts = Acts ?? old.Acts };
        var others = rig.Cues.RemoveAt(place);
        var to = Math.Clamp(Index ?? place, 0, others.Length);
        var inverse = new SetCue(
            Cue,
            Name is null ? null : old.Name,
            Notes is null ? null : old.Notes,
            Begin is null ? null : old.Begin,
            Wait is null ? null : old.Wait,
            Acts is null ? null : old.Acts,
            Index is null ? null : place);
        var what = cue.Name != old.Name ? $"Renamed the cue {old.Name} to {cue.Name}" : cue == old ? $"Moved the cue {old.Name}" : $"Changed the cue {old.Name}";
        return new CommandResult.Applied(rig with { Cues = others.Insert(to, cue) }, inverse, what, cue == old && to == place);
    }
}

/// <summary>Finds cues.</summary>
static class CuesOf
{
    /// <summary>A cue and its place, or null.</summary>
    public static (int Index, Cue Cue)? Find(Rig rig, CueId id)
    {
        for (var i = 0; i < rig.Cues.Length; i++)
        {
            if (rig.Cues[i].Id == id)
            {
                return (i, rig.Cues[i]);
            }
        }

        return null;
    }
}

using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Editing;

/// <summary>Adds a planned track.</summary>
/// <param name="Track">The track.</param>
/// <param name="Index">Its place, from 0; null: last.</param>
public sealed record AddTrack(PlannedTrack Track, int? Index = null) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets => [$"track/{Track.Id}"];

    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<LevelEdit>? Levels => [];

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig)
    {
        var added = Track with { Name = Track.Name?.Trim() ?? "" };
        return new CommandResult.Applied(
            rig with { Tracks = rig.Tracks.Insert(Math.Clamp(Index ?? rig.Tracks.Length, 0, rig.Tracks.Length), added) }, new RemoveTrack(Track.Id), $"Planned the track {added.Name}");
    }
}

/// <summary>Takes a track out of the plan.</summary>
/// <param name="Track">Which one.</param>
public sealed record RemoveTrack(TrackId Track) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets => [$"track/{Track}"];

    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<LevelEdit>? Levels => [];

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig) => TracksOf.Find(rig, Track) is var (index, old)
        ? new CommandResult.Applied(rig with { Tracks = rig.Tracks.RemoveAt(index) }, new AddTrack(old, index), $"The track {old.Name} is planned no more")
        : Unknown("track", $"There is no planned track “{Track}”.");
}

/// <summary>Changes a planned track. What is null stays as it is.</summary>
/// <param name="Track">Which one.</param>
/// <param name="Name">1–60 characters.</param>
/// <param name="Takes">What it takes.</param>
/// <param name="Width">How many channels.</param>
/// <param name="Armed">Whether takes have it.</param>
/// <param name="Form">What its file is written as.</param>
/// <param name="FormOfShow">True: what its file is written as is what the show says.</param>
/// <param name="FileName">What its file is called; empty: its place and its name.</param>
/// <param name="Index">Its place in the plan, from 0.</param>
public sealed record SetTrack(
    TrackId Track,
    string? Name = null,
    Point? Takes = null,
    TrackWidth? Width = null,
    bool? Armed = null,
    TakeForm? Form = null,
    bool FormOfShow = false,
    string? FileName = null,
    int? Index = null) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets
    {
        get
        {
            var own = TargetKeys.Of(
                $"track/{Track}", (Name is not null, "name"), (Takes is not null, "takes"), (Width is not null, "width"), (Armed is not null, "armed"), (Form is not null || FormOfShow, "form"), (FileName is not null, "file"));
            return Index is null ? own : own.Add("order/tracks");
        }
    }

    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<LevelEdit>? Levels => [];

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig)
    {
        if (TracksOf.Find(rig, Track) is not var (place, old))
        {
            return Unknown("track", $"There is no planned track “{Track}”.");
        }

        var track = old with
        {
            Name = Name?.Trim() ?? old.Name,
            Takes = Takes ?? old.Takes,
            Width = Width ?? old.Width,
            Armed = Armed ?? old.Armed,
            Form = FormOfShow ? null : Form ?? old.Form,
            FileName = FileName is null ? old.FileName : FileName.Trim() is { Length: > 0 } file ? file : null,
        };
        var others = rig.Tracks.RemoveAt(place);
        var to = Math.Clamp(Index ?? place, 0, others.Length);
        var inverse = new SetTrack(
            Track,
            Name is null ? null : old.Name,
            Takes is null ? null : old.Takes,
            Width is null ? null : old.Width,
            Armed is null ? null : old.Armed,
            Form is null && !FormOfShow ? null : old.Form,
            (Form is not null || FormOfShow) && old.Form is null,
            FileName is null ? null : old.FileName ?? "",
            Index is null ? null : place);
        return new CommandResult.Applied(rig with { Tracks = others.Insert(to, track) }, inverse, Sentence(rig, old, track), track == old && to == place);
    }

    private static string Sentence(Rig rig, PlannedTrack old, PlannedTrack track) => track switch
    {
        _ when track.Name != old.Name => $"Renamed the track {old.Name} to {track.Name}",
        _ when track.Takes != old.Takes => $"The track {track.Name} takes {TrackWords.Of(track.Takes, rig.NameOf)}",
        _ when track.Armed != old.Armed => track.Armed ? $"The track {track.Name} is recorded" : $"The track {track.Name} is left out of takes",
        _ when track == old => $"Moved the track {old.Name}",
        _ => $"Changed the track {old.Name}",
    };
}

/// <summary>Another plan in place of the one that there is.</summary>
/// <param name="Tracks">All tracks, in order; none: a take has every mix and every source.</param>
public sealed record PlanTracks(ImmutableArray<PlannedTrack> Tracks) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets => ["track", "order/tracks"];

    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<LevelEdit>? Levels => [];

    /// <inheritdoc/>
    public bool Equals(PlanTracks? other) => other is not null && Tracks.SequenceEqual(other.Tracks);

    /// <inheritdoc/>
    public override int GetHashCode() => Tracks.Length;

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig) => new CommandResult.Applied(
        rig with { Tracks = Tracks },
        new PlanTracks(rig.Tracks),
        Tracks.IsDefaultOrEmpty ? "No tracks are planned: a take has everything" : $"Planned {Tracks.Length} {(Tracks.Length == 1 ? "track" : "tracks")}",
        !Tracks.IsDefault && Tracks.SequenceEqual(rig.Tracks));
}

/// <summary>What holds for all takes of the show.</summary>
/// <param name="Recording">All of it.</param>
public sealed record SetRecording(Recording Recording) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets => ["recording"];

    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<LevelEdit>? Levels => [];

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig) => new CommandResult.Applied(
        rig with { Recording = Recording }, new SetRecording(rig.Recording), $"Takes are written as {TrackWords.Of(Recording?.Form ?? default)}{(Recording is { Before: > 0 and var before } ? $", and begin {before} s before the press" : "")}", Recording == rig.Recording);
}

/// <summary>Planned tracks, found.</summary>
static class TracksOf
{
    /// <summary>A track and its place, or null.</summary>
    public static (int Index, PlannedTrack Track)? Find(Rig rig, TrackId id)
    {
        for (var i = 0; i < rig.Tracks.Length; i++)
        {
            if (rig.Tracks[i].Id == id)
            {
                return (i, rig.Tracks[i]);
            }
        }

        return null;
    }

    /// <summary>The rig without tracks of a thing that goes, and what makes of the command that brings it back one that brings them back too.</summary>
    public static (Rig Rig, Func<RigCommand, RigCommand> Back) Nobody(Rig rig, Func<Point, bool> isOfIt)
    {
        var gone = rig.Tracks.Select((track, index) => (track, index)).Where(t => isOfIt(t.track.Takes)).ToList();
        return gone.Count == 0
            ? (rig, command => command)
            : (rig with { Tracks = [.. rig.Tracks.Where(t => !isOfIt(t.Takes))] }, command => new Several([command, .. gone.Select(t => new AddTrack(t.track, t.index))]));
    }
}

using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Editing;

/// <summary>Adds a stream to a server.</summary>
/// <param name="Stream">The stream.</param>
/// <param name="Index">Its place, from 0; null: last.</param>
public sealed record AddBroadcast(Broadcast Stream, int? Index = null) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets => [$"stream/{Stream.Id}"];

    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<LevelEdit>? Levels => [];

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig)
    {
        var added = Stream with { Name = Stream.Name?.Trim() ?? "" };
        return new CommandResult.Applied(
            rig with { Streams = rig.Streams.Insert(Math.Clamp(Index ?? rig.Streams.Length, 0, rig.Streams.Length), added) }, new RemoveBroadcast(Stream.Id), $"Added the stream {added.Name}");
    }
}

/// <summary>Removes a stream.</summary>
/// <param name="Stream">Which one.</param>
public sealed record RemoveBroadcast(StreamId Stream) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets => [$"stream/{Stream}"];

    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<LevelEdit>? Levels => [];

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig)
    {
        if (StreamsOf.Find(rig, Stream) is not var (index, old))
        {
            return Unknown("stream", $"There is no stream “{Stream}”.");
        }

        var (free, promiseAgain) = PromisesOf.Nobody(rig with { Streams = rig.Streams.RemoveAt(index) }, p => p is StaysOnAir stays && stays.Stream == Stream);
        return new CommandResult.Applied(free, promiseAgain(new AddBroadcast(old, index)), $"Removed the stream {old.Name}");
    }
}

/// <summary>Changes a stream. What is null stays as it is.</summary>
/// <param name="Stream">Which one.</param>
/// <param name="Name">1–60 characters.</param>
/// <param name="Mix">What it takes.</param>
/// <param name="Server">Where it goes, all of it.</param>
/// <param name="Form">What it is encoded as.</param>
/// <param name="Channels">1 or 2.</param>
/// <param name="Kilobits">kbit/s.</param>
/// <param name="SampleRate">Hz.</param>
/// <param name="Gain">Its own level.</param>
/// <param name="Title">What listeners see that they hear.</param>
/// <param name="Description">What it is about.</param>
/// <param name="IsPublic">Whether the server may list it.</param>
/// <param name="Song">Who says what listeners hear.</param>
public sealed record SetBroadcast(
    StreamId Stream,
    string? Name = null,
    MixId? Mix = null,
    AirServer? Server = null,
    StreamForm? Form = null,
    int? Channels = null,
    int? Kilobits = null,
    int? SampleRate = null,
    Gain? Gain = null,
    string? Title = null,
    string? Description = null,
    bool? IsPublic = null,
    SongTeller? Song = null) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets => TargetKeys.Of(
        $"stream/{Stream}",
        (Name is not null, "name"),
        (Mix is not null, "mix"),
        (Server is not null, "server"),

        // Which of these are possible is one question.
        (Form is not null || Channels is not null || Kilobits is not null || SampleRate is not null, "form"),
        (Gain is not null, "gain"),
        (Title is not null, "title"),
        (Description is not null, "description"),
        (IsPublic is not null, "public"),
        (Song is not null, "song"));

    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<LevelEdit>? Levels => [];

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig)
    {
        if (StreamsOf.Find(rig, Stream) is not var (place, old))
        {
            return Unknown("stream", $"There is no stream “{Stream}”.");
        }

        var now = old with
        {
            Name = Name?.Trim() ?? old.Name,
            Mix = Mix ?? old.Mix,
            Server = Server ?? old.Server,
            Form = Form ?? old.Form,
            Channels = Channels ?? old.Channels,
            Kilobits = Kilobits ?? old.Kilobits,
            SampleRate = SampleRate ?? old.SampleRate,
            Gain = Gain ?? old.Gain,
            Title = Title?.Trim() ?? old.Title,
            Description = Description?.Trim() ?? old.Description,
            IsPublic = IsPublic ?? old.IsPublic,
            SongFrom = Song is null ? old.SongFrom : Song.App,
        };
        var inverse = new SetBroadcast(
            Stream,
            Name is null ? null : old.Name,
            Mix is null ? null : old.Mix,
            Server is null ? null : old.Server,
            Form is null ? null : old.Form,
            Channels is null ? null : old.Channels,
            Kilobits is null ? null : old.Kilobits,
            SampleRate is null ? null : old.SampleRate,
            Gain is null ? null : old.Gain,
            Title is null ? null : old.Title,
            Description is null ? null : old.Description,
            IsPublic is null ? null : old.IsPublic,
            Song is null ? null : new SongTeller(old.SongFrom));
        return new CommandResult.Applied(rig with { Streams = rig.Streams.SetItem(place, now) }, inverse, Sentence(rig, old, now), now == old);
    }

    private static string Sentence(Rig rig, Broadcast old, Broadcast now) => now switch
    {
        _ when now.Name != old.Name => $"Renamed the stream {old.Name} to {now.Name}",
        _ when now.SongFrom != old.SongFrom => now.SongFrom is null ? $"What listeners of {now.Name} read is said by hand" : $"What listeners of {now.Name} read is said by a program",
        _ when now.Mix != old.Mix => $"The stream {now.Name} takes {rig.Find(now.Mix)?.Name ?? now.Mix.Value}",
        _ when now.Gain != old.Gain => $"The level of the stream {now.Name} is {now.Gain}",
        _ => $"Changed the stream {now.Name}",
    };
}

/// <summary>Streams, found.</summary>
static class StreamsOf
{
    /// <summary>A stream and its place, or null.</summary>
    public static (int Index, Broadcast Stream)? Find(Rig rig, StreamId id)
    {
        for (var i = 0; i < rig.Streams.Length; i++)
        {
            if (rig.Streams[i].Id == id)
            {
                return (i, rig.Streams[i]);
            }
        }

        return null;
    }

    /// <summary>The rig without streams of a mix that goes, and what makes of the command that brings it back one that brings them back too.</summary>
    public static (Rig Rig, Func<RigCommand, RigCommand> Back) Nobody(Rig rig, MixId mix)
    {
        var gone = rig.Streams.Select((stream, index) => (stream, index)).Where(s => s.stream.Mix == mix).ToList();
        return gone.Count == 0
            ? (rig, command => command)
            : (rig with { Streams = [.. rig.Streams.Where(s => s.Mix != mix)] }, command => new Several([command, .. gone.Select(s => new AddBroadcast(s.stream, s.index))]));
    }
}

using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Editing;

/// <summary>Adds a cable.</summary>
/// <param name="Cable">The cable.</param>
/// <param name="Index">Where among the cables; null: last.</param>
public sealed record AddCable(Cable Cable, int? Index = null) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets => [$"cable/{Cable.Id}"];

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig)
    {
        var added = Cable with { Name = Cable.Name?.Trim() ?? "" };
        var next = rig with { Cables = rig.Cables.Insert(Math.Clamp(Index ?? rig.Cables.Length, 0, rig.Cables.Length), added) };
        return new CommandResult.Applied(next, new RemoveCable(Cable.Id), $"Added the cable {added.Name}");
    }
}

/// <summary>Removes a cable, and what it played into others. Refused while a source records from it.</summary>
public sealed record RemoveCable(CableId Cable) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets => [$"cable/{Cable}"];

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig)
    {
        if (rig.Find(Cable) is not { } old)
        {
            return CableWords.NoCable(Cable);
        }

        if (rig.Sources.FirstOrDefault(s => s.Input is CableInput input && input.Cable == Cable) is { } reader)
        {
            return new CommandResult.Refused([new RigProblem("cable", $"{reader.Name} records from {old.Name}.", "a cable that no source records from")]);
        }

        var index = rig.Cables.IndexOf(old);
        var (without, back) = FeedsOf.Nobody(rig with { Cables = rig.Cables.RemoveAt(index) }, o => o == new CablePoint(Cable));
        var (free, again) = WishesOf.Nobody(without, new CablePoint(Cable));
        var (unsaid, promiseAgain) = PromisesOf.Nobody(free, new CablePoint(Cable));
        var (unplanned, planAgain) = TracksOf.Nobody(unsaid, p => p == new CablePoint(Cable));
        return new CommandResult.Applied(unplanned, planAgain(promiseAgain(again(back(new AddCable(old, index))))), $"Removed the cable {old.Name}");
    }
}

/// <summary>Changes a cable itself. What is null stays as it is.</summary>
public sealed record SetCable(CableId Cable, string? Name = null, int? Channels = null, int? BufferFrames = null) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets =>
        TargetKeys.Of($"cable/{Cable}", (Name is not null, "name"), (Channels is not null, "channels"), (BufferFrames is not null, "buffer"));

    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<LevelEdit>? Levels => Channels is null && BufferFrames is null ? [] : null;

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig)
    {
        if (rig.Find(Cable) is not { } old)
        {
            return CableWords.NoCable(Cable);
        }

        var cable = old with { Name = Name?.Trim() ?? old.Name, Channels = Channels ?? old.Channels, BufferFrames = BufferFrames ?? old.BufferFrames };
        var inverse = new SetCable(
            Cable, Name is null ? null : old.Name, Channels is null ? null : old.Channels, BufferFrames is null ? null : old.BufferFrames);
        return new CommandResult.Applied(rig.With(cable), inverse, Sentences.Of(old, cable), cable == old);
    }
}

/// <summary>Lets something play into a cable.</summary>
/// <param name="Cable">Which cable.</param>
/// <param name="Feed">What plays, and how.</param>
/// <param name="Index">Where in the cable's list; null: last.</param>
public sealed record AddCableFeed(CableId Cable, CableFeed Feed, int? Index = null) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets => [$"cable/{Cable}/{Feed.From}"];

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig)
    {
        if (rig.Find(Cable) is not { } cable)
        {
            return CableWords.NoCable(Cable);
        }

        var next = cable with { Feeds = cable.Feeds.Insert(Math.Clamp(Index ?? cable.Feeds.Length, 0, cable.Feeds.Length), Feed) };
        return new CommandResult.Applied(
            rig.With(next), new RemoveCableFeed(Cable, Feed.From), $"{rig.NameOf(Feed.From)} plays into {cable.Name}");
    }
}

/// <summary>Lets something no longer play into a cable.</summary>
public sealed record RemoveCableFeed(CableId Cable, Point From) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets => [$"cable/{Cable}/{From}"];

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig)
    {
        if (rig.Find(Cable) is not { } cable)
        {
            return CableWords.NoCable(Cable);
        }

        if (cable.Find(From) is not { } feed)
        {
            return CableWords.NoInlet(cable);
        }

        var next = cable with { Feeds = cable.Feeds.Remove(feed) };
        return new CommandResult.Applied(
            rig.With(next), new AddCableFeed(Cable, feed, cable.Feeds.IndexOf(feed)), $"{rig.NameOf(From)} no longer plays into {cable.Name}");
    }
}

/// <summary>Changes how something plays into a cable. What is null stays as it is.</summary>
public sealed record SetCableFeed(
    CableId Cable, Point From, Gain? Gain = null, bool? On = null, CableChannels? Into = null, bool? LoopAllowed = null) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets => TargetKeys.Of(
        $"cable/{Cable}/{From}", (Gain is not null, "gain"), (On is not null, "on"), (Into is not null, "into"), (LoopAllowed is not null, "loop"));

    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<LevelEdit>? Levels => Into is null && LoopAllowed is null ? [new LevelEdit(From, new CablePoint(Cable))] : null;

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig)
    {
        if (rig.Find(Cable) is not { } cable)
        {
            return CableWords.NoCable(Cable);
        }

        if (cable.Find(From) is not { } old)
        {
            return CableWords.NoInlet(cable);
        }

        var feed = old with { Gain = Gain ?? old.Gain, On = On ?? old.On, Into = Into ?? old.Into, LoopAllowed = LoopAllowed ?? old.LoopAllowed };
        var inverse = new SetCableFeed(
            Cable,
            From,
            Gain is null ? null : old.Gain,
            On is null ? null : old.On,
            Into is null ? null : old.Into,
            LoopAllowed is null ? null : old.LoopAllowed);
        return new CommandResult.Applied(
            rig.With(cable with { Feeds = cable.Feeds.Replace(old, feed) }),
            inverse,
            $"{rig.NameOf(From)} into {cable.Name} {Sentences.Of(old, feed)}",
            feed == old);
    }
}

/// <summary>Words about cables.</summary>
static class CableWords
{
    public static CommandResult.Refused NoCable(CableId id) =>
        new([new RigProblem("cable", $"There is no cable “{id}”.", "an id that the show has now")], IsUnknown: true);

    public static CommandResult.Refused NoInlet(Cable cable) =>
        new([new RigProblem("from", $"That does not play into {cable.Name}.", "something that plays into the cable now")], IsUnknown: true);
}

/// <summary>What plays into cables, of something that goes.</summary>
static class FeedsOf
{
    /// <summary>The rig without feeds of some kind, and what makes of the command that brings the thing back one that brings its feeds back too.</summary>
    public static (Rig Rig, Func<RigCommand, RigCommand> Back) Nobody(Rig rig, Predicate<Point> goes)
    {
        var restored = new List<RigCommand>();
        foreach (var cable in rig.Cables)
        {
            var left = cable.Feeds;
            foreach (var feed in cable.Feeds.Where(f => goes(f.From)))
            {
                restored.Insert(0, new AddCableFeed(cable.Id, feed, left.IndexOf(feed)));
                left = left.Remove(feed);
            }

            if (left.Length < cable.Feeds.Length)
            {
                rig = rig.With(cable with { Feeds = left });
            }
        }

        return (rig, command => restored.Count == 0 ? command : new Several([command, .. restored]));
    }
}

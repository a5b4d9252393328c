using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Editing;

/// <summary>Makes a promise, or another of one that there is.</summary>
/// <param name="Promise">The promise; one of the same id is replaced.</param>
/// <param name="Index">The place of a new one, from 0; null: last.</param>
public sealed record SetPromise(Promise Promise, int? Index = null) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets => [$"promise/{Promise.Id}"];

    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<LevelEdit>? Levels => [];

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig)
    {
        if (rig.Find(Promise.Id) is { } old)
        {
            return new CommandResult.Applied(
                rig with { Promises = rig.Promises.Replace(old, Promise) }, new SetPromise(old), $"Promised instead: {PromiseWords.Of(Promise, rig, rig.NameOf)}", old == Promise);
        }

        var place = Math.Clamp(Index ?? rig.Promises.Length, 0, rig.Promises.Length);
        return new CommandResult.Applied(
            rig with { Promises = rig.Promises.Insert(place, Promise) }, new RemovePromise(Promise.Id), $"Promised: {PromiseWords.Of(Promise, rig, rig.NameOf)}");
    }
}

/// <summary>Takes a promise out of the show.</summary>
/// <param name="Promise">Which one.</param>
public sealed record RemovePromise(PromiseId Promise) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets => [$"promise/{Promise}"];

    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<LevelEdit>? Levels => [];

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig) => rig.Find(Promise) is { } old
        ? new CommandResult.Applied(
            rig with { Promises = rig.Promises.Remove(old) }, new SetPromise(old, rig.Promises.IndexOf(old)), $"No longer promised: {PromiseWords.Of(old, rig, rig.NameOf)}")
        : Unknown("promise", $"There is no promise “{Promise}”.");
}

/// <summary>Accepts something that was found, as it is now, or no longer.</summary>
/// <param name="Key">What the finding stays the same by.</param>
/// <param name="Facts">What is so; null: it is no longer accepted.</param>
public sealed record AcceptFinding(string Key, string? Facts = null) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets => [$"accepted/{Key.Replace('/', '~')}"];

    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<LevelEdit>? Levels => [];

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig)
    {
        var old = rig.Accepted.FirstOrDefault(a => a.Key == Key);
        var others = old is null ? rig.Accepted : rig.Accepted.Remove(old);
        return new CommandResult.Applied(
            // In the order of their keys, so that undo brings back the same list.
            rig with { Accepted = Facts is null ? others : [.. others.Add(new Acceptance(Key, Facts)).OrderBy(a => a.Key, StringComparer.Ordinal)] },
            new AcceptFinding(Key, old?.Facts),
            Facts is null ? "Something found is no longer accepted" : "Accepted something that was found",
            old?.Facts == Facts);
    }
}

/// <summary>Promises about something that goes.</summary>
static class PromisesOf
{
    /// <summary>The rig without promises about a thing, and what makes of the command that brings it back one that brings the promises back too.</summary>
    public static (Rig Rig, Func<RigCommand, RigCommand> Back) Nobody(Rig rig, Point thing) => Nobody(rig, p => p.SpeaksOf(thing));

    /// <summary>The same of those that say something.</summary>
    public static (Rig Rig, Func<RigCommand, RigCommand> Back) Nobody(Rig rig, Func<Promise, bool> says)
    {
        var gone = rig.Promises.Select((promise, index) => (promise, index)).Where(p => says(p.promise)).ToList();
        return gone.Count == 0
            ? (rig, command => command)
            : (rig with { Promises = [.. rig.Promises.Where(p => !says(p))] }, command => new Several([command, .. gone.Select(p => new SetPromise(p.promise, p.index))]));
    }
}

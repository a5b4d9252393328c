using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Editing;

/// <summary>
/// One change that a person makes to a rig: one step of undo. A command knows nothing of the rig it will meet;
/// <see cref="Apply"/> says what becomes of that rig, or why not.
/// </summary>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "type")]
[JsonDerivedType(typeof(SetSend), "setSend")]
[JsonDerivedType(typeof(SetMix), "setMix")]
[JsonDerivedType(typeof(SetSource), "setSource")]
[JsonDerivedType(typeof(AddSource), "addSource")]
[JsonDerivedType(typeof(RemoveSource), "removeSource")]
[JsonDerivedType(typeof(MoveSource), "moveSource")]
[JsonDerivedType(typeof(AddMix), "addMix")]
[JsonDerivedType(typeof(RemoveMix), "removeMix")]
[JsonDerivedType(typeof(MoveMix), "moveMix")]
[JsonDerivedType(typeof(AddProcessor), "addProcessor")]
[JsonDerivedType(typeof(RemoveProcessor), "removeProcessor")]
[JsonDerivedType(typeof(MoveProcessor), "moveProcessor")]
[JsonDerivedType(typeof(SetProcessor), "setProcessor")]
[JsonDerivedType(typeof(SetChain), "setChain")]
[JsonDerivedType(typeof(AddCable), "addCable")]
[JsonDerivedType(typeof(RemoveCable), "removeCable")]
[JsonDerivedType(typeof(SetCable), "setCable")]
[JsonDerivedType(typeof(AddCableFeed), "addCableFeed")]
[JsonDerivedType(typeof(RemoveCableFeed), "removeCableFeed")]
[JsonDerivedType(typeof(SetCableFeed), "setCableFeed")]
[JsonDerivedType(typeof(AddDestination), "addDestination")]
[JsonDerivedType(typeof(RemoveDestination), "removeDestination")]
[JsonDerivedType(typeof(SetDestination), "setDestination")]
[JsonDerivedType(typeof(WishRole), "wishRole")]
[JsonDerivedType(typeof(WishPort), "wishPort")]
[JsonDerivedType(typeof(SetWishes), "setWishes")]
[JsonDerivedType(typeof(SetPromise), "setPromise")]
[JsonDerivedType(typeof(RemovePromise), "removePromise")]
[JsonDerivedType(typeof(AcceptFinding), "acceptFinding")]
[JsonDerivedType(typeof(AddPadSet), "addPadSet")]
[JsonDerivedType(typeof(RemovePadSet), "removePadSet")]
[JsonDerivedType(typeof(SetPadSet), "setPadSet")]
[JsonDerivedType(typeof(AddPad), "addPad")]
[JsonDerivedType(typeof(RemovePad), "removePad")]
[JsonDerivedType(typeof(MovePad), "movePad")]
[JsonDerivedType(typeof(SetPad), "setPad")]
[JsonDerivedType(typeof(AddTrack), "addTrack")]
[JsonDerivedType(typeof(RemoveTrack), "removeTrack")]
[JsonDerivedType(typeof(SetTrack), "setTrack")]
[JsonDerivedType(typeof(PlanTracks), "planTracks")]
[JsonDerivedType(typeof(SetRecording), "setRecording")]
[JsonDerivedType(typeof(AddBroadcast), "addStream")]
[JsonDerivedType(typeof(RemoveBroadcast), "removeStream")]
[JsonDerivedType(typeof(SetBroadcast), "setStream")]
[JsonDerivedType(typeof(AddCue), "addCue")]
[JsonDerivedType(typeof(RemoveCue), "removeCue")]
[JsonDerivedType(typeof(SetCue), "setCue")]
[JsonDerivedType(typeof(Several), "several")]
public abstract record RigCommand
{
    /// <summary>
    /// The values that it sets, as keys: two commands that share none never contradict each other. A key that another begins
    /// with, up to a slash, holds it: removing a source contradicts every change of it.
    /// </summary>
    [JsonIgnore]
    public abstract ImmutableArray<string> Targets { get; }

    /// <summary>Applies it. The rig that comes out is valid, or the command is refused and the rig stays as it was.</summary>
    public CommandResult Apply(Rig rig)
    {
        ArgumentNullException.ThrowIfNull(rig);
        var result = Change(rig);
        if (result is not CommandResult.Applied applied)
        {
            return result;
        }

        var problems = Check(applied.Rig);
        return problems.IsEmpty ? applied : new CommandResult.Refused(problems);
    }

    /// <summary>
    /// The levels that it changes, where it changes levels alone, so that what runs can go on as it is; empty where nothing that sounds
    /// changes, null where more does.
    /// </summary>
    [JsonIgnore]
    public virtual ImmutableArray<LevelEdit>? Levels => null;

    /// <summary>What is wrong with the rig after it. A command that can only make few things wrong looks at those alone.</summary>
    private protected virtual ImmutableArray<RigProblem> Check(Rig rig) => RigRules.Check(rig);

    /// <summary>The change itself; validity of the outcome is checked by <see cref="Apply"/>.</summary>
    protected abstract CommandResult Change(Rig rig);

    private protected static CommandResult.Refused Unknown(string where, string what) =>
        new([new RigProblem(where, what, "an id that the show has now")], IsUnknown: true);
}

/// <summary>A level that a command changes.</summary>
/// <param name="From">Where the link comes from; of a send, the send itself; of a processor, the point that its chain leads to.</param>
/// <param name="To">Where the link goes.</param>
/// <param name="Processor">The processor that is turned; null: the link's own level.</param>
public readonly record struct LevelEdit(Point From, Point To, ProcessorId? Processor = null);

/// <summary>What became of a command.</summary>
public abstract record CommandResult
{
    private CommandResult()
    {
    }

    /// <summary>It was applied.</summary>
    /// <param name="Rig">The rig after it.</param>
    /// <param name="Inverse">The command that takes it back.</param>
    /// <param name="Sentence">What was done, as a person reads it in the history.</param>
    /// <param name="IsNothing">True where all was so already: no step of a history.</param>
    public sealed record Applied(Rig Rig, RigCommand Inverse, string Sentence, bool IsNothing = false) : CommandResult;

    /// <summary>It was refused; nothing changed.</summary>
    /// <param name="Problems">Why, at least one.</param>
    /// <param name="IsUnknown">True where it speaks of something that the rig does not have.</param>
    public sealed record Refused(ImmutableArray<RigProblem> Problems, bool IsUnknown = false) : CommandResult;
}

using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Rigs;

/// <summary>What begins a cue.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<CueBegin>))]
public enum CueBegin
{
    /// <summary>Somebody's hand.</summary>
    ByHand,

    /// <summary>The beginning of the cue before it, and then its own wait.</summary>
    WithPrevious,

    /// <summary>The end of the cue before it, and then its own wait. The end of a cue is that of the longest sound that it plays; one that goes round has none.</summary>
    AfterPrevious,
}

/// <summary>One thing that a cue does.</summary>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "type")]
[JsonDerivedType(typeof(PlayPad), "play")]
[JsonDerivedType(typeof(StopPads), "stop")]
[JsonDerivedType(typeof(TurnPads), "turn")]
[JsonDerivedType(typeof(RecallLevels), "levels")]
[JsonDerivedType(typeof(TurnMusic), "music")]
[JsonDerivedType(typeof(SetMark), "mark")]
public abstract record CueAct;

/// <summary>Presses a pad.</summary>
/// <param name="Pad">Which one. One that is gone plays nothing.</param>
public sealed record PlayPad(PadId Pad) : CueAct;

/// <summary>Ends what sounds of pads.</summary>
/// <param name="Pad">Of which one; null: of all, or of a group.</param>
/// <param name="Group">Of which group; empty: whatever group.</param>
/// <param name="Fade">How long that takes, ms, 0–600000; null: each as its pad says.</param>
public sealed record StopPads(PadId? Pad = null, string Group = "", double? Fade = null) : CueAct;

/// <summary>Gives what sounds of a pad another level: a fade.</summary>
/// <param name="Gain">What stands in place of its gain then.</param>
/// <param name="Over">How long it takes, ms, 0–600000.</param>
/// <param name="Pad">Of which one; null: of all.</param>
public sealed record TurnPads(Gain Gain, double Over = 0, PadId? Pad = null) : CueAct;

/// <summary>What a source's level in one mix is to be.</summary>
/// <param name="Mix">In which mix.</param>
/// <param name="Source">Which source.</param>
/// <param name="Gain">Its gain.</param>
/// <param name="Heard">False: it waits in the dock.</param>
/// <param name="Muted">True: silenced, in its place.</param>
public sealed record CueLevel(MixId Mix, SourceId Source, Gain Gain, bool Heard = true, bool Muted = false);

/// <summary>Recalls levels, as one step of the show.</summary>
/// <param name="Levels">Which: at most <see cref="RigLimits.CueLevels"/>, each send once. Those whose mix or source is gone are left out.</param>
/// <param name="Over">How long it takes until they are heard so, ms, 0–600000.</param>
public sealed record RecallLevels(ImmutableArray<CueLevel> Levels, double Over = 0) : CueAct
{
    /// <inheritdoc/>
    public bool Equals(RecallLevels? other) => other is not null && Over == other.Over && Levels.SequenceEqual(other.Levels);

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(Levels.Length, Over);
}

/// <summary>Begins music, or ends it, for all who may hear it: its sends are muted no more, or are; one that is a sound file begins at its beginning. As one step of the show.</summary>
/// <param name="Source">Which source. One that is gone does nothing.</param>
/// <param name="On">True: it begins.</param>
/// <param name="Over">How long it takes to come in, or to fade out, ms, 0–600000.</param>
public sealed record TurnMusic(SourceId Source, bool On, double Over = 0) : CueAct;

/// <summary>Sets a mark in the take that is being recorded; where none is, nothing.</summary>
/// <param name="Words">At most 60 characters; empty: the cue's name.</param>
public sealed record SetMark(string Words = "") : CueAct;

/// <summary>A moment of a show that follows an order: what happens then.</summary>
public sealed record Cue
{
    /// <summary>Its identity within the show.</summary>
    public required CueId Id { get; init; }

    /// <summary>1–60 characters. Two cues may have the same.</summary>
    public required string Name { get; init; }

    /// <summary>For the person who goes through the list: at most 1000 characters.</summary>
    public string Notes { get; init; } = "";

    /// <summary>What begins it.</summary>
    public CueBegin Begin { get; init; } = CueBegin.ByHand;

    /// <summary>How long it waits behind that, ms, 0–3600000; by hand: not at all.</summary>
    public double Wait { get; init; }

    /// <summary>What it does, in order, all at one frame. At most <see cref="RigLimits.CueActs"/>; none: it is a place to wait at.</summary>
    public ImmutableArray<CueAct> Acts { get; init; } = [];

    /// <inheritdoc/>
    public bool Equals(Cue? other) => other is not null && Id == other.Id && Name == other.Name && Notes == other.Notes && Begin == other.Begin && Wait == other.Wait && Acts.SequenceEqual(other.Acts);

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(Id, Name, Begin, Wait);
}

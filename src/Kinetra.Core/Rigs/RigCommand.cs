using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Kinetra.Core.Planning;

namespace Kinetra.Core.Rigs;

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
public abstract record RigCommand
{
    /// <summary>What it touches, as a key. Two commands on different keys never contradict each other.</summary>
    [JsonIgnore]
    public abstract string Target { get; }

    /// <summary>Applies it. The rig that comes out is valid, or the command is refused and the rig stays as it was.</summary>
    public CommandResult Apply(Rig rig)
    {
        ArgumentNullException.ThrowIfNull(rig);
        var result = Change(rig);
        if (result is not CommandResult.Applied applied)
        {
            return result;
        }

        var problems = RigRules.Check(applied.Rig);
        return problems.IsEmpty ? applied : new CommandResult.Refused(problems);
    }

    /// <summary>The change itself; validity of the outcome is checked by <see cref="Apply"/>.</summary>
    protected abstract CommandResult Change(Rig rig);

    private protected static CommandResult.Refused Unknown(string where, string what) =>
        new([new RigProblem(where, what, "an id that the show has now")], IsUnknown: true);
}

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
    public sealed record Applied(Rig Rig, RigCommand Inverse, string Sentence) : CommandResult;

    /// <summary>It was refused; nothing changed.</summary>
    /// <param name="Problems">Why, at least one.</param>
    /// <param name="IsUnknown">True where it speaks of something that the rig does not have.</param>
    public sealed record Refused(ImmutableArray<RigProblem> Problems, bool IsUnknown = false) : CommandResult;
}

/// <summary>Changes one source's level in one mix. What is null stays as it is.</summary>
public sealed record SetSend(MixId Mix, SourceId Source, Gain? Gain = null, bool? Heard = null, bool? Muted = null, double? Pan = null) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Target => $"send/{Mix}/{Source}";

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig)
    {
        if (rig.Find(Mix) is not { } mix)
        {
            return Unknown("mix", $"There is no mix “{Mix}”.");
        }

        if (rig.Find(Mix, Source) is not { } old || rig.Find(Source) is not { } source)
        {
            return Unknown("source", $"There is no source “{Source}”.");
        }

        var send = old with { Gain = Gain ?? old.Gain, Heard = Heard ?? old.Heard, Muted = Muted ?? old.Muted, Pan = Pan ?? old.Pan };
        var inverse = new SetSend(
            Mix,
            Source,
            Gain is null ? null : old.Gain,
            Heard is null ? null : old.Heard,
            Muted is null ? null : old.Muted,
            Pan is null ? null : old.Pan);
        return new CommandResult.Applied(rig.With(Mix, send), inverse, $"{source.Name} in {mix.Name} {Sentences.Of(old, send)}");
    }
}

/// <summary>Changes a mix itself. What is null stays as it is.</summary>
public sealed record SetMix(MixId Mix, string? Name = null, Gain? Gain = null, double? TargetLufs = null) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Target => $"mix/{Mix}";

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig)
    {
        if (rig.Find(Mix) is not { } old)
        {
            return Unknown("mix", $"There is no mix “{Mix}”.");
        }

        var mix = old with { Name = Name?.Trim() ?? old.Name, Gain = Gain ?? old.Gain, TargetLufs = TargetLufs ?? old.TargetLufs };
        var inverse = new SetMix(Mix, Name is null ? null : old.Name, Gain is null ? null : old.Gain, TargetLufs is null ? null : old.TargetLufs);
        return new CommandResult.Applied(rig.With(mix), inverse, Sentences.Of(old, mix));
    }
}

/// <summary>Changes a source itself. What is null stays as it is.</summary>
public sealed record SetSource(SourceId Source, string? Name = null, Gain? Trim = null, SourceLook? Look = null) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Target => $"source/{Source}";

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig)
    {
        if (rig.Find(Source) is not { } old)
        {
            return Unknown("source", $"There is no source “{Source}”.");
        }

        var source = old with { Name = Name?.Trim() ?? old.Name, Trim = Trim ?? old.Trim, Look = Look ?? old.Look };
        var inverse = new SetSource(Source, Name is null ? null : old.Name, Trim is null ? null : old.Trim, Look is null ? null : old.Look);
        return new CommandResult.Applied(rig.With(source), inverse, Sentences.Of(old, source));
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
    public override string Target => $"source/{Source.Id}";

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
    public override string Target => $"source/{Source}";

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
        return new CommandResult.Applied(next, new AddSource(old, index, sends), $"Removed {old.Name}");
    }
}

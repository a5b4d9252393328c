using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Kinetra.Core.Planning;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Editing;

/// <summary>Changes a mix itself. What is null stays as it is.</summary>
public sealed record SetMix(MixId Mix, string? Name = null, Gain? Gain = null, double? TargetLufs = null) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets =>
        TargetKeys.Of($"mix/{Mix}", (Name is not null, "name"), (Gain is not null, "gain"), (TargetLufs is not null, "target"));

    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<LevelEdit>? Levels => Gain is null ? [] : [new LevelEdit(new MixPoint(Mix, Tap.Raw), new MixPoint(Mix, Tap.BeforeChain))];

    /// <inheritdoc/>
    private protected override ImmutableArray<RigProblem> Check(Rig rig)
    {
        var mix = rig.Find(Mix)!;
        return Name is null && TargetLufs is null ? RigRules.Only(RigRules.CheckGain($"mixes[{rig.Mixes.IndexOf(mix)}].gain", mix.Gain)) : base.Check(rig);
    }

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig)
    {
        if (rig.Find(Mix) is not { } old)
        {
            return Unknown("mix", $"There is no mix “{Mix}”.");
        }

        var mix = old with { Name = Name?.Trim() ?? old.Name, Gain = Gain ?? old.Gain, TargetLufs = TargetLufs ?? old.TargetLufs };
        var inverse = new SetMix(Mix, Name is null ? null : old.Name, Gain is null ? null : old.Gain, TargetLufs is null ? null : old.TargetLufs);
        return new CommandResult.Applied(rig.With(mix), inverse, Sentences.Of(old, mix), mix == old);
    }
}

/// <summary>Adds a mix, with its sends.</summary>
/// <param name="Mix">The mix. Where a source has no send in it, its proposed place is taken; sends of unknown sources are left out.</param>
/// <param name="Index">Where among the mixes; null: last.</param>
public sealed record AddMix(Mix Mix, int? Index = null) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets => [$"mix/{Mix.Id}"];

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig)
    {
        var index = Math.Clamp(Index ?? rig.Mixes.Length, 0, rig.Mixes.Length);
        var given = Mix.Sends.IsDefault ? [] : Mix.Sends;
        var added = Mix with
        {
            Name = Mix.Name?.Trim() ?? "",
            Sends = [.. rig.Sources.Select(s => given.FirstOrDefault(g => g.Source == s.Id) ?? ProposedPlace.Of(s.Kind, Mix.Purpose, s.Id))],
        };
        return new CommandResult.Applied(rig with { Mixes = rig.Mixes.Insert(index, added) }, new RemoveMix(Mix.Id), $"Added {added.Name}");
    }
}

/// <summary>Removes a mix and its sends.</summary>
public sealed record RemoveMix(MixId Mix) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets => [$"mix/{Mix}", $"send/{Mix}"];

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig)
    {
        if (rig.Find(Mix) is not { } old)
        {
            return Unknown("mix", $"There is no mix “{Mix}”.");
        }

        var index = rig.Mixes.IndexOf(old);
        var (without, back) = KeysOf.Nobody(rig with { Mixes = rig.Mixes.RemoveAt(index) }, k => k is MixPoint point && point.Id == Mix);
        var (silent, playAgain) = FeedsOf.Nobody(without, o => o is MixPoint point && point.Id == Mix);
        var (unplanned, planAgain) = TracksOf.Nobody(silent, p => p is MixPoint point && point.Id == Mix);
        var (unsent, sendAgain) = StreamsOf.Nobody(unplanned, Mix);

        // Together, and last: each comes back to its place, when what it is about is there again.
        var streams = rig.Streams.Where(s => s.Mix == Mix).Select(s => s.Id).ToHashSet();
        var (free, promiseAgain) = PromisesOf.Nobody(unsent, p => p.SpeaksOf(new MixPoint(Mix)) || (p is StaysOnAir stays && streams.Contains(stays.Stream)));
        return new CommandResult.Applied(free, promiseAgain(sendAgain(planAgain(playAgain(back(new AddMix(old, index)))))), $"Removed {old.Name}");
    }
}

/// <summary>Puts a mix in another place among the mixes.</summary>
/// <param name="Mix">Which one.</param>
/// <param name="Index">Its place after it, from 0; beyond the last means last.</param>
public sealed record MoveMix(MixId Mix, int Index) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets => ["order/mixes"];

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig)
    {
        if (rig.Find(Mix) is not { } mix)
        {
            return Unknown("mix", $"There is no mix “{Mix}”.");
        }

        var from = rig.Mixes.IndexOf(mix);
        var to = Math.Clamp(Index, 0, rig.Mixes.Length - 1);
        return new CommandResult.Applied(
            rig with { Mixes = rig.Mixes.RemoveAt(from).Insert(to, mix) },
            new MoveMix(Mix, from),
            $"Moved {mix.Name} from place {from + 1} to {to + 1}",
            from == to);
    }
}

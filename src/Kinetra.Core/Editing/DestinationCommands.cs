using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Editing;

/// <summary>Lets a mix go to one more destination.</summary>
/// <param name="Mix">The mix.</param>
/// <param name="Destination">Where, and how.</param>
/// <param name="Index">Where among its destinations; null: last.</param>
public sealed record AddDestination(MixId Mix, Destination Destination, int? Index = null) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets => [$"destination/{Mix}/{Destination.Id}"];

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig)
    {
        if (rig.Find(Mix) is not { } mix)
        {
            return Unknown("mix", $"There is no mix “{Mix}”.");
        }

        var next = mix with { Destinations = mix.Destinations.Insert(Math.Clamp(Index ?? mix.Destinations.Length, 0, mix.Destinations.Length), Destination) };
        return new CommandResult.Applied(rig.With(next), new RemoveDestination(Mix, Destination.Id), $"{mix.Name} goes to {Sentences.NameOf(Destination.End)}");
    }
}

/// <summary>Lets a mix no longer go to a destination.</summary>
public sealed record RemoveDestination(MixId Mix, DestinationId Destination) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets => [$"destination/{Mix}/{Destination}"];

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig)
    {
        if (rig.Find(Mix) is not { } mix || mix.Find(Destination) is not { } old)
        {
            return Unknown("destination", $"There is no destination “{Destination}” of the mix “{Mix}”.");
        }

        return new CommandResult.Applied(
            rig.With(mix with { Destinations = mix.Destinations.Remove(old) }),
            new AddDestination(Mix, old, mix.Destinations.IndexOf(old)),
            $"{mix.Name} no longer goes to {Sentences.NameOf(old.End)}");
    }
}

/// <summary>Changes how a mix goes to a destination. What is null stays as it is.</summary>
public sealed record SetDestination(
    MixId Mix,
    DestinationId Destination,
    Gain? Gain = null,
    bool? On = null,
    CableChannels? Into = null,
    DestinationEnd? End = null,
    bool? LoopAllowed = null) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets => TargetKeys.Of(
        $"destination/{Mix}/{Destination}",
        (Gain is not null, "gain"),
        (On is not null, "on"),
        (Into is not null, "into"),
        (End is not null, "end"),
        (LoopAllowed is not null, "loop"));

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig)
    {
        if (rig.Find(Mix) is not { } mix || mix.Find(Destination) is not { } old)
        {
            return Unknown("destination", $"There is no destination “{Destination}” of the mix “{Mix}”.");
        }

        var next = old with
        {
            Gain = Gain ?? old.Gain,
            On = On ?? old.On,
            Into = Into ?? old.Into,
            End = End ?? old.End,
            LoopAllowed = LoopAllowed ?? old.LoopAllowed,
        };
        var inverse = new SetDestination(
            Mix,
            Destination,
            Gain is null ? null : old.Gain,
            On is null ? null : old.On,
            Into is null ? null : old.Into,
            End is null ? null : old.End,
            LoopAllowed is null ? null : old.LoopAllowed);
        return new CommandResult.Applied(
            rig.With(mix with { Destinations = mix.Destinations.Replace(old, next) }),
            inverse,
            $"{mix.Name} to {Sentences.NameOf(next.End)} {Sentences.Of(old, next)}",
            next == old);
    }
}

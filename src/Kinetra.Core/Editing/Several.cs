using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Kinetra.Core.Rigs;

namespace Kinetra.Core.Editing;

/// <summary>Several commands as one: one step of undo, all or none.</summary>
/// <param name="Commands">At least one, in order.</param>
public sealed record Several(ImmutableArray<RigCommand> Commands) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets => [.. Commands.SelectMany(c => c.Targets).Distinct()];

    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<LevelEdit>? Levels =>
        Commands.All(c => c.Levels is not null) ? [.. Commands.SelectMany(c => c.Levels!.Value)] : null;

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig)
    {
        if (Commands.IsDefaultOrEmpty)
        {
            return new CommandResult.Refused([new RigProblem("commands", "There is no command.", "at least one")]);
        }

        var inverses = new List<RigCommand>();
        var sentences = new List<string>();
        var isNothing = true;
        foreach (var command in Commands)
        {
            var result = command.Apply(rig);
            if (result is not CommandResult.Applied applied)
            {
                return result;
            }

            rig = applied.Rig;
            inverses.Insert(0, applied.Inverse);
            sentences.Add(applied.Sentence);
            isNothing &= applied.IsNothing;
        }

        return new CommandResult.Applied(rig, new Several([.. inverses]), string.Join("; ", sentences), isNothing);
    }
}

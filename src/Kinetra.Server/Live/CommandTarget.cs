using Kinetra.Core.Editing;
using Kinetra.Core.Rigs;

namespace Kinetra.Server.Live;

/// <summary>Whose a command is.</summary>
/// <param name="Connection">The window's connection, whose previews of the same thing end with it; null: nobody's.</param>
/// <param name="By">The window, for the history.</param>
public sealed record Author(string? Connection, StepAuthor By)
{
    /// <summary>Nobody's.</summary>
    public static readonly Author None = new(null, new StepAuthor());
}

/// <summary>What a command is for.</summary>
/// <param name="Show">The show; where another is live, nothing is done.</param>
/// <param name="Revision">The revision that was seen when it was made.</param>
/// <param name="Author">Whose it is.</param>
public sealed record CommandTarget(Guid Show, long Revision, Author Author);

/// <summary>What somebody wants of the rig as it is when it is their turn: a command, or the reason why there is none.</summary>
public sealed record Wish
{
    private Wish(RigCommand? command, CommandResult.Refused? refused) => (Command, Refused) = (command, refused);

    /// <summary>The command, or null.</summary>
    public RigCommand? Command { get; }

    /// <summary>Why there is none, or null.</summary>
    public CommandResult.Refused? Refused { get; }

    /// <summary>A command.</summary>
    public static implicit operator Wish(RigCommand command) => new(command, null);

    /// <summary>The reason why there is none.</summary>
    public static implicit operator Wish(CommandResult.Refused refused) => new(null, refused);

    /// <summary>It breaks a rule.</summary>
    public static Wish Invalid(string where, string what, string allowed) => new CommandResult.Refused([new RigProblem(where, what, allowed)]);

    /// <summary>It speaks of something that is not there.</summary>
    public static Wish Unknown(string where, string what) => new CommandResult.Refused([new RigProblem(where, what, "an id that the show has now")], IsUnknown: true);

    /// <summary>What is wanted of a rig.</summary>
    public delegate Wish Of(Rig rig);
}

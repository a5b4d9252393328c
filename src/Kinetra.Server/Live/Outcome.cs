using Kinetra.Core.Editing;

namespace Kinetra.Server.Live;

/// <summary>What became of a command that was given to the live show.</summary>
public abstract record Outcome
{
    private Outcome()
    {
    }

    /// <summary>It is durable, and heard.</summary>
    public sealed record Done(LiveState State) : Outcome;

    /// <summary>It broke a rule, or speaks of something that is not there.</summary>
    public sealed record Refused(CommandResult.Refused Why) : Outcome;

    /// <summary>It is for a show that does not play.</summary>
    public sealed record NotLive(LiveState State) : Outcome;

    /// <summary>It was made on a revision that the show has not reached.</summary>
    public sealed record Ahead(LiveState State) : Outcome;

    /// <summary>What it changes was changed by somebody else since the revision it was made on.</summary>
    /// <param name="State">What there is now.</param>
    /// <param name="Step">The step that changed it; null: it is so long ago that it is not known.</param>
    /// <param name="Yours">The command.</param>
    public sealed record Stale(LiveState State, Step? Step, RigCommand Yours) : Outcome;

    /// <summary>The step that was to be taken back or done again is not the next one to be.</summary>
    public sealed record Gone(LiveState State) : Outcome;
}

using System.Collections.Immutable;
using Kinetra.Core.Editing;
using Kinetra.Core.Routing;
using Kinetra.Data;

namespace Kinetra.Server.Live;

/// <summary>The live show at one moment.</summary>
/// <param name="Show">The show.</param>
/// <param name="History">How it came to be so.</param>
public sealed record LiveState(StoredShow Show, History History)
{
    /// <summary>Circles that its sound goes round in, as the engine runs it.</summary>
    public ImmutableArray<SoundLoop> Loops { get; init; } = [];
}

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

    /// <summary>What it changes was changed by somebody else since the revision it was made on.</summary>
    /// <param name="State">What there is now.</param>
    /// <param name="Step">The step that changed it.</param>
    public sealed record Stale(LiveState State, Step? Step) : Outcome;

    /// <summary>The step that was to be taken back or done again is not the next one to be.</summary>
    public sealed record Gone(LiveState State) : Outcome;
}

/// <summary>Hears of every change of the live show.</summary>
public interface IShowAudience
{
    /// <summary>The show is another now.</summary>
    /// <param name="state">The show after it.</param>
    /// <param name="step">What was done; null: it was opened, or has another name.</param>
    Task ChangedAsync(LiveState state, Step? step);

    /// <summary>The database has gone, or is back.</summary>
    Task StorageChangedAsync();
}

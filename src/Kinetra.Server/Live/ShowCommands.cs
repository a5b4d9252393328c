using Kinetra.Core.Editing;
using Kinetra.Core.Rigs;

namespace Kinetra.Server.Live;

/// <summary>
/// Commands to the live show, one after the other: looked at in turn against what there is by then, durable before they are
/// acknowledged, heard and told.
/// </summary>
public sealed class ShowCommands(
    Turn turn, LiveShow live, Playing playing, Openings openings, ShowLedger ledger, SourceInlets inlets, IShowAudience audience, LiveGear gear, TimeProvider time)
{
    private bool _inDoubt;

    /// <summary>Applies a command, makes it durable, and lets it be heard.</summary>
    /// <param name="target">What it is for.</param>
    /// <param name="wish">Says in turn what is wanted of the rig as it is by then.</param>
    public Task<Outcome> DoAsync(CommandTarget target, Wish.Of wish)
    {
        ArgumentNullException.ThrowIfNull(wish);
        return InTurnAsync(target, _ => wish(live.Show.Rig) switch
        {
            { Command: { } command } => new Wanted(command, StepKind.Do, null),
            { Refused: var refused } => new Outcome.Refused(refused!),
        });
    }

    /// <summary>Takes back the last step, whoever's it was.</summary>
    /// <param name="target">What it is for.</param>
    /// <param name="step">The revision of the step that is meant; another one is not taken back.</param>
    public Task<Outcome> UndoAsync(CommandTarget target, long step) => InTurnAsync(target, state =>
        Meant(state, state.History.ToUndo, step, StepKind.Undo));

    /// <summary>Does again what was taken back last.</summary>
    /// <param name="target">What it is for.</param>
    /// <param name="step">The revision of the step that took it back; another one is not done again.</param>
    public Task<Outcome> RedoAsync(CommandTarget target, long step) => InTurnAsync(target, state =>
        Meant(state, state.History.ToRedo, step, StepKind.Redo));

    /// <summary>Looks after the storage: notices that the database has gone, and stores what waits once it is back.</summary>
    /// <returns>True where it has changed between away and there.</returns>
    public async Task<bool> TendStorageAsync(CancellationToken cancel)
    {
        if (!ledger.IsAway)
        {
            await ledger.CheckAsync();
            return ledger.IsAway;
        }

        return await turn.TakeAsync(
            async () =>
            {
                try
                {
                    return await ledger.ReturnAsync(cancel);
                }
                catch (InvalidDataException)
                {
                    _inDoubt = true;
                    return true;
                }
            },
            cancel);
    }

    // A command that is to be looked at, or what has become of it already.
    private readonly record struct Found(Wanted? Wanted, Outcome? Outcome)
    {
        public static implicit operator Found(Wanted wanted) => new(wanted, null);

        public static implicit operator Found(Outcome outcome) => new(null, outcome);
    }

    private sealed record Wanted(RigCommand Command, StepKind Kind, Step? Of);

    private static Found Meant(LiveState state, Step? next, long step, StepKind kind) =>
        next?.Revision == step ? new Wanted(next.Inverse, kind, next) : new Outcome.Gone(state);

    private Task<Outcome> InTurnAsync(CommandTarget target, Func<LiveState, Found> find)
    {
        ArgumentNullException.ThrowIfNull(target);
        return turn.TakeAsync(async () =>
        {
            await SettleDoubtAsync();
            var state = live.State;
            if (target.Show != state.Show.Id)
            {
                return new Outcome.NotLive(state);
            }

            if (target.Revision > state.Show.Revision)
            {
                return new Outcome.Ahead(state);
            }

            var found = find(state);
            return found.Wanted is { } wanted ? await TakeStepAsync(state, wanted, target) : found.Outcome!;
        });
    }

    private async Task<Outcome> TakeStepAsync(LiveState state, Wanted wanted, CommandTarget target)
    {
        var (show, command, author) = (state.Show, wanted.Command, target.Author);
        var changed = live.Marks.LastByOthers(command, author.By);
        if (wanted.Kind == StepKind.Do && (changed > target.Revision || live.Marks.IsForgotten(target.Revision)))
        {
            return new Outcome.Stale(state, state.History.Newest.FindLast(s => s.Revision == changed), command);
        }

        var result = command.Apply(show.Rig);
        if (result is CommandResult.Refused refused)
        {
            return new Outcome.Refused(refused);
        }

        var applied = (CommandResult.Applied)result;
        if (applied.IsNothing)
        {
            audience.PreviewsEnded(playing.EndPreviewsOf(author, command));
            return new Outcome.Done(state);
        }

        var step = new Step(
            show.Revision + 1, Now(), wanted.Kind, wanted.Of?.Revision, author.By, Sentence(wanted, applied), command, applied.Inverse);

        // All that can fail comes before the store is asked; once it is, its answer counts, whether or not the caller waits.
        var prepared = await inlets.PrepareAsync(applied.Rig, opening: false, CancellationToken.None);

        // Where the database is not asked, nothing can come of it unheard.
        _inDoubt |= !ledger.IsAway;
        var next = await ledger.AppendAsync(show, step, applied.Rig);
        _inDoubt = false;
        var ended = playing.Become(next, prepared, command, author);
        var now = live.Become(next, step, playing.Plan.Loops);

        gear.ShowChanged(show.Rig, applied.Rig, isNew: wanted.Kind == StepKind.Do);

        // After the step: nobody sees what was there before it in between.
        audience.PreviewsEnded(ended);
        return new Outcome.Done(now);
    }

    // To the microsecond: the database keeps no more.
    private DateTimeOffset Now()
    {
        var now = time.GetUtcNow();
        return now.AddTicks(-(now.Ticks % TimeSpan.TicksPerMicrosecond));
    }

    private static string Sentence(Wanted wanted, CommandResult.Applied applied) => wanted switch
    {
        // A redo's step is the undo; what it takes back again is told by the undo's own sentence.
        { Kind: StepKind.Undo, Of: { } of } => $"Took back: {of.Sentence.Replace("Did again: ", "", StringComparison.Ordinal)}",
        { Kind: StepKind.Redo, Of: { } of } => of.Sentence.Replace("Took back: ", "Did again: ", StringComparison.Ordinal),
        _ => applied.Sentence,
    };

    private async Task SettleDoubtAsync()
    {
        if (!_inDoubt)
        {
            return;
        }

        if (ledger.IsAway)
        {
            // It may hold a step that ours does not: a step put into the journal now might be taken for that one.
            throw new TimeoutException("What the database holds is not known until it answers.");
        }

        await openings.ReloadAsync();
        _inDoubt = false;
    }
}

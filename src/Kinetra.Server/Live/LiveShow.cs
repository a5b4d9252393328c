using System.Collections.Immutable;
using Kinetra.Core.Editing;
using Kinetra.Core.Engine;
using Kinetra.Core.Planning;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Data;

namespace Kinetra.Server.Live;

/// <summary>Whose a command is.</summary>
/// <param name="Connection">The window's connection, whose previews of the same thing end with it; null: nobody's.</param>
/// <param name="By">The window, for the history.</param>
public sealed record Author(string? Connection, StepAuthor By)
{
    /// <summary>Nobody's.</summary>
    public static readonly Author None = new(null, new StepAuthor());
}

/// <summary>
/// The live show: the one owner of its truth. Commands come one after the other; each is durable before it is acknowledged.
/// Previews change what is heard and nothing else.
/// </summary>
public sealed class LiveShow(
    ShowStore store, ShowLedger ledger, SourceInlets inlets, EngineHost host, IShowAudience audience, TimeProvider time) : IDisposable
{
    /// <summary>The most probes at one time.</summary>
    public const int MaxProbes = 8;

    private readonly SemaphoreSlim _turn = new(1);
    private readonly Lock _planning = new();
    private readonly Dictionary<string, (long Revision, string? Window)> _changedAt = [];
    private ImmutableDictionary<(string Connection, string Target), RigCommand> _previews =
        ImmutableDictionary<(string, string), RigCommand>.Empty;

    private ImmutableDictionary<SourceId, IInlet> _probes = ImmutableDictionary<SourceId, IInlet>.Empty;
    private LiveState? _state;
    private bool _inDoubt;
    private EnginePlan? _posted;

    /// <summary>The show and its history as they are now.</summary>
    /// <exception cref="InvalidOperationException">It has not been opened yet.</exception>
    public LiveState State => Volatile.Read(ref _state) ?? throw new InvalidOperationException("The show has not been opened yet.");

    /// <summary>The show as it is now.</summary>
    /// <exception cref="InvalidOperationException">It has not been opened yet.</exception>
    public StoredShow Show => State.Show;

    /// <summary>What the engine was told last: it plays it once what goes has faded out.</summary>
    public EnginePlan Plan => Volatile.Read(ref _posted) ?? throw new InvalidOperationException("The show has not been opened yet.");

    /// <summary>Whether every listener hears silence now.</summary>
    public bool Hushed => host.IsRunning && host.Engine.Hushed;

    /// <summary>Opens the stored live show and starts the engine with it; what waits in the journal is stored first.</summary>
    public async Task StartAsync(CancellationToken cancel)
    {
        try
        {
            if (!await ledger.ReturnAsync(cancel))
            {
                throw new TimeoutException("The database went away again.");
            }
        }
        catch (InvalidDataException)
        {
            // It was set aside, and said so; what is stored counts.
        }

        var show = await store.LoadLiveAsync(cancel);
        var history = await store.HistoryAsync(show.Id, cancel);
        inlets.Use(await inlets.PrepareAsync(show.Rig, opening: true, cancel));
        var plan = EnginePlan.Build(show.Rig, inlets.For, null);
        lock (_planning)
        {
            _posted = plan;
            SetState(new LiveState(show, history) { Loops = plan.Loops });
        }

        host.Start(plan);
    }

    /// <summary>Applies a command, makes it durable, and lets it be heard.</summary>
    /// <param name="command">The command.</param>
    /// <param name="baseRevision">The revision it was made on; null: whatever there is now.</param>
    /// <param name="author">Whose it is.</param>
    public Task<Outcome> DoAsync(RigCommand command, long? baseRevision, Author author)
    {
        ArgumentNullException.ThrowIfNull(command);
        return InTurnAsync(author, state => new Wanted(command, StepKind.Do, null, baseRevision));
    }

    /// <summary>Takes back the last step, whoever's it was.</summary>
    /// <param name="revision">The step that is meant; another one is not taken back. Null: whichever is the last.</param>
    /// <param name="author">Who takes it back.</param>
    public Task<Outcome> UndoAsync(long? revision, Author author) => InTurnAsync(author, state =>
        Meant(state.History.ToUndo, revision) is { } step ? new Wanted(step.Inverse, StepKind.Undo, step, null) : null);

    /// <summary>Does again what was taken back last.</summary>
    /// <param name="revision">The step that took it back; another one is not done again. Null: whichever is the last.</param>
    /// <param name="author">Who does it again.</param>
    public Task<Outcome> RedoAsync(long? revision, Author author) => InTurnAsync(author, state =>
        Meant(state.History.ToRedo, revision) is { } step ? new Wanted(step.Inverse, StepKind.Redo, step, null) : null);

    /// <summary>Makes another stored show the live one, by a crossfade.</summary>
    /// <returns>False: there is no such show.</returns>
    public async Task<bool> SwitchAsync(Guid id, CancellationToken cancel)
    {
        await _turn.WaitAsync(cancel);
        try
        {
            if (await store.FindAsync(id, cancel) is not { } show)
            {
                return false;
            }

            if (show.Id == Show.Id)
            {
                return true;
            }

            var history = await store.HistoryAsync(show.Id, cancel);
            var prepared = await inlets.PrepareAsync(show.Rig, opening: true, cancel);
            await store.MakeLiveAsync(show.Id, cancel);
            lock (_planning)
            {
                var before = Show.Rig;
                _previews = _previews.Clear();
                inlets.Use(prepared);
                var plan = EnginePlan.Build(show.Rig, inlets.For, null, _probes);
                SetState(new LiveState(show, history) { Loops = plan.Loops });
                host.Engine.PostOpening(plan, _posted!, Succession.Of(before, show.Rig));
                _posted = plan;
            }
        }
        finally
        {
            _turn.Release();
        }

        await audience.ChangedAsync(State, null);
        return true;
    }

    /// <summary>The live show has another name now.</summary>
    public async Task RenamedAsync(string name)
    {
        await _turn.WaitAsync();
        try
        {
            lock (_planning)
            {
                SetState(State with { Show = Show with { Name = name } });
            }
        }
        finally
        {
            _turn.Release();
        }

        await audience.ChangedAsync(State, null);
    }

    /// <summary>Looks after the storage: notices that the database has gone, and stores what waits once it is back.</summary>
    /// <returns>True where it has changed between away and there.</returns>
    public async Task<bool> TendStorageAsync(CancellationToken cancel)
    {
        var wasAway = ledger.IsAway;
        if (!wasAway)
        {
            await ledger.CheckAsync();
            return ledger.IsAway;
        }

        await _turn.WaitAsync(cancel);
        try
        {
            return await ledger.ReturnAsync(cancel);
        }
        catch (InvalidDataException)
        {
            _inDoubt = true;
            return true;
        }
        finally
        {
            _turn.Release();
        }
    }

    /// <summary>Lets a change be heard that is not kept. The rules hold for it too.</summary>
    /// <param name="connection">The window's connection: with it, its previews end.</param>
    /// <param name="command">The change, of one value: there is one preview of each, and the stored change of that value ends it.</param>
    /// <returns>What is wrong with it; empty where it is heard now.</returns>
    public ImmutableArray<RigProblem> Preview(string connection, RigCommand command)
    {
        ArgumentNullException.ThrowIfNull(command);
        lock (_planning)
        {
            if (command.Apply(Show.Rig) is CommandResult.Refused refused)
            {
                return refused.Problems;
            }

            _previews = _previews.SetItem((connection, command.Targets.Single()), command);
            Play(command.Levels);
            return [];
        }
    }

    /// <summary>Ends the previews of a connection: all of them, or that of the value that a command sets.</summary>
    public void EndPreviews(string connection, RigCommand? of = null)
    {
        var target = of?.Targets.Single();
        lock (_planning)
        {
            var ended = _previews.Where(p => p.Key.Connection == connection && (target is null || p.Key.Target == target)).ToList();
            if (ended.Count > 0 && _state is not null)
            {
                _previews = _previews.RemoveRange(ended.Select(p => p.Key));
                Play(LevelsOf(ended.Select(p => p.Value)));
            }
        }
    }

    /// <summary>Does once what a drag does, and changes nothing: the first person who drags need not wait until that code is compiled.</summary>
    public void Rehearse()
    {
        const string nobody = "rehearsal";
        if (Show.Rig.Mixes.FirstOrDefault() is { Sends: [var send, ..] } mix)
        {
            Preview(nobody, new SetSend(mix.Id, send.Source, send.Gain));
            EndPreviews(nobody);
        }
    }

    /// <summary>Lets the engine pass on a sound that no mix has, to measure the way; null: no longer.</summary>
    /// <returns>False: there are <see cref="MaxProbes"/> already.</returns>
    public bool Probe(SourceId id, IInlet? inlet)
    {
        lock (_planning)
        {
            if (inlet is not null && _probes.Count >= MaxProbes)
            {
                return false;
            }

            _probes = inlet is null ? _probes.Remove(id) : _probes.SetItem(id, inlet);
            Play(null);
            return true;
        }
    }

    /// <summary>Silences every way out, or lets it sound again. Waits for nothing: no lock, no plan, no fade.</summary>
    public void Hush(bool on) => host.Engine.Hushed = on;

    /// <summary>Begins anew what is measured since a start, of every source and mix.</summary>
    public void MeasureAnew() => host.Engine.PostMeterReset();

    /// <summary>Plays a source from its beginning.</summary>
    public void Restart(SourceId source) => host.Engine.PostRestart(source);

    /// <inheritdoc/>
    public void Dispose() => _turn.Dispose();

    private sealed record Wanted(RigCommand Command, StepKind Kind, Step? Of, long? BaseRevision);

    private static Step? Meant(Step? step, long? revision) => revision is null || step?.Revision == revision ? step : null;

    private async Task<Outcome> InTurnAsync(Author author, Func<LiveState, Wanted?> find)
    {
        await _turn.WaitAsync();
        LiveState next;
        Step step;
        try
        {
            await SettleDoubtAsync();
            var (show, history) = State;
            if (find(State) is not { } wanted)
            {
                return new Outcome.Gone(State);
            }

            var command = wanted.Command;
            if (wanted.BaseRevision is { } made && LastChangeByOthers(command, author.By) is var changed && changed > made)
            {
                return new Outcome.Stale(State, history.Newest.FindLast(s => s.Revision == changed));
            }

            var result = command.Apply(show.Rig);
            if (result is CommandResult.Refused refused)
            {
                return new Outcome.Refused(refused);
            }

            var applied = (CommandResult.Applied)result;
            if (applied.IsNothing)
            {
                EndPreviewsOf(author, command);
                return new Outcome.Done(State);
            }

            step = new Step(
                show.Revision + 1, Now(), wanted.Kind, wanted.Of?.Revision, author.By, Sentence(wanted, applied), command, applied.Inverse);

            // All that can fail comes before the store is asked; once it is, its answer counts, whether or not the caller waits.
            var prepared = await inlets.PrepareAsync(applied.Rig, opening: false, CancellationToken.None);
            // Where the database is not asked, nothing can come of it unheard.
            _inDoubt |= !ledger.IsAway;
            next = new LiveState(await ledger.AppendAsync(show, step, applied.Rig), history.With(step));
            _inDoubt = false;
            lock (_planning)
            {
                var ended = ForgetPreviewsOf(author, command);
                Adopt(next, prepared, LevelsOf([.. ended, command]));
                next = State;
            }
        }
        finally
        {
            _turn.Release();
        }

        await audience.ChangedAsync(next, step);
        return new Outcome.Done(next);
    }

    private void EndPreviewsOf(Author author, RigCommand command)
    {
        lock (_planning)
        {
            Play(LevelsOf(ForgetPreviewsOf(author, command)));
        }
    }

    // Which they were.
    private List<RigCommand> ForgetPreviewsOf(Author author, RigCommand command)
    {
        var ended = _previews.Where(p => p.Key.Connection == author.Connection && command.Targets.Any(t => TargetKeys.Meet(t, p.Key.Target))).ToList();
        _previews = _previews.RemoveRange(ended.Select(p => p.Key));
        return [.. ended.Select(p => p.Value)];
    }

    private static ImmutableArray<LevelEdit>? LevelsOf(IEnumerable<RigCommand> commands) => new Several([.. commands]).Levels;

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

    // A window's own last change of a value is no surprise to it, though its answer may still be under way.
    private long LastChangeByOthers(RigCommand command, StepAuthor author) => _changedAt
        .Where(c => author.Window is null || c.Value.Window != author.Window)
        .Where(c => command.Targets.Any(t => TargetKeys.Meet(t, c.Key)))
        .Select(c => c.Value.Revision).DefaultIfEmpty(0).Max();

    // The stored show may be another than ours: somebody else wrote to it, or the journal was set aside. What is stored counts.
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

        var stored = await store.LoadLiveAsync(CancellationToken.None);
        if (stored.Revision != Show.Revision)
        {
            var history = await store.HistoryAsync(stored.Id, CancellationToken.None);
            var prepared = await inlets.PrepareAsync(stored.Rig, opening: false, CancellationToken.None);
            lock (_planning)
            {
                Adopt(new LiveState(stored, history), prepared, null);
            }

            await audience.ChangedAsync(State, null);
        }

        _inDoubt = false;
    }

    private void Adopt(LiveState state, PreparedInlets prepared, ImmutableArray<LevelEdit>? edits)
    {
        inlets.Use(prepared);
        SetState(state with { Loops = _posted!.Loops });
        Play(edits);
        SetState(State with { Loops = _posted.Loops });
    }

    private void SetState(LiveState state)
    {
        var old = _state;
        Volatile.Write(ref _state, state);
        if (old?.Show.Id != state.Show.Id)
        {
            _changedAt.Clear();
        }

        var since = old?.Show.Id == state.Show.Id ? old.Show.Revision : 0;
        foreach (var step in state.History.Newest.Where(s => s.Revision > since))
        {
            foreach (var target in step.Body.Targets)
            {
                _changedAt[target] = (step.Revision, step.By.Window);
            }
        }
    }

    // Levels alone go to what runs; anything else takes another plan.
    private void Play(ImmutableArray<LevelEdit>? edits)
    {
        var rig = Show.Rig;
        foreach (var preview in _previews.Values)
        {
            if (preview.Apply(rig) is CommandResult.Applied applied)
            {
                rig = applied.Rig;
            }
        }

        if (edits is { } some && ChangesOf(rig, some) is { } changes)
        {
            changes.ForEach(c => host.Engine.Post(c));
            return;
        }

        _posted = EnginePlan.Build(rig, inlets.For, _posted, _probes);
        host.Engine.Post(_posted);
    }

    // Null where one of them takes another plan.
    private List<LevelChange>? ChangesOf(Rig rig, ImmutableArray<LevelEdit> edits)
    {
        var changes = new List<LevelChange>(edits.Length);
        foreach (var (from, to, processor) in edits)
        {
            if ((processor is { } id ? _posted!.Turn(rig, from, id) : _posted!.Level(rig, (from, to))) is not { } change)
            {
                return null;
            }

            changes.Add(change);
        }

        return changes;
    }
}

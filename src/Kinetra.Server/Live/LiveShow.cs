using System.Collections.Immutable;
using Kinetra.Core.Engine;
using Kinetra.Core.Rigs;
using Kinetra.Data;

namespace Kinetra.Server.Live;

/// <summary>What became of a command that was given to the live show.</summary>
public abstract record Outcome
{
    private Outcome()
    {
    }

    /// <summary>It is stored, and heard.</summary>
    public sealed record Done(StoredShow Show) : Outcome;

    /// <summary>It broke a rule, or speaks of something that is not there.</summary>
    public sealed record Refused(CommandResult.Refused Why) : Outcome;

    /// <summary>What it changes was changed by somebody else since the revision it was made on.</summary>
    public sealed record Stale(StoredShow Show) : Outcome;
}

/// <summary>Hears of every change of the live show.</summary>
public interface IShowAudience
{
    /// <summary>A command was stored.</summary>
    /// <param name="show">The show after it.</param>
    Task ChangedAsync(StoredShow show);
}

/// <summary>
/// The live show: the one owner of its truth. Commands come one after the other; each is stored before it is acknowledged.
/// Previews change what is heard and nothing else.
/// </summary>
public sealed class LiveShow(ShowStore store, SourceFeeds feeds, EngineHost host, IShowAudience audience) : IDisposable
{
    private readonly SemaphoreSlim _turn = new(1);
    private readonly Lock _planning = new();
    private readonly Dictionary<string, long> _changedAt = [];
    private ImmutableDictionary<(string Client, string Target), RigCommand> _previews = ImmutableDictionary<(string, string), RigCommand>.Empty;
    private StoredShow? _show;
    private bool _inDoubt;
    private EnginePlan? _posted;

    /// <summary>The show as it is stored now.</summary>
    /// <exception cref="InvalidOperationException">It has not been opened yet.</exception>
    public StoredShow Show => Volatile.Read(ref _show) ?? throw new InvalidOperationException("The show has not been opened yet.");

    /// <summary>Whether every listener hears silence now.</summary>
    public bool Hushed { get; private set; }

    /// <summary>Opens a show and starts the engine with it.</summary>
    public async Task OpenAsync(StoredShow show, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(show);
        feeds.Use(await feeds.PrepareAsync(show.Rig, opening: true, cancel));
        var plan = EnginePlan.Build(show.Rig, feeds.For, null);
        lock (_planning)
        {
            _posted = plan;
            Volatile.Write(ref _show, show);
        }

        host.Start(plan);
    }

    /// <summary>Applies a command, stores it, and lets it be heard.</summary>
    /// <param name="command">The command.</param>
    /// <param name="baseRevision">The revision it was made on; null: whatever there is now.</param>
    /// <param name="client">Whose previews of the same thing it ends; null: nobody's.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task<Outcome> DoAsync(RigCommand command, long? baseRevision, string? client, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(command);
        await _turn.WaitAsync(cancel);
        StoredShow next;
        try
        {
            await SettleDoubtAsync();
            var show = Show;
            if (baseRevision < _changedAt.GetValueOrDefault(command.Target))
            {
                return new Outcome.Stale(show);
            }

            var result = command.Apply(show.Rig);
            if (result is CommandResult.Refused refused)
            {
                return new Outcome.Refused(refused);
            }

            var applied = (CommandResult.Applied)result;

            // All that can fail comes before the store is asked; once it is, its answer counts, whether or not the caller waits.
            var prepared = await feeds.PrepareAsync(applied.Rig, opening: false, CancellationToken.None);
            _inDoubt = true;
            next = await store.AppendAsync(show, command, applied, CancellationToken.None);
            _inDoubt = false;
            _changedAt[command.Target] = next.Revision;
            lock (_planning)
            {
                if (client is not null)
                {
                    _previews = _previews.Remove((client, command.Target));
                }

                Adopt(next, prepared);
            }
        }
        finally
        {
            _turn.Release();
        }

        await audience.ChangedAsync(next);
        return new Outcome.Done(next);
    }

    /// <summary>Lets a change be heard that is not kept. The rules hold for it too.</summary>
    /// <returns>What is wrong with it; empty where it is heard now.</returns>
    public ImmutableArray<RigProblem> Preview(string client, RigCommand command)
    {
        ArgumentNullException.ThrowIfNull(command);
        lock (_planning)
        {
            if (command.Apply(Show.Rig) is CommandResult.Refused refused)
            {
                return refused.Problems;
            }

            _previews = _previews.SetItem((client, command.Target), command);
            PostPlan();
            return [];
        }
    }

    /// <summary>Ends the previews of a client: all of them, or those of one target.</summary>
    public void EndPreviews(string client, string? target = null)
    {
        lock (_planning)
        {
            var kept = _previews.RemoveRange(_previews.Keys.Where(k => k.Client == client && (target is null || k.Target == target)));
            if (kept != _previews && _show is not null)
            {
                _previews = kept;
                PostPlan();
            }
        }
    }

    /// <summary>Silences every mix, or lets them sound again.</summary>
    public void Hush(bool on)
    {
        lock (_planning)
        {
            Hushed = on;
            host.Engine.PostHush(on);
        }
    }

    /// <summary>Plays a source from its beginning.</summary>
    public void Restart(SourceId source) => host.Engine.PostRestart(source);

    /// <inheritdoc/>
    public void Dispose() => _turn.Dispose();

    // A store that failed may have stored all the same, if the connection broke after the commit: what it has now counts.
    private async Task SettleDoubtAsync()
    {
        if (!_inDoubt)
        {
            return;
        }

        var known = Show;
        var stored = await store.LoadLiveAsync(known.Name, () => known.Rig, CancellationToken.None);
        if (stored.Revision != known.Revision)
        {
            var prepared = await feeds.PrepareAsync(stored.Rig, opening: false, CancellationToken.None);
            lock (_planning)
            {
                Adopt(stored, prepared);
            }

            await audience.ChangedAsync(stored);
        }

        _inDoubt = false;
    }

    private void Adopt(StoredShow show, PreparedFeeds prepared)
    {
        feeds.Use(prepared);
        Volatile.Write(ref _show, show);
        PostPlan();
    }

    private void PostPlan()
    {
        var rig = Show.Rig;
        foreach (var preview in _previews.Values)
        {
            if (preview.Apply(rig) is CommandResult.Applied applied)
            {
                rig = applied.Rig;
            }
        }

        _posted = EnginePlan.Build(rig, feeds.For, _posted);
        host.Engine.Post(_posted);
    }
}

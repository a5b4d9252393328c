using Kinetra.Core.Editing;
using Kinetra.Core.Rigs;
using Kinetra.Data;
using Microsoft.EntityFrameworkCore;

namespace Kinetra.Server.Live;

/// <summary>
/// Makes steps durable: in the database, or, while that is away, in the local journal, which is replayed into it when it
/// returns: in order, each once. One caller at a time.
/// </summary>
public sealed partial class ShowLedger(ShowStore store, CommandJournal journal, ILogger<ShowLedger> log)
{
    // A database that takes longer than this to answer counts as away: nobody waits for a fader.
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(2);
    private volatile bool _isAway;
    private volatile int _waiting;

    /// <summary>True while the database is away. Any thread.</summary>
    public bool IsAway => _isAway;

    /// <summary>Steps that wait in the journal. Any thread.</summary>
    public int Waiting => _waiting;

    /// <summary>Makes a step durable.</summary>
    /// <param name="before">The show before it.</param>
    /// <param name="step">The step.</param>
    /// <param name="after">The rig after it.</param>
    /// <returns>The show after it.</returns>
    /// <exception cref="DbUpdateConcurrencyException">The database has another show than the one that plays.</exception>
    /// <exception cref="IOException">The database is away, and the journal cannot be written.</exception>
    public async Task<StoredShow> AppendAsync(StoredShow before, Step step, Rig after)
    {
        ArgumentNullException.ThrowIfNull(before);
        ArgumentNullException.ThrowIfNull(step);
        if (!_isAway)
        {
            try
            {
                using var patience = new CancellationTokenSource(Patience);
                return await store.AppendAsync(before, step, after, patience.Token);
            }
            catch (Exception e) when (DatabaseFaults.IsAway(e))
            {
                // It may have stored the step all the same; the replay sees by its revision.
                GoAway(e);
            }
        }

        journal.Append(new JournalEntry(before.Id, step));
        _waiting++;
        return before with { Revision = step.Revision, Rig = after };
    }

    /// <summary>Notices a database that has gone.</summary>
    public async Task CheckAsync()
    {
        try
        {
            using var patience = new CancellationTokenSource(Patience);
            await store.PingAsync(patience.Token);
        }
        catch (Exception e) when (DatabaseFaults.IsAway(e))
        {
            GoAway(e);
        }
    }

    /// <summary>Stores what waits in the journal. True: all is stored, and the database is there.</summary>
    /// <exception cref="InvalidDataException">The journal does not fit what is stored: it was set aside.</exception>
    public async Task<bool> ReturnAsync(CancellationToken cancel)
    {
        try
        {
            await store.PingAsync(cancel);
            await ReplayAsync(cancel);
            journal.Clear();
            if (_isAway)
            {
                LogReturned(log, _waiting);
            }

            (_isAway, _waiting) = (false, 0);
            return true;
        }
        catch (Exception e) when (DatabaseFaults.IsAway(e) || e is DbUpdateConcurrencyException)
        {
            // Tried again: what was stored meanwhile is seen by its revision.
            return false;
        }
        catch (InvalidDataException e)
        {
            LogAside(log, e.Message, journal.SetAside());
            (_isAway, _waiting) = (false, 0);
            throw;
        }
    }

    private async Task ReplayAsync(CancellationToken cancel)
    {
        var shows = new Dictionary<Guid, StoredShow>();
        foreach (var (id, step, _) in journal.Read())
        {
            if (!shows.TryGetValue(id, out var show))
            {
                show = await store.FindAsync(id, cancel) ?? throw new InvalidDataException($"The journal speaks of a show {id} that is not stored.");
            }

            if (step.Revision > show.Revision)
            {
                if (step.Revision != show.Revision + 1 || step.Body.Apply(show.Rig) is not CommandResult.Applied applied)
                {
                    throw new InvalidDataException($"The journal's step {step.Revision} does not fit the stored show “{show.Name}”, revision {show.Revision}.");
                }

                show = await store.AppendAsync(show, step, applied.Rig, cancel);
            }

            shows[id] = show;
        }
    }

    private void GoAway(Exception because)
    {
        if (!_isAway)
        {
            LogAway(log, because.Message);
            _isAway = true;
        }
    }

    [LoggerMessage(LogLevel.Warning, "The database is away; changes are kept in the local journal. ({Reason})")]
    private static partial void LogAway(ILogger log, string reason);

    [LoggerMessage(LogLevel.Information, "The database is back; {Count} changes were stored from the journal.")]
    private static partial void LogReturned(ILogger log, int count);

    [LoggerMessage(LogLevel.Error, "{Reason} The journal was set aside as {Path}.")]
    private static partial void LogAside(ILogger log, string reason, string path);
}

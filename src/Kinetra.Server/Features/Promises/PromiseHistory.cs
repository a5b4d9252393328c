using System.Collections.Immutable;
using Kinetra.Core.Editing;
using Kinetra.Core.Promises;
using Kinetra.Core.Signal;
using Kinetra.Data;
using Kinetra.Data.Rows;
using Kinetra.Server.Live;

namespace Kinetra.Server.Features.Promises;

/// <summary>
/// When each promise broke and for how long, for after the show. Kept in memory first and stored a moment later, so that nobody waits for a database that is
/// away.
/// </summary>
public sealed partial class PromiseHistory(PromiseBreakStore store, StartState state, ILogger<PromiseHistory> log) : BackgroundService
{
    private static readonly TimeSpan Every = TimeSpan.FromSeconds(1);

    // So many wait for a database at most.
    private const int MostWaiting = 2_000;

    private readonly Lock _changing = new();
    private readonly Dictionary<(Guid Show, PromiseId Promise, bool BySound), PromiseBreakRow> _open = [];
    private readonly OrderedDictionary<Guid, PromiseBreakRow> _waiting = [];
    private readonly SemaphoreSlim _saving = new(1);

    /// <summary>A promise has just broken: which, in words.</summary>
    public event Action<string>? Broke;

    /// <summary>Promises stand so from now on.</summary>
    public void Follow(PromisesNow now, DateTimeOffset at)
    {
        ArgumentNullException.ThrowIfNull(now);
        var (show, s) = (now.Looked.State.Show.Id, now.Looked.Situation);
        var broken = new Dictionary<(Guid, PromiseId, bool), (Standing Standing, Verdict Verdict)>();
        foreach (var standing in now.Standings)
        {
            foreach (var (bySound, verdict) in new[] { (false, standing.Routing), (true, standing.Sound) })
            {
                if (verdict.State == PromiseState.Broken)
                {
                    broken[(show, standing.Promise.Id, bySound)] = (standing, verdict);
                }
            }
        }

        var told = new List<string>();
        lock (_changing)
        {
            foreach (var (key, row) in _open.Where(o => !broken.ContainsKey(o.Key)).ToList())
            {
                row.Ended = at;
                _open.Remove(key);
                Wait(row);
            }

            foreach (var (key, (standing, verdict)) in broken)
            {
                if (!_open.ContainsKey(key))
                {
                    _open[key] = new PromiseBreakRow
                    {
                        Id = Guid.CreateVersion7(),
                        ShowId = show,
                        Promise = standing.Promise.Id.Value,
                        Sentence = PromiseWords.Of(standing.Promise, s.Routed.Wiring.Rig, s.NameInFull),
                        Why = verdict.Why,
                        BySound = key.Item3,
                        Began = at,
                    };
                    Wait(_open[key]);
                    told.Add(_open[key].Sentence);
                }
            }
        }

        told.ForEach(sentence => Broke?.Invoke(sentence));
    }

    /// <summary>The newest of a show, the newest first.</summary>
    public async Task<IReadOnlyList<PromiseBreakRow>> OfAsync(Guid show, CancellationToken cancel)
    {
        await SaveAsync(cancel);
        return await store.OfAsync(show, cancel);
    }

    /// <summary>True for one that goes on now.</summary>
    public bool IsOpen(Guid id)
    {
        lock (_changing)
        {
            return _open.Values.Any(o => o.Id == id);
        }
    }

    /// <inheritdoc/>
    public override async Task StopAsync(CancellationToken cancellationToken)
    {
        await base.StopAsync(cancellationToken);
        try
        {
            await SaveAsync(cancellationToken);
        }
        catch (Exception e) when (e is not OutOfMemoryException)
        {
            LogNotKept(log, e);
        }
    }

    /// <inheritdoc/>
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        await state.Ready.WaitAsync(stoppingToken);
        using var timer = new PeriodicTimer(Every);
        while (await timer.WaitForNextTickAsync(stoppingToken))
        {
            try
            {
                await SaveAsync(stoppingToken);
            }
            catch (Exception e) when (DatabaseFaults.IsAway(e))
            {
                // They wait.
            }
            catch (Exception e) when (e is not OutOfMemoryException and not OperationCanceledException)
            {
                LogNotKept(log, e);
            }
        }
    }

    private void Wait(PromiseBreakRow row)
    {
        _waiting[row.Id] = row;
        if (_waiting.Count > MostWaiting)
        {
            _waiting.RemoveAt(0);
        }
    }

    private async Task SaveAsync(CancellationToken cancel)
    {
        await _saving.WaitAsync(cancel);
        try
        {
            ImmutableArray<PromiseBreakRow> rows;
            lock (_changing)
            {
                rows = [.. _waiting.Values.Select(Copy)];
            }

            if (rows.IsEmpty)
            {
                return;
            }

            await store.SaveAsync(rows, cancel);
            lock (_changing)
            {
                // What has ended meanwhile waits again.
                foreach (var row in rows)
                {
                    if (_waiting.TryGetValue(row.Id, out var waiting) && waiting.Ended == row.Ended)
                    {
                        _waiting.Remove(row.Id);
                    }
                }
            }
        }
        finally
        {
            _saving.Release();
        }
    }

    private static PromiseBreakRow Copy(PromiseBreakRow row) => new()
    {
        Id = row.Id,
        ShowId = row.ShowId,
        Promise = row.Promise,
        Sentence = row.Sentence,
        Why = row.Why,
        BySound = row.BySound,
        Began = row.Began,
        Ended = row.Ended,
    };

    [LoggerMessage(LogLevel.Error, "When promises broke could not be stored.")]
    private static partial void LogNotKept(ILogger log, Exception cause);
}

using Kinetra.Data;
using Kinetra.Gear;
using Kinetra.Server.Hosting;
using Microsoft.EntityFrameworkCore;

namespace Kinetra.Server.Live;

/// <summary>How far the start has got.</summary>
public sealed class StartState
{
    private readonly TaskCompletionSource _ready = new(TaskCreationOptions.RunContinuationsAsynchronously);
    private volatile string? _waitingFor = "The server is starting.";

    /// <summary>What it waits for, in words; null: it is ready.</summary>
    public string? WaitingFor
    {
        get => _waitingFor;
        set
        {
            _waitingFor = value;
            if (value is null)
            {
                _ready.TrySetResult();
            }
        }
    }

    /// <summary>Ends once the server is ready.</summary>
    public Task Ready => _ready.Task;
}

/// <summary>
/// Brings the database up to date, seeds it once, opens the live show and starts the engine. While the database does not
/// answer, it says so and tries again: the page is served meanwhile and waits too.
/// </summary>
public sealed partial class Startup(
    IDbContextFactory<KinetraContext> contexts,
    ShowStore shows,
    Openings openings,
    Playing playing,
    Features.Takes.TakeRecorder recorder,
    Features.Takes.TakeChanges takes,
    PrivateFolder folder,
    Features.Sounds.SoundLibrary sounds,
    Features.Bench.Loops loops,
    FolderOwner owner,
    ServerOptions options,
    StartState state,
    TimeProvider time,
    ILogger<Startup> log) : BackgroundService
{
    private static readonly TimeSpan Pause = TimeSpan.FromSeconds(1);

    /// <inheritdoc/>
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        while (true)
        {
            try
            {
                await StartAsync();
                state.WaitingFor = null;
                return;
            }
            catch (Exception e) when ((DatabaseFaults.IsAway(e) || DatabaseFaults.Refused(e)) && !stoppingToken.IsCancellationRequested)
            {
                var waiting = Waiting(e);
                if (state.WaitingFor != waiting)
                {
                    LogWaiting(log, waiting, e.Message);
                    state.WaitingFor = waiting;
                }
            }
            catch (Exception e) when (!stoppingToken.IsCancellationRequested)
            {
                // Nothing that is stored should lead here. It is tried again: what stands in the way may be taken out of it.
                var stuck = e is NotSupportedException ? e.Message : "The server cannot start; its log says why. It is tried again every second.";
                if (state.WaitingFor != stuck)
                {
                    LogStuck(log, e);
                    state.WaitingFor = stuck;
                }
            }

            await Task.Delay(Pause, time, stoppingToken);
        }

        async Task StartAsync()
        {
            await using (var context = await contexts.CreateDbContextAsync(stoppingToken))
            {
                // Migrating compares the whole model first, which takes seconds of a start at which there is nothing to migrate.
                if ((await context.Database.GetPendingMigrationsAsync(stoppingToken)).Any())
                {
                    await context.Database.MigrateAsync(stoppingToken);
                }

                if (await Databases.EncodingAsync(context, stoppingToken) is var encoding and not "UTF8")
                {
                    throw new NotSupportedException($"The database keeps its texts as {encoding}; allowed: UTF8 (create database … encoding 'UTF8').");
                }
            }

            folder.Ensure();
            await recorder.RecoverAsync(stoppingToken);
            await takes.ForgetOldAsync(stoppingToken);
            if (options.FirstShowsFolder is null && !await shows.IsSeededAsync(stoppingToken))
            {
                foreach (var made in DemoPads.Sounds)
                {
                    await sounds.StoreMadeAsync(made.Name, made.Address, made.File, stoppingToken);
                }
            }

            await shows.SeedAsync(() => FirstShows.Of(options.FirstShowsFolder), stoppingToken);
            foreach (var damaged in await shows.InspectAsync(stoppingToken))
            {
                LogDamaged(log, damaged);
            }

            // Before the engine runs: a start that fails is done again from its beginning.
            if (await owner.IsOwnAsync(stoppingToken))
            {
                await sounds.CollectAsync(stoppingToken);
                await loops.CollectAsync(stoppingToken);
            }

            await loops.RecallAsync(stoppingToken);
            await openings.StartAsync(stoppingToken);
            playing.Rehearse();
        }
    }

    private string Waiting(Exception e) => (DatabaseFaults.Refused(e), options.IsDatabaseGiven) switch
    {
        (true, true) => "The database does not let Kinetra in: its user, its password or its database is another than KINETRA_DATABASE says, or the user may not make what is needed in it. It is tried again every second.",
        (_, true) => "The database that KINETRA_DATABASE names does not answer. It is tried again every second.",
        _ => "The database does not answer. It is tried again every second; ./kinetra run starts it.",
    };

    [LoggerMessage(LogLevel.Warning, "{What} ({Reason})")]
    private static partial void LogWaiting(ILogger log, string what, string reason);

    [LoggerMessage(LogLevel.Error, "The start failed; it is tried again every second.")]
    private static partial void LogStuck(ILogger log, Exception cause);

    [LoggerMessage(LogLevel.Warning, "{What} It is listed as damaged, and stays as it is.")]
    private static partial void LogDamaged(ILogger log, string what);
}

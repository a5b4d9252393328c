using Kinetra.Data;
using Kinetra.Gear;
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
    LiveShow live,
    Features.Takes.TakeRecorder recorder,
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
            catch (Exception e) when (DatabaseFaults.IsAway(e) && !stoppingToken.IsCancellationRequested)
            {
                if (state.WaitingFor != Waiting)
                {
                    LogWaiting(log, Waiting, e.Message);
                    state.WaitingFor = Waiting;
                }
            }
            catch (Exception e) when (e is InvalidDataException or ArgumentException or IOException)
            {
                LogStuck(log, e.Message);
                state.WaitingFor = e.Message;
                return;
            }

            await Task.Delay(Pause, time, stoppingToken);
        }

        async Task StartAsync()
        {
            await using (var context = await contexts.CreateDbContextAsync(stoppingToken))
            {
                await context.Database.MigrateAsync(stoppingToken);
            }

            await recorder.RecoverAsync(stoppingToken);
            await shows.SeedAsync(DemoShows.All, stoppingToken);
            await live.StartAsync(stoppingToken);
            live.Rehearse();
        }
    }

    private const string Waiting = "The database does not answer. It is tried again every second; ./kinetra run starts it.";

    [LoggerMessage(LogLevel.Warning, "{What} ({Reason})")]
    private static partial void LogWaiting(ILogger log, string what, string reason);

    [LoggerMessage(LogLevel.Error, "The show cannot be opened: {Reason}")]
    private static partial void LogStuck(ILogger log, string reason);
}

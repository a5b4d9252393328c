using Kinetra.Server.Features.Takes;

namespace Kinetra.Server.Live;

/// <summary>Looks after the storage once a second: see <see cref="ShowCommands.TendStorageAsync"/>.</summary>
public sealed partial class StorageWatch(
    ShowCommands commands, TakeRecorder recorder, IShowAudience audience, StartState state, TimeProvider time, ILogger<StorageWatch> log) : BackgroundService
{
    private static readonly TimeSpan Every = TimeSpan.FromSeconds(1);

    /// <inheritdoc/>
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        await state.Ready.WaitAsync(stoppingToken);
        using var timer = new PeriodicTimer(Every, time);
        while (await timer.WaitForNextTickAsync(stoppingToken))
        {
            try
            {
                var changed = await commands.TendStorageAsync(stoppingToken);
                await recorder.SaveWaitingAsync(stoppingToken);
                if (changed)
                {
                    audience.StorageChanged();
                }
            }
            catch (Exception e) when (e is not OperationCanceledException)
            {
                LogFailed(log, e.Message);
            }
        }
    }

    [LoggerMessage(LogLevel.Warning, "Looking after the storage failed; it is tried again in a second. ({Reason})")]
    private static partial void LogFailed(ILogger log, string reason);
}

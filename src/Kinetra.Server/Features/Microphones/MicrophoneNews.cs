namespace Kinetra.Server.Features.Microphones;

/// <summary>Hears of microphones that come and go.</summary>
public interface IMicrophoneAudience
{
    /// <summary>How the microphones stand has changed.</summary>
    void MicrophonesChanged();
}

/// <summary>Tells every window when a microphone's state changes; also the changes that nobody announces, such as a stall.</summary>
public sealed partial class MicrophoneNews(MicrophoneReport report, IMicrophoneAudience audience, Live.StartState state, TimeProvider time, ILogger<MicrophoneNews> log) : BackgroundService
{
    private static readonly TimeSpan Every = TimeSpan.FromMilliseconds(400);
    private readonly Lock _lock = new();
    private string _told = "";

    /// <summary>Tells, where there is something new.</summary>
    public async Task TellAsync()
    {
        if (state.WaitingFor is not null)
        {
            return;
        }

        var now = string.Join('|', report.All().Select(m => $"{m.Client} {m.Device} {m.State} {m.Window}"));
        lock (_lock)
        {
            if (now == _told)
            {
                return;
            }

            _told = now;
        }

        audience.MicrophonesChanged();
    }

    /// <inheritdoc/>
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(Every, time);
        while (await timer.WaitForNextTickAsync(stoppingToken))
        {
            try
            {
                await TellAsync();
            }
            catch (Exception e) when (e is not OperationCanceledException)
            {
                // News that cannot be told are told with the next; the show plays on.
                LogFailed(log, e.Message);
            }
        }
    }

    [LoggerMessage(LogLevel.Warning, "The windows could not be told how the microphones stand; it is tried again. ({Reason})")]
    private static partial void LogFailed(ILogger log, string reason);
}

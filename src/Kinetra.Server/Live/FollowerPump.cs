using Kinetra.Server.Hosting;

namespace Kinetra.Server.Live;

/// <summary>On the real clock, has everybody who follows the engine take what it has made, a few times a second. On the stepped clock a step does it.</summary>
public sealed partial class FollowerPump(IEnumerable<IFollower> followers, ServerOptions options, StartState state, ILogger<FollowerPump> log) : BackgroundService
{
    // The rings hold 2.7 s: a slow disk may stall for that long before anything is lost.
    private static readonly TimeSpan Every = TimeSpan.FromMilliseconds(50);

    /// <inheritdoc/>
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        if (options.Clock == ClockKind.Stepped)
        {
            return;
        }

        await state.Ready.WaitAsync(stoppingToken);
        var failed = new HashSet<IFollower>();
        using var timer = new PeriodicTimer(Every);
        while (await timer.WaitForNextTickAsync(stoppingToken))
        {
            foreach (var follower in followers)
            {
                try
                {
                    follower.CatchUp();
                }
                catch (Exception e) when (e is not OutOfMemoryException)
                {
                    // One that nobody foresaw ends neither the others nor the server; said once.
                    if (failed.Add(follower))
                    {
                        LogFailed(log, e, follower.GetType().Name);
                    }
                }
            }
        }
    }

    [LoggerMessage(LogLevel.Error, "{Follower} failed to take what the engine made; it is tried again.")]
    private static partial void LogFailed(ILogger log, Exception cause, string follower);
}

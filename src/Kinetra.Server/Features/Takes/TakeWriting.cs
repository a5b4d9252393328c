using Kinetra.Server.Hosting;

namespace Kinetra.Server.Features.Takes;

/// <summary>
/// On the real clock, has the recorder write what the engine has made, a few times a second; on either, ends the take that
/// is being recorded when the server stops.
/// </summary>
sealed class TakeWriting(TakeRecorder recorder, TakeFiles files, ServerOptions options) : BackgroundService
{
    // The rings hold 2.7 s: a slow disk may stall for that long before anything is lost.
    private static readonly TimeSpan Every = TimeSpan.FromMilliseconds(50);

    public override Task StartAsync(CancellationToken cancellationToken)
    {
        files.Collect();
        return base.StartAsync(cancellationToken);
    }

    public override async Task StopAsync(CancellationToken cancellationToken)
    {
        await base.StopAsync(cancellationToken);
        await recorder.InterruptAsync(cancellationToken);
    }

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        if (options.Clock == ClockKind.Stepped)
        {
            return;
        }

        using var timer = new PeriodicTimer(Every);
        while (await timer.WaitForNextTickAsync(stoppingToken))
        {
            recorder.CatchUp();
        }
    }
}

namespace Kinetra.Server.Features.Takes;

/// <summary>Empties the folder of exports at the start, and ends the take that is being recorded when the server stops.</summary>
sealed class TakeWriting(TakeRecorder recorder, TakeFiles files) : IHostedService
{
    public Task StartAsync(CancellationToken cancellationToken)
    {
        files.Collect();
        return Task.CompletedTask;
    }

    public Task StopAsync(CancellationToken cancellationToken) => recorder.InterruptAsync(cancellationToken);
}

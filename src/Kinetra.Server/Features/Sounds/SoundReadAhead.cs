namespace Kinetra.Server.Features.Sounds;

/// <summary>Has what is played next of each sound file read from the disk before the engine comes to it.</summary>
sealed partial class SoundReadAhead(SoundLibrary sounds, ILogger<SoundReadAhead> log) : BackgroundService
{
    private static readonly TimeSpan Every = TimeSpan.FromMilliseconds(200);

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        var told = new HashSet<string>();
        using var timer = new PeriodicTimer(Every);
        while (await timer.WaitForNextTickAsync(stoppingToken))
        {
            foreach (var failed in sounds.ReadAhead().Where(told.Add))
            {
                LogFailed(log, failed);
            }
        }
    }

    [LoggerMessage(LogLevel.Error, "The stored sound {Sound} cannot be read: where it is played there is silence. The rest plays on.")]
    private static partial void LogFailed(ILogger log, string sound);
}

namespace Kinetra.Server.Features.Hands;

/// <summary>
/// A way for hands that somebody opens and closes while the server runs: it is opened at the start where it was open, and closed at the end. Whatever is wrong with it, the rest of the server goes on.
/// </summary>
public abstract partial class OpenedWay(IHandAudience audience, ILogger log) : BackgroundService
{
    private readonly SemaphoreSlim _changing = new(1);

    /// <summary>Hears when it is another.</summary>
    protected IHandAudience Audience => audience;

    /// <summary>Why it cannot be reached although it should be; null: it can, or should not.</summary>
    public string? Problem { get; private set; }

    /// <summary>Closes it, and opens it where the settings say so.</summary>
    public async Task ApplyAsync()
    {
        await _changing.WaitAsync();
        try
        {
            await CloseAsync();
            Problem = await OpenAsync();
        }
        catch (Exception e) when (e is not OutOfMemoryException)
        {
            LogFailed(log, e, GetType().Name);
            Problem = $"It cannot be opened: {e.Message}";
        }
        finally
        {
            _changing.Release();
            audience.HandsChanged();
        }
    }

    /// <inheritdoc/>
    public override void Dispose()
    {
        _changing.Dispose();
        base.Dispose();
        GC.SuppressFinalize(this);
    }

    /// <summary>Opens it, where the settings say so.</summary>
    /// <returns>Why it cannot be opened; null: it is, or should not be.</returns>
    protected abstract Task<string?> OpenAsync();

    /// <summary>Closes it, where it is open.</summary>
    protected abstract Task CloseAsync();

    /// <inheritdoc/>
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        await ApplyAsync();
        try
        {
            await Task.Delay(Timeout.InfiniteTimeSpan, stoppingToken);
        }
        catch (OperationCanceledException)
        {
            await _changing.WaitAsync(CancellationToken.None);
            await CloseAsync();
            _changing.Release();
        }
    }

    [LoggerMessage(LogLevel.Error, "{Way} cannot be opened")]
    private static partial void LogFailed(ILogger log, Exception cause, string way);
}

namespace Kinetra.Server.Live;

/// <summary>The live show's turn: whoever changes it, or decides by what it is, does so one after the other.</summary>
public sealed class Turn : IDisposable
{
    private readonly SemaphoreSlim _turn = new(1);

    /// <summary>Does it once everybody before is done.</summary>
    /// <param name="work">What is done; it must not take a turn itself.</param>
    /// <param name="cancel">Gives up waiting; work that has begun gets its own.</param>
    public async Task<T> TakeAsync<T>(Func<Task<T>> work, CancellationToken cancel = default)
    {
        ArgumentNullException.ThrowIfNull(work);
        await _turn.WaitAsync(cancel);
        try
        {
            return await work();
        }
        finally
        {
            _turn.Release();
        }
    }

    /// <inheritdoc/>
    public void Dispose() => _turn.Dispose();
}

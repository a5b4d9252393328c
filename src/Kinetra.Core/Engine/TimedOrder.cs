namespace Kinetra.Core.Engine;

/// <summary>
/// What is to be done at a frame, told ahead of it. Made by whoever asks for it, so that whoever carries it out allocates nothing; orders of one frame are carried out as they were given.
/// </summary>
/// <param name="frame">The engine's frame; what is past already: at the next block.</param>
public abstract class TimedOrder(long frame)
{
    private volatile bool _isCancelled;

    /// <summary>The engine's frame.</summary>
    public long Frame { get; } = frame;

    /// <summary>True: it is not carried out, since it was taken back before its frame.</summary>
    public bool IsCancelled => _isCancelled;

    /// <summary>Takes it back. One that was carried out already stays so. Any thread.</summary>
    public void Cancel() => _isCancelled = true;
}

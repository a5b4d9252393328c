namespace Kinetra.Core.Signal;

/// <summary>
/// What gives a source its samples. Called by the engine thread once a block: it must not allocate, lock, wait or throw.
/// </summary>
public interface IInlet
{
    /// <summary>1 or 2.</summary>
    int Channels { get; }

    /// <summary>
    /// True: the sound begins with the source itself, at its own first sample, and is passed on from there unfaded.
    /// False: it is under way already, so a new source fades in.
    /// </summary>
    bool BeginsWithSource { get; }

    /// <summary>Fills the next block; both spans have the same length. A mono inlet leaves <paramref name="right"/> alone.</summary>
    /// <param name="frame">The engine frame that the block begins with.</param>
    /// <param name="left">Left, or the only channel.</param>
    /// <param name="right">Right.</param>
    void Read(long frame, Span<float> left, Span<float> right);

    /// <summary>Starts over from the beginning, without a click. An inlet that has no beginning does nothing.</summary>
    void Restart();
}

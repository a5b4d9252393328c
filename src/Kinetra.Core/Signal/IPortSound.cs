namespace Kinetra.Core.Signal;

/// <summary>
/// What a device or a program of the computer does at one of its points: it adds what it captures or plays itself, or changes what comes to it.
/// Called by the engine thread once a block, while a show is opened twice, for both: it must not allocate, lock or wait. One that throws is
/// silent from then on.
/// </summary>
public interface IPortSound
{
    /// <summary>Does it, in place.</summary>
    /// <param name="frame">The engine frame that the block begins with.</param>
    /// <param name="block">By channel: what came to the point; afterwards what the point gives. Each <see cref="AudioFormat.BlockFrames"/> long.</param>
    void Process(long frame, float[][] block);
}

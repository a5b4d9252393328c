using Kinetra.Core.Signal;

namespace Kinetra.Core.Engine;

/// <summary>
/// A looped sound that is under way whoever listens: its place follows from the engine's time alone. Several may play the same
/// sound, and are in step.
/// </summary>
/// <param name="sound">What to play; at least one frame.</param>
public sealed class StandingInlet(SoundBuffer sound) : IInlet
{
    /// <inheritdoc/>
    public int Channels => sound.Channels;

    /// <inheritdoc/>
    public bool BeginsWithSource => false;

    /// <inheritdoc/>
    public void Read(long frame, Span<float> left, Span<float> right)
    {
        SoundBuffer.CopyRound(sound.Left, frame, left);
        if (sound.Right is { } other)
        {
            SoundBuffer.CopyRound(other, frame, right);
        }
    }

    /// <inheritdoc/>
    public void Restart()
    {
    }
}

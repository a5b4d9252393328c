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
        for (var done = 0; done < left.Length;)
        {
            var position = (int)((frame + done) % sound.Frames);
            var count = Math.Min(left.Length - done, sound.Frames - position);
            sound.Left.AsSpan(position, count).CopyTo(left[done..]);
            sound.Right?.AsSpan(position, count).CopyTo(right[done..]);
            done += count;
        }
    }

    /// <inheritdoc/>
    public void Restart()
    {
    }
}

namespace Kinetra.Core.Engine;

/// <summary>
/// Somebody's place in the sound of a held point. It goes at its reader's pace; what the engine has written over before it was read is lost
/// to this reader alone, and counted. Not safe for several threads.
/// </summary>
public sealed class TapCursor : IDisposable
{
    private readonly HeldTap _tap;
    private long _position;

    /// <summary>A place in a point's sound.</summary>
    /// <param name="tap">The point; released with this.</param>
    /// <param name="position">The engine frame that is read first.</param>
    public TapCursor(HeldTap tap, long position)
    {
        ArgumentNullException.ThrowIfNull(tap);
        _tap = tap;
        _position = position;
    }

    /// <summary>The point.</summary>
    public Tapped Tapped => _tap.Tapped;

    /// <summary>Its sound.</summary>
    public AudioRing Ring => _tap.Ring;

    /// <summary>The engine frame that is read next.</summary>
    public long Position
    {
        get => _position;
        set => _position = value;
    }

    /// <summary>Frames that were lost so far.</summary>
    public long Lost { get; private set; }

    /// <summary>Copies the next frames, and goes on by them and by what was lost.</summary>
    /// <param name="left">As many frames as are wanted.</param>
    /// <param name="right">The same length; of a mono point it gets the same samples as left.</param>
    /// <param name="lost">Frames before them that are gone.</param>
    /// <returns>Frames copied; 0 where there are none yet.</returns>
    public int Read(Span<float> left, Span<float> right, out long lost)
    {
        var count = Ring.Read(ref _position, left, right, out lost);
        Lost += lost;
        return count;
    }

    /// <inheritdoc/>
    public void Dispose() => _tap.Dispose();
}

using System.Runtime.Intrinsics;

namespace Kinetra.Core.Dsp;

/// <summary>
/// Goes from one thing to another by a <see cref="Fade"/>: what was, what is, and what is wanted next. While it is on its way both are
/// heard; what is wanted meanwhile waits for its end, and only the last wish counts.
/// </summary>
/// <param name="initial">What it starts with.</param>
sealed class Crossing<T>(T initial)
{
    private int _faded = Fade.Frames;

    /// <summary>What it comes from.</summary>
    public T Old { get; private set; } = initial;

    /// <summary>What it is, or is becoming.</summary>
    public T Now { get; private set; } = initial;

    /// <summary>What it is to become next.</summary>
    public T Wanted { get; private set; } = initial;

    /// <summary>True while both are heard.</summary>
    public bool IsCrossing => _faded < Fade.Frames;

    /// <summary>True where nothing changes.</summary>
    public bool IsSettled { get; private set; } = true;

    /// <summary>Wishes for something.</summary>
    public void Set(T wanted)
    {
        Wanted = wanted;
        IsSettled = !IsCrossing && EqualityComparer<T>.Default.Equals(Now, Wanted);
    }

    /// <summary>Is there at once: for what nobody hears.</summary>
    public void Arrive() => (Old, Now, _faded, IsSettled) = (Wanted, Wanted, Fade.Frames, true);

    /// <summary>Once before the next frames: takes the wish, unless it is on its way still.</summary>
    public void Begin()
    {
        if (!IsSettled && !IsCrossing)
        {
            (Old, Now, _faded) = (Now, Wanted, 0);
        }
    }

    /// <summary>Goes from the old sound to the one that is there now, in place.</summary>
    public void Blend(ReadOnlySpan<float> old, Span<float> now)
    {
        var curve = Fade.Curve[_faded..];
        for (var n = 0; n < now.Length && n < curve.Length; n++)
        {
            now[n] = old[n] + ((now[n] - old[n]) * curve[n]);
        }
    }

    /// <summary>The same, of both channels in 64 bits.</summary>
    public void Blend(ReadOnlySpan<Vector128<double>> old, Span<Vector128<double>> now)
    {
        var curve = Fade.Curve[_faded..];
        for (var n = 0; n < now.Length && n < curve.Length; n++)
        {
            now[n] = old[n] + ((now[n] - old[n]) * curve[n]);
        }
    }

    /// <summary>Lets the old sound fade out beside one that begins by itself.</summary>
    public void Leave(ReadOnlySpan<float> old, Span<float> now)
    {
        var curve = Fade.Curve[_faded..];
        for (var n = 0; n < now.Length && n < curve.Length; n++)
        {
            now[n] += old[n] * (1 - curve[n]);
        }
    }

    /// <summary>Once after those frames, of all channels.</summary>
    public void End(int frames)
    {
        if (!IsCrossing)
        {
            return;
        }

        _faded = Math.Min(Fade.Frames, _faded + frames);
        if (!IsCrossing)
        {
            // What is gone is not held on to.
            Old = Now;
            IsSettled = EqualityComparer<T>.Default.Equals(Now, Wanted);
        }
    }
}

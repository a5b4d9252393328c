using System.Collections.Immutable;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Pads;

/// <summary>A cue that has begun, or will.</summary>
/// <param name="Index">Its place in the list.</param>
/// <param name="Cue">The cue.</param>
/// <param name="Frame">The engine's frame.</param>
public readonly record struct BegunCue(int Index, Cue Cue, long Frame);

/// <summary>
/// How one goes through a list of cues: what is next, what follows by itself and when. It plays nothing and knows no clock; the same hands at the same frames give the same cues at the
/// same frames, however often it is asked in between.
/// </summary>
/// <param name="cues">The list.</param>
/// <param name="lengthOf">How long a pad plays, frames; null: it has no end, or is gone.</param>
public sealed class CueRun(ImmutableArray<Cue> cues, Func<PadId, long?> lengthOf)
{
    private long? _due;

    /// <summary>The list.</summary>
    public ImmutableArray<Cue> Cues => cues;

    /// <summary>The place of the cue that comes next; behind the last: the list is over.</summary>
    public int Next { get; private set; }

    /// <summary>The cue that began last; −1: none.</summary>
    public int Last { get; private set; } = -1;

    /// <summary>True: nothing follows by itself until it is let go.</summary>
    public bool IsHeld { get; private set; }

    /// <summary>When the next one begins by itself, the engine's frame; null: it waits for a hand.</summary>
    public long? Due => IsHeld ? null : _due;

    /// <summary>The same, from here on apart.</summary>
    public CueRun Copy() => new(cues, lengthOf) { _due = _due, Next = Next, Last = Last, IsHeld = IsHeld };

    /// <summary>Goes on where another list was, of which this is what has become: what follows by itself follows still.</summary>
    /// <param name="before">The list before.</param>
    /// <param name="next">Where in this list its next one stands.</param>
    /// <param name="last">Where its last one stands; −1: nowhere.</param>
    public void TakeOver(CueRun before, int next, int last)
    {
        ArgumentNullException.ThrowIfNull(before);
        (Next, Last, IsHeld, _due) = (Math.Clamp(next, 0, cues.Length), last, before.IsHeld, next < cues.Length ? before._due : null);
    }

    /// <summary>The next one begins, by hand.</summary>
    /// <param name="frame">When.</param>
    /// <returns>What begins then, those that begin with it too; nothing where the list is over.</returns>
    public IReadOnlyList<BegunCue> Go(long frame)
    {
        var begun = new List<BegunCue>();
        if (Next < cues.Length)
        {
            Begin(frame, begun);
            Follow(frame, begun);
        }

        return begun;
    }

    /// <summary>Time goes on: what follows by itself begins.</summary>
    /// <param name="until">All before this frame, and at it.</param>
    public IReadOnlyList<BegunCue> Advance(long until)
    {
        var begun = new List<BegunCue>();
        Follow(until, begun);
        return begun;
    }

    /// <summary>Another one is next. What would have followed by itself does not.</summary>
    public void Jump(int index) => (Next, _due) = (Math.Clamp(index, 0, cues.Length), null);

    /// <summary>The one before is next again.</summary>
    public void Back() => Jump(Next - 1);

    /// <summary>Nothing follows by itself, or it does again: what would have begun meanwhile begins at once.</summary>
    /// <param name="held">Whether.</param>
    /// <param name="frame">Now.</param>
    public void Hold(bool held, long frame)
    {
        if (IsHeld && !held && _due < frame)
        {
            _due = frame;
        }

        IsHeld = held;
    }

    private void Follow(long until, List<BegunCue> begun)
    {
        while (!IsHeld && _due is { } due && due <= until)
        {
            Begin(due, begun);
        }
    }

    private void Begin(long frame, List<BegunCue> begun)
    {
        var cue = cues[Next];
        begun.Add(new(Next, cue, frame));
        (Last, Next) = (Next, Next + 1);
        _due = Next < cues.Length ? DueOf(cues[Next], cue, frame) : null;
    }

    private long? DueOf(Cue next, Cue before, long frame) => next.Begin switch
    {
        CueBegin.WithPrevious => frame + FramesOf(next.Wait),
        CueBegin.AfterPrevious => LengthOf(before) is { } length ? frame + length + FramesOf(next.Wait) : null,
        _ => null,
    };

    // The longest of what it does; something without an end makes it one without.
    private long? LengthOf(Cue cue)
    {
        long most = 0;
        foreach (var act in cue.Acts)
        {
            switch (act)
            {
                case PlayPad play when lengthOf(play.Pad) is { } length:
                    most = Math.Max(most, length);
                    break;
                case PlayPad:
                    return null;
                case StopPads stop:
                    most = Math.Max(most, FramesOf(stop.Fade ?? 0));
                    break;
                case TurnPads turn:
                    most = Math.Max(most, FramesOf(turn.Over));
                    break;
                case RecallLevels recall:
                    most = Math.Max(most, FramesOf(recall.Over));
                    break;
                case TurnMusic music:
                    most = Math.Max(most, FramesOf(music.Over));
                    break;
            }
        }

        return most;
    }

    private static long FramesOf(double milliseconds) => (long)Math.Round(milliseconds * AudioFormat.SampleRate / 1000);
}

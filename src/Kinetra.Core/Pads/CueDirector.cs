using Kinetra.Core.Engine;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Pads;

/// <summary>
/// Goes through a list of cues while the engine runs. What follows by itself is told to the player ahead of its time, so that it begins at its exact frame however seldom this is asked;
/// what a hand changes before then is taken back. One thread at a time.
/// </summary>
/// <param name="run">The list.</param>
/// <param name="post">Gives the player, or the engine, an order.</param>
/// <param name="press">Makes a press of a pad at a frame; null: it is gone.</param>
/// <param name="level">Makes what the engine is told of levels and of music; null: nothing.</param>
public sealed class CueDirector(CueRun run, Action<TimedOrder> post, Func<PadId, long, PadOrder.Press?> press, Func<CueAct, long, LevelOrder?> level)
{
    /// <summary>How far ahead the player is told, frames: 1.5 s.</summary>
    public const int Ahead = AudioFormat.SampleRate * 3 / 2;

    /// <summary>How long behind a hand its cue begins, frames: then it is told to the player before it comes to that frame.</summary>
    public const int ByHand = 2 * AudioFormat.BlockFrames;

    private readonly List<(BegunCue Cue, IReadOnlyList<TimedOrder> Orders)> _told = [];
    private readonly List<BegunCue> _begun = [];
    private long _now;

    /// <summary>The list.</summary>
    public CueRun Run => run;

    /// <summary>All that has begun, in order.</summary>
    public IReadOnlyList<BegunCue> Begun => _begun;

    /// <summary>Takes in that time has gone on.</summary>
    /// <param name="now">The engine's next frame.</param>
    public void CatchUp(long now)
    {
        _now = Math.Max(_now, now);
        Note(run.Advance(_now));
        Tell();
    }

    /// <summary>The next cue begins.</summary>
    /// <param name="now">The engine's next frame.</param>
    /// <returns>When, the engine's frame; null: the list is over.</returns>
    public long? Go(long now)
    {
        CatchUp(now);
        var frame = _now + ByHand;
        Note(run.Advance(frame));
        if (run.Next >= run.Cues.Length)
        {
            return null;
        }

        TakeBack();
        Note(run.Go(frame));
        Tell(frame);
        return frame;
    }

    /// <summary>Another one is next; what would have followed by itself does not.</summary>
    public void Jump(int index, long now)
    {
        CatchUp(now);
        Settle();
        run.Jump(index);
    }

    /// <summary>Nothing follows by itself, or it does again.</summary>
    public void Hold(bool held, long now)
    {
        CatchUp(now);
        Settle();
        run.Hold(held, _now + ByHand);
        Tell();
    }

    private void Note(IReadOnlyList<BegunCue> begun) => _begun.AddRange(begun);

    /// <summary>Takes back all that has not begun: somebody else goes on from here.</summary>
    public void LetGo(long now)
    {
        CatchUp(now);
        Settle();
    }

    // What begins within the next two blocks cannot be taken back any more: it has begun.
    private void Settle()
    {
        Note(run.Advance(_now + ByHand));
        TakeBack();
    }

    // What has not begun yet and was told.
    private void TakeBack()
    {
        foreach (var (cue, orders) in _told)
        {
            if (cue.Frame > _now + ByHand)
            {
                foreach (var order in orders)
                {
                    order.Cancel();
                }
            }
        }

        _told.RemoveAll(t => t.Cue.Frame > _now + ByHand);
    }

    private void Tell(long? from = null)
    {
        _told.RemoveAll(t => t.Cue.Frame < _now - AudioFormat.SampleRate);
        IEnumerable<BegunCue> due = from is { } frame ? _begun.Where(b => b.Frame >= frame) : [];
        foreach (var cue in due.Concat(run.Copy().Advance(_now + Ahead)))
        {
            if (_told.Any(t => t.Cue.Index == cue.Index && t.Cue.Frame == cue.Frame))
            {
                continue;
            }

            var orders = CueOrders.Of(cue, press, level);
            foreach (var order in orders)
            {
                post(order);
            }

            _told.Add((cue, orders));
        }
    }
}

using Kinetra.Core.Engine;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Pads;

/// <summary>What a cue that begins tells the player: live and rendered, the same.</summary>
public static class CueOrders
{
    /// <summary>The orders of a cue, all for its frame.</summary>
    /// <param name="begun">The cue.</param>
    /// <param name="press">Makes a press of a pad at a frame; null: it is gone, and the cue goes on without it.</param>
    /// <param name="level">Makes what the engine is told of levels and of music; null: nothing.</param>
    public static IReadOnlyList<TimedOrder> Of(BegunCue begun, Func<PadId, long, PadOrder.Press?> press, Func<CueAct, long, LevelOrder?> level)
    {
        ArgumentNullException.ThrowIfNull(begun.Cue);
        ArgumentNullException.ThrowIfNull(press);
        ArgumentNullException.ThrowIfNull(level);
        var orders = new List<TimedOrder>();
        foreach (var act in begun.Cue.Acts)
        {
            TimedOrder? order = act switch
            {
                PlayPad play => press(play.Pad, begun.Frame),
                StopPads stop => new PadOrder.Stop(begun.Frame, stop.Pad, stop.Group.Length == 0 ? null : stop.Group, stop.Fade is { } fade ? ReadyPad.FrameOf(fade) : null),
                TurnPads turn => new PadOrder.Turn(begun.Frame, turn.Pad, (float)turn.Gain.Linear, ReadyPad.FrameOf(turn.Over)),
                RecallLevels or TurnMusic => level(act, begun.Frame),
                _ => null,
            };
            if (order is not null)
            {
                orders.Add(order);
            }
        }

        return orders;
    }

    /// <summary>All that a list comes to where hands go on at these frames, in order; for a render.</summary>
    /// <param name="run">The list, from its place on.</param>
    /// <param name="hands">The frames at which somebody goes on, rising.</param>
    /// <param name="until">The last frame.</param>
    public static IReadOnlyList<BegunCue> Performed(CueRun run, IEnumerable<long> hands, long until)
    {
        ArgumentNullException.ThrowIfNull(run);
        ArgumentNullException.ThrowIfNull(hands);
        var begun = new List<BegunCue>();
        foreach (var hand in hands)
        {
            begun.AddRange(run.Advance(hand));
            begun.AddRange(run.Go(hand));
        }

        begun.AddRange(run.Advance(until));
        return begun;
    }
}

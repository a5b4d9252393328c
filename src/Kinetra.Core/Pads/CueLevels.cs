using System.Collections.Immutable;
using Kinetra.Core.Engine;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Pads;

/// <summary>What the engine is told of the levels that a cue recalls, and of the music that it begins and ends.</summary>
public static class CueLevels
{
    /// <summary>The order of an act; null: it has none. A send on a loop of the show is left out: its level takes another plan, which the show's step makes.</summary>
    /// <param name="rig">The show as it is before the act.</param>
    /// <param name="plan">As it runs.</param>
    /// <param name="act">The act.</param>
    /// <param name="frame">The cue's frame.</param>
    /// <param name="held">Which voices are held.</param>
    public static LevelOrder? OrderOf(Rig rig, EnginePlan plan, CueAct act, long frame, IHeldVoices? held = null)
    {
        ArgumentNullException.ThrowIfNull(rig);
        ArgumentNullException.ThrowIfNull(plan);
        var over = act switch { RecallLevels recall => recall.Over, TurnMusic music => music.Over, _ => 0 };
        SourceId? begins = act is TurnMusic { On: true } turn && rig.Find(turn.Source) is { Input: SoundFileInput } ? turn.Source : null;
        ImmutableArray<SendLevel> levels =
        [
            .. from s in CueSends.Of(rig, act)
               where !plan.Routed.Loops.IsOnCircle((new SendPoint(s.Mix, s.Send.Source), new MixPoint(s.Mix, Tap.Raw)))
               select new SendLevel(s.Mix, s.Send.Source, s.Send.Factor),
        ];
        return levels.IsEmpty && begins is null ? null : new LevelOrder(frame, plan.Opening, levels, ReadyPad.FrameOf(over), begins, held);
    }
}

using Kinetra.Core.Signal;

namespace Kinetra.Core.Rigs;

/// <summary>What cues make of the sends of a show: the levels that they recall, and the music that they begin and end.</summary>
public static class CueSends
{
    /// <summary>What an act makes of sends; those whose mix or source is gone are left out. Of acts of another kind: nothing.</summary>
    public static IEnumerable<(MixId Mix, Send Send)> Of(Rig rig, CueAct act)
    {
        ArgumentNullException.ThrowIfNull(rig);
        ArgumentNullException.ThrowIfNull(act);
        return act switch
        {
            RecallLevels recall =>
                from level in recall.Levels
                let send = rig.Find(level.Mix, level.Source)
                where send is not null
                select (level.Mix, send with { Gain = level.Gain, Heard = level.Heard, Muted = level.Muted }),
            TurnMusic music =>
                from mix in rig.Mixes
                let send = rig.Find(mix.Id, music.Source)
                where send is not null
                select (mix.Id, send with { Muted = !music.On }),
            _ => [],
        };
    }

    /// <summary>The show as it is once some acts have changed it, one after the other.</summary>
    public static Rig After(Rig rig, IEnumerable<CueAct> acts)
    {
        ArgumentNullException.ThrowIfNull(acts);
        foreach (var act in acts)
        {
            foreach (var (mix, send) in Of(rig, act))
            {
                rig = rig.With(mix, send);
            }
        }

        return rig;
    }
}

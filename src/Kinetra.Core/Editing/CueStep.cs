using System.Collections.Immutable;
using Kinetra.Core.Rigs;

namespace Kinetra.Core.Editing;

/// <summary>The levels that a cue recalls, and the music that it begins and ends, as one step of the show.</summary>
public static class CueStep
{
    /// <summary>The step; null: the cue changes nothing.</summary>
    public static RigCommand? Of(Rig rig, Cue cue)
    {
        ArgumentNullException.ThrowIfNull(rig);
        ArgumentNullException.ThrowIfNull(cue);
        var after = CueSends.After(rig, cue.Acts);
        ImmutableArray<RigCommand> commands =
        [
            .. from mix in rig.Mixes
               from now in mix.Sends
               let then = after.Find(mix.Id, now.Source)
               where then != now
               select new SetSend(
                   mix.Id,
                   now.Source,
                   then.Gain == now.Gain ? null : then.Gain,
                   then.Heard == now.Heard ? null : then.Heard,
                   then.Muted == now.Muted ? null : then.Muted),
        ];
        return commands switch { [] => null, [var one] => one, _ => new Several(commands) };
    }
}

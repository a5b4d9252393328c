using Kinetra.Core.Editing;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Hands;

/// <summary>The commands of the show that actions are.</summary>
public static class ActionCommands
{
    /// <summary>The command that an action is, for the show as it is.</summary>
    /// <param name="call">The action.</param>
    /// <param name="input">What it is told.</param>
    /// <param name="rig">The show.</param>
    /// <param name="problem">Why it is none, where it would be one.</param>
    /// <returns>Null: it is no command of the show, or has a problem.</returns>
    public static RigCommand? Of(ActionCall call, ActionInput input, Rig rig, out RigProblem? problem)
    {
        ArgumentNullException.ThrowIfNull(call);
        ArgumentNullException.ThrowIfNull(rig);
        problem = null;
        switch (call.Type.Address)
        {
            case "mix/{mix}/source/{source}/level":
                return new SetSend(call.Mix, call.Source, new Gain(input.Number!.Value));
            case "mix/{mix}/source/{source}/step":
                return new SetSend(call.Mix, call.Source, Moved(rig.Find(call.Mix, call.Source)?.Gain ?? Gain.Unity, input));
            case "mix/{mix}/source/{source}/mute":
                return new SetSend(call.Mix, call.Source, Muted: input.On ?? rig.Find(call.Mix, call.Source)?.Muted == false);
            case "mix/{mix}/source/{source}/dock":
                return new SetSend(call.Mix, call.Source, Heard: !(input.On ?? rig.Find(call.Mix, call.Source)?.Heard == true));
            case "mix/{mix}/level":
                return new SetMix(call.Mix, Gain: new Gain(input.Number!.Value));
            case "mix/{mix}/step":
                return new SetMix(call.Mix, Gain: Moved(rig.Find(call.Mix)?.Gain ?? Gain.Unity, input));
            case "mix/{mix}/out":
                return Out(call.Mix, input, rig, out problem);
            case "source/{source}/trim":
                return new SetSource(call.Source, Trim: new Gain(input.Number!.Value));
            case "source/{source}/bypass":
                return Bypass(new SourcePoint(call.Source), input, rig, out problem);
            default:
                return null;
        }
    }

    /// <summary>True where it is a level that moves: heard at once, and one step of the show when it rests.</summary>
    public static bool IsMove(ActionType type)
    {
        ArgumentNullException.ThrowIfNull(type);
        return type.Value is ActionValue.Decibels or ActionValue.Step;
    }

    // What is off goes up from the lowest that is not.
    private static Gain Moved(Gain gain, ActionInput input)
    {
        var to = Math.Round((gain.IsOff ? Gain.MinDecibels : gain.Decibels) + input.Number!.Value, 2);
        return gain.IsOff && input.Number <= 0 ? gain : new(Math.Clamp(to, Gain.MinDecibels, Gain.MaxDecibels));
    }

    private static Several? Out(MixId id, ActionInput input, Rig rig, out RigProblem? problem)
    {
        var destinations = rig.Find(id)?.Destinations ?? [];
        var on = input.On ?? !destinations.Any(d => d.On);
        problem = destinations.IsEmpty ? new RigProblem("mix", "It has no destination.", "a mix that goes somewhere") : null;
        return problem is null ? new Several([.. destinations.Select(d => new SetDestination(id, d.Id, On: on))]) : null;
    }

    private static Several? Bypass(Point place, ActionInput input, Rig rig, out RigProblem? problem)
    {
        var chain = rig.ChainAt(place) ?? [];
        var bypassed = input.On ?? chain.Any(p => !p.Bypassed);
        problem = chain.IsEmpty ? new RigProblem("source", "Its chain has no processor.", "a source whose chain has some") : null;
        return problem is null ? new Several([.. chain.Select(p => new SetProcessor(place, p.Id, bypassed))]) : null;
    }
}

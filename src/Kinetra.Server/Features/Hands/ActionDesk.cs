using Kinetra.Core.Editing;
using Kinetra.Core.Hands;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Data;
using Kinetra.Server.Features.Findings;
using Kinetra.Server.Features.Pads;
using Kinetra.Server.Features.Shows;
using Kinetra.Server.Features.Takes;
using Kinetra.Server.Hosting;
using Kinetra.Server.Live;

namespace Kinetra.Server.Features.Hands;

/// <summary>Does what hands ask for, whichever way they come: keys, controllers, messages, requests and second screens all come here. Any thread.</summary>
public sealed class ActionDesk(
    LiveShow live, LiveGear gear, ShowStore store, ShowCommands commands, Playing playing, Openings openings, TakeStart takeStart, EngineHost host, HushSwitch hush, TakeRecorder recorder,
    ITakeAudience takes, IShowListAudience shows, PadBank bank, HeldPads pads, PadsAtHand atHand, Cues cues, LevelMoves moves, FindingsNow findings, IHandAudience audience)
{
    private Scoped? _scoped;

    /// <summary>What an address can name now. Shows only where they are asked for, since the database knows them.</summary>
    public async Task<ActionScope> ScopeAsync(bool withShows, CancellationToken cancel)
    {
        var (rig, set, state) = (live.Show.Rig, atHand.Now?.Id, gear.Now.State);
        if (withShows)
        {
            return ActionScope.Of(rig, set, state, (await store.AllAsync(cancel)).Where(s => s.DeletedAt is null).Select(s => new Addressed(s.Id.ToString(), s.Name)));
        }

        var scoped = Volatile.Read(ref _scoped);
        if (scoped is null || !ReferenceEquals(scoped.Rig, rig) || scoped.Set != set || !ReferenceEquals(scoped.Gear, state))
        {
            Volatile.Write(ref _scoped, scoped = new(rig, set, state, ActionScope.Of(rig, set, state, [])));
        }

        return scoped.Scope;
    }

    /// <summary>Does what an address says.</summary>
    /// <param name="hand">Who wants it.</param>
    /// <param name="address">What: an address of <see cref="ActionTable"/>, with ids or names.</param>
    /// <param name="value">What it is told, as it was written; null: nothing.</param>
    /// <param name="level">How loud, of what is pressed, dB.</param>
    /// <param name="cancel">Ends waiting; what has been begun is done.</param>
    /// <returns>Why it is not done; null: it is.</returns>
    public async Task<RigProblem?> DoAsync(Hand hand, string address, string? value, double level, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(address);
        var (call, problem, _) = await FindAsync(address, cancel);
        return call is null ? problem
            : ActionInput.Read(call.Type, value, out var input) is { } wrong ? wrong
            : input is { } given ? await DoAsync(hand, call, given with { Level = level }, cancel) : null;
    }

    /// <summary>Finds what an address says.</summary>
    public async Task<(ActionCall? Call, RigProblem? Problem, ActionScope Scope)> FindAsync(string address, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(address);
        var scope = await ScopeAsync(address.TrimStart('/').StartsWith("show/", StringComparison.OrdinalIgnoreCase), cancel);
        return (ActionCall.Find(scope, address, out var problem), problem, scope);
    }

    /// <summary>Does an action.</summary>
    /// <returns>Why it is not done; null: it is.</returns>
    public async Task<RigProblem?> DoAsync(Hand hand, ActionCall call, ActionInput told, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(hand);
        ArgumentNullException.ThrowIfNull(call);
        var wrong = ActionInput.Fit(call.Type, told, out var fits);
        if (wrong is not null || fits is not { } input)
        {
            return wrong;
        }

        if (ActionCommands.Of(call, input, moves.RigOf(hand), out var problem) is { } command)
        {
            return ActionCommands.IsMove(call.Type) ? moves.Go(hand, command) : await StepAsync(hand, _ => command);
        }

        return problem ?? await BesideTheShowAsync(hand, call, input, cancel);
    }

    /// <summary>A hand is gone: what it held is let go.</summary>
    public void Gone(Hand hand)
    {
        ArgumentNullException.ThrowIfNull(hand);
        pads.Gone(hand.Id);
        if (playing.LetGo(hand.Id))
        {
            audience.HandsChanged();
        }
    }

    private Task<RigProblem?> BesideTheShowAsync(Hand hand, ActionCall call, ActionInput input, CancellationToken cancel) => call.Type.Address switch
    {
        "hush" => Task.FromResult(Hush(input.On ?? !hush.IsOn)),
        "record" => RecordAsync(input.On, cancel),
        "pause" => Task.FromResult(recorder.Pause(input.On ?? !recorder.IsPaused) ? null : new RigProblem("take", "No take is being recorded.", "a take that is being recorded")),
        "mark" => Task.FromResult(recorder.Mark("") is null ? new RigProblem("take", "No take is being recorded, or it has all the marks that it can have.", "a take that is being recorded") : null),
        "undo" => UndoAsync(hand, s => s.History.ToUndo?.Revision, commands.UndoAsync, "There is nothing to undo.", "a show in which something was done"),
        "redo" => UndoAsync(hand, s => s.History.ToRedo?.Revision, commands.RedoAsync, "There is nothing to do again.", "a show in which something was undone last"),
        "pad/{pad}/press" => Task.FromResult(Press(hand, call.Pad, input)),
        "pad/{pad}/stop" => Now(() => bank.Stop(call.Pad)),
        "pads/stop" => Now(() => bank.Stop()),
        "pads/set/{set}" => Now(() => atHand.Take(new(call.Id(ActionTarget.Set)))),
        "cue/next" => Task.FromResult(cues.Go()),
        "cue/back" => Task.FromResult(cues.Jump(null)),
        "cue/first" => Task.FromResult(cues.Begin()),
        "cue/hold" => Task.FromResult(cues.Hold(input.On ?? !cues.Now.Held)),
        "cue/{cue}/ready" => Task.FromResult(cues.Jump(new(call.Id(ActionTarget.Cue)))),
        "source/{source}/cough" => Task.FromResult(Hold(hand, new Cough(call.Source), input.On)),
        "source/{source}/talk/{mix}" => Task.FromResult(Hold(hand, new Talkback(call.Source, call.Mix), input.On)),
        "source/{source}/play" => Task.FromResult(Play(call.Source)),
        "app/{app}/play" => GearAsync(hand, s => new SetApp(App(call), IsPlaying: input.On ?? s.Find(App(call))?.IsPlaying == false)),
        "app/{app}/run" => GearAsync(hand, s => new SetApp(App(call), IsRunning: input.On ?? s.Find(App(call))?.IsRunning == false)),
        "gear/set" => DoneAsync(gear.FulfilAsync()),
        "gear/put-back" => DoneAsync(gear.PutBackAsync()),
        "show/{show}/open" => OpenAsync(hand, Guid.Parse(call.Id(ActionTarget.Show)), cancel),
        var other => throw new InvalidOperationException($"Nobody does the action {other}."),
    };

    private static AppId App(ActionCall call) => new(call.Id(ActionTarget.App));

    private static Task<RigProblem?> Now(Action act)
    {
        act();
        return Task.FromResult<RigProblem?>(null);
    }

    private static async Task<RigProblem?> DoneAsync(Task task)
    {
        await task;
        return null;
    }

    private RigProblem? Hush(bool on)
    {
        try
        {
            hush.Set(on);
            return null;
        }
        catch (NotKeptException e)
        {
            // It is so all the same.
            return new RigProblem("disk", e.Message, "a data folder with room that can be written to");
        }
    }

    private RigProblem? Press(Hand hand, PadId pad, ActionInput input)
    {
        // Told nothing, a pad that plays while it is held is let go by the second press.
        if (input.On == false || (input.On is null && pads.Holds(hand.Id, pad) && live.Show.Rig.Find(pad) is { Pad.Play: PadPlay.Held }))
        {
            pads.Release(hand.Id, pad);
            return null;
        }

        var silence = pads.Press(hand.Id, pad, (float)new Gain(input.Level).Linear);
        return silence == PadSilence.None ? null : new RigProblem("pad", PadPlayEndpoints.Words(silence), "a pad of the live show whose sound and source are there");
    }

    private RigProblem? Hold(Hand hand, Hold hold, bool? on)
    {
        var held = new Held(hand.Id, hold);
        if (on == false || (on is null && playing.Holds.Contains(held)))
        {
            if (playing.LetGo(hand.Id, hold))
            {
                audience.HandsChanged();
            }

            return null;
        }

        // What is meant for one listener alone is not begun where others' mixes would have it too. A cough is: fewer hear it than before. Programs that record the microphone itself are told while it is held: a private
        // chat does so by intent.
        if (hold is Talkback { To: var to } && hold.OthersReached(findings.With(playing.Over(hold))) is [var leak, ..])
        {
            return new RigProblem("mix", $"Others would hear it too: {leak}", $"a way to {live.Show.Rig.Find(to)!.Name} alone: a mix that goes to nobody else");
        }

        if (playing.Take(held))
        {
            audience.HandsChanged();
        }

        return null;
    }

    private RigProblem? Play(SourceId source)
    {
        if (live.Show.Rig.Find(source) is not { Input: SoundFileInput })
        {
            return new RigProblem("source", "This source has no beginning to play from.", "a source that is a sound file");
        }

        host.Engine.PostRestart(source);
        return null;
    }

    private async Task<RigProblem?> RecordAsync(bool? on, CancellationToken cancel)
    {
        if (on ?? recorder.Current is null)
        {
            try
            {
                if (await takeStart.BeginAsync(null, fromBefore: true, cancel) is null)
                {
                    return on == true ? null : new RigProblem("take", "A take is being recorded already.", "one take at a time");
                }
            }
            catch (NothingToRecordException e)
            {
                return new RigProblem("tracks", e.Message, "a show with something to record, or a plan with a track that is armed");
            }
            catch (Exception e) when (e is IOException or UnauthorizedAccessException)
            {
                return new RigProblem("disk", e.Message, "a data folder with room that can be written to");
            }
        }
        else
        {
            await recorder.StopAsync(cancel);
        }

        takes.TakesChanged();
        return null;
    }

    // What moves rests first: it is what was done last.
    private async Task<RigProblem?> UndoAsync(Hand hand, Func<LiveState, long?> next, Func<CommandTarget, long, Task<Outcome>> take, string none, string allowed)
    {
        await moves.SettleAsync(hand);
        var state = live.State;
        return next(state) is { } step
            ? Words(await take(new CommandTarget(state.Show.Id, state.Show.Revision, hand.Author), step))
            : new RigProblem("step", none, allowed);
    }

    private async Task<RigProblem?> StepAsync(Hand hand, Wish.Of wish)
    {
        await moves.SettleAsync(hand);
        var state = live.State;
        return Words(await commands.DoAsync(new CommandTarget(state.Show.Id, state.Show.Revision, hand.Author), wish));
    }

    private static RigProblem? Words(Outcome outcome) => outcome switch
    {
        Outcome.Done => null,
        Outcome.Refused { Why.Problems: [var problem, ..] } => problem,
        Outcome.NotLive => new RigProblem("show", "Another show was opened meanwhile.", "the live show"),
        _ => new RigProblem("step", "Somebody else has changed it meanwhile.", "the same once more"),
    };

    private async Task<RigProblem?> GearAsync(Hand hand, Func<Core.Gear.GearState, GearChange> change) =>
        await gear.DoAsync(change(gear.Now.State), GearActor.Person, hand.By.Name) is GearOutcome.Refused refused ? refused.Problem : null;

    private async Task<RigProblem?> OpenAsync(Hand hand, Guid show, CancellationToken cancel)
    {
        // What moves is of the show that is left.
        await moves.SettleAsync(hand);
        switch (await openings.SwitchAsync(show, () => recorder.Current is not null, cancel))
        {
            case Opening.Done:
                shows.ShowsChanged();
                return null;
            case Opening.IsLive:
                return null;
            case Opening.Away:
                return new RigProblem("show", "The database is away, and the other show is in it.", "the same once it is back");
            case Opening.Held:
                return new RigProblem("show", "A take is being recorded: it would go on with another show.", "a show that is opened once the take has ended");
            default:
                return new RigProblem("show", "It is not there any more, is put away, or cannot be read.", "a show of /api/shows that can be opened");
        }
    }

    private sealed record Scoped(Rig Rig, PadSetId? Set, Core.Gear.GearState Gear, ActionScope Scope);
}

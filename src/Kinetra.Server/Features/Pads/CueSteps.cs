using Kinetra.Core.Editing;
using Kinetra.Core.Engine;
using Kinetra.Core.Pads;
using Kinetra.Core.Rigs;
using Kinetra.Data;
using Kinetra.Server.Features.Takes;
using Kinetra.Server.Live;

namespace Kinetra.Server.Features.Pads;

/// <summary>What a cue does beside what sounds of it: the levels that it recalls become a step of the show, one after the other, and it sets its marks. Any thread.</summary>
public sealed partial class CueSteps(LiveShow live, Lazy<ShowCommands> commands, Lazy<Playing> playing, TakeRecorder recorder, ILogger<CueSteps> log)
{
    private static readonly Author Cue = new(null, new StepAuthor(Name: "A cue"));
    private readonly Lock _queueing = new();
    private Task _last = Task.CompletedTask;

    /// <summary>A cue has begun, and the engine has come to it.</summary>
    /// <param name="show">Of which show.</param>
    /// <param name="begun">The cue.</param>
    /// <param name="orders">What the engine was told of its levels.</param>
    /// <returns>Done once it is a step of the show, or cannot be.</returns>
    public Task Take(Guid show, BegunCue begun, IReadOnlyList<LevelOrder> orders)
    {
        ArgumentNullException.ThrowIfNull(orders);
        foreach (var mark in begun.Cue.Acts.OfType<SetMark>())
        {
            recorder.Mark(mark.Words.Length > 0 ? mark.Words : begun.Cue.Name, begun.Frame);
        }

        if (!begun.Cue.Acts.Any(a => a is RecallLevels or TurnMusic))
        {
            return Task.CompletedTask;
        }

        lock (_queueing)
        {
            return _last = StoreAsync(_last, show, begun.Cue, orders);
        }
    }

    private async Task StoreAsync(Task before, Guid show, Cue cue, IReadOnlyList<LevelOrder> orders)
    {
        await before;
        await Task.Yield();
        foreach (var order in orders)
        {
            order.Settle();
        }

        try
        {
            var state = live.State;
            if (state.Show.Id != show || CueStep.Of(state.Show.Rig, cue) is not { } step)
            {
                return;
            }

            if (await commands.Value.DoAsync(new CommandTarget(show, state.Show.Revision, Cue), rig => CueStep.Of(rig, cue) ?? step) is Outcome.Done)
            {
                return;
            }
        }
        catch (Exception e) when (e is not OutOfMemoryException)
        {
            LogLost(log, cue.Name, e.Message);
        }

        // It is no step of the show: what is stored is heard.
        playing.Value.Replan();
    }

    [LoggerMessage(LogLevel.Error, "The levels that the cue {Cue} recalled could not be stored, and are back where they were: {Reason}")]
    private static partial void LogLost(ILogger log, string cue, string reason);
}

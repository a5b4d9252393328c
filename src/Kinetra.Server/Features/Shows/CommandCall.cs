using Kinetra.Core.Editing;
using Kinetra.Core.Rigs;
using Kinetra.Server.Hosting;
using Kinetra.Server.Live;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;

namespace Kinetra.Server.Features.Shows;

/// <summary>What every command says: for which show it is, on which revision of it it was made, and whose it is.</summary>
/// <param name="Show">The show; it must be the live one.</param>
/// <param name="Revision">The revision of the show that was seen when it was made.</param>
/// <param name="Request">Whose it is: headers that a page sends with each change.</param>
readonly record struct CommandCall([property: FromRoute(Name = "show")] Guid Show, [property: FromQuery(Name = "revision")] long Revision, HttpRequest Request)
{
    /// <summary>The same for the live show.</summary>
    public CommandTarget Target => new(Show, Revision, AuthorOf(Request));

    // What is too long or odd is nobody's.
    private static Author AuthorOf(HttpRequest request)
    {
        var window = request.Headers["X-Window"].FirstOrDefault();
        var name = request.Headers["X-Window-Name"].FirstOrDefault();
        return new Author(
            request.Headers["X-Client"].FirstOrDefault(),
            new StepAuthor(
                RigRules.CheckText("X-Window", window, 64) is null ? window : null,
                RigRules.CheckText("X-Window-Name", name, 60) is null ? name : null));
    }
}

/// <summary>Commands from the API, and what becomes of them as an answer.</summary>
static class CommandAnswers
{
    /// <summary>A command that needs nothing of the rig.</summary>
    public static Task<Results<Ok<ShowDocument>, ProblemHttpResult>> DoAsync(this ShowCommands commands, CommandCall call, RigCommand command) =>
        commands.DoAsync(call, _ => command);

    /// <summary>A command that is made in turn, of the rig as it is by then.</summary>
    public static async Task<Results<Ok<ShowDocument>, ProblemHttpResult>> DoAsync(this ShowCommands commands, CommandCall call, Wish.Of wish) =>
        Answer(await commands.DoAsync(call.Target, wish), call);

    /// <summary>What became of a command, as an answer.</summary>
    public static Results<Ok<ShowDocument>, ProblemHttpResult> Answer(Outcome outcome, CommandCall call) => outcome switch
    {
        Outcome.Done done => TypedResults.Ok(done.State.Document),
        Outcome.Refused { Why: { IsUnknown: true } why } => Problems.NotFound(why.Problems),
        Outcome.Refused { Why: var why } => Problems.Invalid(why.Problems),
        Outcome.NotLive notLive => NotLive(notLive.State),
        Outcome.Ahead ahead => Problems.Conflict(
            "revision",
            $"The show has not reached revision {call.Revision}: it is at {ahead.State.Show.Revision}.",
            "the revision of the show that was seen",
            Current(ahead.State)),
        Outcome.Stale stale => Problems.Conflict(
            "revision",
            $"This was changed by somebody else since revision {call.Revision}.",
            "a change made on what is there now: with its revision",
            new Dictionary<string, object?>(Current(stale.State)) { ["step"] = HistoryLine.From(stale.Step), ["yours"] = stale.Yours }),
        Outcome.Gone gone => Problems.Conflict(
            "step",
            "There is no such step to take back or to do again now.",
            "the step that the show's toUndo or toRedo names",
            Current(gone.State)),
        _ => throw new InvalidOperationException("An outcome that nobody answers."),
    };

    /// <summary>The show that was meant does not play.</summary>
    public static ProblemHttpResult NotLive(LiveState state) => Problems.Conflict(
        "show",
        $"This show does not play now: “{state.Show.Name}” does.",
        "the show of /api/shows/live",
        new Dictionary<string, object?>(Current(state)) { ["notLive"] = true });

    private static Dictionary<string, object?> Current(LiveState state) => new() { ["current"] = state.Document };
}

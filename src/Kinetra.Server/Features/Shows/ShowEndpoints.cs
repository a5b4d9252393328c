using Kinetra.Core.Editing;
using Kinetra.Server.Hosting;
using Kinetra.Server.Live;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Kinetra.Server.Features.Shows;

/// <summary>Which step is meant.</summary>
/// <param name="Revision">Its revision, as the show's toUndo or toRedo states it; null: whichever is next.</param>
public sealed record WhichStep(long? Revision = null);

/// <summary>The live show as a whole, and its history.</summary>
static class ShowEndpoints
{
    private const int MaxLines = 200;

    public static void MapShow(this IEndpointRouteBuilder routes)
    {
        routes.MapGet("/show", (LiveShow live) => ShowDocument.Of(live.State)).WithName("getShow").WithSummary("The live show.");
        routes.MapGet("/show/history", (LiveShow live) => live.State.History.Newest.Reverse().Take(MaxLines).Select(HistoryLine.From))
            .WithName("getHistory").WithSummary("The newest 200 steps, newest first.");
        routes.MapPost("/show/undo", async (WhichStep which, LiveShow live, HttpRequest request) =>
            Answer(await live.UndoAsync(which.Revision, AuthorOf(request)), null, null)).WithName("undo").WithSummary("Takes back the last step, whoever's it was.");
        routes.MapPost("/show/redo", async (WhichStep which, LiveShow live, HttpRequest request) =>
            Answer(await live.RedoAsync(which.Revision, AuthorOf(request)), null, null)).WithName("redo").WithSummary("Does again what was taken back last.");
    }

    /// <summary>Gives a command to the live show and turns what becomes of it into an answer.</summary>
    public static async Task<Results<Ok<ShowDocument>, ProblemHttpResult>> DoAsync(
        this LiveShow live, RigCommand command, long? baseRevision, HttpRequest request) =>
        Answer(await live.DoAsync(command, baseRevision, AuthorOf(request)), baseRevision, command);

    private static Results<Ok<ShowDocument>, ProblemHttpResult> Answer(Outcome outcome, long? baseRevision, RigCommand? command) => outcome switch
    {
        Outcome.Done done => TypedResults.Ok(ShowDocument.Of(done.State)),
        Outcome.Refused { Why: { IsUnknown: true } why } => Problems.NotFound(why.Problems),
        Outcome.Refused { Why: var why } => Problems.Invalid(why.Problems),
        Outcome.Stale stale => Problems.Conflict(
            "baseRevision",
            $"This was changed by somebody else since revision {baseRevision}.",
            "a change made on what is there now, or no baseRevision to have one's own way",
            new Dictionary<string, object?>
            {
                ["current"] = ShowDocument.Of(stale.State),
                ["step"] = HistoryLine.From(stale.Step),
                ["yours"] = command,
            }),
        Outcome.Gone gone => Problems.Conflict(
            "revision",
            "There is no such step to take back or to do again now.",
            "the step that the show's toUndo or toRedo names",
            new Dictionary<string, object?> { ["current"] = ShowDocument.Of(gone.State) }),
        _ => throw new InvalidOperationException("An outcome that nobody answers."),
    };

    // Headers that a page sends with each change; what is too long or odd is nobody's.
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

using Kinetra.Core.Rigs;
using Kinetra.Data;
using Kinetra.Server.Hosting;
using Kinetra.Server.Live;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Kinetra.Server.Features.Shows;

/// <summary>One line of the history.</summary>
/// <param name="Revision">The show's revision after it.</param>
/// <param name="At">When.</param>
/// <param name="Sentence">What was done.</param>
public sealed record HistoryLine(long Revision, DateTimeOffset At, string Sentence);

/// <summary>The live show as a whole.</summary>
static class ShowEndpoints
{
    public static void MapShow(this IEndpointRouteBuilder routes)
    {
        routes.MapGet("/show", (LiveShow live) => ShowDocument.Of(live.Show)).WithName("getShow").WithSummary("The live show.");
        routes.MapGet("/show/history", HistoryAsync).WithName("getHistory").WithSummary("The newest 100 changes, newest first.");
    }

    /// <summary>Gives a command to the live show and turns what becomes of it into an answer.</summary>
    public static async Task<Results<Ok<ShowDocument>, ProblemHttpResult>> DoAsync(
        this LiveShow live, RigCommand command, long? baseRevision, HttpRequest request)
    {
        var client = request.Headers["X-Client"].FirstOrDefault();

        // A page that closes right after a change must not take it back: what has arrived is done.
        return await live.DoAsync(command, baseRevision, client, CancellationToken.None) switch
        {
            Outcome.Done done => TypedResults.Ok(ShowDocument.Of(done.Show)),
            Outcome.Refused { Why: { IsUnknown: true } why } => Problems.NotFound(why.Problems),
            Outcome.Refused { Why: var why } => Problems.Invalid(why.Problems),
            Outcome.Stale stale => Problems.Conflict(
                "baseRevision",
                $"This was changed by somebody else since revision {baseRevision}.",
                "a change made on what is there now, or no baseRevision to have one's own way",
                new Dictionary<string, object?> { ["current"] = ShowDocument.Of(stale.Show), ["yours"] = (object)command }),
            _ => throw new InvalidOperationException("An outcome that nobody answers."),
        };
    }

    private static async Task<IEnumerable<HistoryLine>> HistoryAsync(LiveShow live, ShowStore store, CancellationToken cancel)
    {
        var rows = await store.HistoryAsync(live.Show.Id, 100, cancel);
        return rows.Select(r => new HistoryLine(r.Revision, r.At, r.Sentence));
    }
}

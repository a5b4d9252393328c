using Kinetra.Core.Editing;
using Kinetra.Server.Hosting;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Kinetra.Server.Features.Takes;

/// <summary>Takes: named, noted, trimmed, deleted, brought back.</summary>
sealed class TakeChangeEndpoints : IFeature
{
    public void AddTo(IServiceCollection services, ServerOptions options) => services.AddSingleton<TakeChanges>();

    public void MapTo(IEndpointRouteBuilder routes)
    {
        routes.MapPatch("/takes/{take:guid}", ChangeAsync).WithName("changeTake").WithSummary("Changes a take’s name, its notes, and what of it is kept. Its files stay whole.");
        routes.MapDelete("/takes/{take:guid}", DeleteAsync).WithName("deleteTake").WithSummary("Deletes a take. It can be brought back for 30 days.");
        routes.MapGet("/takes/deleted", async (TakeChanges takes, TakeRecorder recorder, CancellationToken cancel) => (await takes.DeletedAsync(cancel)).Select(t => TakeDocument.Of(t, recorder)))
            .WithName("getDeletedTakes").WithSummary("The takes that were deleted and can be brought back, the last one first.");
        routes.MapPost("/takes/deleted/{take:guid}/bring-back", BringBackAsync).WithName("bringTakeBack").WithSummary("Brings back a take that was deleted.");
        routes.MapDelete("/takes/deleted/{take:guid}", ForgetAsync).WithName("forgetTake").WithSummary("Deletes a deleted take for good, with its files.");
    }

    private static async Task<Results<Ok<TakeDocument>, ProblemHttpResult>> ChangeAsync(
        Guid take, TakeChange change, TakeChanges takes, TakeRecorder recorder, CancellationToken cancel)
    {
        if (take == recorder.Current)
        {
            return Recorded();
        }

        var (row, problem) = await takes.ChangeAsync(take, change, cancel);
        return problem is not null ? Problems.Invalid([problem]) : row is null ? NotThere() : TypedResults.Ok(TakeDocument.Of(row, recorder));
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> DeleteAsync(Guid take, TakeChanges takes, TakeRecorder recorder, CancellationToken cancel) =>
        take == recorder.Current ? Recorded()
        : await takes.SetDeletedAsync(take, deleted: true, cancel) is null ? NotThere() : TypedResults.NoContent();

    private static async Task<Results<Ok<TakeDocument>, ProblemHttpResult>> BringBackAsync(Guid take, TakeChanges takes, TakeRecorder recorder, CancellationToken cancel) =>
        await takes.SetDeletedAsync(take, deleted: false, cancel) is { } row ? TypedResults.Ok(TakeDocument.Of(row, recorder)) : NotDeleted();

    private static async Task<Results<NoContent, ProblemHttpResult>> ForgetAsync(Guid take, TakeChanges takes, CancellationToken cancel)
    {
        try
        {
            return await takes.ForgetAsync(take, cancel) ? TypedResults.NoContent() : NotDeleted();
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            return Problems.Conflict("take", "Its files cannot be deleted.", "a data folder that can be written to");
        }
    }

    private static ProblemHttpResult Recorded() => Problems.Conflict("take", "It is still being recorded.", "a take that has ended");

    private static ProblemHttpResult NotThere() => Problems.NotFound("take", "There is no such take.", "a take of /api/takes");

    private static ProblemHttpResult NotDeleted() => Problems.NotFound("take", "There is no such take that was deleted.", "a take of /api/takes/deleted");
}

using Kinetra.Data;
using Kinetra.Data.Rows;
using Kinetra.Server.Hosting;
using Kinetra.Server.Jobs;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Kinetra.Server.Features.Takes;

/// <summary>Long work on a whole take.</summary>
static class TakeJobs
{
    /// <summary>Begins what takes long on a take that has ended.</summary>
    public static async Task<Results<Accepted<Job>, ProblemHttpResult>> BeginAsync(
        Guid take, TakeStore store, JobRunner jobs, JobKind kind, Func<TakeRow, IProgress<double>, CancellationToken, Task<JobOutcome>> work, CancellationToken cancel)
    {
        if (await store.FindAsync(take, cancel) is not { } row)
        {
            return Problems.NotFound("take", "There is no such take, or it was deleted.", "a take of /api/takes");
        }

        if (row.State == TakeState.Recording || row.Tracks.Count == 0)
        {
            return Problems.Conflict("take", row.Tracks.Count == 0 ? "It has no tracks." : "It is still being recorded.", "a take that has ended, with tracks");
        }

        try
        {
            var job = jobs.Start(kind, row.Name, row.Id.ToString(), (progress, stop) => work(row, progress, stop));
            return TypedResults.Accepted($"/api/jobs/{job.Id}", job);
        }
        catch (TooManyJobsException e)
        {
            return Problems.Conflict("take", e.Message, $"at most {e.Kind.MostWaiting} that wait");
        }
    }
}

using Kinetra.Server.Hosting;
using Kinetra.Server.Jobs;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Kinetra.Server.Features.Jobs;

/// <summary>Long work beside the engine: listed, stopped, what it made downloaded.</summary>
sealed class JobEndpoints : IFeature
{
    public void AddTo(IServiceCollection services, ServerOptions options) =>
        services.AddSingleton<JobRunner>().AddHostedService(s => s.GetRequiredService<JobRunner>());

    public void MapTo(IEndpointRouteBuilder routes)
    {
        routes.MapGet("/jobs", (JobRunner jobs) => jobs.All).WithName("getJobs").WithSummary("Long work that waits, is being done, or ended last; newest first.");
        routes.MapDelete("/jobs/{job:guid}", Stop).WithName("stopJob").WithSummary("Stops work that waits or is being done.");
        routes.MapGet("/jobs/{job:guid}/file", Download).WithName("downloadJobFile").WithSummary("The file that work made.");
    }

    private static Results<NoContent, ProblemHttpResult> Stop(Guid job, JobRunner jobs) =>
        jobs.Stop(job) ? TypedResults.NoContent()
        : jobs.Find(job) is { Words: var words } ? Problems.Conflict("job", $"It has ended: {words}", "a job that waits or is being done")
        : Problems.NotFound("job", "There is no such job.", "a job of /api/jobs");

    private static Results<PhysicalFileHttpResult, ProblemHttpResult> Download(Guid job, JobRunner jobs) =>
        jobs.FileOf(job) is var (path, name, type)
            ? TypedResults.PhysicalFile(path, type, name, enableRangeProcessing: true)
            : Problems.NotFound("job", "This job has no file, or no longer.", "a job of /api/jobs that made one");
}

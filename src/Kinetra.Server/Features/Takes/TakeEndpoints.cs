using Kinetra.Core.Editing;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Data;
using Kinetra.Data.Rows;
using Kinetra.Server.Hosting;
using Kinetra.Server.Jobs;
using Kinetra.Server.Live;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.Net.Http.Headers;

namespace Kinetra.Server.Features.Takes;

/// <summary>A take, as the API gives it.</summary>
/// <param name="Id">Its identity.</param>
/// <param name="Name">Its name.</param>
/// <param name="StartedAt">When its first frame was.</param>
/// <param name="Seconds">Its length; 0 while it is being recorded.</param>
/// <param name="State">Recording, Done or Interrupted.</param>
/// <param name="EndedBecause">Why it ended, where that was not a person's wish.</param>
/// <param name="Tracks">Its tracks, in order.</param>
public sealed record TakeDocument(
    Guid Id, string Name, DateTimeOffset StartedAt, double Seconds, string State, string? EndedBecause, IReadOnlyList<TrackDocument> Tracks)
{
    /// <summary>The document of a stored take.</summary>
    public static TakeDocument Of(TakeRow take)
    {
        ArgumentNullException.ThrowIfNull(take);
        return new(
            take.Id,
            take.Name,
            take.StartedAt,
            (double)take.Frames / AudioFormat.SampleRate,
            take.State.ToString(),
            take.EndedBecause,
            [.. take.Tracks.Select(t => new TrackDocument(t.Id, t.Ordinal, t.Name, t.IsMix ? "mix" : "source", t.Channels, t.Clipped, t.LostFrames, t.Point, [.. t.Gaps.Select(g => new GapDocument((double)g.Start / AudioFormat.SampleRate, (double)g.Frames / AudioFormat.SampleRate, g.Words))]))]);
    }
}

/// <summary>A track of a take.</summary>
/// <param name="Id">Its identity.</param>
/// <param name="Ordinal">Its place, from 1.</param>
/// <param name="Name">The name of what it recorded.</param>
/// <param name="Of">mix or source.</param>
/// <param name="Channels">1 or 2.</param>
/// <param name="Clipped">Samples beyond full scale.</param>
/// <param name="LostFrames">Frames that are missing.</param>
/// <param name="Point">What it recorded: source/ID or mix/ID; null in takes from before that was kept.</param>
/// <param name="Gaps">When what it recorded was away.</param>
public sealed record TrackDocument(Guid Id, int Ordinal, string Name, string Of, int Channels, long Clipped, long LostFrames, string? Point, IReadOnlyList<GapDocument> Gaps);

/// <summary>A time in which what a track recorded was away; the file is silent there.</summary>
/// <param name="From">When it began, seconds of the take.</param>
/// <param name="Seconds">How long it was.</param>
/// <param name="Words">Why.</param>
public sealed record GapDocument(double From, double Seconds, string Words);

/// <summary>A folder among the takes that is no take, or one that cannot be listed.</summary>
/// <param name="Folder">Its name, in the folder takes of the data folder.</param>
/// <param name="Words">Why, for a person.</param>
public sealed record DamagedTake(string Folder, string Words);

/// <summary>What a new take is called.</summary>
/// <param name="Name">1–60 characters; left out: the show's name and the time.</param>
public sealed record NewTake([property: Like(typeof(Source), "name")] string? Name = null);

/// <summary>Takes: recorded, listed, downloaded.</summary>
sealed class TakeEndpoints : IFeature
{
    public void AddTo(IServiceCollection services, ServerOptions options)
    {
        services.AddSingleton<TakeFiles>().AddSingleton<TakeRecorder>().AddHostedService<TakeWriting>();
        services.AddSingleton<IFollower>(s => s.GetRequiredService<TakeRecorder>());
    }

    public void MapTo(IEndpointRouteBuilder routes)
    {
        routes.MapGet("/takes", async (TakeStore store, CancellationToken cancel) => (await store.AllAsync(cancel)).Select(TakeDocument.Of))
            .WithName("getTakes").WithSummary("All takes, newest first.");
        routes.MapGet("/takes/damaged", (TakeRecorder recorder) => recorder.Damaged)
            .WithName("getDamagedTakes").WithSummary("What lay among the takes at the start and cannot be listed, and why.");
        routes.MapPost("/takes", StartAsync).WithName("startTake").WithSummary("Begins to record every mix and every source.");
        routes.MapPost("/takes/current/stop", StopAsync).WithName("stopTake").WithSummary("Ends the take that is being recorded.");
        routes.MapGet("/takes/{take:guid}/tracks/{track:guid}/file", DownloadAsync).WithName("downloadTrack").WithSummary("A track as a WAV file.");
        routes.MapPost("/takes/{take:guid}/check", (Guid take, TakeStore store, TakeFiles files, JobRunner jobs, CancellationToken cancel) =>
            BeginAsync(take, store, jobs, TakeFiles.Check, files.CheckAsync, cancel)).WithName("checkTake").WithSummary("Reads all tracks of a take to the end, beside the engine.");
        routes.MapPost("/takes/{take:guid}/export", (Guid take, TakeStore store, TakeFiles files, JobRunner jobs, CancellationToken cancel) =>
            BeginAsync(take, store, jobs, TakeFiles.Export, files.ExportAsync, cancel)).WithName("exportTake").WithSummary("Puts all tracks of a take into one ZIP file, beside the engine.");
        routes.MapMethods("/takes/{take:guid}/tracks/{track:guid}/file", [HttpMethods.Head], DownloadAsync).ExcludeFromDescription();
    }

    private static async Task<Results<Ok<TakeDocument>, ProblemHttpResult>> StartAsync(
        NewTake wanted, Turn turn, LiveShow live, Playing playing, EngineHost host, TakeRecorder recorder, CancellationToken cancel)
    {
        if (wanted.Name is not null && RigRules.CheckName("name", wanted.Name) is { } problem)
        {
            return Problems.Invalid([problem]);
        }

        try
        {
            return await turn.TakeAsync(() => recorder.StartAsync(live.Show, playing.Plan, host.Engine, wanted.Name?.Trim(), cancel), cancel) is { } take
                ? TypedResults.Ok(TakeDocument.Of(take))
                : Problems.Conflict("take", "A take is being recorded already.", "one take at a time");
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            return Problems.Problem(
                StatusCodes.Status507InsufficientStorage, "The take cannot be recorded.", [new RigProblem("disk", e.Message, "a data folder with room that can be written to")]);
        }
    }

    private static async Task<Results<Ok<TakeDocument>, ProblemHttpResult>> StopAsync(TakeRecorder recorder, CancellationToken cancel) =>
        await recorder.StopAsync(cancel) is { } take
            ? TypedResults.Ok(TakeDocument.Of(take))
            : Problems.Conflict("take", "No take is being recorded.", "a take that is being recorded");

    private static async Task<Results<PhysicalFileHttpResult, ProblemHttpResult>> DownloadAsync(
        Guid take, Guid track, TakeStore store, TakeRecorder recorder, CancellationToken cancel)
    {
        if (await store.FindAsync(take, cancel) is not { } row || row.Tracks.Find(t => t.Id == track) is not { } found)
        {
            return Problems.NotFound("track", "There is no such track.", "a track of a take in /api/takes");
        }

        var path = recorder.PathOf(take, found);
        return File.Exists(path)
            ? TypedResults.PhysicalFile(path, "audio/wav", $"{TakeRecorder.SafeName(row.Name)} – {found.FileName}", lastModified: File.GetLastWriteTimeUtc(path), entityTag: TagOf(path, found.Id), enableRangeProcessing: true)
            : Problems.NotFound("file", "The track's file is no longer in the data folder.", "a track whose file is there");
    }

    private static async Task<Results<Accepted<Job>, ProblemHttpResult>> BeginAsync(
        Guid take, TakeStore store, JobRunner jobs, JobKind kind, Func<TakeRow, IProgress<double>, CancellationToken, Task<JobOutcome>> work, CancellationToken cancel)
    {
        if (await store.FindAsync(take, cancel) is not { } row)
        {
            return Problems.NotFound("take", "There is no such take.", "a take of /api/takes");
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

    // It grows while it is recorded, and is another one then.
    private static EntityTagHeaderValue TagOf(string path, Guid track) => new($"\"{track:n}-{new FileInfo(path).Length:x}\"");
}

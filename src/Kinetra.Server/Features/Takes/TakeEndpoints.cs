using System.ComponentModel.DataAnnotations;
using System.Runtime.InteropServices;
using Kinetra.Core.Editing;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Core.Takes;
using Kinetra.Data;
using Kinetra.Data.Rows;
using Kinetra.Media;
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
/// <param name="Marks">The moments that were marked, in order.</param>
/// <param name="Verdict">What was found out when its files were read last; null: they were not yet.</param>
/// <param name="Folder">Where its files lie on this computer.</param>
/// <param name="Copy">Where it was written a second time, and what became of that; null: nowhere.</param>
/// <param name="IsPaused">True: it is being recorded, and paused.</param>
/// <param name="Notes">What a person has noted of it; may be empty.</param>
/// <param name="From">Where what is kept of it begins, seconds; its files stay whole.</param>
/// <param name="To">Where that ends; null: with the take.</param>
/// <param name="DeletedAt">When it was deleted; null: it was not.</param>
public sealed record TakeDocument(
    Guid Id, string Name, DateTimeOffset StartedAt, double Seconds, string State, string? EndedBecause, IReadOnlyList<TrackDocument> Tracks, IReadOnlyList<MarkDocument> Marks, VerdictDocument? Verdict, string Folder, TakeCopy? Copy, bool IsPaused, string Notes, double From, double? To, DateTimeOffset? DeletedAt)
{
    /// <summary>The document of a stored take.</summary>
    public static TakeDocument Of(TakeRow take, TakeRecorder recorder)
    {
        ArgumentNullException.ThrowIfNull(take);
        return new(
            take.Id,
            take.Name,
            take.StartedAt,
            (double)take.Frames / AudioFormat.SampleRate,
            take.State.ToString(),
            take.EndedBecause,
            [.. take.Tracks.Select(t => new TrackDocument(t.Id, t.Ordinal, t.Name, OfWhat(t), t.Channels, t.Form, t.Clipped, t.LostFrames, t.Point, [.. t.Gaps.Select(g => new GapDocument((double)g.Start / AudioFormat.SampleRate, (double)g.Frames / AudioFormat.SampleRate, g.Words))]))],
            [.. take.Marks.Select(MarkDocument.Of)],
            VerdictDocument.Of(take.Verdict),
            recorder.FolderOf(take),
            take.Copy,
            take.Id == recorder.Current && recorder.IsPaused,
            take.Notes,
            (double)take.From / AudioFormat.SampleRate,
            (double?)take.To / AudioFormat.SampleRate,
            take.DeletedAt);
    }

    private static string OfWhat(TrackRow track) => track.IsMix ? "mix" : Core.Signal.Point.Parse(track.Point) switch
    {
        CablePoint => "cable",
        AppPoint => "program",
        _ => "source",
    };
}

/// <summary>What was found out about a take by reading its files.</summary>
/// <param name="Standing">Sound, Remarks or Wrong.</param>
/// <param name="Sentence">In one sentence.</param>
/// <param name="Tracks">Track by track, in their order.</param>
public sealed record VerdictDocument(TakeStanding Standing, string Sentence, IReadOnlyList<TrackVerdictDocument> Tracks)
{
    /// <summary>The document of a verdict.</summary>
    public static VerdictDocument? Of(TakeVerdict? verdict) => verdict is null
        ? null
        : new(verdict.Standing, verdict.Sentence, [.. verdict.Tracks.Select(t => new TrackVerdictDocument(t.Standing, t.Remarks, t.PeakDb, t.ExactSeconds))]);
}

/// <summary>What was found out about a track.</summary>
/// <param name="Standing">Sound, Remarks or Wrong.</param>
/// <param name="Remarks">All that there is to say; none: it is what its name says.</param>
/// <param name="PeakDb">Its highest sample, dBFS; null: it is silent, or cannot be read.</param>
/// <param name="ExactSeconds">How many whole seconds of it are, sample by sample, what the engine gave.</param>
public sealed record TrackVerdictDocument(TakeStanding Standing, IReadOnlyList<TrackRemark> Remarks, double? PeakDb, long ExactSeconds);

/// <summary>A moment of a take that was marked.</summary>
/// <param name="At">Seconds of the take.</param>
/// <param name="Words">What it is; may be empty.</param>
/// <param name="ByProgram">True: nobody asked for it; something happened then.</param>
public sealed record MarkDocument(double At, string Words, bool ByProgram)
{
    /// <summary>The document of a mark.</summary>
    public static MarkDocument Of(TakeMark mark)
    {
        ArgumentNullException.ThrowIfNull(mark);
        return new((double)mark.Frame / AudioFormat.SampleRate, mark.Words, mark.ByProgram);
    }
}

/// <summary>The outlines of a take’s tracks.</summary>
/// <param name="From">Where they begin, seconds of the take.</param>
/// <param name="To">Where they end.</param>
/// <param name="Tracks">By track, in order; of one that has no outline yet, nothing.</param>
public sealed record OutlinesDocument(double From, double To, IReadOnlyList<OutlineDocument> Tracks);

/// <summary>The outline of a track.</summary>
/// <param name="Track">Its identity.</param>
/// <param name="Peaks">Evenly over the time that was asked for, the highest magnitude of each part, in thousandths of full scale; empty: there is no outline.</param>
public sealed record OutlineDocument(Guid Track, IReadOnlyList<int> Peaks);

/// <summary>A new mark.</summary>
/// <param name="Words">At most 60 characters; left out: none.</param>
public sealed record NewMark([property: MaxLength(60)] string? Words = null);

/// <summary>A track of a take.</summary>
/// <param name="Id">Its identity.</param>
/// <param name="Ordinal">Its place, from 1.</param>
/// <param name="Name">The name of what it recorded.</param>
/// <param name="Of">mix, source, cable or program.</param>
/// <param name="Channels">1 or 2.</param>
/// <param name="Form">What its file is written as.</param>
/// <param name="Clipped">Samples beyond full scale.</param>
/// <param name="LostFrames">Frames that are missing.</param>
/// <param name="Point">What it recorded, as a point is written; null in takes from before that was kept.</param>
/// <param name="Gaps">When what it recorded was away.</param>
public sealed record TrackDocument(Guid Id, int Ordinal, string Name, string Of, int Channels, string Form, long Clipped, long LostFrames, string? Point, IReadOnlyList<GapDocument> Gaps);

/// <summary>A time in which what a track recorded was away; the file is silent there.</summary>
/// <param name="From">When it began, seconds of the take.</param>
/// <param name="Seconds">How long it was.</param>
/// <param name="Words">Why.</param>
public sealed record GapDocument(double From, double Seconds, string Words);

/// <summary>A folder among the takes that is no take, or one that cannot be listed.</summary>
/// <param name="Folder">Its name, in the folder takes of the data folder.</param>
/// <param name="Words">Why, for a person.</param>
public sealed record DamagedTake(string Folder, string Words);

/// <summary>A new take.</summary>
/// <param name="Name">1–60 characters; left out: the show's name and the time.</param>
/// <param name="Seconds">When it ends by itself, seconds of it, 1 to 600, as a test does; left out: it does not.</param>
public sealed record NewTake([property: Like(typeof(Source), "name")] string? Name = null, [property: Range(1, 600)] double? Seconds = null);

/// <summary>Takes: recorded, listed, downloaded.</summary>
sealed class TakeEndpoints : IFeature
{
    private const int MostWide = 10_000;

    // Ten seconds.
    private const int MostFrames = 10 * AudioFormat.SampleRate;

    public void AddTo(IServiceCollection services, ServerOptions options)
    {
        services.AddSingleton<TakeFiles>().AddSingleton<TakeRecorder>().AddSingleton<TakeStart>().AddSingleton<TakeLimit>().AddHostedService<TakeWriting>().AddSingleton<TakeBefore>();
        services.AddSingleton<IFollower>(s => s.GetRequiredService<TakeRecorder>()).AddSingleton<IFollower>(s => s.GetRequiredService<TakeLimit>()).AddSingleton<IFollower>(s => s.GetRequiredService<TakeBefore>());
    }

    public void MapTo(IEndpointRouteBuilder routes)
    {
        routes.MapGet("/takes", async (TakeStore store, TakeRecorder recorder, CancellationToken cancel) => (await store.AllAsync(cancel)).Where(t => t.DeletedAt is null).Select(t => AsItIs(t, recorder)))
            .WithName("getTakes").WithSummary("All takes, newest first.");
        routes.MapGet("/takes/damaged", (TakeRecorder recorder) => recorder.Damaged)
            .WithName("getDamagedTakes").WithSummary("What lay among the takes at the start and cannot be listed, and why.");
        routes.MapPost("/takes", StartAsync).WithName("startTake").WithSummary("Begins to record: the tracks that are planned, or else every mix and every source.");
        routes.MapPost("/takes/current/stop", StopAsync).WithName("stopTake").WithSummary("Ends the take that is being recorded.");
        routes.MapPost("/takes/current/pause", (TakeRecorder recorder) => Pause(recorder, true)).WithName("pauseTake").WithSummary("Pauses the take that is being recorded.");
        routes.MapPost("/takes/current/go-on", (TakeRecorder recorder) => Pause(recorder, false)).WithName("goOnWithTake").WithSummary("The take that is paused goes on.");
        routes.MapPost("/takes/current/marks", Mark).WithName("markTake").WithSummary("Marks this moment of the take that is being recorded.");
        routes.MapGet("/takes/{take:guid}/tracks/{track:guid}/file", DownloadAsync).WithName("downloadTrack").WithSummary("A track’s file.");
        routes.MapGet("/takes/{take:guid}/timeline/{ending}", TimeLineAsync).Produces<string>(StatusCodes.Status200OK, "text/plain")
            .WithName("getTimeLine").WithSummary("A take’s time line or its marks for other programs: otio, edl, csv or vtt.");
        routes.MapGet("/takes/{take:guid}/outlines", OutlinesAsync).WithName("getOutlines").WithSummary("What the tracks of a take look like from one time to another, in so many values each.");
        routes.MapGet("/takes/{take:guid}/tracks/{track:guid}/sound", SoundAsync).Produces<byte[]>(StatusCodes.Status200OK, "application/octet-stream")
            .WithName("getTrackSound").WithSummary("The sound of a track from a frame on, to be played: 32-bit floats, interleaved, at 48 kHz.");
        routes.MapPost("/takes/{take:guid}/check", (Guid take, TakeStore store, TakeFiles files, JobRunner jobs, CancellationToken cancel) =>
            TakeJobs.BeginAsync(take, store, jobs, TakeFiles.Check, files.CheckAsync, cancel)).WithName("checkTake").WithSummary("Reads all tracks of a take to the end, beside the engine.");
        routes.MapPost("/takes/{take:guid}/export", (Guid take, TakeStore store, TakeFiles files, JobRunner jobs, CancellationToken cancel) =>
            TakeJobs.BeginAsync(take, store, jobs, TakeFiles.Export, files.ExportAsync, cancel)).WithName("exportTake").WithSummary("Puts all tracks of a take into one ZIP file, beside the engine.");
        routes.MapMethods("/takes/{take:guid}/tracks/{track:guid}/file", [HttpMethods.Head], DownloadAsync).ExcludeFromDescription();
    }

    private static async Task<Results<Ok<TakeDocument>, ProblemHttpResult>> StartAsync(
        NewTake wanted, TakeStart takes, TakeRecorder recorder, TakeLimit limit, CancellationToken cancel)
    {
        if (wanted.Name is not null && RigRules.CheckName("name", wanted.Name) is { } problem)
        {
            return Problems.Invalid([problem]);
        }

        if (wanted.Seconds is not (null or (>= 1 and <= 600)))
        {
            return Problems.Invalid("seconds", $"A take cannot end after {wanted.Seconds} s.", "a number from 1 to 600");
        }

        try
        {
            if (await takes.BeginAsync(wanted.Name?.Trim(), wanted.Seconds is null, cancel) is not { } take)
            {
                return Problems.Conflict("take", "A take is being recorded already.", "one take at a time");
            }

            if (wanted.Seconds is { } seconds)
            {
                limit.Set(take.Id, seconds);
            }

            return TypedResults.Ok(TakeDocument.Of(take, recorder));
        }
        catch (NothingToRecordException e)
        {
            return Problems.Conflict("tracks", e.Message, "a show with something to record, or a plan with a track that is armed");
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            return Problems.Problem(
                StatusCodes.Status507InsufficientStorage, "The take cannot be recorded.", [new RigProblem("disk", e.Message, "a data folder with room that can be written to")]);
        }
    }

    private static async Task<Results<Ok<TakeDocument>, ProblemHttpResult>> StopAsync(TakeRecorder recorder, CancellationToken cancel) =>
        await recorder.StopAsync(cancel) is { } take
            ? TypedResults.Ok(TakeDocument.Of(take, recorder))
            : Problems.Conflict("take", "No take is being recorded.", "a take that is being recorded");

    private static Results<NoContent, ProblemHttpResult> Pause(TakeRecorder recorder, bool on) =>
        recorder.Pause(on) ? TypedResults.NoContent() : Problems.Conflict("take", "No take is being recorded.", "a take that is being recorded");

    // Those of the take that is being recorded are stored with its end.
    private static TakeDocument AsItIs(TakeRow take, TakeRecorder recorder)
    {
        var document = TakeDocument.Of(take, recorder);
        return recorder.SoFar(take.Id) is var (marks, copy) ? document with { Marks = [.. marks.Select(MarkDocument.Of)], Copy = copy } : document;
    }

    private static Results<Ok<MarkDocument>, ProblemHttpResult> Mark(NewMark wanted, TakeRecorder recorder)
    {
        var words = wanted.Words?.Trim() ?? "";
        if (words.Length > 0 && RigRules.CheckText("words", words, RigLimits.NameLength) is { } problem)
        {
            return Problems.Invalid([problem]);
        }

        return recorder.Mark(words) is { } mark ? TypedResults.Ok(MarkDocument.Of(mark))
            : Problems.Conflict("take", recorder.Current is null ? "No take is being recorded." : "It has all the marks that it can have.", $"a take that is being recorded, with fewer than {TakeRecorder.MostMarks} marks");
    }

    private static async Task<Results<FileContentHttpResult, ProblemHttpResult>> SoundAsync(
        Guid take, Guid track, long from, int frames, TakeStore store, TakeRecorder recorder, CancellationToken cancel)
    {
        if (await store.FindAsync(take, cancel) is not { } row || row.Tracks.Find(t => t.Id == track) is not { } found)
        {
            return Problems.NotFound("track", "There is no such track, or its take was deleted.", "a track of a take in /api/takes");
        }

        if (from < 0 || frames is < 1 or > MostFrames)
        {
            return from < 0 ? Problems.Invalid("from", "This is no frame of a take.", "a whole number, 0 or more") : Problems.Invalid("frames", $"{frames} frames cannot be given at once.", $"a whole number from 1 to {MostFrames}");
        }

        try
        {
            using var file = new OpenSoundFile(recorder.PathOf(row, found));
            var sound = new float[frames * file.Channels];
            var read = file.Seek(from) ? file.Read(sound) : 0;
            return TypedResults.Bytes(MemoryMarshal.AsBytes(sound.AsSpan(0, read * file.Channels)).ToArray(), "application/octet-stream");
        }
        catch (SoundFileException e)
        {
            return Problems.NotFound("file", e.What, "a track whose file is there, and can be read");
        }
    }

    private static async Task<Results<Ok<OutlinesDocument>, ProblemHttpResult>> OutlinesAsync(
        Guid take, TakeStore store, TakeRecorder recorder, EngineHost host, CancellationToken cancel, double from = 0, double? to = null, int width = 1_000)
    {
        if (await store.FindAsync(take, cancel) is not { } row)
        {
            return Problems.NotFound("take", "There is no such take, or it was deleted.", "a take of /api/takes");
        }

        var frames = row.Id == recorder.Current ? recorder.FramesSoFar(host.Engine.Frame) : row.Frames;
        var end = to ?? Math.Max((double)frames / AudioFormat.SampleRate, 0.1);
        if (!(from >= 0 && end > from) || double.IsInfinity(end) || width is < 1 or > MostWide)
        {
            return width is < 1 or > MostWide ? Problems.Invalid("width", $"{width} values cannot be given.", $"a whole number from 1 to {MostWide}") : Problems.Invalid("from", "This is no time of a take.", "from 0 s on, and to after from");
        }

        // Only what is in sight is read, of all tracks at once.
        const double scale = AudioFormat.SampleRate / (double)Peaks.Frames;
        var first = (long)Math.Min(from * scale, int.MaxValue);
        var count = (long)Math.Min(Math.Ceiling(end * scale), int.MaxValue) - first + 1;
        var shown = new int[row.Tracks.Count][];
        Parallel.For(0, shown.Length, n => shown[n] = PeakFile.Read(recorder.PathOf(row, row.Tracks[n]), first, count) is { } peaks
            ? [.. Peaks.Shown(peaks, (from * scale) - first, (end * scale) - first, width).Select(p => p * 1_000 / Peaks.FullScale)] : []);
        return TypedResults.Ok(new OutlinesDocument(
            from,
            end,
            [.. row.Tracks.Select((t, n) => new OutlineDocument(t.Id, shown[n]))]));
    }

    private static async Task<Results<FileContentHttpResult, ProblemHttpResult>> TimeLineAsync(Guid take, string ending, TakeStore store, CancellationToken cancel, int rate = TakeTimeLine.UsualRate)
    {
        if (await store.FindAsync(take, cancel) is not { } row)
        {
            return Problems.NotFound("take", "There is no such take, or it was deleted.", "a take of /api/takes");
        }

        if (!TimeLine.Rates.Contains(rate))
        {
            return Problems.Invalid("rate", $"Time codes cannot count {rate} frames a second.", string.Join(", ", TimeLine.Rates));
        }

        if (row.State == TakeState.Recording)
        {
            return Problems.Conflict("take", "It is still being recorded.", "a take that has ended");
        }

        return TakeTimeLine.Of(row, ending, rate) is { } document
            ? TypedResults.File(document.Bytes, document.Type, $"{TakeNames.SafeName(row.Name)}.{ending}")
            : Problems.NotFound("ending", $"There is no time line as “{ending}”.", string.Join(", ", TakeTimeLine.Endings));
    }

    private static async Task<Results<PhysicalFileHttpResult, ProblemHttpResult>> DownloadAsync(
        Guid take, Guid track, TakeStore store, TakeRecorder recorder, CancellationToken cancel)
    {
        if (await store.FindAsync(take, cancel) is not { } row || row.Tracks.Find(t => t.Id == track) is not { } found)
        {
            return Problems.NotFound("track", "There is no such track, or its take was deleted.", "a track of a take in /api/takes");
        }

        var path = recorder.PathOf(row, found);
        return File.Exists(path)
            ? TypedResults.PhysicalFile(path, TakeNames.TypeOf(path), $"{TakeNames.SafeName(row.Name)} – {found.FileName}", lastModified: File.GetLastWriteTimeUtc(path), entityTag: TagOf(path, found.Id), enableRangeProcessing: true)
            : Problems.NotFound("file", "The track's file is no longer in the data folder.", "a track whose file is there");
    }

    // It grows while it is recorded, and is another one then.
    private static EntityTagHeaderValue TagOf(string path, Guid track) => new($"\"{track:n}-{new FileInfo(path).Length:x}\"");
}

using System.Text.Json.Serialization;

namespace Kinetra.Server.Jobs;

/// <summary>A sort of work beside the engine, with its bounds.</summary>
/// <param name="Name">Its name in the API: small letters.</param>
/// <param name="AtOnce">How many of the sort are done at once, 1 or more.</param>
/// <param name="MostWaiting">How many may wait, 0 or more; one more is refused.</param>
public sealed record JobKind(string Name, int AtOnce, int MostWaiting);

/// <summary>How a job stands.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<JobState>))]
public enum JobState
{
    /// <summary>Others of its sort are before it.</summary>
    Waiting,

    /// <summary>It is being done.</summary>
    Running,

    /// <summary>It is done.</summary>
    Done,

    /// <summary>It went wrong.</summary>
    Failed,

    /// <summary>Somebody stopped it, or the server ended.</summary>
    Stopped,
}

/// <summary>A job as the API gives it.</summary>
/// <param name="Id">Its identity.</param>
/// <param name="Kind">Its sort: decode, check, export or sound.</param>
/// <param name="Of">What is worked on, in words.</param>
/// <param name="Subject">The identity of what is worked on, or null where it has none yet.</param>
/// <param name="State">How it stands.</param>
/// <param name="Progress">The part that is done, 0 to 1.</param>
/// <param name="Words">How it ended; null while it goes on.</param>
/// <param name="IsGood">It is done, and found nothing wrong.</param>
/// <param name="HasFile">It made a file, which can be downloaded.</param>
public sealed record Job(Guid Id, string Kind, string Of, string? Subject, JobState State, double Progress, string? Words, bool IsGood, bool HasFile)
{
    /// <summary>It waits or is being done.</summary>
    internal bool IsOpen => State is JobState.Waiting or JobState.Running;
}

/// <summary>What a job came to.</summary>
/// <param name="Words">In words, for a person.</param>
/// <param name="IsGood">False: something was found to be wrong.</param>
/// <param name="File">A file that it made, or null; deleted with the job.</param>
/// <param name="FileName">What that is called when it is downloaded.</param>
/// <param name="FileType">Its media type.</param>
public sealed record JobOutcome(string Words, bool IsGood = true, string? File = null, string? FileName = null, string FileType = "application/zip");

/// <summary>Hears of jobs.</summary>
public interface IJobAudience
{
    /// <summary>A job has begun, moved on or ended.</summary>
    void JobsChanged();
}

/// <summary>As many of its sort wait already as may.</summary>
public sealed class TooManyJobsException(JobKind kind)
    : Exception($"{kind.MostWaiting} of this sort wait already.")
{
    /// <summary>The sort.</summary>
    public JobKind Kind => kind;
}

/// <summary>Somebody stopped the job.</summary>
public sealed class JobStoppedException() : Exception("Somebody stopped it.");

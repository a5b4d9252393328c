using System.Collections.Concurrent;
using System.Collections.Immutable;
using Kinetra.Media;

namespace Kinetra.Server.Jobs;

/// <summary>
/// The one place for long work beside the engine: in turn by its sort, with progress, and stoppable. What a job reads and writes is its own;
/// the engine does not know of it.
/// </summary>
public sealed partial class JobRunner(IJobAudience audience, TimeProvider time, ILogger<JobRunner> log) : IHostedService, IDisposable
{
    // Enough to find again what one has just asked for.
    private const int EndedKept = 20;

    // What jobs made takes room on the disk as long as it can be downloaded.
    private const int FilesKept = 3;

    // Less is not seen.
    private const double Step = 0.01;
    private static readonly TimeSpan TellsEvery = TimeSpan.FromMilliseconds(100);
    private static readonly TimeSpan GivesUpWithin = TimeSpan.FromSeconds(5);

    private readonly Lock _lock = new();
    private readonly ConcurrentDictionary<JobKind, SemaphoreSlim> _turns = new();
    private readonly CancellationTokenSource _ending = new();
    private ImmutableList<Entry> _entries = [];

    /// <summary>Those that wait, are being done, or ended last; newest first.</summary>
    public IReadOnlyList<Job> All => [.. Volatile.Read(ref _entries).Select(e => e.Job).Reverse()];

    /// <summary>Has something done, and waits for it.</summary>
    /// <param name="kind">Its sort.</param>
    /// <param name="of">What is worked on, in words.</param>
    /// <param name="work">The work. Says how far it is (0 to 1), and gives up when it is told to.</param>
    /// <param name="cancel">The caller does not want it any more.</param>
    /// <exception cref="TooManyJobsException">Too many wait.</exception>
    /// <exception cref="JobStoppedException">Somebody stopped it.</exception>
    public async Task<T> RunAsync<T>(JobKind kind, string of, Func<IProgress<double>, CancellationToken, Task<T>> work, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(work);
        T result = default!;
        var entry = Enter(kind, of, null);
        await DoAsync(
            entry,
            kind,
            async (progress, stop) =>
            {
                result = await work(progress, stop);
                return new("Done.");
            },
            cancel);
        return result;
    }

    /// <summary>Has something done, without waiting for it.</summary>
    /// <param name="kind">Its sort.</param>
    /// <param name="of">What is worked on, in words.</param>
    /// <param name="subject">Its identity. Of one sort on one subject there is one open job: asked for again, that one is given.</param>
    /// <param name="work">The work, and what it came to.</param>
    /// <exception cref="TooManyJobsException">Too many wait.</exception>
    public Job Start(JobKind kind, string of, string subject, Func<IProgress<double>, CancellationToken, Task<JobOutcome>> work)
    {
        ArgumentNullException.ThrowIfNull(kind);
        Entry entry;
        lock (_lock)
        {
            if (_entries.Find(e => e.Job.IsOpen && e.Job.Kind == kind.Name && e.Job.Subject == subject) is { } same)
            {
                return same.Job;
            }

            entry = Enter(kind, of, subject);
        }

        entry.Doing = Task.Run(async () =>
        {
            try
            {
                await DoAsync(entry, kind, work, CancellationToken.None);
            }
            catch (Exception e) when (e is JobStoppedException or OperationCanceledException or IOException or UnauthorizedAccessException)
            {
                // Its entry says so.
            }
            catch (Exception e)
            {
                LogFailed(log, e, kind.Name, of);
            }
        });
        return entry.Job;
    }

    /// <summary>A job, or null.</summary>
    public Job? Find(Guid id) => EntryOf(id)?.Job;

    /// <summary>The file that a job made, what it is called, and its media type; null where there is none.</summary>
    public (string Path, string Name, string Type)? FileOf(Guid id) =>
        EntryOf(id)?.Outcome is { File: { } path, FileName: { } name, FileType: var type } && File.Exists(path) ? (path, name, type) : null;

    /// <summary>Stops a job that waits or is being done.</summary>
    /// <returns>False where there is no such one.</returns>
    public bool Stop(Guid id)
    {
        if (EntryOf(id) is not { Job.IsOpen: true } entry)
        {
            return false;
        }

        entry.Stopping.Cancel();
        return true;
    }

    /// <inheritdoc/>
    public Task StartAsync(CancellationToken cancellationToken) => Task.CompletedTask;

    /// <inheritdoc/>
    public async Task StopAsync(CancellationToken cancellationToken)
    {
        await _ending.CancelAsync();

        // What they read and write is let go of, before what they stand on is.
        await Task.WhenAny(Task.WhenAll(Volatile.Read(ref _entries).Select(e => e.Doing)), Task.Delay(GivesUpWithin, time, cancellationToken));
    }

    /// <inheritdoc/>
    public void Dispose()
    {
        _ending.Dispose();
        foreach (var turn in _turns.Values)
        {
            turn.Dispose();
        }
    }

    private Entry? EntryOf(Guid id) => Volatile.Read(ref _entries).Find(e => e.Job.Id == id);

    private Entry Enter(JobKind kind, string of, string? subject)
    {
        var entry = new Entry(new(Guid.CreateVersion7(), kind.Name, of, subject, JobState.Waiting, 0, null, false, false));
        lock (_lock)
        {
            if (_entries.Count(e => e.Job.Kind == kind.Name && e.Job.IsOpen) >= kind.AtOnce + kind.MostWaiting)
            {
                throw new TooManyJobsException(kind);
            }

            var ended = _entries.Where(e => !e.Job.IsOpen).SkipLast(EndedKept).ToList();
            ended.ForEach(e => e.Forget());
            Volatile.Write(ref _entries, _entries.RemoveRange(ended).Add(entry));

            // The newest stay, and of one thing only the newest: it is made anew by this job, where it is of the same sort.
            var files = _entries.Where(e => e.Job.HasFile).ToList();
            files.SkipLast(FilesKept - 1).Concat(files.Where(e => e.Job.Kind == kind.Name && e.Job.Subject == subject)).ToList().ForEach(e => e.Forget());
        }

        audience.JobsChanged();
        return entry;
    }

    private async Task DoAsync(Entry entry, JobKind kind, Func<IProgress<double>, CancellationToken, Task<JobOutcome>> work, CancellationToken cancel)
    {
        using var stop = CancellationTokenSource.CreateLinkedTokenSource(cancel, entry.Stopping.Token, _ending.Token);
        var turn = _turns.GetOrAdd(kind, k => new SemaphoreSlim(k.AtOnce));
        try
        {
            await turn.WaitAsync(stop.Token);
            try
            {
                Set(entry, entry.Job with { State = JobState.Running });
                entry.Outcome = await work(new Progress(this, entry), stop.Token);
            }
            finally
            {
                turn.Release();
            }

            Set(entry, entry.Job with { State = JobState.Done, Progress = 1, Words = entry.Outcome.Words, IsGood = entry.Outcome.IsGood, HasFile = entry.Outcome.File is not null });
        }
        catch (OperationCanceledException) when (stop.IsCancellationRequested)
        {
            Set(entry, entry.Job with { State = JobState.Stopped, Words = "It was stopped." });
            if (entry.Stopping.IsCancellationRequested)
            {
                throw new JobStoppedException();
            }

            throw;
        }
        catch (Exception e)
        {
            Set(entry, entry.Job with { State = JobState.Failed, Words = WordsFor(e) });
            throw;
        }
    }

    // Errors of a disk tell its paths; what is meant for a person does not.
    private static string WordsFor(Exception e) => e switch
    {
        SoundFileException refusal => refusal.What,
        IOException => "The disk did not do it: it is full, or something is not there any more.",
        _ => "It went wrong.",
    };

    private void Set(Entry entry, Job job)
    {
        entry.Job = job;
        audience.JobsChanged();
    }

    [LoggerMessage(LogLevel.Error, "The job {Kind} of {Of} failed.")]
    private static partial void LogFailed(ILogger log, Exception cause, string kind, string of);

    private sealed class Entry(Job job)
    {
        private volatile Job _job = job;

        public Job Job
        {
            get => _job;
            set => _job = value;
        }

        public CancellationTokenSource Stopping { get; } = new();

        public JobOutcome? Outcome { get; set; }

        public Task Doing { get; set; } = Task.CompletedTask;

        public void Forget()
        {
            if (Outcome?.File is not { } file)
            {
                return;
            }

            Job = Job with { HasFile = false, Words = "Its file has made room for newer ones; it can be made again." };
            try
            {
                File.Delete(file);
            }
            catch (Exception e) when (e is IOException or UnauthorizedAccessException)
            {
                // The next start deletes it.
            }
        }
    }

    private sealed class Progress(JobRunner runner, Entry entry) : IProgress<double>
    {
        private long _told = runner.Now;

        public void Report(double value)
        {
            var part = Math.Clamp(value, 0, 1);
            var now = runner.Now;
            if (!double.IsFinite(value) || part < entry.Job.Progress + Step || now - _told < TellsEvery.Ticks)
            {
                return;
            }

            _told = now;
            runner.Set(entry, entry.Job with { Progress = part });
        }
    }

    private long Now => time.GetUtcNow().Ticks;
}

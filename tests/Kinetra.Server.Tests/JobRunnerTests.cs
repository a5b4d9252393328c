using Kinetra.Server.Jobs;
using Microsoft.Extensions.Logging.Abstractions;

namespace Kinetra.Server.Tests;

public sealed class JobRunnerTests : IDisposable
{
    private static readonly JobKind Kind = new("decode", AtOnce: 1, MostWaiting: 2);
    private readonly Audience _audience = new();
    private readonly JobRunner _jobs;
    private readonly DirectoryInfo _folder = Directory.CreateTempSubdirectory("kinetra-jobs-");

    public JobRunnerTests() => _jobs = new(_audience, TimeProvider.System, NullLogger<JobRunner>.Instance);

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    public void Dispose()
    {
        _jobs.Dispose();
        _audience.Dispose();
        _folder.Delete(recursive: true);
    }

    private Task<int> RunAsync(string of, Task<int> work) =>
        _jobs.RunAsync(Kind, of, (_, stop) => work.WaitAsync(stop), Cancel);

    private JobState StateOf(string of) => _jobs.All.Single(j => j.Of == of).State;

    [Fact]
    public async Task One_of_a_sort_is_done_at_a_time_the_others_wait_and_one_too_many_is_refused()
    {
        var first = new TaskCompletionSource<int>();
        Task<int>[] all = [RunAsync("a", first.Task), RunAsync("b", Task.FromResult(2)), RunAsync("c", Task.FromResult(3))];
        await UntilAsync(() => StateOf("a") == JobState.Running);
        (await Should.ThrowAsync<TooManyJobsException>(() => RunAsync("d", Task.FromResult(4)))).Kind.ShouldBe(Kind);
        _jobs.All.Select(j => (j.Of, j.State)).ShouldBe([("c", JobState.Waiting), ("b", JobState.Waiting), ("a", JobState.Running)]);

        // Another sort has a turn of its own.
        (await _jobs.RunAsync(Kind with { Name = "check" }, "x", (_, _) => Task.FromResult(9), Cancel)).ShouldBe(9);
        first.SetResult(1);
        (await Task.WhenAll(all)).ShouldBe([1, 2, 3]);
        _jobs.All.ShouldAllBe(j => j.State == JobState.Done && j.Progress == 1);
        (await RunAsync("e", Task.FromResult(5))).ShouldBe(5);
    }

    [Fact]
    public async Task What_waits_and_what_is_being_done_can_be_stopped_and_the_next_has_its_turn()
    {
        var never = new TaskCompletionSource<int>();
        var running = RunAsync("a", never.Task);
        var waiting = RunAsync("b", never.Task);
        var last = RunAsync("c", Task.FromResult(3));
        await UntilAsync(() => StateOf("a") == JobState.Running);
        foreach (var (name, task) in new[] { ("b", waiting), ("a", running) })
        {
            _jobs.Stop(_jobs.All.Single(j => j.Of == name).Id).ShouldBeTrue();
            await Should.ThrowAsync<JobStoppedException>(() => task);
            StateOf(name).ShouldBe(JobState.Stopped);
        }

        (await last).ShouldBe(3);
        _jobs.Stop(_jobs.All.Single(j => j.Of == "c").Id).ShouldBeFalse();
        _jobs.Stop(Guid.NewGuid()).ShouldBeFalse();
    }

    [Fact]
    public async Task Who_does_not_want_it_any_more_and_a_server_that_ends_stop_it_too()
    {
        using var gone = new CancellationTokenSource();
        var one = _jobs.RunAsync(Kind, "a", (_, stop) => Task.Delay(Timeout.Infinite, stop).ContinueWith(_ => 1, stop, TaskContinuationOptions.OnlyOnRanToCompletion, TaskScheduler.Default), gone.Token);
        await gone.CancelAsync();
        await Should.ThrowAsync<OperationCanceledException>(() => one);
        var other = RunAsync("b", new TaskCompletionSource<int>().Task);
        await _jobs.StopAsync(Cancel);
        await Should.ThrowAsync<OperationCanceledException>(() => other);
        _jobs.All.ShouldAllBe(j => j.State == JobState.Stopped);
    }

    [Fact]
    public async Task Progress_only_grows_stays_within_its_bounds_and_is_told()
    {
        var clock = new Clock();
        using var jobs = new JobRunner(_audience, clock, NullLogger<JobRunner>.Instance);
        var seen = new List<double>();
        await jobs.RunAsync(
            Kind,
            "a",
            (progress, _) =>
            {
                foreach (var part in new[] { 0.2, 0.1, double.NaN, 0.205, 7, -3 })
                {
                    clock.Forward();
                    progress.Report(part);
                    seen.Add(jobs.All[0].Progress);
                }

                return Task.FromResult(0);
            },
            Cancel);
        seen.ShouldBe([0.2, 0.2, 0.2, 0.2, 1, 1]);
        _audience.Told.ShouldBeGreaterThanOrEqualTo(5);
    }

    [Fact]
    public async Task What_goes_wrong_is_told_in_words_without_a_path_and_thrown_to_who_waits()
    {
        await Should.ThrowAsync<IOException>(() => _jobs.RunAsync<int>(Kind, "a", (_, _) => throw new IOException("/home/somebody/secret.wav is full"), Cancel));
        var job = _jobs.All.Single();
        (job.State, job.Words!.Contains('/', StringComparison.Ordinal)).ShouldBe((JobState.Failed, false));
    }

    [Fact]
    public async Task Asked_for_twice_on_the_same_thing_it_is_one_job()
    {
        var work = new TaskCompletionSource<JobOutcome>();
        var first = _jobs.Start(Kind, "take", "7", (_, _) => work.Task);
        _jobs.Start(Kind, "take", "7", (_, _) => work.Task).Id.ShouldBe(first.Id);
        _jobs.Start(Kind, "other", "8", (_, _) => work.Task).Id.ShouldNotBe(first.Id);
        work.SetResult(new("whole"));
        await UntilAsync(() => _jobs.All.All(j => j.State == JobState.Done));
        _jobs.Find(first.Id)!.Words.ShouldBe("whole");
        _jobs.Start(Kind, "take", "7", (_, _) => work.Task).Id.ShouldNotBe(first.Id);
    }

    [Fact]
    public async Task The_files_of_the_last_three_jobs_are_there_one_of_each_thing_and_older_ones_are_deleted()
    {
        for (var n = 0; n < 30; n++)
        {
            await MakeAsync($"{n}", $"{n}.zip");
        }

        _folder.GetFiles().Select(f => f.Name).ShouldBe(["29.zip", "28.zip", "27.zip"], ignoreOrder: true);
        _jobs.All.Where(j => j.HasFile).Select(j => j.Of).ShouldBe(["29", "28", "27"]);
        _jobs.All.Count.ShouldBeInRange(20, 21);
        await MakeAsync("28", "new.zip");
        _folder.GetFiles().Select(f => f.Name).ShouldBe(["29.zip", "new.zip"], ignoreOrder: true);
    }

    private async Task MakeAsync(string subject, string file)
    {
        var path = Path.Combine(_folder.FullName, file);
        var id = _jobs.Start(Kind, subject, subject, async (_, stop) =>
        {
            await File.WriteAllTextAsync(path, "x", stop);
            return new("one file", File: path, FileName: "nice.zip");
        }).Id;
        await UntilAsync(() => _jobs.Find(id)!.State == JobState.Done);
        _jobs.FileOf(id).ShouldBe((path, "nice.zip", "application/zip"));
    }

    private async Task UntilAsync(Func<bool> holds)
    {
        while (!holds())
        {
            await _audience.NextAsync();
        }
    }

    private sealed class Clock : TimeProvider
    {
        private long _ticks = 1_000_000_000;

        public void Forward() => _ticks += TimeSpan.TicksPerSecond;

        public override DateTimeOffset GetUtcNow() => new(_ticks, TimeSpan.Zero);
    }

    private sealed class Audience : IJobAudience, IDisposable
    {
        private readonly SemaphoreSlim _news = new(0);

        public int Told { get; private set; }

        public void JobsChanged()
        {
            Told++;
            _news.Release();
        }

        public Task NextAsync() => _news.WaitAsync(Cancel);

        public void Dispose() => _news.Dispose();
    }
}

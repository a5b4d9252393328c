using Kinetra.Core.Signal;
using Kinetra.Server.Hosting;
using Kinetra.Server.Live;
using Kinetra.Server.Outputs;
using Microsoft.Extensions.Logging;

namespace Kinetra.Server.Tests;

public class OutputTests
{
    private static readonly Retry Patient = new(TimeSpan.FromSeconds(1), TimeSpan.FromSeconds(5));

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    [Fact]
    public void What_takes_nothing_is_tried_again_ever_later_up_to_a_bound_and_at_once_after_it_took_something()
    {
        var clock = new Clock();
        using var output = new Made(Patient, clock);
        output.State.ShouldBe(OutputState.Waiting);
        var tried = new List<double>();
        for (var halves = 0; halves < 60; halves++)
        {
            output.Give(() =>
            {
                tried.Add(halves / 2.0);
                throw new IOException("the far side is full");
            }).ShouldBeFalse();
            (output.State, output.Document.Words).ShouldBe((OutputState.Failing, "the far side is full"));
            clock.Forward(TimeSpan.FromSeconds(0.5));
        }

        tried.Zip(tried.Skip(1), (before, after) => after - before).ShouldBe([1, 2, 4, 5, 5, 5, 5]);
        clock.Forward(TimeSpan.FromSeconds(5));
        output.Give(() => { }).ShouldBeTrue();
        (output.State, output.Document.Words).ShouldBe((OutputState.Running, null));
        output.Give(() => throw new IOException("again"));
        clock.Forward(TimeSpan.FromSeconds(1));
        output.Give(() => { }).ShouldBeTrue();
    }

    [Fact]
    public async Task What_is_not_tried_again_is_over_with_its_words_and_gives_nothing_any_more()
    {
        using var output = new Made(retry: null, new Clock());
        (await output.GiveAsync(() => ValueTask.CompletedTask)).ShouldBeTrue();
        (await output.GiveAsync(() => throw new IOException("the disk is full"))).ShouldBeFalse();
        (output.State, output.Document.Words).ShouldBe((OutputState.Ended, "the disk is full"));
        var given = false;
        output.Give(() => given = true).ShouldBeFalse();
        given.ShouldBeFalse();
    }

    [Fact]
    public void It_is_listed_until_it_is_let_go()
    {
        var list = new OutputList();
        var output = new Made(Patient, new Clock());
        output.Enter(list);
        var (id, kind, point) = (list.All.Single().Id, list.All.Single().Kind, list.All.Single().Point);
        (id, kind, point).ShouldBe((output.Id, "made", "mix/viewers"));
        output.Dispose();
        output.IsReleased.ShouldBeTrue();
        list.All.ShouldBeEmpty();
    }

    [Fact]
    public async Task A_follower_that_fails_is_said_once_and_ends_neither_the_others_nor_the_server()
    {
        var (log, good, state) = (new Lines(), new Follower(null), new StartState { WaitingFor = null });
        var bad = new Follower(new InvalidOperationException("unforeseen"));
        using var pump = new FollowerPump([bad, good], new ServerOptions { Clock = ClockKind.Real }, state, log);
        await pump.StartAsync(Cancel);
        await good.Third.WaitAsync(Cancel);
        await pump.StopAsync(Cancel);
        pump.ExecuteTask!.IsFaulted.ShouldBeFalse();
        log.Errors.ShouldBe(1);
    }

    private sealed class Follower(Exception? thrown) : IFollower
    {
        private readonly TaskCompletionSource _third = new();
        private int _calls;

        public Task Third => _third.Task;

        public void CatchUp()
        {
            if (++_calls == 3)
            {
                _third.SetResult();
            }

            if (thrown is not null)
            {
                throw thrown;
            }
        }
    }

    private sealed class Lines : ILogger<FollowerPump>
    {
        public int Errors { get; private set; }

        public IDisposable? BeginScope<TState>(TState state)
            where TState : notnull => null;

        public bool IsEnabled(LogLevel logLevel) => true;

        public void Log<TState>(LogLevel logLevel, EventId eventId, TState state, Exception? exception, Func<TState, Exception?, string> formatter) => Errors++;
    }

    private sealed class Clock : TimeProvider
    {
        private DateTimeOffset _now = DateTimeOffset.UnixEpoch;

        public void Forward(TimeSpan by) => _now += by;

        public override DateTimeOffset GetUtcNow() => _now;
    }

    private sealed class Made(Retry? retry, TimeProvider time) : Output("made", "nowhere", retry, time)
    {
        public bool IsReleased { get; private set; }

        public override Point? Point => new MixPoint(new("viewers"));

        public override long Frames => 0;

        public override long Lost => 0;

        protected override void Release() => IsReleased = true;
    }
}

using System.Threading.Channels;
using Kinetra.Core.Signal;
using Kinetra.Server.Sockets;

namespace Kinetra.Server.Tests;

public class OutboxTests
{
    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    private readonly StuckWindow _window = new();

    [Fact]
    public async Task Who_tells_a_window_that_does_not_read_does_not_wait_and_no_more_than_so_many_messages_are_kept_for_it()
    {
        var outbox = new Outbox(_window);
        outbox.Post("first", w => w.StorageChanged());
        await _window.HearsAsync("storage");
        for (var n = 0; n < 10_000; n++)
        {
            var news = new ShowNews(n, n + 1, [], null);
            outbox.Post($"step {n}", w => w.ShowChanged(news));
        }

        outbox.Waiting.ShouldBeLessThanOrEqualTo(Outbox.MaxWaiting);
        _window.Read();
        await _window.HearsAsync("everything");
        outbox.Post("takes", w => w.TakesChanged());
        await _window.HearsAsync("takes");
        _window.Heard.ShouldBe(["storage", "everything", "takes"]);
    }

    [Fact]
    public async Task Of_what_waits_for_a_window_the_newer_replaces_the_older_of_its_kind_and_the_order_of_steps_stays()
    {
        var outbox = new Outbox(_window);
        outbox.Post("first", w => w.StorageChanged());
        await _window.HearsAsync("storage");
        outbox.Post("send", w => w.SendPreviewed("m", "s", new Gain(-1)));
        outbox.Post("step 1", w => w.ShowChanged(new ShowNews(0, 1, [], null)));
        outbox.Post("send", w => w.SendPreviewed("m", "s", new Gain(-2)));
        outbox.Post("step 2", w => w.ShowChanged(new ShowNews(1, 2, [], null)));
        _window.Read();
        await _window.HearsAsync("step 2");
        _window.Heard.ShouldBe(["storage", "step 1", "send -2", "step 2"]);
    }

    // Takes its first message and answers nothing until it is let.
    private sealed class StuckWindow : IShowClient
    {
        private readonly TaskCompletionSource _reads = new(TaskCreationOptions.RunContinuationsAsynchronously);
        private readonly Channel<string> _heard = Channel.CreateUnbounded<string>();

        public List<string> Heard { get; } = [];

        public void Read() => _reads.SetResult();

        public async Task HearsAsync(string what)
        {
            while (!Heard.Contains(what))
            {
                Heard.Add(await _heard.Reader.ReadAsync(Cancel).AsTask().WaitAsync(TimeSpan.FromSeconds(20), Cancel));
            }
        }

        public Task GearChanged(long sequence) => HearAsync("gear");

        public Task PlayersChanged() => HearAsync("players");

        public Task LoopsChanged() => HearAsync("players");

        public Task PadsChanged() => HearAsync("pads");

        public Task HandsChanged() => HearAsync("hands");

        public Task PresetsChanged() => HearAsync("players");

        public Task OnAirChanged() => HearAsync("on air");

        public Task ShowChanged(ShowNews news) => HearAsync($"step {news.Sequence}");

        public Task ShowOpened(long sequence) => HearAsync("opened");

        public Task EverythingChanged() => HearAsync("everything");

        public Task SendPreviewed(string mix, string source, Gain gain) => HearAsync($"send {gain.Decibels}");

        public Task PreviewEnded(string mix, string source) => HearAsync("end");

        public Task ProcessorPreviewed(string processor, string parameter, double? value) => HearAsync("processor");

        public Task TakesChanged() => HearAsync("takes");

        public Task JobsChanged() => HearAsync("jobs");

        public Task ShowsChanged() => HearAsync("shows");

        public Task PromisesChanged() => HearAsync("promises");

        public Task MicrophonesChanged() => HearAsync("microphones");

        public Task StorageChanged() => HearAsync("storage");

        private Task HearAsync(string what)
        {
            _heard.Writer.TryWrite(what);
            return _reads.Task;
        }
    }
}

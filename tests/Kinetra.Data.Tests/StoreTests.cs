using System.Text.Json;
using Kinetra.Core.Rigs;
using Kinetra.Data.Rows;
using Kinetra.Tests.Shared;
using Microsoft.EntityFrameworkCore;

namespace Kinetra.Data.Tests;

public sealed class StoreTests : IAsyncLifetime
{
    private static readonly SourceId Mic = new("mic");
    private static readonly MixId Viewers = new("viewers");
    private readonly TestDatabase _database = new();

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    private ShowStore Shows => new(_database.Contexts, TimeProvider.System);

    public async ValueTask InitializeAsync()
    {
        await _database.InitializeAsync();
        await using var context = await _database.Contexts.CreateDbContextAsync(Cancel);
        await context.Database.MigrateAsync(Cancel);
    }

    public ValueTask DisposeAsync() => _database.DisposeAsync();

    [Fact]
    public async Task The_migrations_make_exactly_what_the_model_says()
    {
        await using var context = await _database.Contexts.CreateDbContextAsync(Cancel);
        context.Database.HasPendingModelChanges().ShouldBeFalse();
        (await context.Database.GetPendingMigrationsAsync(Cancel)).ShouldBeEmpty();
    }

    [Fact]
    public async Task The_live_show_is_seeded_once_and_found_again()
    {
        var first = await Shows.LoadLiveAsync("A show", Small, Cancel);
        var again = await Shows.LoadLiveAsync("Another", () => throw new InvalidOperationException("seeded twice"), Cancel);
        (again.Id, again.Name, again.Revision).ShouldBe((first.Id, "A show", 0));
        Json(again.Rig).ShouldBe(Json(Small()));
    }

    [Fact]
    public async Task What_is_appended_is_there_for_whoever_opens_the_show_next_with_its_history()
    {
        var show = await Shows.LoadLiveAsync("A show", Small, Cancel);
        foreach (var gain in new[] { -3.0, -6.5, double.NegativeInfinity })
        {
            show = await AppendAsync(show, new SetSend(Viewers, Mic, new Gain(gain)));
        }

        var again = await Shows.LoadLiveAsync("", Small, Cancel);
        again.Revision.ShouldBe(3);
        again.Rig.Find(Viewers, Mic)!.Gain.ShouldBe(Gain.Off);
        var history = await Shows.HistoryAsync(show.Id, 2, Cancel);
        history.Select(h => (h.Revision, h.Sentence)).ShouldBe([(3, "Mic in Viewers −6.5 dB → off"), (2, "Mic in Viewers −3.0 dB → −6.5 dB")]);
        JsonSerializer.Deserialize<RigCommand>(history[0].Inverse, RigJson.Options).ShouldBe(new SetSend(Viewers, Mic, new Gain(-6.5)));
    }

    [Fact]
    public async Task A_command_on_a_revision_that_is_gone_stores_nothing_at_all()
    {
        var show = await Shows.LoadLiveAsync("A show", Small, Cancel);
        await AppendAsync(show, new SetSend(Viewers, Mic, new Gain(-3)));
        await Should.ThrowAsync<DbUpdateConcurrencyException>(() => AppendAsync(show, new SetSend(Viewers, Mic, new Gain(-20))));
        (await Shows.LoadLiveAsync("", Small, Cancel)).Rig.Find(Viewers, Mic)!.Gain.ShouldBe(new Gain(-3));
        (await Shows.HistoryAsync(show.Id, 10, Cancel)).Count.ShouldBe(1);
    }

    [Fact]
    public async Task A_stored_show_that_cannot_be_read_is_said_so_and_left_alone()
    {
        var show = await Shows.LoadLiveAsync("A show", Small, Cancel);
        await using (var context = await _database.Contexts.CreateDbContextAsync(Cancel))
        {
            await context.Shows.ExecuteUpdateAsync(s => s.SetProperty(r => r.Rig, "{\"sources\":[{\"id\":\"x\"}]}"), Cancel);
        }

        (await Should.ThrowAsync<InvalidDataException>(() => Shows.LoadLiveAsync("", Small, Cancel))).Message.ShouldContain("“A show” cannot be read");
        await using var after = await _database.Contexts.CreateDbContextAsync(Cancel);
        (await after.Shows.SingleAsync(Cancel)).Id.ShouldBe(show.Id);
    }

    [Fact]
    public async Task A_take_keeps_its_tracks_in_order_and_one_left_recording_is_interrupted_after_a_start()
    {
        var show = await Shows.LoadLiveAsync("A show", Small, Cancel);
        var takes = new TakeStore(_database.Contexts);
        var done = Take(show, "First", TakeState.Done);
        await takes.AddAsync(done, Cancel);
        await takes.AddAsync(Take(show, "Cut off", TakeState.Recording), Cancel);
        await takes.CloseInterruptedAsync(t => t.Tracks.Count * 1000, Cancel);
        var all = await takes.AllAsync(Cancel);
        all.Single(t => t.Name == "First").State.ShouldBe(TakeState.Done);
        var cut = all.Single(t => t.Name == "Cut off");
        (cut.State, cut.Frames).ShouldBe((TakeState.Interrupted, 3000));
        cut.EndedBecause.ShouldNotBeNull();
        (await takes.FindAsync(done.Id, Cancel))!.Tracks.Select(t => t.Ordinal).ShouldBe([1, 2, 3]);
    }

    [Fact]
    public async Task The_same_sound_stored_twice_is_one()
    {
        var sounds = new SoundStore(_database.Contexts);
        var address = new string('a', 64);
        await sounds.AddAsync(Sound(address, "first.wav"), Cancel);
        await sounds.AddAsync(Sound(address, "second.wav"), Cancel);
        (await sounds.FindAsync(address, Cancel))!.FileName.ShouldBe("first.wav");
        (await sounds.FindAsync(new string('b', 64), Cancel)).ShouldBeNull();
    }

    private static SoundRow Sound(string address, string name) => new()
    {
        Address = address,
        FileName = name,
        Format = "WAV",
        SampleRate = 48_000,
        Channels = 2,
        PlayedChannels = 2,
        Frames = 10,
        AddedAt = DateTimeOffset.UnixEpoch,
    };

    private static TakeRow Take(StoredShow show, string name, TakeState state) => new()
    {
        Id = Guid.CreateVersion7(),
        ShowId = show.Id,
        Name = name,
        StartedAt = DateTimeOffset.UnixEpoch,
        State = state,
        Tracks = [.. new[] { 3, 1, 2 }.Select(n => new TrackRow { Id = Guid.NewGuid(), Ordinal = n, Name = $"T{n}", IsMix = n == 1, Channels = 2, FileName = $"{n}.wav" })],
    };

    private static Rig Small() => new()
    {
        Sources = [new Source { Id = Mic, Name = "Mic", Kind = SourceKind.Microphone, Input = new StandInInput("mic") }],
        Mixes = [new Mix { Id = Viewers, Name = "Viewers", Purpose = MixPurpose.Viewers, Sends = [new Send { Source = Mic }] }],
    };

    private static string Json(Rig rig) => JsonSerializer.Serialize(rig, RigJson.Options);

    private Task<StoredShow> AppendAsync(StoredShow show, RigCommand command) =>
        Shows.AppendAsync(show, command, (CommandResult.Applied)command.Apply(show.Rig), Cancel);
}

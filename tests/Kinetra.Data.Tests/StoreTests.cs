using System.Text.Json;
using Kinetra.Core.Editing;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
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
    public async Task Shows_are_seeded_once_the_first_is_live_and_found_again()
    {
        var first = await SeededAsync();
        await Shows.SeedAsync(() => [("Another", new Rig())], Cancel);
        var again = await Shows.LoadLiveAsync(Cancel);
        (again.Id, again.Name, again.Revision).ShouldBe((first.Id, "A show", 0));
        Json(again.Rig).ShouldBe(Json(Small()));
        (await Shows.AllAsync(Cancel)).Select(s => s.Name).ShouldBe(["A show", "B show"]);
    }

    [Fact]
    public async Task What_is_appended_is_there_for_whoever_opens_the_show_next_with_its_history()
    {
        var show = await SeededAsync();
        foreach (var gain in new[] { -3.0, -6.5, double.NegativeInfinity })
        {
            show = await AppendAsync(show, new SetSend(Viewers, Mic, new Gain(gain)));
        }

        var again = await Shows.LoadLiveAsync(Cancel);
        again.Revision.ShouldBe(3);
        again.Rig.Find(Viewers, Mic)!.Gain.ShouldBe(Gain.Off);
        var history = await Shows.HistoryAsync(show.Id, Cancel);
        history.Newest.Skip(1).Select(h => (h.Revision, h.Sentence)).ShouldBe([(2, "Mic in Viewers −3.0 → −6.5 dB"), (3, "Mic in Viewers −6.5 dB → off")]);
        history.ToUndo!.Inverse.ShouldBe(new SetSend(Viewers, Mic, new Gain(-6.5)));
        history.ToUndo.By.ShouldBe(new StepAuthor("w1", "A browser"));
    }

    [Fact]
    public async Task A_command_on_a_revision_that_is_gone_stores_nothing_at_all()
    {
        var show = await SeededAsync();
        await AppendAsync(show, new SetSend(Viewers, Mic, new Gain(-3)));
        await Should.ThrowAsync<DbUpdateConcurrencyException>(() => AppendAsync(show, new SetSend(Viewers, Mic, new Gain(-20))));
        (await Shows.LoadLiveAsync(Cancel)).Rig.Find(Viewers, Mic)!.Gain.ShouldBe(new Gain(-3));
        (await Shows.HistoryAsync(show.Id, Cancel)).Newest.Count.ShouldBe(1);
    }

    [Fact]
    public async Task A_stored_show_that_cannot_be_read_is_said_so_and_left_alone()
    {
        var show = await SeededAsync();
        await using (var context = await _database.Contexts.CreateDbContextAsync(Cancel))
        {
            await context.Shows.ExecuteUpdateAsync(s => s.SetProperty(r => r.Rig, "{\"sources\":[{\"id\":\"x\"}]}"), Cancel);
        }

        var shows = Shows;
        await Should.ThrowAsync<InvalidDataException>(() => shows.LoadLiveAsync(Cancel));
        (await shows.AllAsync(Cancel)).Single(s => s.Id == show.Id).Damaged!.ShouldContain("“A show” cannot be understood from $.sources[0]");
        await using var after = await _database.Contexts.CreateDbContextAsync(Cancel);
        (await after.Shows.CountAsync(s => s.Id == show.Id, Cancel)).ShouldBe(1);
    }

    [Fact]
    public async Task A_show_that_was_put_away_is_not_found_until_it_is_brought_back()
    {
        var show = await SeededAsync();
        (await Shows.RenameAsync(show.Id, "Other name", Cancel)).ShouldBeTrue();
        (await Shows.PutAwayAsync(show.Id, true, Cancel)).ShouldBeTrue();
        (await Shows.PutAwayAsync(show.Id, true, Cancel)).ShouldBeFalse();
        (await Shows.FindAsync(show.Id, Cancel)).ShouldBeNull();
        (await Shows.RenameAsync(show.Id, "No", Cancel)).ShouldBeFalse();
        (await Shows.PutAwayAsync(show.Id, false, Cancel)).ShouldBeTrue();
        (await Shows.FindAsync(show.Id, Cancel))!.Name.ShouldBe("Other name");
    }

    [Fact]
    public async Task A_take_keeps_its_tracks_in_order_and_is_one_however_often_it_is_stored()
    {
        var show = await SeededAsync();
        var takes = new TakeStore(_database.Contexts);
        var take = Take(show, "First", TakeState.Recording);
        await takes.SaveAsync(take, Cancel);
        take.State = TakeState.Done;
        await takes.SaveAsync(take, Cancel);
        var all = await takes.AllAsync(Cancel);
        all.Single().State.ShouldBe(TakeState.Done);
        (await takes.FindAsync(take.Id, Cancel))!.Tracks.Select(t => t.Ordinal).ShouldBe([1, 2, 3]);
    }

    [Fact]
    public async Task When_a_promise_broke_is_kept_newest_first_ends_where_it_ends_and_goes_with_its_show_alone()
    {
        var show = await SeededAsync();
        var breaks = new PromiseBreakStore(_database.Contexts);
        var (first, second) = (Break(show.Id, 1), Break(show.Id, 2));
        await breaks.SaveAsync([first, second, Break(Guid.NewGuid(), 3)], Cancel);
        first.Ended = first.Began.AddSeconds(4);
        await breaks.SaveAsync([first], Cancel);
        var kept = await breaks.OfAsync(show.Id, Cancel);
        kept.Select(b => (b.Id, b.Ended)).ShouldBe([(second.Id, null), (first.Id, first.Ended)]);
        (kept[0].Sentence, kept[0].Why, kept[0].BySound).ShouldBe(("It never comes", "It came.", true));
        (await breaks.OfAsync(Guid.NewGuid(), Cancel)).ShouldBeEmpty();

        static PromiseBreakRow Break(Guid show, int minute) => new()
        {
            Id = Guid.CreateVersion7(),
            ShowId = show,
            Promise = "p1",
            Sentence = "It never comes",
            Why = "It came.",
            BySound = true,
            Began = new(2026, 1, 1, 20, minute, 0, TimeSpan.Zero),
        };
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

    [Theory]
    [InlineData("{}")]
    [InlineData("7")]
    [InlineData("[null]")]
    [InlineData("[{\"start\":\"soon\"}]")]
    public async Task A_takes_gaps_are_kept_and_those_that_cannot_be_understood_keep_no_take_from_being_listed(string broken)
    {
        var show = await SeededAsync();
        var takes = new TakeStore(_database.Contexts);
        foreach (var name in new[] { "good", "bad" })
        {
            var take = Take(show, name, TakeState.Done);
            take.Tracks[0].Gaps.Add(new TrackGap(48_000, 24_000, "The desk is unplugged"));
            await takes.SaveAsync(take, Cancel);
        }

        await using (var context = await _database.Contexts.CreateDbContextAsync(Cancel))
        {
            var bad = (await takes.AllAsync(Cancel)).Single(t => t.Name == "bad").Id;
            (await context.Database.ExecuteSqlAsync($"update tracks set gaps = {broken}::jsonb where take_id = {bad}", Cancel)).ShouldBe(3);
        }

        var all = await takes.AllAsync(Cancel);
        all.Single(t => t.Name == "bad").Tracks.ShouldAllBe(t => t.Gaps.Count == 0);
        all.Single(t => t.Name == "good").Tracks.SelectMany(t => t.Gaps).ShouldBe([new TrackGap(48_000, 24_000, "The desk is unplugged")]);
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
        Sources = [new Source { Id = Mic, Name = "Mic", Kind = SourceKind.Microphone, Input = new DeviceInput(new("desk-interface"), 0) }],
        Mixes = [new Mix { Id = Viewers, Name = "Viewers", Purpose = MixPurpose.Viewers, Sends = [new Send { Source = Mic }] }],
    };

    private static string Json(Rig rig) => JsonSerializer.Serialize(rig, RigJson.Options);

    private async Task<StoredShow> SeededAsync()
    {
        await Shows.SeedAsync(() => [("A show", Small()), ("B show", new Rig())], Cancel);
        return await Shows.LoadLiveAsync(Cancel);
    }

    private Task<StoredShow> AppendAsync(StoredShow show, RigCommand command)
    {
        var applied = (CommandResult.Applied)command.Apply(show.Rig);
        var step = new Step(
            show.Revision + 1, DateTimeOffset.UnixEpoch, StepKind.Do, null, new StepAuthor("w1", "A browser"), applied.Sentence, command, applied.Inverse);
        return Shows.AppendAsync(show, step, applied.Rig, Cancel);
    }
}

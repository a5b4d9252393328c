using Kinetra.Core.Planning;
using Kinetra.Data;

namespace Kinetra.Server.Live;

/// <summary>What became of a show that was to be opened, renamed or put away.</summary>
public enum Opening
{
    /// <summary>It is done.</summary>
    Done,

    /// <summary>There is no such show.</summary>
    Unknown,

    /// <summary>The live show must stay what it is now: it is being recorded.</summary>
    Held,

    /// <summary>It is the live one.</summary>
    IsLive,

    /// <summary>The database is away, and the other show is in it.</summary>
    Away,
}

/// <summary>Which show is live: opened at the start, and later by a crossfade; renamed and put away in turn with that.</summary>
public sealed class Openings(Turn turn, LiveShow live, Playing playing, ShowStore store, ShowLedger ledger, SourceInlets inlets, HushSwitch hush, LiveGear gear)
{
    /// <summary>Opens the stored live show and starts the engine with it; what waits in the journal is stored first.</summary>
    public async Task StartAsync(CancellationToken cancel)
    {
        try
        {
            if (!await ledger.ReturnAsync(cancel))
            {
                throw new TimeoutException("The database went away again.");
            }
        }
        catch (InvalidDataException)
        {
            // It was set aside, and said so; what is stored counts.
        }

        // Where the live show is damaged, another one plays; the list says why.
        var show = await store.LoadLiveAsync(cancel, () => ("New show", NewShow.Rig()));
        var history = await store.HistoryAsync(show.Id, cancel);
        gear.Load();
        playing.Start(show, await inlets.PrepareAsync(show.Rig, opening: true, cancel), hush.WasOn);
        live.Open(show, history, playing.Plan.Loops);
        gear.ShowOpened(show.Id, show.Rig, left: null);
    }

    /// <summary>Makes another stored show the live one, by a crossfade.</summary>
    /// <param name="id">The show.</param>
    /// <param name="isHeld">True where the live show must stay; asked in turn.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task<Opening> SwitchAsync(Guid id, Func<bool> isHeld, CancellationToken cancel)
    {
        // Its sounds are read before it is its turn; it may be another by then, or the database away, and then it takes a little longer.
        var sounds = id == live.Show.Id || ledger.IsAway || await store.FindAsync(id, cancel) is not { } next ? [] : await inlets.WarmAsync(next.Rig, cancel);
        var became = await turn.TakeAsync(() => OpenAsync(id, isHeld, cancel), cancel);
        GC.KeepAlive(sounds);
        return became;
    }

    /// <summary>Gives a show another name.</summary>
    public Task<Opening> RenameAsync(Guid id, string name, CancellationToken cancel) => turn.TakeAsync(
        async () =>
        {
            if (!await store.RenameAsync(id, name, cancel))
            {
                return Opening.Unknown;
            }

            if (live.Show.Id == id)
            {
                live.Rename(name);
            }

            return Opening.Done;
        },
        cancel);

    /// <summary>Puts a show away that is not the live one.</summary>
    public Task<Opening> PutAwayAsync(Guid id, CancellationToken cancel) => turn.TakeAsync(
        async () => live.Show.Id == id ? Opening.IsLive : await store.PutAwayAsync(id, true, cancel) ? Opening.Done : Opening.Unknown, cancel);

    /// <summary>
    /// The stored show may be another than ours: somebody else wrote to it, or the journal was set aside. What is stored counts.
    /// The caller has the turn.
    /// </summary>
    internal async Task ReloadAsync()
    {
        var stored = await store.LoadLiveAsync(CancellationToken.None);
        if (stored.Id == live.Show.Id && stored.Revision == live.Show.Revision)
        {
            return;
        }

        var history = await store.HistoryAsync(stored.Id, CancellationToken.None);
        if (stored.Id != live.Show.Id)
        {
            gear.ShowLeft();
        }

        playing.Become(stored, await inlets.PrepareAsync(stored.Rig, opening: false, CancellationToken.None), null, Author.None);
        live.Open(stored, history, playing.Plan.Loops);
        gear.ShowOpened(stored.Id, stored.Rig, left: null);
    }

    private async Task<Opening> OpenAsync(Guid id, Func<bool> isHeld, CancellationToken cancel)
    {
        if (id == live.Show.Id)
        {
            return Opening.Done;
        }

        if (isHeld())
        {
            return Opening.Held;
        }

        if (ledger.IsAway)
        {
            return Opening.Away;
        }

        if (await store.FindAsync(id, cancel) is not { } show)
        {
            return Opening.Unknown;
        }

        var history = await store.HistoryAsync(show.Id, cancel);
        var prepared = await inlets.PrepareAsync(show.Rig, opening: true, cancel);
        await store.MakeLiveAsync(show.Id, cancel);
        var left = live.Show.Rig;
        gear.ShowLeft();
        playing.Open(show, prepared);
        live.Open(show, history, playing.Plan.Loops);
        gear.ShowOpened(show.Id, show.Rig, left);
        return Opening.Done;
    }
}

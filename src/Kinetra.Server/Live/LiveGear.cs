using System.Collections.Immutable;
using Kinetra.Core.Editing;
using Kinetra.Core.Gear;
using Kinetra.Core.Rigs;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;

namespace Kinetra.Server.Live;

/// <summary>Hears when the computer around the desk changes.</summary>
public interface IGearAudience
{
    /// <summary>It has changed, and has this sequence now.</summary>
    void GearChanged(long sequence);
}

/// <summary>The computer as it is now, with what the live show wants of it.</summary>
/// <param name="Sequence">Counts its changes over starts: of two, the larger one is newer.</param>
/// <param name="State">How it is.</param>
/// <param name="Cables">The cables that there are.</param>
/// <param name="Unmet">Wishes of the live show that are not so.</param>
/// <param name="Rest">The programs' outputs that the live show takes as everything else.</param>
/// <param name="IsAsBefore">True where defaults and programs' choices are as they were before the live show was opened.</param>
public sealed record GearNow(long Sequence, GearState State, CablesNow Cables, ImmutableArray<Unmet> Unmet, ImmutableHashSet<AppPoint> Rest, bool IsAsBefore);

/// <summary>
/// The computer around the desk: changed one after the other, kept, heard and told. It is no part of the show: it has a history of its own, and what
/// a show wants of it are wishes. Any thread.
/// </summary>
public sealed class LiveGear(Turn turn, GearAround around, GearKept kept, Playing playing, LiveShow live, IGearAudience audience, TimeProvider time)
{
    private GearMemory _memory = new(GearState.Empty, []);
    private GearMemory? _saved;
    private long _sequence = time.GetUtcNow().ToUnixTimeMilliseconds();
    private GearNow? _now;
    private GearDone[] _done = [];
    private long _numbers;

    /// <summary>How it is now.</summary>
    /// <exception cref="InvalidOperationException">No show has been opened yet.</exception>
    public GearNow Now => Volatile.Read(ref _now) ?? throw new InvalidOperationException("No show has been opened yet.");

    /// <summary>What was changed, newest last.</summary>
    public ImmutableArray<GearLine> History => Volatile.Read(ref _memory).History;

    /// <summary>What of it can be taken back, newest last: the latest since the start that a person or the show did.</summary>
    public IReadOnlyList<GearDone> Done => Volatile.Read(ref _done);

    /// <summary>Before the engine runs: how it was left.</summary>
    public void Load()
    {
        _memory = kept.Load();
        around.Become(_memory.State);
    }

    /// <summary>Changes it, and lets that be heard.</summary>
    /// <param name="change">What changes.</param>
    /// <param name="by">Who wants it.</param>
    /// <param name="window">What the person's window calls itself.</param>
    public Task<GearOutcome> DoAsync(GearChange change, GearActor by = GearActor.Person, string? window = null)
    {
        ArgumentNullException.ThrowIfNull(change);
        return turn.TakeAsync(() =>
        {
            var rig = live.Show.Rig;
            var outcome = Apply(change, rig, by, window);
            if (outcome is GearOutcome.Done { Sentence.Length: > 0 })
            {
                FulfilAlways(rig);
                Tell(rig);
            }

            return Task.FromResult(outcome);
        });
    }

    /// <summary>Somebody begins to send into a cable by its address, or ends: no line of the computer's history, where it might fill all.</summary>
    /// <param name="change">What changes.</param>
    /// <param name="show">The show of whose cable it is; once another is live it is refused.</param>
    public Task<GearOutcome> PassAsync(GearChange change, Guid? show = null)
    {
        ArgumentNullException.ThrowIfNull(change);
        return turn.TakeAsync(() =>
        {
            var rig = live.Show.Rig;
            if (show is { } wanted && wanted != live.Show.Id)
            {
                return Task.FromResult<GearOutcome>(new GearOutcome.Refused(new("show", "Another show is open by now.", "the same once its show is open")));
            }

            var outcome = change.Apply(_memory.State, CablesNow.Of(rig), time.GetUtcNow());
            if (outcome is GearOutcome.Done { Sentence.Length: > 0 } done)
            {
                _memory = _memory with { State = done.State };
                Tell(rig);
            }

            return Task.FromResult(outcome);
        });
    }

    /// <summary>The live show is about to be left. Whoever sends into a cable of it sends into no other show's. The caller has the turn.</summary>
    public void ShowLeft()
    {
        if (new SenderGoes(null).Apply(_memory.State, CablesNow.Of(live.Show.Rig), time.GetUtcNow()) is GearOutcome.Done done)
        {
            _memory = _memory with { State = done.State };
            around.Become(_memory.State);
        }
    }

    /// <summary>Takes back what was done, as far as nobody has changed it again since. What took something back can be taken back, too.</summary>
    /// <param name="number">Which of <see cref="Done"/>.</param>
    /// <param name="window">What the person's window calls itself.</param>
    /// <returns>Null: it is not there, or not any more.</returns>
    public async Task<GearOutcome?> TakeBackAsync(long number, string? window) => Done.FirstOrDefault(d => d.Number == number) is { } done
        ? await DoAsync(new TakeGearBack(done.Before, done.After, done.Line.Sentence), window: window)
        : null;

    /// <summary>Makes so what the live show wants and what nothing stands in the way of.</summary>
    /// <param name="role">Only this default; null: whatever.</param>
    /// <param name="app">Only this program's; null: whatever.</param>
    /// <param name="port">Only this port's; null: whatever.</param>
    /// <returns>How many wishes were fulfilled.</returns>
    public Task<int> FulfilAsync(Role? role = null, AppId? app = null, string? port = null) => turn.TakeAsync(() =>
    {
        var rig = live.Show.Rig;
        var done = Fulfil(rig, Unmet(rig).Where(u => u.Obstacle is null && (role is null || u.Role == role) && (app is null || u.App == app) && (port is null || u.Port == port)));
        if (done > 0)
        {
            Tell(rig);
        }

        return Task.FromResult(done);
    });

    /// <summary>A step has changed the live show: cables that are new or gone change the computer, and other wishes may be open.</summary>
    public void ShowChanged(Rig before, Rig now, bool isNew)
    {
        ArgumentNullException.ThrowIfNull(before);
        ArgumentNullException.ThrowIfNull(now);
        if (ReferenceEquals(before.Wishes, now.Wishes) && before.Cables.Select(Known).SequenceEqual(now.Cables.Select(Known)) && Taken(before).SequenceEqual(Taken(now)))
        {
            return;
        }

        foreach (var cable in now.Cables.Where(c => isNew && before.Find(c.Id) is null))
        {
            Apply(new CableMade(cable.Id), now, GearActor.Installation, null);
        }

        foreach (var cable in before.Cables.Where(c => now.Find(c.Id) is null))
        {
            Apply(new CableGone(cable.Id), now, GearActor.Installation, null);
        }

        FulfilAlways(now);
        Tell(now);
    }

    /// <summary>After the show: defaults and programs' choices are put back as they stood before the live show was opened.</summary>
    public Task PutBackAsync() => turn.TakeAsync(() =>
    {
        var rig = live.Show.Rig;
        if (_memory.Before is { } before)
        {
            PutBack(before, rig);
            Tell(rig);
        }

        return Task.FromResult(true);
    });

    /// <summary>Another show is live: what stood before the one that is left is put back, where it wished so, and the new one's wishes count.</summary>
    /// <param name="id">The show.</param>
    /// <param name="rig">It.</param>
    /// <param name="left">The show that is left; null: this is the first.</param>
    public void ShowOpened(Guid id, Rig rig, Rig? left)
    {
        ArgumentNullException.ThrowIfNull(rig);
        if (left is { Wishes.PutBack: true } && _memory.Before is { } before && before.Show != id)
        {
            PutBack(before, rig);
        }

        var isNew = _memory is { Before: null, History.IsEmpty: true };
        if (_memory.Before?.Show != id)
        {
            _memory = _memory with
            {
                Before = new GearBefore(id, _memory.State.Defaults, ChoicesOf(_memory.State)),
            };
        }

        if (isNew)
        {
            // A computer that nobody has used yet is set up for its first show.
            Fulfil(rig, Unmet(rig).Where(u => u.Obstacle is null));
        }

        FulfilAlways(rig);
        Tell(rig);
    }

    // What the show takes from programs, which then play elsewhere.
    private static IEnumerable<SourceInput> Taken(Rig rig) => rig.Sources.Select(s => s.Input).Where(i => i is AppInput or EverythingElseInput);

    // What the computer knows of a cable: not how loud what plays into it is.
    private static (CableId Id, string Name, int Channels) Known(Cable cable) => (cable.Id, cable.Name, cable.Channels);

    private static ImmutableArray<PortWish> ChoicesOf(GearState state) =>
        [.. state.Apps.Where(a => a.Kind != AppKind.Sender).SelectMany(a => a.Ports.Select(p => new PortWish(a.Id, p.Id, p.Choice)))];

    private void PutBack(GearBefore before, Rig rig)
    {
        for (var role = Role.Playback; role <= Role.CallsRecording; role++)
        {
            if (before.Defaults[(int)role] is { } end)
            {
                Apply(new SetDefault(role, end), rig, GearActor.Show, null);
            }
        }

        foreach (var port in before.Ports)
        {
            Apply(new SetPort(port.App, port.Port, port.Choice, Restart: true), rig, GearActor.Show, null);
        }
    }

    private GearOutcome Apply(GearChange change, Rig rig, GearActor by, string? window)
    {
        var now = time.GetUtcNow();
        var outcome = change.Apply(_memory.State, CablesNow.Of(rig), now);
        if (outcome is GearOutcome.Done { Sentence: { Length: > 0 } sentence } done)
        {
            var line = new GearLine(now, by, window, sentence);
            var lines = _memory.History.Add(line);
            if (by != GearActor.Installation)
            {
                // What was installed is taken out again where it was put in.
                Volatile.Write(ref _done, [.. _done.TakeLast(GearDone.Most - 1), new GearDone(++_numbers, line, _memory.State, done.State)]);
            }

            _memory = _memory with { State = done.State, History = lines.Length > GearMemory.MostLines ? lines.RemoveAt(0) : lines };
        }

        return outcome;
    }

    private void FulfilAlways(Rig rig)
    {
        if (!rig.Wishes.Always)
        {
            return;
        }

        Fulfil(rig, Unmet(rig).Where(u => u is { Obstacle: null, NeedsRestart: false }));
    }

    // How many were.
    private int Fulfil(Rig rig, IEnumerable<Unmet> wishes) =>
        wishes.Count(u => Apply(Fulfilment.ChangeFor(u), rig, GearActor.Show, null) is GearOutcome.Done { Sentence.Length: > 0 });

    private ImmutableArray<Unmet> Unmet(Rig rig) => Fulfilment.Of(rig.Wishes, _memory.State, CablesNow.Of(rig), time.GetUtcNow());

    private GearNow Told(Rig rig) => new(
        _sequence,
        _memory.State,
        CablesNow.Of(rig),
        Unmet(rig),
        CatchAll.Of(rig, _memory.State),
        _memory.Before is not { } before || (before.Defaults.SequenceEqual(_memory.State.Defaults) && before.Ports.SequenceEqual(ChoicesOf(_memory.State))));

    private void Tell(Rig rig)
    {
        if (!ReferenceEquals(around.State, _memory.State))
        {
            around.Become(_memory.State);
            playing.Replan();
            live.Looped(playing.Plan.Loops);
        }

        if (!ReferenceEquals(_saved, _memory))
        {
            kept.Save(_memory);
            _saved = _memory;
        }

        _sequence++;
        Volatile.Write(ref _now, Told(rig));
        audience.GearChanged(_sequence);
    }
}

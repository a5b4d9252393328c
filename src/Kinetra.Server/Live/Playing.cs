using System.Collections.Immutable;
using Kinetra.Core.Editing;
using Kinetra.Core.Engine;
using Kinetra.Core.Hands;
using Kinetra.Core.Planning;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Core.Takes;
using Kinetra.Data;

namespace Kinetra.Server.Live;

/// <summary>
/// What the engine is told to play: the show as it is stored, with what somebody only tries (previews), holds and measures (probes) on top of it.
/// Any thread; nobody waits for a turn.
/// </summary>
public sealed class Playing(EngineHost host, SourceInlets inlets, GearAround gear) : IHeldVoices
{
    /// <summary>The most probes at one time.</summary>
    public const int MaxProbes = 8;

    private readonly Lock _planning = new();
    private ImmutableDictionary<(string Connection, string Target), RigCommand> _previews =
        ImmutableDictionary<(string, string), RigCommand>.Empty;

    private ImmutableArray<Held> _holds = [];
    private ImmutableHashSet<SourceId> _held = [];
    private ImmutableDictionary<SourceId, IInlet> _probes = ImmutableDictionary<SourceId, IInlet>.Empty;
    private TakeKeep? _keep;
    private StoredShow? _show;
    private EnginePlan? _posted;

    /// <summary>What the engine was told last: it plays it once what goes has faded out.</summary>
    /// <exception cref="InvalidOperationException">No show has been opened yet.</exception>
    public EnginePlan Plan => Volatile.Read(ref _posted) ?? throw new InvalidOperationException("The show has not been opened yet.");

    /// <summary>Starts the engine with a show, every way out silent where <paramref name="hushed"/>.</summary>
    public void Start(StoredShow show, PreparedInlets prepared, bool hushed)
    {
        ArgumentNullException.ThrowIfNull(show);
        lock (_planning)
        {
            inlets.Use(prepared);
            _show = show;
            _posted = gear.Serve(EnginePlan.Build(show.Rig, inlets.For, null, null, gear.Running));
        }

        host.Start(_posted, hushed);
    }

    /// <summary>Goes over to another show by a crossfade; previews are of the old one, and end.</summary>
    public void Open(StoredShow show, PreparedInlets prepared)
    {
        ArgumentNullException.ThrowIfNull(show);
        lock (_planning)
        {
            _previews = _previews.Clear();
            _holds = [];
            Volatile.Write(ref _held, []);
            inlets.Use(prepared);
            var plan = gear.Serve(EnginePlan.Build(show.Rig, inlets.For, null, _probes, gear.Running));
            host.Engine.PostOpening(plan, _posted!, Succession.Of(_show!.Rig, show.Rig));
            (_show, _posted) = (show, plan);
        }
    }

    /// <summary>Goes over to what a step has made of the show; its author's previews of the same values end.</summary>
    /// <param name="show">The show after it.</param>
    /// <param name="prepared">Its inlets.</param>
    /// <param name="step">The command; null: the show was fetched anew.</param>
    /// <param name="author">Whose it is.</param>
    /// <returns>The previews that have ended.</returns>
    public IReadOnlyList<RigCommand> Become(StoredShow show, PreparedInlets prepared, RigCommand? step, Author author)
    {
        ArgumentNullException.ThrowIfNull(author);
        lock (_planning)
        {
            inlets.Use(prepared);
            _show = show;
            var ended = step is null ? [] : ForgetPreviewsOf(author, step);
            Play(step is null ? null : LevelsOf([.. ended, step]));
            return ended;
        }
    }

    /// <summary>Lets a change be heard that is not kept. The rules hold for it too.</summary>
    /// <param name="show">The show that it is for; nothing is heard where another is live.</param>
    /// <param name="connection">The window's connection: with it, its previews end.</param>
    /// <param name="command">The change, of one value: there is one preview of each, and the stored change of that value ends it.</param>
    /// <returns>What is wrong with it; empty where it is heard now.</returns>
    public ImmutableArray<RigProblem> Preview(Guid show, string connection, RigCommand command)
    {
        ArgumentNullException.ThrowIfNull(command);
        lock (_planning)
        {
            if (_show is null || _show.Id != show)
            {
                return [new RigProblem("show", "This show does not play now.", "the live show")];
            }

            if (command.Apply(_show.Rig) is CommandResult.Refused refused)
            {
                return refused.Problems;
            }

            _previews = _previews.SetItem((connection, command.Targets.Single()), command);
            Play(command.Levels);
            return [];
        }
    }

    /// <summary>Ends the previews of a connection: all of them, or that of the value that a command sets.</summary>
    /// <returns>Those that have ended.</returns>
    public IReadOnlyList<RigCommand> EndPreviews(string connection, RigCommand? of = null)
    {
        var target = of?.Targets.Single();
        lock (_planning)
        {
            var ended = _previews.Where(p => p.Key.Connection == connection && (target is null || p.Key.Target == target)).ToList();
            if (ended.Count > 0 && _show is not null)
            {
                _previews = _previews.RemoveRange(ended.Select(p => p.Key));
                Play(LevelsOf(ended.Select(p => p.Value)));
            }

            return [.. ended.Select(p => p.Value)];
        }
    }

    /// <summary>A command changed nothing: its author's previews of the same values end all the same.</summary>
    /// <returns>Those that have ended.</returns>
    public IReadOnlyList<RigCommand> EndPreviewsOf(Author author, RigCommand command)
    {
        ArgumentNullException.ThrowIfNull(author);
        ArgumentNullException.ThrowIfNull(command);
        lock (_planning)
        {
            var ended = ForgetPreviewsOf(author, command);
            Play(LevelsOf(ended));
            return ended;
        }
    }

    /// <summary>What somebody holds now, the oldest first.</summary>
    public ImmutableArray<Held> Holds
    {
        get
        {
            lock (_planning)
            {
                return _holds;
            }
        }
    }

    /// <summary>The rig as it is stored, with what a hold would lay over it beside what is held already.</summary>
    public Rig Over(Hold hold)
    {
        lock (_planning)
        {
            return Laid([.. _holds, new Held("", hold)], _show!.Rig);
        }
    }

    /// <inheritdoc/>
    public bool IsHeld(SourceId source) => Volatile.Read(ref _held).Contains(source);

    /// <summary>A hand begins to hold something: heard at once, and kept by nobody.</summary>
    /// <returns>False: it holds it already.</returns>
    public bool Take(Held held)
    {
        lock (_planning)
        {
            return !_holds.Contains(held) && Become(_holds.Add(held));
        }
    }

    /// <summary>A hand lets go, of one thing or of all that it holds; null: every hand does.</summary>
    /// <returns>False: it held nothing.</returns>
    public bool LetGo(string? hand, Hold? hold = null)
    {
        lock (_planning)
        {
            var left = _holds.RemoveAll(h => (hand is null || h.Hand == hand) && (hold is null || h.Hold == hold));
            return left.Length != _holds.Length && Become(left);
        }
    }

    // What was held and what is held now are levels, of which those count that are another.
    private bool Become(ImmutableArray<Held> holds)
    {
        if (_show is not { } show)
        {
            return false;
        }

        var laid = Hold.Over(show.Rig, _holds.Select(h => h.Hold)).AddRange(Hold.Over(show.Rig, holds.Select(h => h.Hold)));
        _holds = holds;
        Volatile.Write(ref _held, Hold.VoicesOf(show.Rig, holds.Select(h => h.Hold)));
        Play(laid.IsEmpty ? [] : new Several(laid).Levels);
        return true;
    }

    /// <summary>A rig with what is held laid over it.</summary>
    public static Rig Laid(ImmutableArray<Held> holds, Rig rig)
    {
        ArgumentNullException.ThrowIfNull(rig);
        foreach (var command in Hold.Over(rig, holds.Select(h => h.Hold)))
        {
            rig = command.Apply(rig) is CommandResult.Applied applied ? applied.Rig : rig;
        }

        return rig;
    }

    /// <summary>From now on what a take takes goes on for it, whatever becomes of the show; null: no longer.</summary>
    public void Keep(TakeKeep? keep)
    {
        lock (_planning)
        {
            var wasKept = _show is { } show && _keep is { } before && !ReferenceEquals(before.Over(show.Rig), show.Rig);
            _keep = keep;
            inlets.Keep(keep?.Sources ?? []);
            if (_keep is null && wasKept && _show is not null)
            {
                Play(null);
            }
        }
    }

    /// <summary>The computer around the show has changed.</summary>
    public void Replan()
    {
        lock (_planning)
        {
            if (_show is not null)
            {
                Play(null);
            }
        }
    }

    /// <summary>Does once what a drag does, and changes nothing: the first person who drags need not wait until that code is compiled.</summary>
    public void Rehearse()
    {
        const string nobody = "rehearsal";
        if (_show?.Rig.Mixes.FirstOrDefault() is { Sends: [var send, ..] } mix)
        {
            Preview(_show.Id, nobody, new SetSend(mix.Id, send.Source, send.Gain));
            EndPreviews(nobody);
        }
    }

    /// <summary>Lets the engine pass on a sound that no mix has, to measure the way; null: no longer.</summary>
    /// <returns>False: there are <see cref="MaxProbes"/> already.</returns>
    public bool Probe(SourceId id, IInlet? inlet)
    {
        lock (_planning)
        {
            if (inlet is not null && _probes.Count >= MaxProbes)
            {
                return false;
            }

            _probes = inlet is null ? _probes.Remove(id) : _probes.SetItem(id, inlet);
            Play(null);
            return true;
        }
    }

    // Which they were.
    private List<RigCommand> ForgetPreviewsOf(Author author, RigCommand command)
    {
        var ended = _previews.Where(p => p.Key.Connection == author.Connection && command.Targets.Any(t => TargetKeys.Meet(t, p.Key.Target))).ToList();
        _previews = _previews.RemoveRange(ended.Select(p => p.Key));
        return [.. ended.Select(p => p.Value)];
    }

    private static ImmutableArray<LevelEdit>? LevelsOf(IEnumerable<RigCommand> commands) => new Several([.. commands]).Levels;

    // Levels alone go to what runs; anything else takes another plan.
    private void Play(ImmutableArray<LevelEdit>? edits)
    {
        var rig = _show!.Rig;
        foreach (var preview in _previews.Values)
        {
            if (preview.Apply(rig) is CommandResult.Applied applied)
            {
                rig = applied.Rig;
            }
        }

        rig = Laid(_holds, rig);
        _keep = _keep?.Remember(_show.Rig);
        rig = _keep?.Over(rig) ?? rig;
        if (edits is { } some && ChangesOf(rig, some) is { } changes)
        {
            changes.ForEach(c => host.Engine.Post(c));
            return;
        }

        _posted = gear.Serve(EnginePlan.Build(rig, inlets.For, _posted, _probes, gear.Running));
        host.Engine.Post(_posted);
    }

    // Null where one of them takes another plan.
    private List<LevelChange>? ChangesOf(Rig rig, ImmutableArray<LevelEdit> edits)
    {
        var changes = new List<LevelChange>(edits.Length);
        foreach (var (from, to, processor) in edits)
        {
            if ((processor is { } id ? _posted!.Turn(rig, from, id) : _posted!.Level(rig, (from, to))) is not { } change)
            {
                return null;
            }

            changes.Add(change);
        }

        return changes;
    }
}

/// <summary>What a hand holds.</summary>
/// <param name="Hand">Which hand: a window, a message's sender, a second screen.</param>
/// <param name="Hold">What.</param>
public sealed record Held(string Hand, Hold Hold);

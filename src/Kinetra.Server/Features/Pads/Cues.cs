using System.Collections.Immutable;
using Kinetra.Core.Editing;
using Kinetra.Core.Engine;
using Kinetra.Core.Pads;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Server.Live;

namespace Kinetra.Server.Features.Pads;

/// <summary>
/// Goes through the cues of the live show. The list may be changed meanwhile: what is next stays next, whatever lies before it, and what was told ahead is told anew. Any thread.
/// </summary>
public sealed class Cues(Lazy<EngineHost> engine, LiveShow live, PadBank bank, Lazy<Playing> playing, CueSteps steps, IPadAudience audience) : IFollower
{
    private readonly Lock _going = new();
    private readonly List<long> _hands = [];
    private readonly List<Told> _levels = [];
    private readonly List<BegunCue> _due = [];
    private int _noted;
    private CueDirector? _director;
    private ImmutableArray<Cue> _cues = [];
    private ImmutableArray<PadSet> _sets = [];
    private Guid _show;

    /// <summary>How it stands.</summary>
    public CuesDocument Now
    {
        get
        {
            lock (_going)
            {
                var run = Current().Run;
                var frame = Frame;
                return new(
                    run.Next < _cues.Length ? _cues[run.Next].Id : null,
                    run.Last >= 0 && run.Last < _cues.Length ? _cues[run.Last].Id : null,
                    run.IsHeld,
                    run.Due is { } due ? Math.Max(0, Math.Round((due - frame) / (double)AudioFormat.SampleRate, 2)) : null,
                    [.. _hands.Select(h => (h - _hands[0]) / (double)AudioFormat.SampleRate)]);
            }
        }
    }

    /// <summary>The next cue begins.</summary>
    /// <returns>Why not; null: it does.</returns>
    public RigProblem? Go()
    {
        lock (_going)
        {
            if (Current().Go(Frame) is not { } frame)
            {
                return new RigProblem("cues", _cues.IsEmpty ? "There is no cue." : "The list is over.", "a cue that is next: jump to one, or begin again");
            }

            _hands.Add(frame);
            NoteBegun();
        }

        audience.PadsChanged();
        return null;
    }

    /// <summary>Another cue is next; null: the one before.</summary>
    public RigProblem? Jump(CueId? cue)
    {
        lock (_going)
        {
            var director = Current();
            var index = cue is { } id ? IndexOf(_cues, id) : Math.Max(0, director.Run.Next - 1);
            if (index < 0)
            {
                return new RigProblem("cue", $"There is no cue “{cue}”.", "a cue of the live show");
            }

            director.Jump(index, Frame);
        }

        audience.PadsChanged();
        return null;
    }

    /// <summary>No cue follows by itself, or they do again.</summary>
    public RigProblem? Hold(bool on)
    {
        lock (_going)
        {
            Current().Hold(on, Frame);
        }

        audience.PadsChanged();
        return null;
    }

    /// <summary>Back to the first; what was done is forgotten.</summary>
    public RigProblem? Begin()
    {
        lock (_going)
        {
            Current().Jump(0, Frame);
            NoteBegun();
            _director = null;
            _hands.Clear();
        }

        audience.PadsChanged();
        return null;
    }

    /// <inheritdoc/>
    public void CatchUp()
    {
        if (!engine.Value.IsRunning)
        {
            return;
        }

        bool isNew;
        lock (_going)
        {
            var director = Current();
            var before = director.Begun.Count;
            director.CatchUp(Frame);
            isNew = director.Begun.Count != before;
            NoteBegun();
            CarryOut();
        }

        if (isNew)
        {
            audience.PadsChanged();
        }
    }

    private long Frame => engine.Value.IsRunning ? engine.Value.Engine.Frame : 0;

    // Another show begins its list at its beginning; a list that was changed goes on where it is. Where pads were changed, what was told ahead is told anew: a pad that is heard by others now is
    // heard by them alone.
    private CueDirector Current()
    {
        var show = live.State.Show;
        if (_director is not null && show.Id == _show && show.Rig.Cues == _cues && show.Rig.PadSets == _sets)
        {
            return _director;
        }

        var run = new CueRun(show.Rig.Cues, bank.FramesOf);
        if (_director is { } old && show.Id == _show)
        {
            old.LetGo(Frame);
            NoteBegun();
            var next = old.Run.Next < _cues.Length && IndexOf(show.Rig.Cues, _cues[old.Run.Next].Id) is >= 0 and var at ? at : Math.Min(old.Run.Next, show.Rig.Cues.Length);
            run.TakeOver(old.Run, next, old.Run.Last >= 0 ? IndexOf(show.Rig.Cues, _cues[old.Run.Last].Id) : -1);
        }
        else
        {
            // What the other show's cues would have done to its levels is nothing to this one.
            _hands.Clear();
            _due.Clear();
            _levels.Clear();
        }

        (_show, _cues, _sets) = (show.Id, show.Rig.Cues, show.Rig.PadSets);
        _noted = 0;
        return _director = new CueDirector(run, Post, bank.PressOf, LevelOf);
    }

    private void Post(TimedOrder order)
    {
        if (order is LevelOrder level)
        {
            engine.Value.Engine.Post(level);
        }
        else
        {
            bank.Post((PadOrder)order);
        }
    }

    private LevelOrder? LevelOf(CueAct act, long frame)
    {
        if (!engine.Value.IsRunning)
        {
            return null;
        }

        // What was told before and is no step of the show yet counts as if it were.
        var rig = CueSends.After(live.Show.Rig, _levels.Where(l => !l.Order.IsCancelled && l.Order.Frame <= frame).Select(l => l.Act));
        var order = CueLevels.OrderOf(rig, playing.Value.Plan, act, frame, playing.Value);
        if (order is not null)
        {
            _levels.Add(new Told(act, order));
        }

        return order;
    }

    private void NoteBegun()
    {
        if (_director is { } director)
        {
            _due.AddRange(director.Begun.Skip(_noted));
            _noted = director.Begun.Count;
        }
    }

    // What is a step of the show, or a mark, once the engine has come to it: sooner, the step would be heard before its frame.
    private void CarryOut()
    {
        var frame = Frame;
        foreach (var begun in _due.Where(b => b.Frame < frame))
        {
            var told = _levels.Where(l => l.Order.Frame == begun.Frame && begun.Cue.Acts.Contains(l.Act)).ToList();
            var stored = steps.Take(_show, begun, [.. told.Select(t => t.Order)]);
            told.ForEach(t => t.Stored = stored);
        }

        _due.RemoveAll(b => b.Frame < frame);
        _levels.RemoveAll(l => l.Order.IsCancelled || l.Stored is { IsCompleted: true });
    }

    private sealed class Told(CueAct act, LevelOrder order)
    {
        public CueAct Act => act;

        public LevelOrder Order => order;

        /// <summary>Null: its cue has not begun.</summary>
        public Task? Stored { get; set; }
    }

    private static int IndexOf(ImmutableArray<Cue> cues, CueId id)
    {
        for (var i = 0; i < cues.Length; i++)
        {
            if (cues[i].Id == id)
            {
                return i;
            }
        }

        return -1;
    }
}

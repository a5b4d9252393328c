using System.Collections.Immutable;
using Kinetra.Core.Editing;
using Kinetra.Core.Routing;
using Kinetra.Data;

namespace Kinetra.Server.Live;

/// <summary>The live show: what it is now, for everybody to read. It becomes another one in turn only (<see cref="Turn"/>).</summary>
public sealed class LiveShow(IShowAudience audience, TimeProvider time)
{
    // Begins with the time, so that it grows over a restart too; nobody makes a thousand steps a second.
    private long _sequence = time.GetUtcNow().ToUnixTimeMilliseconds();
    private LiveState? _state;

    /// <summary>The show and its history as they are now.</summary>
    /// <exception cref="InvalidOperationException">It has not been opened yet.</exception>
    public LiveState State => Volatile.Read(ref _state) ?? throw new InvalidOperationException("The show has not been opened yet.");

    /// <summary>The show as it is now.</summary>
    /// <exception cref="InvalidOperationException">It has not been opened yet.</exception>
    public StoredShow Show => State.Show;

    /// <summary>Who else changed the same value, and when.</summary>
    internal ChangeMarks Marks { get; } = new();

    /// <summary>Another show is the live one, or the same one was fetched anew.</summary>
    internal LiveState Open(StoredShow show, History history, ImmutableArray<SoundLoop> loops)
    {
        Marks.Reset(history);
        return Tell(null, new LiveState(++_sequence, show, history, loops), null);
    }

    /// <summary>The show is what a step has made of it.</summary>
    internal LiveState Become(StoredShow show, Step step, ImmutableArray<SoundLoop> loops)
    {
        Marks.Add(step);
        return Tell(_state, new LiveState(++_sequence, show, State.History.With(step), loops), step);
    }

    /// <summary>The computer around it has changed, and with it the loops.</summary>
    internal void Looped(ImmutableArray<SoundLoop> loops)
    {
        if (!loops.IsEmpty || !State.Loops.IsEmpty)
        {
            Tell(_state, new LiveState(++_sequence, Show, State.History, loops), null);
        }
    }

    /// <summary>The show has another name.</summary>
    internal LiveState Rename(string name) =>
        Tell(_state, new LiveState(++_sequence, Show with { Name = name }, State.History, State.Loops), null);

    private LiveState Tell(LiveState? before, LiveState now, Step? step)
    {
        Volatile.Write(ref _state, now);
        audience.Changed(before, now, step);
        return now;
    }
}

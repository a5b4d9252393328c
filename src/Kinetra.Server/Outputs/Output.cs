using System.Text.Json.Serialization;
using Kinetra.Core.Signal;

namespace Kinetra.Server.Outputs;

/// <summary>How an output stands.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<OutputState>))]
public enum OutputState
{
    /// <summary>Nothing has gone through it yet.</summary>
    Waiting,

    /// <summary>What there is goes through it.</summary>
    Running,

    /// <summary>The other side took nothing the last time; it is tried again.</summary>
    Failing,

    /// <summary>It is over, and is not tried again.</summary>
    Ended,
}

/// <summary>How it is gone on after the other side took nothing.</summary>
/// <param name="First">How long it is waited before the first time; each time after it twice as long.</param>
/// <param name="Longest">The longest that is waited.</param>
public sealed record Retry(TimeSpan First, TimeSpan Longest)
{
    /// <summary>How long it is waited after so many failures in a row, 1 or more.</summary>
    public TimeSpan After(int failures) =>
        TimeSpan.FromTicks((long)Math.Min(Longest.Ticks, First.Ticks * Math.Pow(2, failures - 1)));
}

/// <summary>An output as the API gives it.</summary>
/// <param name="Id">Its identity.</param>
/// <param name="Kind">Its sort: track or ears.</param>
/// <param name="To">Where the sound goes, in words.</param>
/// <param name="Point">What goes there; null: nothing at present.</param>
/// <param name="State">How it stands.</param>
/// <param name="Words">Why it fails or has ended; null: it does not.</param>
/// <param name="Frames">Frames that went through it.</param>
/// <param name="LostFrames">Frames that it lost, since it or the other side was too slow.</param>
/// <param name="Since">When it began.</param>
public sealed record OutputDocument(
    Guid Id, string Kind, string To, string? Point, OutputState State, string? Words, long Frames, long LostFrames, DateTimeOffset Since);

/// <summary>
/// One way of sound out of the engine: reads a point at its own pace, gives it to somebody, and knows what became of that. The engine does
/// not know that it exists: an output that fails or is slow loses its own sound, counted, and nobody else's.
/// </summary>
/// <param name="kind">Its sort, a word of the API.</param>
/// <param name="to">Where the sound goes, in words.</param>
/// <param name="retry">How it is gone on after the other side took nothing; null: that ends it.</param>
/// <param name="time">What the waiting goes by.</param>
public abstract class Output(string kind, string to, Retry? retry, TimeProvider time) : IDisposable
{
    private readonly DateTimeOffset _since = time.GetUtcNow();
    private (OutputState State, string? Words) _state = (OutputState.Waiting, null);
    private DateTimeOffset _next = DateTimeOffset.MinValue;
    private int _failures;
    private OutputList? _list;

    /// <summary>Its identity.</summary>
    public Guid Id { get; } = Guid.CreateVersion7();

    /// <summary>How it stands.</summary>
    public OutputState State => _state.State;

    /// <summary>What goes out; null: nothing at present. Any thread.</summary>
    public abstract Point? Point { get; }

    /// <summary>Frames that went out. Any thread.</summary>
    public abstract long Frames { get; }

    /// <summary>Frames that were lost. Any thread.</summary>
    public abstract long Lost { get; }

    /// <summary>As the API gives it. Any thread.</summary>
    public OutputDocument Document => new(Id, kind, to, Point?.ToString(), _state.State, _state.Words, Frames, Lost, _since);

    /// <summary>Is listed there until it is disposed of.</summary>
    public void Enter(OutputList list)
    {
        ArgumentNullException.ThrowIfNull(list);
        _list = list;
        list.Add(this);
    }

    /// <summary>Gives what there is, unless it is over or it is not yet time to try again. Not by several threads at once.</summary>
    /// <param name="give">Gives it; an <see cref="IOException"/> says that the other side took nothing.</param>
    /// <returns>Whether it was given.</returns>
    public bool Give(Action give)
    {
        ArgumentNullException.ThrowIfNull(give);
        if (!IsDue)
        {
            return false;
        }

        try
        {
            give();
            Went();
            return true;
        }
        catch (IOException e)
        {
            Fail(e.Message);
            return false;
        }
    }

    /// <summary>The same where giving takes time.</summary>
    public async ValueTask<bool> GiveAsync(Func<ValueTask> give)
    {
        ArgumentNullException.ThrowIfNull(give);
        if (!IsDue)
        {
            return false;
        }

        try
        {
            await give();
            Went();
            return true;
        }
        catch (IOException e)
        {
            Fail(e.Message);
            return false;
        }
    }

    /// <summary>It is over.</summary>
    public void End(string? words) => _state = (OutputState.Ended, words);

    /// <inheritdoc/>
    public void Dispose()
    {
        _list?.Remove(this);
        Release();
        GC.SuppressFinalize(this);
    }

    /// <summary>Lets go of the point and of the other side.</summary>
    protected abstract void Release();

    private bool IsDue => _state.State != OutputState.Ended && time.GetUtcNow() >= _next;

    private void Went()
    {
        _failures = 0;
        if (_state.State != OutputState.Ended)
        {
            _state = (OutputState.Running, null);
        }
    }

    private void Fail(string words)
    {
        if (retry is null)
        {
            End(words);
            return;
        }

        _next = time.GetUtcNow() + retry.After(++_failures);
        _state = (OutputState.Failing, words);
    }
}

using System.Collections.Immutable;
using System.Text.Json.Serialization;

namespace Kinetra.Core.Editing;

/// <summary>What kind of step of a show's history it is.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<StepKind>))]
public enum StepKind
{
    /// <summary>A command.</summary>
    Do,

    /// <summary>A step taken back.</summary>
    Undo,

    /// <summary>A step that was taken back, done again.</summary>
    Redo,
}

/// <summary>Whose a step is.</summary>
/// <param name="Window">The window's own id, 1–64 characters; null: no window's.</param>
/// <param name="Name">What it calls itself, for other windows: 1–60 characters, or null.</param>
public sealed record StepAuthor(string? Window = null, string? Name = null);

/// <summary>One step of a show's history. Appended, never changed: taking back is a step too.</summary>
/// <param name="Revision">The show's revision after it.</param>
/// <param name="At">When it was acknowledged.</param>
/// <param name="Kind">What kind of step.</param>
/// <param name="Of">The revision of the step that it takes back or does again; null for a command.</param>
/// <param name="By">Whose it is.</param>
/// <param name="Sentence">What was done, as a person reads it.</param>
/// <param name="Body">The command.</param>
/// <param name="Inverse">The command that takes it back.</param>
public sealed record Step(
    long Revision, DateTimeOffset At, StepKind Kind, long? Of, StepAuthor By, string Sentence, RigCommand Body, RigCommand Inverse);

/// <summary>
/// A show's history: one line, shared by all windows. Knows which step would be taken back next, and which done again. An
/// immutable value.
/// </summary>
public sealed class History
{
    /// <summary>How many of the newest steps are kept at hand.</summary>
    public const int MaxNewest = 500;

    /// <summary>Nothing has been done.</summary>
    public static readonly History Empty = new([], [], []);

    private readonly ImmutableStack<Step> _done;
    private readonly ImmutableStack<Step> _undone;

    private History(ImmutableList<Step> newest, ImmutableStack<Step> done, ImmutableStack<Step> undone)
    {
        Newest = newest;
        _done = done;
        _undone = undone;
    }

    /// <summary>The newest steps, the newest last; at most <see cref="MaxNewest"/>.</summary>
    public ImmutableList<Step> Newest { get; }

    /// <summary>The step that would be taken back next, or null.</summary>
    public Step? ToUndo => _done.IsEmpty ? null : _done.Peek();

    /// <summary>The step that would be done again next: the one that took it back; or null.</summary>
    public Step? ToRedo => _undone.IsEmpty ? null : _undone.Peek();

    /// <summary>The history of steps, the oldest first.</summary>
    public static History Of(IEnumerable<Step> steps)
    {
        ArgumentNullException.ThrowIfNull(steps);
        return steps.Aggregate(Empty, (history, step) => history.With(step));
    }

    /// <summary>The history after one more step.</summary>
    public History With(Step step)
    {
        ArgumentNullException.ThrowIfNull(step);
        var newest = (Newest.Count < MaxNewest ? Newest : Newest.RemoveAt(0)).Add(step);
        return step.Kind switch
        {
            // What was taken back before the steps at hand began is not on the stack.
            StepKind.Undo => new(newest, Without(_done, step.Of), _undone.Push(step)),
            StepKind.Redo => new(newest, _done.Push(step), Without(_undone, step.Of)),
            _ => new(newest, _done.Push(step), []),
        };
    }

    private static ImmutableStack<Step> Without(ImmutableStack<Step> steps, long? revision) =>
        !steps.IsEmpty && steps.Peek().Revision == revision ? steps.Pop() : steps;
}

using System.Collections.Immutable;
using Kinetra.Core.Rigs;
using Kinetra.Server.Live;

namespace Kinetra.Server.Features.Shows;

/// <summary>One line of the history.</summary>
/// <param name="Revision">The show's revision after it.</param>
/// <param name="At">When.</param>
/// <param name="Kind">A command, or one taken back or done again.</param>
/// <param name="Of">The revision of the step that it takes back or does again.</param>
/// <param name="Window">The window's id whose it is.</param>
/// <param name="WindowName">What that window calls itself.</param>
/// <param name="Sentence">What was done.</param>
public sealed record HistoryLine(long Revision, DateTimeOffset At, StepKind Kind, long? Of, string? Window, string? WindowName, string Sentence)
{
    /// <summary>The line of a step.</summary>
    public static HistoryLine? From(Step? step) => step is null
        ? null
        : new(step.Revision, step.At, step.Kind, step.Of, step.By.Window, step.By.Name, step.Sentence);
}

/// <summary>The live show, as the API gives it.</summary>
/// <param name="Id">Its identity.</param>
/// <param name="Name">Its name.</param>
/// <param name="Revision">Counts its steps; a change says on which revision it was made.</param>
/// <param name="Sources">What sounds.</param>
/// <param name="Mixes">Who hears what.</param>
/// <param name="ToUndo">The step that would be taken back next.</param>
/// <param name="ToRedo">The step that would be done again next.</param>
public sealed record ShowDocument(
    Guid Id, string Name, long Revision, ImmutableArray<Source> Sources, ImmutableArray<Mix> Mixes, HistoryLine? ToUndo, HistoryLine? ToRedo)
{
    /// <summary>The document of the live show.</summary>
    public static ShowDocument Of(LiveState state)
    {
        ArgumentNullException.ThrowIfNull(state);
        var show = state.Show;
        return new(
            show.Id, show.Name, show.Revision, show.Rig.Sources, show.Rig.Mixes, HistoryLine.From(state.History.ToUndo), HistoryLine.From(state.History.ToRedo));
    }
}

using System.Collections.Immutable;
using Kinetra.Core.Editing;
using Kinetra.Core.Rigs;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;

namespace Kinetra.Server.Live;

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

/// <summary>A circle that a sound goes round in.</summary>
/// <param name="Through">What it goes through, by name.</param>
/// <param name="GainDb">What a sound gains with each round at its worst frequency; from 0 on it builds up.</param>
/// <param name="Held">What closes it and is held muted until somebody allows it.</param>
/// <param name="Sentence">The same in words.</param>
public sealed record LoopReport(ImmutableArray<string> Through, double GainDb, ImmutableArray<HeldLink> Held, string Sentence);

/// <summary>A way that closes a loop and is held: what a source takes in, what a cable plays into another, or what a mix gives to a destination.</summary>
/// <param name="From">Where it comes from: a cable, a device, a program's output or a mix.</param>
/// <param name="Source">The source that takes it in; null: another way.</param>
/// <param name="IntoCable">The cable that it plays into; null: another way.</param>
/// <param name="Destination">The destination that it goes to; null: another way.</param>
public sealed record HeldLink(Point From, SourceId? Source, CableId? IntoCable, DestinationId? Destination);

/// <summary>The live show, as the API gives it.</summary>
/// <param name="Sequence">Counts all that has become of what is live, across shows and starts: of two documents, the larger one is newer.</param>
/// <param name="Id">Its identity.</param>
/// <param name="Name">Its name.</param>
/// <param name="Revision">Counts its steps; a change says on which revision it was made.</param>
/// <param name="Sources">What sounds.</param>
/// <param name="Mixes">Who hears what.</param>
/// <param name="Cables">What leads from one to another.</param>
/// <param name="CableEnds">What each of them is called where programs find it.</param>
/// <param name="Wishes">What the show wants of the computer around it.</param>
/// <param name="Promises">What is said about who hears what, and watched.</param>
/// <param name="PadSets">Sounds at hand, in sets.</param>
/// <param name="Cues">What happens in a show that follows an order.</param>
/// <param name="Tracks">What a take records, each on a track of its own; none: every mix and every source.</param>
/// <param name="Recording">What holds for all takes.</param>
/// <param name="Streams">Where mixes are sent to over the network.</param>
/// <param name="Loops">Circles in it, and what is held of them.</param>
/// <param name="ToUndo">The step that would be taken back next.</param>
/// <param name="ToRedo">The step that would be done again next.</param>
public sealed record ShowDocument(
    long Sequence, Guid Id, string Name, long Revision, ImmutableArray<Source> Sources, ImmutableArray<Mix> Mixes, ImmutableArray<Cable> Cables, ImmutableArray<CableEnds> CableEnds, Wishes Wishes, ImmutableArray<Promise> Promises, ImmutableArray<PadSet> PadSets, ImmutableArray<Cue> Cues, ImmutableArray<PlannedTrack> Tracks, Recording Recording, ImmutableArray<Broadcast> Streams, ImmutableArray<LoopReport> Loops, HistoryLine? ToUndo, HistoryLine? ToRedo)
{
    /// <summary>The document of the live show.</summary>
    public static ShowDocument Of(LiveState state)
    {
        ArgumentNullException.ThrowIfNull(state);
        var show = state.Show;
        return new(
            state.Sequence, show.Id, show.Name, show.Revision, show.Rig.Sources, show.Rig.Mixes, show.Rig.Cables, CableNames.Of(show.Rig), show.Rig.Wishes, show.Rig.Promises, show.Rig.PadSets, show.Rig.Cues, show.Rig.Tracks, show.Rig.Recording, show.Rig.Streams, [.. state.Loops.Select(Report)], HistoryLine.From(state.History.ToUndo), HistoryLine.From(state.History.ToRedo));
    }

    private static LoopReport Report(SoundLoop loop)
    {
        var through = loop.Names;
        var gain = new Gain(Math.Round(loop.GainDecibels, 1));
        var what = loop.GainDecibels >= 0 ? "would build up" : "would ring on";
        var sentence = loop.Held.IsEmpty
            ? $"A loop through {string.Join(", ", through)} comes back by {gain} with each round."
            : $"A loop through {string.Join(", ", through)} {what} ({gain} with each round). It is held muted until it is allowed.";
        return new LoopReport(through, loop.GainDecibels, [.. loop.Held.Select(Of)], sentence);

        static HeldLink Of(Link link) => new(link.From, (link.To as SourcePoint)?.Id, (link.To as CablePoint)?.Id, (link.Via as DestinationPoint)?.Id);
    }
}

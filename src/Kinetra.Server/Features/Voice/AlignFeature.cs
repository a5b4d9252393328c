using System.ComponentModel.DataAnnotations;
using Kinetra.Core.Editing;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Core.Voice;
using Kinetra.Server.Features.Bench;
using Kinetra.Server.Features.Shows;
using Kinetra.Server.Hosting;
using Kinetra.Server.Live;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Kinetra.Server.Features.Voice;

/// <summary>Which two sources are compared in time.</summary>
/// <param name="One">A source's id.</param>
/// <param name="Other">Another's.</param>
/// <param name="Seconds">What they gave in the last so many seconds, 2–15; left out: 8.</param>
public sealed record AlignmentQuestion(
    [property: RegularExpression(ShowFileSchema.IdPattern)] string One,
    [property: RegularExpression(ShowFileSchema.IdPattern)] string Other,
    [property: Range(AlignmentQuestion.Shortest, AlignmentQuestion.Longest)] double? Seconds = null)
{
    /// <summary>The fewest and the most seconds.</summary>
    public const double Shortest = 2, Longest = 15;

    /// <summary>So many where nothing is said.</summary>
    public const double Usual = 8;
}

/// <summary>By how much one source comes later than another.</summary>
/// <param name="Milliseconds">How much later the other one comes as it goes into its chain, ms; below 0: sooner.</param>
/// <param name="Confidence">How sure that is, 0 … 1.</param>
/// <param name="IsInverted">True where one of both is upside down.</param>
/// <param name="Words">The same in a sentence; or why it is not to be relied on.</param>
/// <param name="Source">The source whose sync delay would make both come at once; null: it is refused, or they do already.</param>
/// <param name="SyncDelay">What that would be set to, ms.</param>
public sealed record AlignmentAnswer(double Milliseconds, double Confidence, bool IsInverted, string Words, string? Source, double? SyncDelay);

/// <summary>In time: two sources that heard the same clap are brought together.</summary>
sealed class AlignFeature : IFeature
{
    // What is as near as this is together.
    private const double Together = 0.05;

    public void MapTo(IEndpointRouteBuilder routes) => routes.MapGroup(ShowEndpoints.Path).MapPost("/align", AlignAsync)
        .WithName("alignSources").WithSummary("By how much one source comes later than another, found in what both gave just now; and the sync delay that brings them together. It changes nothing.");

    private static async Task<Results<Ok<AlignmentAnswer>, ProblemHttpResult>> AlignAsync(
        Guid show, AlignmentQuestion question, LiveShow live, RecentSounds recent, CancellationToken cancel)
    {
        var state = live.State;
        if (state.Show.Id != show)
        {
            return CommandAnswers.NotLive(state);
        }

        var seconds = question.Seconds ?? AlignmentQuestion.Usual;
        if (!(seconds >= AlignmentQuestion.Shortest && seconds <= AlignmentQuestion.Longest))
        {
            return Problems.Invalid("seconds", $"{seconds:0.#} s are not compared.", $"{AlignmentQuestion.Shortest} to {AlignmentQuestion.Longest} s");
        }

        if (question.One == question.Other)
        {
            return Problems.Invalid("other", "A source is not compared with itself.", "another source");
        }

        var rig = state.Show.Rig;
        if (rig.Find(new SourceId(question.One)) is not { } one)
        {
            return Problems.NotFound("one", $"There is no source “{question.One}”.", "a source of the live show");
        }

        if (rig.Find(new SourceId(question.Other)) is not { } other)
        {
            return Problems.NotFound("other", $"There is no source “{question.Other}”.", "a source of the live show");
        }

        var (first, second) = (recent.Find(one.Id), recent.Find(other.Id));
        var end = Math.Min(first?.Kept.End ?? 0, second?.Kept.End ?? 0);
        var frames = (int)(seconds * AudioFormat.SampleRate);
        if (first?.Take(end - frames, frames) is not { } heard || second?.Take(end - frames, frames) is not { } beside || heard.Frames < frames || beside.Frames < frames)
        {
            return Problems.Invalid("seconds", "So much is not there of both yet.", $"to wait until both have given {seconds:0.#} s");
        }

        var found = await Task.Run(() => TimeAlignment.Find(Mono(heard), Mono(beside)), cancel);
        return TypedResults.Ok(Answer(one, other, found));
    }

    private static AlignmentAnswer Answer(Source one, Source other, TimeAlignment found)
    {
        if (found.Refusal is { } refusal)
        {
            return new(found.Milliseconds, found.Confidence, found.IsInverted, refusal, null, null);
        }

        // With the sync delays that both have already.
        var later = found.Milliseconds + other.SyncDelay - one.SyncDelay;
        var upsideDown = found.IsInverted ? " One of both is upside down: turn its polarity (utility)." : "";
        var (late, soon) = later > 0 ? (other, one) : (one, other);
        if (Math.Abs(later) <= Together)
        {
            return new(found.Milliseconds, found.Confidence, found.IsInverted, $"{one.Name} and {other.Name} come together, within {Together} ms.{upsideDown}", null, null);
        }

        var delay = Math.Round(soon.SyncDelay + Math.Abs(later), 2);
        var sentence = $"{late.Name} comes {Math.Abs(later):0.00} ms later than {soon.Name}, {found.Confidence:0 %} sure.{upsideDown}";

        // Less of the late one's own delay first: nobody should wait longer than has to be.
        if (late.SyncDelay >= Math.Abs(later))
        {
            return new(found.Milliseconds, found.Confidence, found.IsInverted, sentence, late.Id.Value, Math.Round(late.SyncDelay - Math.Abs(later), 2));
        }

        return delay <= RigLimits.SyncDelay
            ? new(found.Milliseconds, found.Confidence, found.IsInverted, sentence, soon.Id.Value, delay)
            : new(found.Milliseconds, found.Confidence, found.IsInverted, $"{sentence} No sync delay is that long.", null, null);
    }

    private static float[] Mono(Kinetra.Core.Engine.SoundBuffer sound) => sound.Right is null ? sound.Left : [.. sound.Left.Zip(sound.Right, (l, r) => (l + r) / 2)];
}

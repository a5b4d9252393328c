using System.Collections.Immutable;
using System.ComponentModel.DataAnnotations;
using Kinetra.Core.Editing;
using Kinetra.Core.Engine;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Core.Voice;
using Kinetra.Server.Features.Bench;
using Kinetra.Server.Features.Shows;
using Kinetra.Server.Hosting;
using Kinetra.Server.Live;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Kinetra.Server.Features.Voice;

/// <summary>A stretch of what a source gave just now.</summary>
/// <param name="From">Its first engine frame.</param>
/// <param name="Until">The frame after its last.</param>
public sealed record Stretch([property: Range(0, long.MaxValue)] long From, [property: Range(0, long.MaxValue)] long Until);

/// <summary>What a voice is looked at in.</summary>
/// <param name="Source">The source's id.</param>
/// <param name="Silence">Nobody spoke: 3–10 s.</param>
/// <param name="Speech">Somebody read aloud: 5–20 s.</param>
public sealed record CleanUpQuestion([property: RegularExpression(ShowFileSchema.IdPattern)] string Source, Stretch Silence, Stretch Speech);

/// <summary>One step that is proposed.</summary>
/// <param name="Fault">Against what.</param>
/// <param name="Reason">Why, in plain words with its numbers.</param>
/// <param name="Processor">What is to stand in the chain, at this place.</param>
public sealed record CleanUpStepDocument(VoiceFault Fault, string Reason, Processor Processor);

/// <summary>What was found of a voice, and what is proposed.</summary>
/// <param name="Steps">In the chain's order; each can be refused. Empty: it is in order as it comes.</param>
/// <param name="Unmendable">What no processor mends.</param>
/// <param name="OverRoom">By how much the speech stands over the room, dB; null: nobody was heard.</param>
/// <param name="Loudness">Of the speech, LUFS; null: nobody was heard.</param>
public sealed record CleanUpAnswer(ImmutableArray<CleanUpStepDocument> Steps, ImmutableArray<Unmendable> Unmendable, double? OverRoom, double? Loudness);

/// <summary>The guided clean-up: what is wrong with a voice, and what is proposed against it. It changes nothing.</summary>
sealed class CleanUpFeature : IFeature
{
    private const double ShortestSilence = 3, LongestSilence = 10, ShortestSpeech = 5, LongestSpeech = 20;

    // The first fault a chain is asked about is the level: it stands in front, so that all that follows hears it.
    private static readonly (double Least, double Most) Gains = (-60, 24);

    public void MapTo(IEndpointRouteBuilder routes) => routes.MapGroup(ShowEndpoints.Path).MapPost("/clean-up", LookAsync)
        .WithName("cleanUp").WithSummary("What is wrong with a voice, found in a stretch of silence and one of speech that it gave just now, and what is proposed. It changes nothing.");

    private static async Task<Results<Ok<CleanUpAnswer>, ProblemHttpResult>> LookAsync(Guid show, CleanUpQuestion question, LiveShow live, RecentSounds recent, CancellationToken cancel)
    {
        var state = live.State;
        if (state.Show.Id != show)
        {
            return CommandAnswers.NotLive(state);
        }

        var id = new SourceId(question.Source);
        if (state.Show.Rig.Find(id) is null || recent.Find(id) is not { } kept)
        {
            return Problems.NotFound("source", $"There is no source “{question.Source}”.", "a source of the live show");
        }

        if (Taken(kept, question.Silence, ShortestSilence, LongestSilence) is not { } silence)
        {
            return Problems.Invalid("silence", "This stretch of silence is not there, or not that long.", $"{ShortestSilence:0} to {LongestSilence:0} s of what the source gave in the last half minute");
        }

        if (Taken(kept, question.Speech, ShortestSpeech, LongestSpeech) is not { } speech)
        {
            return Problems.Invalid("speech", "This stretch of speech is not there, or not that long.", $"{ShortestSpeech:0} to {LongestSpeech:0} s of what the source gave in the last half minute");
        }

        var report = await Task.Run(() => VoiceReport.Of(silence, speech), cancel);
        var proposed = CleanUp.For(report);
        return TypedResults.Ok(new CleanUpAnswer(
            [.. proposed.Steps.Select(s => new CleanUpStepDocument(s.Fault, s.Reason, s.Processor ?? Processor.Of(Utility.Type, ("gain", Math.Clamp(s.Trim ?? 0, Gains.Least, Gains.Most)))))],
            proposed.Unmendable,
            double.IsFinite(report.OverRoom) ? report.OverRoom : null,
            double.IsFinite(report.Loudness) ? report.Loudness : null));
    }

    private static SoundBuffer? Taken(RecentSound kept, Stretch wanted, double shortest, double longest)
    {
        var frames = wanted.Until - wanted.From;
        return frames >= shortest * AudioFormat.SampleRate && frames <= longest * AudioFormat.SampleRate && kept.Take(wanted.From, (int)frames) is { } sound && sound.Frames == frames ? sound : null;
    }
}

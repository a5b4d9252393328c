using System.Collections.Concurrent;
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
/// <param name="Silence">The id of a silence of it that is held.</param>
/// <param name="Speech">Somebody read aloud: 5–20 s.</param>
public sealed record CleanUpQuestion([property: RegularExpression(ShowFileSchema.IdPattern)] string Source, Guid Silence, Stretch Speech);

/// <summary>A stretch in which nobody spoke, to be held until somebody has read aloud, however long that takes.</summary>
/// <param name="Source">The source's id.</param>
/// <param name="Stretch">3–10 s.</param>
public sealed record NewSilence([property: RegularExpression(ShowFileSchema.IdPattern)] string Source, Stretch Stretch);

/// <summary>A silence that is held, in memory alone.</summary>
/// <param name="Id">Its identity.</param>
public sealed record SilenceDocument(Guid Id);

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

    // In memory: the oldest that nobody asked about gives way.
    private const int MostHeld = 16;

    // The first fault a chain is asked about is the level: it stands in front, so that all that follows hears it.
    private static readonly (double Least, double Most) Gains = (-60, 24);

    public void MapTo(IEndpointRouteBuilder routes)
    {
        var show = routes.MapGroup(ShowEndpoints.Path);
        var held = new ConcurrentDictionary<Guid, (SourceId Source, SoundBuffer Sound)>();
        show.MapPost("/clean-up/silence", (Guid show, NewSilence silence, LiveShow live, RecentSounds recent) => Hold(show, silence, live, recent, held))
            .WithName("holdSilence").WithSummary("Holds a stretch in which nobody spoke, in memory alone, until it is asked about.");
        show.MapPost("/clean-up", (Guid show, CleanUpQuestion question, LiveShow live, RecentSounds recent, CancellationToken cancel) => LookAsync(show, question, live, recent, held, cancel))
            .WithName("cleanUp").WithSummary("What is wrong with a voice, found in a silence that is held and a stretch of speech that it gave just now, and what is proposed. It changes nothing.");
    }

    private static Results<Ok<SilenceDocument>, ProblemHttpResult> Hold(
        Guid show, NewSilence wanted, LiveShow live, RecentSounds recent, ConcurrentDictionary<Guid, (SourceId Source, SoundBuffer Sound)> held)
    {
        var state = live.State;
        if (state.Show.Id != show)
        {
            return CommandAnswers.NotLive(state);
        }

        var id = new SourceId(wanted.Source);
        if (state.Show.Rig.Find(id) is null || recent.Find(id) is not { } kept)
        {
            return Problems.NotFound("source", $"There is no source “{wanted.Source}”.", "a source of the live show");
        }

        if (Taken(kept, wanted.Stretch, ShortestSilence, LongestSilence) is not { } silence)
        {
            return Problems.Invalid("stretch", "This stretch of silence is not there, or not that long.", $"{ShortestSilence:0} to {LongestSilence:0} s of what the source gave in the last half minute");
        }

        // Their ids go by time.
        foreach (var old in held.Keys.OrderDescending().Skip(MostHeld - 1))
        {
            held.TryRemove(old, out _);
        }

        var made = Guid.CreateVersion7();
        held[made] = (id, silence);
        return TypedResults.Ok(new SilenceDocument(made));
    }

    private static async Task<Results<Ok<CleanUpAnswer>, ProblemHttpResult>> LookAsync(
        Guid show, CleanUpQuestion question, LiveShow live, RecentSounds recent, ConcurrentDictionary<Guid, (SourceId Source, SoundBuffer Sound)> held, CancellationToken cancel)
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

        if (!held.TryGetValue(question.Silence, out var silence) || silence.Source != id)
        {
            return Problems.Invalid("silence", "This silence is not held, or not of this source.", "one that was held just now");
        }

        if (Taken(kept, question.Speech, ShortestSpeech, LongestSpeech) is not { } speech)
        {
            return Problems.Invalid("speech", "This stretch of speech is not there, or not that long.", $"{ShortestSpeech:0} to {LongestSpeech:0} s of what the source gave in the last half minute");
        }

        var report = await Task.Run(() => VoiceReport.Of(silence.Sound, speech), cancel);
        held.TryRemove(question.Silence, out _);
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

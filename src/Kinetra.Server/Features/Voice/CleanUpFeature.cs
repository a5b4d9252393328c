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

/// <summary>What a bed is looked at in: what it and those who speak over it gave since a moment.</summary>
/// <param name="Source">The bed's id.</param>
/// <param name="Speakers">The ids of those who speak over it, 1–8 other sources.</param>
/// <param name="From">The first engine frame; 8–30 s ago.</param>
/// <param name="Mix">The id of the mix as in which all are heard; left out: as they leave their chains.</param>
public sealed record BedQuestion(
    [property: RegularExpression(ShowFileSchema.IdPattern)] string Source,
    [property: MaxLength(Loops.MostBeside)] ImmutableArray<string> Speakers,
    [property: Range(0, long.MaxValue)] long From,
    [property: RegularExpression(ShowFileSchema.IdPattern)] string? Mix = null);

/// <summary>What somebody who calls is looked at in: what they gave since a moment.</summary>
/// <param name="Source">The caller's id.</param>
/// <param name="From">The first engine frame; 8–30 s ago.</param>
/// <param name="Like">The id of the source that it is to be as loud as; left out: −22 LUFS.</param>
public sealed record CallerQuestion(
    [property: RegularExpression(ShowFileSchema.IdPattern)] string Source,
    [property: Range(0, long.MaxValue)] long From,
    [property: RegularExpression(ShowFileSchema.IdPattern)] string? Like = null);

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
/// <param name="Measures">All that was looked at; nothing where nobody was heard.</param>
/// <param name="Bands">The voice, its room and usual speech, in thirds of an octave; nothing where nobody was heard.</param>
public sealed record CleanUpAnswer(ImmutableArray<CleanUpStepDocument> Steps, ImmutableArray<Unmendable> Unmendable, ImmutableArray<VoiceMeasure> Measures, ImmutableArray<VoiceBand> Bands);

/// <summary>The guided clean-up: what is wrong with a voice, and what is proposed against it. It changes nothing.</summary>
sealed class CleanUpFeature : IFeature
{
    private const double ShortestSilence = 3, LongestSilence = 10, ShortestSpeech = 5, LongestSpeech = 20;

    private const double Lowest = -200;

    private const int ShortestTalk = 8;
    private const double UsualLoudness = -22, LowestWanted = -40;
    private static readonly string Talks = $"{ShortestTalk} to {RecentSound.Seconds} s of what it gave in the last half minute";

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
        show.MapPost("/clean-up/bed", LookAtBedAsync)
            .WithName("cleanUpBed").WithSummary("How a bed lies under those who speak, found in what all of them gave since a moment, and what is proposed. It changes nothing.");
        show.MapPost("/clean-up/caller", LookAtCallerAsync)
            .WithName("cleanUpCaller").WithSummary("What is wrong with somebody who calls, found in what they gave since a moment, and what is proposed. It changes nothing.");
        show.MapPost("/clean-up", (Guid show, CleanUpQuestion question, LiveShow live, RecentSounds recent, CancellationToken cancel) => LookAsync(show, question, live, recent, held, cancel))
            .WithName("cleanUp").WithSummary("What is wrong with a voice, found in a silence that is held and a stretch of speech that it gave just now, and what is proposed. It changes nothing.");
    }

    private static async Task<Results<Ok<CleanUpAnswer>, ProblemHttpResult>> LookAtBedAsync(Guid show, BedQuestion question, LiveShow live, RecentSounds recent, CancellationToken cancel)
    {
        var state = live.State;
        if (state.Show.Id != show)
        {
            return CommandAnswers.NotLive(state);
        }

        if (state.Show.Rig.Find(new SourceId(question.Source)) is not { } under || recent.Find(under.Id) is not { } kept)
        {
            return NoSource("source", question.Source);
        }

        var speakers = BesideSound.Speakers(state.Show.Rig, question.Source, question.Speakers, "speakers", out var against);
        if (against is not null)
        {
            return Problems.Invalid([against]);
        }

        if (speakers.IsEmpty)
        {
            return Problems.Invalid("speakers", "Somebody has to speak over it.", "at least one other source of the live show");
        }

        ImmutableArray<double>? factors = null;
        if (question.Mix is { } mix && (factors = BesideSound.Factors(state.Show.Rig, mix, under.Id, speakers)) is null)
        {
            return BesideSound.NotIn(state.Show.Rig, mix, under);
        }

        if (factors is { } turned && turned.All(f => f == 0))
        {
            return Problems.Invalid("speakers", "None of those who speak is heard in that mix.", "somebody who is heard there, after the chain");
        }

        if (Since(kept, question.From) is not { } bed)
        {
            return Problems.Invalid("from", "This stretch is not there, or not that long.", Talks);
        }

        return await Task.Run<Results<Ok<CleanUpAnswer>, ProblemHttpResult>>(
            () =>
            {
                if (BesideSound.Heard(speakers, factors, recent, question.From, bed.Frames, cancel) is not { } speech)
                {
                    return Problems.Invalid("speakers", "Of those who speak, not all of it is there.", Talks);
                }

                var report = BedReport.Of(LoopSound.Closed(bed), speech);
                return TypedResults.Ok(Answer(BedCleanUp.For(report, [.. speakers.Select(s => new SourcePoint(s.Id))]), BedCleanUp.Measures(report), []));
            },
            cancel);
    }

    private static async Task<Results<Ok<CleanUpAnswer>, ProblemHttpResult>> LookAtCallerAsync(Guid show, CallerQuestion question, LiveShow live, RecentSounds recent, CancellationToken cancel)
    {
        var state = live.State;
        if (state.Show.Id != show)
        {
            return CommandAnswers.NotLive(state);
        }

        if (state.Show.Rig.Find(new SourceId(question.Source)) is null || recent.Find(new SourceId(question.Source)) is not { } kept)
        {
            return NoSource("source", question.Source);
        }

        if (question.Like is { } other && state.Show.Rig.Find(new SourceId(other)) is null)
        {
            return NoSource("like", other);
        }

        if (Since(kept, question.From) is not { } talk)
        {
            return Problems.Invalid("from", "This stretch is not there, or not that long.", Talks);
        }

        return await Task.Run(
            () =>
            {
                var report = CallerReport.Of(talk);
                var wanted = question.Like is { } like ? LoudnessOf(state.Show.Rig.Find(new SourceId(like))!, recent, cancel) : UsualLoudness;
                return TypedResults.Ok(Answer(CallerCleanUp.For(report, wanted), CallerCleanUp.Measures(report, wanted), report.Voice.Bands));
            },
            cancel);
    }

    // As it is heard, in the last half minute; of one who did not speak, what is usual.
    private static double LoudnessOf(Source speaker, RecentSounds recent, CancellationToken cancel)
    {
        if (recent.Find(speaker.Id) is not { } kept || kept.Take(kept.Kept.Begin, RecentSound.Seconds * AudioFormat.SampleRate) is not { } sound || sound.Frames < AudioFormat.SampleRate)
        {
            return UsualLoudness;
        }

        var loudness = SoundMeasures.Of(LoopRender.Render(sound, speaker.Chain, cancel: cancel)).Loudness;
        return double.IsFinite(loudness) && loudness > LowestWanted ? Math.Round(loudness, 1) : UsualLoudness;
    }

    private static SoundBuffer? Since(RecentSound kept, long from)
    {
        var frames = kept.Kept.End - from;
        return frames >= ShortestTalk * AudioFormat.SampleRate && frames <= RecentSound.Seconds * AudioFormat.SampleRate && kept.Take(from, (int)frames) is { } sound && sound.Frames == frames ? sound : null;
    }

    private static ProblemHttpResult NoSource(string where, string id) => Problems.NotFound(where, $"There is no source “{id}”.", "a source of the live show");

    private static CleanUpAnswer Answer(CleanUp proposed, ImmutableArray<VoiceMeasure> measures, ImmutableArray<VoiceBand> bands) => new(
        [.. proposed.Steps.Select(s => new CleanUpStepDocument(s.Fault, s.Reason, s.Processor ?? Processor.Of(Utility.Type, ("gain", Math.Clamp(s.Trim ?? 0, Gains.Least, Gains.Most)))))],
        proposed.Unmendable,
        measures,
        [.. bands.Select(Finite)]);

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
            return NoSource("source", wanted.Source);
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
            return NoSource("source", question.Source);
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
        return TypedResults.Ok(Answer(CleanUp.For(report), CleanUp.Measures(report), report.Bands));
    }

    // Digital silence has no level.
    private static VoiceBand Finite(VoiceBand band) => band with { Voice = Math.Max(Lowest, band.Voice), Room = Math.Max(Lowest, band.Room), Usual = Math.Max(Lowest, band.Usual) };

    private static SoundBuffer? Taken(RecentSound kept, Stretch wanted, double shortest, double longest)
    {
        var frames = wanted.Until - wanted.From;
        return frames >= shortest * AudioFormat.SampleRate && frames <= longest * AudioFormat.SampleRate && kept.Take(wanted.From, (int)frames) is { } sound && sound.Frames == frames ? sound : null;
    }
}

using System.Collections.Immutable;
using System.ComponentModel.DataAnnotations;
using Kinetra.Core.Rigs;
using Kinetra.Core.Takes;
using Kinetra.Data;
using Kinetra.Media;
using Kinetra.Server.Hosting;
using Kinetra.Server.Jobs;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Kinetra.Server.Features.Takes;

/// <summary>A track that is exported.</summary>
/// <param name="Track">The track.</param>
/// <param name="Gain">By how much it is raised, dB, −60 to 12; left out: it stays as it is.</param>
public sealed record ExportedTrack(Guid Track, [property: Range(-60, 12)] double Gain = 0);

/// <summary>Sound files that are to be made of a take.</summary>
/// <param name="Shape">Apart: each track a file of its own. Blend: one sound. Channels: one WAV file in which each has its own channels.</param>
/// <param name="Tracks">Which tracks, 1 or more.</param>
/// <param name="Form">What files are written as; left out: tracks apart as each was recorded, all else as WAV of 24 bit.</param>
/// <param name="Lufs">Of a blend: how loud it is to be, integrated loudness, LUFS, −36 to −6; left out: as it is.</param>
/// <param name="Ceiling">The true peak that nothing exceeds then, dBTP, −12 to 0.</param>
/// <param name="AtMarks">True: split where somebody set a mark.</param>
public sealed record NewSoundExport(
    ExportShape Shape,
    [property: Length(1, RigLimits.Tracks)] IReadOnlyList<ExportedTrack> Tracks,
    TakeForm? Form = null,
    [property: Range(-36, -6)] double? Lufs = null,
    [property: Range(-12, 0)] double Ceiling = -1,
    bool AtMarks = false);

/// <summary>Sound files made of a take.</summary>
sealed class SoundExportEndpoints : IFeature
{
    public void AddTo(IServiceCollection services, ServerOptions options) => services.AddSingleton<SoundExport>();

    public void MapTo(IEndpointRouteBuilder routes) =>
        routes.MapPost("/takes/{take:guid}/sound", BeginAsync).WithName("exportSound").WithSummary("Makes sound files of what is kept of a take: tracks apart, a blend, or one file of many channels.");

    private static async Task<Results<Accepted<Job>, ProblemHttpResult>> BeginAsync(
        Guid take, NewSoundExport wanted, TakeStore store, SoundExport sounds, JobRunner jobs, CancellationToken cancel)
    {
        if (await store.FindAsync(take, cancel) is not { } row)
        {
            return Problems.NotFound("take", "There is no such take, or it was deleted.", "a take of /api/takes");
        }

        var tracks = (wanted.Tracks ?? []).OfType<ExportedTrack>().ToList();
        foreach (var (index, track) in tracks.Index())
        {
            if (row.Tracks.TrueForAll(t => t.Id != track.Track) || tracks.FindIndex(t => t.Track == track.Track) != index)
            {
                return Problems.Invalid($"tracks[{index}].track", "This is no track of the take, or it is there twice.", "each track of the take at most once");
            }

            if (!(track.Gain is >= -60 and <= 12))
            {
                return Problems.Invalid($"tracks[{index}].gain", $"A track cannot be raised by {track.Gain} dB.", "−60 to 12 dB");
            }
        }

        if (tracks.Count == 0)
        {
            return Problems.Invalid("tracks", "There is nothing to export.", "1 track or more");
        }

        if (wanted.Lufs is { } lufs && !(lufs is >= -36 and <= -6))
        {
            return Problems.Invalid("lufs", $"{lufs} LUFS cannot be asked for.", "−36 to −6 LUFS");
        }

        if (!(wanted.Ceiling is >= -12 and <= 0))
        {
            return Problems.Invalid("ceiling", $"{wanted.Ceiling} dBTP cannot be a ceiling.", "−12 to 0 dBTP");
        }

        if (wanted.Lufs is not null && wanted.Shape != ExportShape.Blend)
        {
            return Problems.Invalid("lufs", "Only a blend is brought to a loudness: tracks apart would no longer be as loud beside each other as they were.", "shape Blend, or no loudness");
        }

        if (wanted.Shape == ExportShape.Channels && wanted.Form is not (null or TakeForm.Wav24 or TakeForm.Wav16 or TakeForm.Wav32))
        {
            return Problems.Invalid("form", "Only WAV has so many channels.", "Wav24, Wav16, Wav32");
        }

        var chosen = tracks.Select(t => (Track: row.Tracks.Find(k => k.Id == t.Track)!, t.Gain)).ToImmutableArray();
        if (wanted.Shape == ExportShape.Channels && chosen.Sum(t => t.Track.Channels) > TakeFileWriter.MostChannels)
        {
            return Problems.Invalid("tracks", "One file does not hold so many channels.", $"{TakeFileWriter.MostChannels} channels at most");
        }

        // Another one may want something else of it.
        if (jobs.All.Any(j => j.IsOpen && j.Kind == SoundExport.Kind.Name && j.Subject == take.ToString()))
        {
            return Problems.Conflict("take", "Sound files of this take are being made already.", "one export of a take at a time");
        }

        var order = new SoundOrder(wanted.Shape, chosen, wanted.Form, wanted.Lufs is { } goal ? new LoudnessGoal(goal, wanted.Ceiling) : null, wanted.AtMarks);
        return await TakeJobs.BeginAsync(take, store, jobs, SoundExport.Kind, (t, progress, stop) => sounds.MakeAsync(t, order, progress, stop), cancel);
    }
}

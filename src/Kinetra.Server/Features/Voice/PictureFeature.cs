using System.Buffers.Binary;
using System.Collections.Immutable;
using System.ComponentModel.DataAnnotations;
using Kinetra.Core.Editing;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Core.Voice;
using Kinetra.Server.Features.Shows;
using Kinetra.Server.Hosting;
using Kinetra.Server.Live;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Kinetra.Server.Features.Voice;

/// <summary>What a window flashes and beeps.</summary>
/// <param name="CycleSeconds">After so long it begins anew, seconds.</param>
/// <param name="FlashSeconds">How long it is bright each time, seconds.</param>
/// <param name="Times">When it flashes and beeps within a cycle, seconds, rising.</param>
/// <param name="Beep">The beep at 48 kHz, full scale 1.</param>
public sealed record FlashDocument(double CycleSeconds, double FlashSeconds, ImmutableArray<double> Times, ImmutableArray<float> Beep);

/// <summary>A recording with a picture, as a browser decoded it.</summary>
/// <param name="Source">The id of the source that is heard in it.</param>
/// <param name="Frames">When each frame is shown, seconds, rising.</param>
/// <param name="Picture">The brightness of 16×9 cells of each frame, a byte each, row by row, frame by frame; base64.</param>
/// <param name="Sound">Its sound from second 0 on: 48 kHz, one channel, 16 bits, little-endian; base64. 3 to 60 s.</param>
public sealed record PictureQuestion(
    [property: RegularExpression(ShowFileSchema.IdPattern)] string Source,
    [property: MaxLength(PictureQuestion.MostFrames)] ImmutableArray<double> Frames,
    [property: Base64String, MaxLength(PictureQuestion.MostFrames * PictureQuestion.Cells / 3 * 4)] string Picture,
    [property: Base64String, MaxLength(PictureQuestion.LongestSeconds * AudioFormat.SampleRate * 2 / 3 * 4)] string Sound)
{
    /// <summary>The most frames: 60 s at 60 a second.</summary>
    public const int MostFrames = 3_600;

    /// <summary>Cells of each frame.</summary>
    public const int Cells = 16 * 9;

    /// <summary>The shortest and the longest recording, seconds.</summary>
    public const int ShortestSeconds = 3, LongestSeconds = 60;
}

/// <summary>What somebody marked in a recording.</summary>
/// <param name="Source">The id of the source that is heard in it.</param>
/// <param name="Picture">When the frame is shown in which the hands meet, seconds.</param>
/// <param name="Sound">When the clap begins in the sound, seconds.</param>
/// <param name="Interval">How long a frame is shown, seconds.</param>
public sealed record MarkedClap(
    [property: RegularExpression(ShowFileSchema.IdPattern)] string Source,
    [property: Range(0, 86_400)] double Picture,
    [property: Range(0, 86_400)] double Sound,
    [property: Range(0.001, 0.2)] double Interval);

/// <summary>By how much a recording's picture is late.</summary>
/// <param name="Milliseconds">How much later than its sound, ms; below 0: sooner. Null: it is not told.</param>
/// <param name="Within">How exact that is, ± ms.</param>
/// <param name="Words">The same in a sentence; or why it is not told.</param>
/// <param name="SyncDelay">What the source's sync delay would be set to, ms; null: it stays.</param>
/// <param name="Claps">Where somebody may have clapped in the sound, seconds, rising: told where no flashes were found.</param>
public sealed record PictureAnswer(double? Milliseconds, double? Within, string Words, double? SyncDelay, ImmutableArray<double> Claps);

/// <summary>In time with a picture: by a recording in which a window flashed and beeped, or somebody clapped.</summary>
sealed class PictureFeature : IFeature
{
    private const string FileAllowed = "3 to 60 s of a recording with picture and sound";

    public void MapTo(IEndpointRouteBuilder routes)
    {
        routes.MapGet("/flash-signal", () => TypedResults.Ok(new FlashDocument(FlashSignal.CycleSeconds, FlashSignal.FlashSeconds, FlashSignal.Times, FlashSignal.Beep)))
            .WithName("getFlashSignal").WithSummary("What a window flashes and beeps in front of a camera and a microphone.");
        var show = routes.MapGroup(ShowEndpoints.Path);
        show.MapPost("/align/picture", OfRecordingAsync).WithName("alignPicture")
            .WithSummary("By how much a recording’s picture is later than its sound, found by the flashes and beeps in it; and the sync delay that brings both together. It changes nothing, and keeps nothing.");
        show.MapPost("/align/clap", OfClap).WithName("alignClap").WithSummary("The same by a clap that somebody marked in the picture. It changes nothing.");
    }

    private static async Task<Results<Ok<PictureAnswer>, ProblemHttpResult>> OfRecordingAsync(Guid show, PictureQuestion question, LiveShow live, CancellationToken cancel)
    {
        var state = live.State;
        if (state.Show.Id != show)
        {
            return CommandAnswers.NotLive(state);
        }

        if (state.Show.Rig.Find(new SourceId(question.Source)) is not { } source)
        {
            return NoSource(question.Source);
        }

        if (Bytes(question.Picture) is not { } picture || question.Frames.IsDefaultOrEmpty || question.Frames.Length > PictureQuestion.MostFrames || picture.Length != question.Frames.Length * PictureQuestion.Cells)
        {
            return Problems.Invalid("picture", "The picture does not fit the frames.", $"{PictureQuestion.Cells} bytes for each of 1 to {PictureQuestion.MostFrames} frames, in base64");
        }

        if (question.Frames.Zip(question.Frames.Skip(1)).Any(f => !(f.First < f.Second)) || !question.Frames.All(f => f is >= 0 and <= PictureQuestion.LongestSeconds))
        {
            return Problems.Invalid("frames", "The frames’ times do not rise.", $"seconds from 0 to {PictureQuestion.LongestSeconds}, each above the one before");
        }

        const int Second = AudioFormat.SampleRate * sizeof(short);
        if (Bytes(question.Sound) is not { } bytes || bytes.Length < PictureQuestion.ShortestSeconds * Second || bytes.Length > PictureQuestion.LongestSeconds * Second)
        {
            return Problems.Invalid("sound", "So much sound cannot be looked at.", FileAllowed);
        }

        var sound = new float[bytes.Length / sizeof(short)];
        for (var n = 0; n < sound.Length; n++)
        {
            sound[n] = BinaryPrimitives.ReadInt16LittleEndian(bytes.AsSpan(n * sizeof(short))) / 32_768f;
        }

        double[] frames = [.. question.Frames];
        var found = await Task.Run(() => PictureAlignment.OfFlashes(frames, picture, sound), cancel);
        return TypedResults.Ok(found.Refusal is { } refusal
            ? new PictureAnswer(null, null, refusal, null, [.. Claps.In(sound)])
            : Answer(source, found.Milliseconds, found.Within, $", {found.Flashes} flashes"));
    }

    private static Results<Ok<PictureAnswer>, ProblemHttpResult> OfClap(Guid show, MarkedClap clap, LiveShow live)
    {
        var state = live.State;
        if (state.Show.Id != show)
        {
            return CommandAnswers.NotLive(state);
        }

        if (state.Show.Rig.Find(new SourceId(clap.Source)) is not { } source)
        {
            return NoSource(clap.Source);
        }

        if (!(Math.Abs(clap.Picture - clap.Sound) <= PictureAlignment.Farthest))
        {
            return Problems.Invalid("picture", "Picture and sound are too far apart to be the same clap.", $"at most {PictureAlignment.Farthest} s apart");
        }

        return clap.Interval is >= 0.001 and <= 0.2
            ? TypedResults.Ok(Answer(source, 1_000 * (clap.Picture - clap.Sound), 500 * clap.Interval, ""))
            : Problems.Invalid("interval", "No frame is shown for so long.", "0.001 to 0.2 s");
    }

    private static PictureAnswer Answer(Source source, double late, double within, string by)
    {
        var exact = $"{Math.Abs(late):0} ms (±{within:0} ms{by})";
        if (Math.Abs(late) <= within)
        {
            return new(late, within, $"Picture and sound come together: {exact} apart.", null, []);
        }

        var delay = Math.Round(source.SyncDelay + late, 1);
        return (late, delay) switch
        {
            ( > 0, <= RigLimits.SyncDelay) => new(late, within, $"The picture comes {exact} later than the sound. Who else is seen in it needs the same delay.", delay, []),
            ( > 0, _) => new(late, within, $"The picture comes {exact} later than the sound. No sync delay is that long: with what {source.Name} has, it would be {delay:0} ms.", null, []),
            (_, >= 0) => new(late, within, $"The sound comes {exact} later than the picture: {source.Name} waits too long.", delay, []),
            _ when source.SyncDelay > 0 => new(
                late, within, $"The sound comes {exact} later than the picture. Without {source.Name}’s sync delay {-delay:0} ms of that are left: hold the picture back by so much where it is shown or recorded.", 0, []),
            _ => new(late, within, $"The sound comes {exact} later than the picture, and {source.Name} has no sync delay that could be shorter: hold the picture back by {-late:0} ms where it is shown or recorded.", null, []),
        };
    }

    private static ProblemHttpResult NoSource(string id) => Problems.NotFound("source", $"There is no source “{id}”.", "a source of the live show");

    private static byte[]? Bytes(string? text)
    {
        var bytes = new byte[(text ?? "").Length / 4 * 3];
        return text is not null && Convert.TryFromBase64String(text, bytes, out var length) ? bytes[..length] : null;
    }
}

using System.Collections.Immutable;
using System.Globalization;
using System.IO.Compression;
using System.Text.Json.Serialization;
using Kinetra.Core.Metering;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Core.Takes;
using Kinetra.Data.Rows;
using Kinetra.Media;
using Kinetra.Media.Cutting;
using Kinetra.Server.Jobs;

namespace Kinetra.Server.Features.Takes;

/// <summary>What the tracks of a take become.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<ExportShape>))]
public enum ExportShape
{
    /// <summary>Each a file of its own.</summary>
    Apart,

    /// <summary>One sound.</summary>
    Blend,

    /// <summary>One WAV file in which each has its own channels, with their names.</summary>
    Channels,
}

/// <summary>What is to be made of a take.</summary>
/// <param name="Shape">Each track apart, all as one sound, or all in one file of many channels.</param>
/// <param name="Tracks">Which tracks, each with its gain, dB.</param>
/// <param name="Form">What files are written as; null, for tracks apart: as each was recorded.</param>
/// <param name="Goal">How loud a blend is to be; null: as it is.</param>
/// <param name="AtMarks">True: split where somebody set a mark.</param>
sealed record SoundOrder(ExportShape Shape, ImmutableArray<(TrackRow Track, double GainDb)> Tracks, TakeForm? Form, LoudnessGoal? Goal, bool AtMarks);

/// <summary>Makes sound files of what is kept of a take, beside the engine. The take's own files are not touched.</summary>
sealed class SoundExport(TakeRecorder recorder, TakeFiles files)
{
    /// <summary>Makes files of a take's sound.</summary>
    public static readonly JobKind Kind = new("sound", 1, 4);

    // Of the time that it takes, where a loudness has to be found first.
    private const double Finding = 0.8;

    /// <summary>Makes them: one file, or a ZIP of several.</summary>
    /// <exception cref="SoundFileException">A track's file is gone or cannot be read, or there is nothing that could be made loud.</exception>
    /// <exception cref="IOException">The disk has no room.</exception>
    public async Task<JobOutcome> MakeAsync(TakeRow take, SoundOrder order, IProgress<double> progress, CancellationToken cancel)
    {
        var kept = TakeParts.Kept(take.Frames, take.From, take.To);
        var parts = order.AtMarks ? TakeParts.AtMarks(kept, TakeTimeLine.MarksOf(take)) : [kept];
        var folder = Path.Combine(files.Folder, Guid.NewGuid().ToString("n"));
        Directory.CreateDirectory(folder);
        try
        {
            TakeFiles.CheckRoom(folder, 2 * Size(order, kept));
            var made = new List<string>();
            var words = new List<string>();
            var done = 0.0;
            foreach (var (index, part) in parts.Index())
            {
                var share = (double)part.Frames / kept.Frames;
                var called = parts.Length == 1 ? "" : string.Create(CultureInfo.InvariantCulture, $"{index + 1:00}{(part.Words.Length > 0 ? $" {TakeNames.SafeName(part.Words)}" : "")}");
                Make(take, order, part, called, folder, made, words, p => progress.Report(done + (share * p)), cancel);
                done += share;
            }

            return await GiveAsync(take, folder, made, words, cancel);
        }
        finally
        {
            Directory.Delete(folder, recursive: true);
        }
    }

    private void Make(TakeRow take, SoundOrder order, TakePart part, string called, string folder, List<string> made, List<string> words, Action<double> progress, CancellationToken cancel)
    {
        string Begin(string wanted)
        {
            // Two tracks may differ by their endings alone, and have one now.
            var name = wanted;
            for (var n = 2; made.Contains(name, StringComparer.OrdinalIgnoreCase); n++)
            {
                name = Path.Combine(Path.GetDirectoryName(wanted)!, string.Create(CultureInfo.InvariantCulture, $"{Path.GetFileNameWithoutExtension(wanted)} {n}{Path.GetExtension(wanted)}"));
            }

            var path = Path.Combine(folder, name);
            Directory.CreateDirectory(Path.GetDirectoryName(path)!);
            made.Add(name);
            return path;
        }

        var title = called.Length > 0 ? $"{take.Name} – {called}" : take.Name;
        var start = take.StartedAt + TimeSpan.FromSeconds((double)part.Start / AudioFormat.SampleRate);
        switch (order.Shape)
        {
            case ExportShape.Apart:
                foreach (var (index, (track, gain)) in order.Tracks.Index())
                {
                    var form = order.Form ?? FormOf(track);
                    var path = Begin(Path.Combine(called, Path.GetFileNameWithoutExtension(track.FileName) + TakeNames.EndingOf(form)));

                    // Samples that were written with so many bits stay as they are, to the bit; what has loss is not coded once more.
                    var (isSame, info) = (form == FormOf(track) && gain == 0, new TakeFileInfo($"{title} – {track.Name}", start));
                    if (isSame && LossyCut.TryCut(recorder.PathOf(take, track), path, form, part.Start, part.Frames, info, cancel))
                    {
                        progress((index + 1.0) / order.Tracks.Length);
                        continue;
                    }

                    using var sound = new TrackSound(recorder.PathOf(take, track), part, gain);
                    using (var writer = new TakeFileWriter(path, sound.Channels, info, form, dithers: !isSame))
                    {
                        LoudnessFit.Give(sound, null, (planes, frames) => writer.Write(planes, frames), p => progress((index + p) / order.Tracks.Length), cancel);
                    }

                    Mark(path, form, take, part);
                }

                break;
            case ExportShape.Blend:
                Blend(take, order, part, title, start, Begin(TakeNames.SafeName(title) + TakeNames.EndingOf(order.Form ?? TakeForm.Wav24)), words, progress, cancel);
                break;
            default:
                Channels(take, order, part, title, start, Begin(TakeNames.SafeName(title) + ".wav"), progress, cancel);
                break;
        }
    }

    private void Blend(TakeRow take, SoundOrder order, TakePart part, string title, DateTimeOffset start, string path, List<string> words, Action<double> progress, CancellationToken cancel)
    {
        var form = order.Form ?? TakeForm.Wav24;
        using var blend = new BlendSound(Open(take, order, part));
        var found = order.Goal is null ? 0 : Finding;
        var fitted = order.Goal is { } goal
            ? LoudnessFit.Of(blend, goal, p => progress(found * p), cancel) ?? throw new SoundFileException("There is nothing in it that is louder than −70 LUFS.", "a part of a take with sound")
            : null;
        using (var writer = new TakeFileWriter(path, blend.Channels, new(title, start), form))
        {
            LoudnessFit.Give(blend, fitted, (planes, frames) => writer.Write(planes, frames), p => progress(found + ((1 - found) * p)), cancel);
            if (writer.Clipped > 0)
            {
                words.Add(string.Create(CultureInfo.InvariantCulture, $"{writer.Clipped} samples lay beyond full scale: softer, or to a loudness, they do not."));
            }
        }

        if (fitted is not null)
        {
            // What is told is what the file itself has, as whoever plays it decodes it.
            words.Add((fitted with { After = Measured(path) }).Sentence);
        }

        Mark(path, form, take, part);
    }

    private void Channels(TakeRow take, SoundOrder order, TakePart part, string title, DateTimeOffset start, string path, Action<double> progress, CancellationToken cancel)
    {
        const int chunk = 8_192;
        var tracks = Open(take, order, part);
        try
        {
            var names = order.Tracks.Zip(tracks).SelectMany(t => t.Second.Channels == 1 ? [t.First.Track.Name] : new[] { $"{t.First.Track.Name} L", $"{t.First.Track.Name} R" }).ToImmutableArray();
            float[][] planes = [.. names.Select(_ => new float[chunk])];
            using (var writer = new TakeFileWriter(path, names.Length, new(title, start, names), order.Form ?? TakeForm.Wav24))
            {
                for (long done = 0; done < part.Frames;)
                {
                    cancel.ThrowIfCancellationRequested();
                    var room = (int)Math.Min(chunk, part.Frames - done);
                    var at = 0;
                    foreach (var track in tracks)
                    {
                        for (int read = 0, count; read < room && (count = track.Read(planes[at].AsSpan(read, room - read), planes[at + track.Channels - 1].AsSpan(read, room - read))) > 0;)
                        {
                            read += count;
                        }

                        at += track.Channels;
                    }

                    writer.Write(planes, room);
                    done += room;
                    progress((double)done / part.Frames);
                }
            }

            Mark(path, TakeForm.Wav24, take, part);
        }
        finally
        {
            foreach (var track in tracks)
            {
                track.Dispose();
            }
        }
    }

    private ImmutableArray<TrackSound> Open(TakeRow take, SoundOrder order, TakePart part)
    {
        var opened = ImmutableArray.CreateBuilder<TrackSound>();
        try
        {
            foreach (var (track, gain) in order.Tracks)
            {
                opened.Add(new TrackSound(recorder.PathOf(take, track), part, gain));
            }

            return opened.ToImmutable();
        }
        catch
        {
            foreach (var track in opened)
            {
                track.Dispose();
            }

            throw;
        }
    }

    private async Task<JobOutcome> GiveAsync(TakeRow take, string folder, List<string> made, List<string> words, CancellationToken cancel)
    {
        var single = made.Count == 1;
        var name = single ? Path.GetFileName(made[0]) : $"{TakeNames.SafeName(take.Name)}.zip";
        var path = Path.Combine(files.Folder, $"{Guid.NewGuid():n}{Path.GetExtension(name)}");
        try
        {
            if (single)
            {
                File.Move(Path.Combine(folder, made[0]), path);
            }
            else
            {
                await using var zip = await ZipFile.OpenAsync(path, ZipArchiveMode.Create, cancel);
                foreach (var file in made)
                {
                    await zip.CreateEntryFromFileAsync(Path.Combine(folder, file), file, CompressionLevel.NoCompression, cancel);
                    File.Delete(Path.Combine(folder, file));
                }
            }
        }
        catch
        {
            File.Delete(path);
            throw;
        }

        var size = string.Create(CultureInfo.InvariantCulture, $"{(single ? "" : $"{made.Count} files, ")}{new FileInfo(path).Length / 1_000_000.0:0.0} MB.");
        return new JobOutcome(string.Join(" ", [size, .. words.Take(3)]), File: path, FileName: name, FileType: TakeNames.TypeOf(name));
    }

    private static Measured Measured(string path)
    {
        using var file = new OpenSoundFile(path);
        return file.Measure();
    }

    private static void Mark(string path, TakeForm form, TakeRow take, TakePart part)
    {
        if (form is TakeForm.Wav16 or TakeForm.Wav24 or TakeForm.Wav32)
        {
            WavMarks.Append(path, TakeTimeLine.WavMarksOf(take, part));
        }
    }

    private static TakeForm FormOf(TrackRow track) => Enum.TryParse<TakeForm>(track.Form, out var form) ? form : TakeForm.Wav24;

    // As floats; nothing that is written is larger.
    private static long Size(SoundOrder order, TakePart kept) => kept.Frames * 4 * (order.Shape == ExportShape.Blend ? 2 : order.Tracks.Sum(t => t.Track.Channels));
}

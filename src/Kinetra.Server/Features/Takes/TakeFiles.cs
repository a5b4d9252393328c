using System.Collections.Immutable;
using System.Globalization;
using System.IO.Compression;
using Kinetra.Core.Dsp;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Core.Takes;
using Kinetra.Data;
using Kinetra.Data.Rows;
using Kinetra.Media;
using Kinetra.Server.Hosting;
using Kinetra.Server.Jobs;

namespace Kinetra.Server.Features.Takes;

/// <summary>What can be done with the files of a take once it is recorded: read all of it through, or put all into one file.</summary>
sealed class TakeFiles(TakeRecorder recorder, TakeStore store, ITakeAudience audience, ServerOptions options)
{
    /// <summary>Reads all tracks through.</summary>
    public static readonly JobKind Check = new("check", 1, 16);

    /// <summary>Puts all tracks into one file.</summary>
    public static readonly JobKind Export = new("export", 1, 4);

    private const int ChunkBytes = 1 << 20;
    private const int ChunkFrames = 16_384;

    // Of the time that it takes; the rest is for listening to what is on which.
    private const double Reading = 0.8;

    // Room that is left for what is being recorded beside it.
    private const long Reserve = 1L << 30;

    /// <summary>Where exports lie until they are forgotten. Emptied by a start.</summary>
    public string Folder => Path.Combine(options.DataFolder, "exports");

    /// <summary>Reads every track to its end, as any program would, and judges what is there. The verdict stays with the take, and beside its files.</summary>
    public async Task<JobOutcome> CheckAsync(TakeRow take, IProgress<double> progress, CancellationToken cancel)
    {
        var folder = recorder.FolderOf(take);
        var prints = TakePrints.Read(folder, take.Tracks.Count);
        var excerpts = TrackReading.ExcerptsOf(take.Frames);
        var total = Math.Max(1, take.Frames * take.Tracks.Count);
        var tracks = ImmutableArray.CreateBuilder<TrackEvidence>();
        foreach (var (track, print) in take.Tracks.Zip(prints))
        {
            var form = Enum.TryParse<TakeForm>(track.Form, out var known) ? known : TakeForm.Wav24;
            var done = take.Frames * tracks.Count;
            var (content, fault) = Read(recorder.PathOf(take, track), track, take.Frames, form, print, excerpts, n => progress.Report(Reading * (done + n) / total), cancel);
            tracks.Add(new TrackEvidence(
                track.Name,
                Point.Parse(track.Point),
                form,
                track.IsVoice,
                content,
                fault,
                print.Given,
                [.. track.Gaps.Select(g => (new TakeSpan(g.Start, g.Frames), g.Words))],
                track.LostFrames,
                track.Clipped));
        }

        var verdict = TakeJudge.Of(take.Frames, tracks.ToImmutable(), cancel);
        TakeReport.TryWrite(folder, take, verdict);

        // Where the take itself still waits for a database that is away, it is stored with it.
        take.Verdict = verdict;
        try
        {
            await store.SetVerdictAsync(take.Id, verdict, cancel);
        }
        catch (Exception e) when (DatabaseFaults.IsAway(e) && !cancel.IsCancellationRequested)
        {
            // Whoever asked is told; the take can be read again.
        }

        audience.TakesChanged();
        return new JobOutcome(verdict.Sentence, verdict.Standing != TakeStanding.Wrong);
    }

    /// <summary>Puts all tracks and the take's note into one ZIP file, as they are, with its time line and its marks for other programs.</summary>
    /// <exception cref="IOException">The disk has no room.</exception>
    public async Task<JobOutcome> ExportAsync(TakeRow take, IProgress<double> progress, CancellationToken cancel)
    {
        var files = Directory.GetFiles(Path.GetDirectoryName(recorder.PathOf(take, take.Tracks[0]))!).Where(f => Path.GetFileName(f) != TakePrints.FileName).Order(StringComparer.Ordinal).ToList();
        var total = Math.Max(1, files.Sum(f => new FileInfo(f).Length));
        Directory.CreateDirectory(Folder);
        CheckRoom(Folder, total);

        var path = Path.Combine(Folder, $"{Guid.NewGuid():n}.zip");
        try
        {
            long done = 0;
            await using (var zip = await ZipFile.OpenAsync(path, ZipArchiveMode.Create, cancel))
            {
                foreach (var ending in TakeTimeLine.Endings)
                {
                    await using var to = await zip.CreateEntry($"{TakeNames.SafeName(take.Name)}.{ending}").OpenAsync(cancel);
                    await to.WriteAsync(TakeTimeLine.Of(take, ending, TakeTimeLine.UsualRate)!.Value.Bytes, cancel);
                }

                var buffer = new byte[ChunkBytes];
                foreach (var file in files)
                {
                    // Sound hardly gets smaller, and other programs open what is only stored the fastest.
                    var entry = zip.CreateEntry(Path.GetFileName(file), CompressionLevel.NoCompression);
                    await using var to = await entry.OpenAsync(cancel);
                    await using var from = File.OpenRead(file);
                    for (int count; (count = await from.ReadAsync(buffer, cancel)) > 0;)
                    {
                        await to.WriteAsync(buffer.AsMemory(0, count), cancel);
                        done += count;
                        progress.Report((double)done / total);
                    }
                }
            }

            return new(string.Create(CultureInfo.InvariantCulture, $"{files.Count} files, {total / 1_000_000.0:0.0} MB."), File: path, FileName: $"{TakeNames.SafeName(take.Name)}.zip");
        }
        catch
        {
            File.Delete(path);
            throw;
        }
    }

    /// <summary>Whether a folder's disk has so much room, bytes, and some more for what is being recorded beside it.</summary>
    /// <exception cref="IOException">It has not.</exception>
    public static void CheckRoom(string folder, long bytes)
    {
        if (new DriveInfo(folder).AvailableFreeSpace < bytes + Reserve)
        {
            throw new IOException("There is not enough room.");
        }
    }

    /// <summary>Deletes the exports of earlier starts: nobody can reach them any more.</summary>
    public void Collect()
    {
        try
        {
            if (Directory.Exists(Folder))
            {
                Directory.Delete(Folder, recursive: true);
            }
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            // It only takes room, and is no reason not to start.
        }
    }

    private static (TrackContent? Content, string? Fault) Read(
        string path, TrackRow track, long frames, TakeForm form, TrackPrints prints, ImmutableArray<long> excerpts, Action<long> far, CancellationToken cancel)
    {
        if (!File.Exists(path))
        {
            return (null, "it is no longer there");
        }

        try
        {
            using var file = new OpenSoundFile(path);
            if (file.Channels != track.Channels || file.SampleRate != AudioFormat.SampleRate)
            {
                return (null, $"it has {file.Channels} channels at {file.SampleRate} Hz, and was recorded with {track.Channels} at {AudioFormat.SampleRate}");
            }

            // One that was cut off, or is older than outlines are, has none that is whole.
            using var peaks = PeakFile.LengthOf(path) == (frames + Peaks.Frames - 1) / Peaks.Frames ? null : new PeakFile(path);
            var reading = new TrackReading(file.Channels, form, prints.Stretches, excerpts, file.FullScale);
            var chunk = new float[ChunkFrames * file.Channels];
            var (left, right) = (new float[ChunkFrames], new float[ChunkFrames]);
            long read = 0;
            for (int count; (count = file.Read(chunk)) > 0; far(read))
            {
                cancel.ThrowIfCancellationRequested();
                Interleaving.Take(chunk, file.Channels, 0, left.AsSpan(0, count));
                Interleaving.Take(chunk, file.Channels, file.Channels - 1, right.AsSpan(0, count));
                reading.Append(left.AsSpan(0, count), right.AsSpan(0, count));
                peaks?.Append(left.AsSpan(0, count), right.AsSpan(0, count));
                read += count;
            }

            return (reading.Finish(), null);
        }
        catch (SoundFileException e)
        {
            return (null, e.What.TrimEnd('.'));
        }
    }
}

using System.Globalization;
using System.IO.Compression;
using Kinetra.Core.Signal;
using Kinetra.Data.Rows;
using Kinetra.Media;
using Kinetra.Server.Hosting;
using Kinetra.Server.Jobs;

namespace Kinetra.Server.Features.Takes;

/// <summary>What can be done with the files of a take once it is recorded: read all of it through, or put all into one file.</summary>
sealed class TakeFiles(TakeRecorder recorder, ServerOptions options)
{
    /// <summary>Reads all tracks through.</summary>
    public static readonly JobKind Check = new("check", 1, 16);

    /// <summary>Puts all tracks into one file.</summary>
    public static readonly JobKind Export = new("export", 1, 4);

    private const int ChunkBytes = 1 << 20;

    // Room that is left for what is being recorded beside it.
    private const long Reserve = 1L << 30;

    /// <summary>Where exports lie until they are forgotten. Emptied by a start.</summary>
    public string Folder => Path.Combine(options.DataFolder, "exports");

    /// <summary>Reads every track to its end, as any program would, and compares what is there with what was recorded.</summary>
    public Task<JobOutcome> CheckAsync(TakeRow take, IProgress<double> progress, CancellationToken cancel)
    {
        var wrong = new List<string>();
        var total = Math.Max(1, take.Frames * take.Tracks.Count);
        long done = 0;
        foreach (var track in take.Tracks)
        {
            var (frames, fault) = Read(recorder.PathOf(take.Id, track), track, n => progress.Report((double)(done + n) / total), cancel);
            done += take.Frames;
            fault ??= frames != take.Frames ? $"{Seconds(frames)} of {Seconds(take.Frames)} are there" : null;
            if (fault is not null)
            {
                wrong.Add($"{track.Name}: {fault}");
            }
            else if (track.LostFrames > 0)
            {
                wrong.Add($"{track.Name}: {Seconds(track.LostFrames)} are silence, since they were lost while it was recorded");
            }
        }

        return Task.FromResult(new JobOutcome(
            wrong.Count == 0
                ? $"All {take.Tracks.Count} tracks were read to the end: each has {Seconds(take.Frames)}, and nothing was lost."
                : $"{string.Join(". ", wrong)}.",
            wrong.Count == 0));
    }

    /// <summary>Puts all tracks and the take's note into one ZIP file, as they are.</summary>
    /// <exception cref="IOException">The disk has no room.</exception>
    public async Task<JobOutcome> ExportAsync(TakeRow take, IProgress<double> progress, CancellationToken cancel)
    {
        var files = Directory.GetFiles(Path.GetDirectoryName(recorder.PathOf(take.Id, take.Tracks[0]))!).Order(StringComparer.Ordinal).ToList();
        var total = Math.Max(1, files.Sum(f => new FileInfo(f).Length));
        Directory.CreateDirectory(Folder);
        if (new DriveInfo(Folder).AvailableFreeSpace < total + Reserve)
        {
            throw new IOException("There is not enough room.");
        }

        var path = Path.Combine(Folder, $"{Guid.NewGuid():n}.zip");
        try
        {
            long done = 0;
            await using (var zip = await ZipFile.OpenAsync(path, ZipArchiveMode.Create, cancel))
            {
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

            return new(string.Create(CultureInfo.InvariantCulture, $"{files.Count} files, {total / 1_000_000.0:0.0} MB."), File: path, FileName: $"{TakeRecorder.SafeName(take.Name)}.zip");
        }
        catch
        {
            File.Delete(path);
            throw;
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

    private static (long Frames, string? Fault) Read(string path, TrackRow track, Action<long> far, CancellationToken cancel)
    {
        if (!File.Exists(path))
        {
            return (0, "its file is no longer there");
        }

        try
        {
            using var file = new OpenSoundFile(path);
            if (file.Channels != track.Channels || file.SampleRate != AudioFormat.SampleRate)
            {
                return (0, $"its file has {file.Channels} channels at {file.SampleRate} Hz, and was recorded with {track.Channels} at {AudioFormat.SampleRate}");
            }

            var chunk = new float[16_384 * file.Channels];
            long frames = 0;
            for (int count; (count = file.Read(chunk)) > 0; far(frames))
            {
                cancel.ThrowIfCancellationRequested();
                frames += count;
            }

            return (frames, null);
        }
        catch (SoundFileException e)
        {
            return (0, e.What);
        }
    }

    private static string Seconds(long frames) =>
        string.Create(CultureInfo.InvariantCulture, $"{(double)frames / AudioFormat.SampleRate:0.000} s");
}

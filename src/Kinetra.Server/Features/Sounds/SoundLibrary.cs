using System.Collections.Concurrent;
using System.Security.Cryptography;
using Kinetra.Core.Editing;
using Kinetra.Core.Engine;
using Kinetra.Data;
using Kinetra.Data.Rows;
using Kinetra.Media;
using Kinetra.Server.Hosting;
using Kinetra.Server.Jobs;

namespace Kinetra.Server.Features.Sounds;

/// <summary>Sound files by the address of their content: the bytes in the data folder, what is known of them in the database.</summary>
public sealed class SoundLibrary(ServerOptions options, SoundStore store, JobRunner jobs, TimeProvider time)
{
    private const int CopyBuffer = 128 * 1024;

    // One at a time: a decoder takes up to 1.5 GB and a whole processor, which blocks of sound would wait for. More than 16 that wait is nobody's way to work.
    private static readonly JobKind Decode = new("decode", AtOnce: 1, MostWaiting: 16);

    private readonly ConcurrentDictionary<string, WeakReference<StreamedSound>> _playing = new();

    /// <summary>Takes in a file: copies, hashes, decodes and stores it. The same file twice is one sound.</summary>
    /// <exception cref="SoundFileException">It is no sound, or not one that is allowed.</exception>
    public async Task<SoundRow> TakeInAsync(Stream content, string fileName, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(content);
        ArgumentNullException.ThrowIfNull(fileName);
        if (new DirectoryInfo(Directory.CreateDirectory(Folder).FullName).EnumerateFiles().Sum(f => f.Length) >= options.MaxSoundBytes)
        {
            throw new SoundFileException("The stored sounds take all the room that they may.", $"{options.MaxSoundBytes / 1024 / 1024} MiB in all; what no show refers to goes with the next start");
        }

        var incoming = Path.Combine(Folder, $"incoming-{Guid.NewGuid():n}");
        try
        {
            var address = await CopyAsync(content, incoming, cancel);
            if (await store.FindAsync(address, cancel) is { } known && File.Exists(PlanarPath(address)))
            {
                return known;
            }

            var report = await DecodeAsync(fileName, incoming, PlanarPath(address), cancel);
            File.Move(incoming, Path.Combine(Folder, address), overwrite: true);
            var row = RowOf(address, fileName, report);
            await store.AddAsync(row, cancel);
            return row;
        }
        finally
        {
            File.Delete(incoming);
        }
    }

    /// <summary>Takes in a sound that was heard here, as any file: as WAV of 32-bit floats.</summary>
    /// <exception cref="SoundFileException">There is no room.</exception>
    public async Task<SoundRow> TakeInAsync(SoundBuffer sound, string name, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(sound);
        var path = Path.Combine(Directory.CreateDirectory(Folder).FullName, $"incoming-{Guid.NewGuid():n}");
        try
        {
            await Task.Run(
                () =>
                {
                    using var writer = new SoundFileWriter(path, sound.Channels, SoundFormat.Wav);
                    writer.Write(sound.Left, sound.Right);
                },
                cancel);
            await using var content = File.OpenRead(path);
            return await TakeInAsync(content, name + ".wav", cancel);
        }
        finally
        {
            File.Delete(path);
        }
    }

    /// <summary>Stores a file that Kinetra made itself, which nothing hostile is in: WAV, decoded here and at once.</summary>
    /// <param name="fileName">What it is called.</param>
    /// <param name="address">SHA-256 of its bytes.</param>
    /// <param name="file">Its bytes.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task StoreMadeAsync(string fileName, string address, byte[] file, CancellationToken cancel)
    {
        Directory.CreateDirectory(Folder);
        var path = Path.Combine(Folder, address);
        await File.WriteAllBytesAsync(path, file, cancel);
        var decoded = SoundFileReader.Read(path);
        PlanarFile.Write(PlanarPath(address), decoded.Sound);
        await store.AddAsync(RowOf(address, fileName, new(decoded.Format, decoded.SampleRate, decoded.Channels, decoded.Sound.Channels, decoded.Sound.Frames)), cancel);
    }

    /// <summary>The bytes of a stored sound as they came in; null: they are gone.</summary>
    public Stream? OpenFile(string address)
    {
        try
        {
            return File.OpenRead(Path.Combine(Folder, address));
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            return null;
        }
    }

    /// <summary>A stored sound, decoded, and the same for everybody who plays it; null where it is not there any more.</summary>
    public async Task<StreamedSound?> OpenAsync(string address, CancellationToken cancel)
    {
        if (Playing(address) is { } known)
        {
            return known;
        }

        try
        {
            if (await store.FindAsync(address, cancel) is not { } row)
            {
                return null;
            }

            var sound = StreamedSound.Open(PlanarPath(address), row.PlayedChannels);
            _playing[address] = new(sound);
            return sound;
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException or SoundFileException)
        {
            return null;
        }
    }

    /// <summary>Reads, for all sounds that are played, what comes next.</summary>
    /// <returns>The file names of those that could not be read.</returns>
    public IReadOnlyList<string> ReadAhead()
    {
        var failed = new List<string>();
        foreach (var address in _playing.Keys)
        {
            if (Playing(address) is not { } sound)
            {
                _playing.TryRemove(address, out _);
                continue;
            }

            try
            {
                sound.ReadAhead();
            }
            catch (IOException)
            {
                failed.Add(address);
            }
        }

        return failed;
    }

    /// <summary>Removes what a start finds and nobody needs: uploads that were broken off, and sounds that nothing refers to.</summary>
    public async Task CollectAsync(CancellationToken cancel)
    {
        Directory.CreateDirectory(Folder);
        foreach (var broken in Directory.EnumerateFiles(Folder).Where(f => Path.GetFileName(f).StartsWith("incoming-", StringComparison.Ordinal) || f.EndsWith(".part", StringComparison.Ordinal)))
        {
            TryDelete(broken);
        }

        // A journal, also one that was set aside, may speak of sounds that the database knows nothing of.
        if (Directory.EnumerateFiles(options.DataFolder, "journal.jsonl*").Any())
        {
            return;
        }

        foreach (var address in await store.UnreferencedAsync(cancel))
        {
            await store.RemoveAsync(address, cancel);
            TryDelete(Path.Combine(Folder, address));
            TryDelete(PlanarPath(address));
        }
    }

    private SoundRow RowOf(string address, string fileName, DecodeReport report) => new()
    {
        Address = address,
        FileName = Names.Cut(string.Concat(fileName.Where(c => !char.IsControl(c))), 255),
        Format = report.Format,
        SampleRate = report.SampleRate,
        Channels = report.Channels,
        PlayedChannels = report.PlayedChannels,
        Frames = report.Frames,
        AddedAt = time.GetUtcNow(),
    };

    private static void TryDelete(string path)
    {
        try
        {
            File.Delete(path);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            // It only takes room.
        }
    }

    private async Task<DecodeReport> DecodeAsync(string name, string input, string output, CancellationToken cancel)
    {
        try
        {
            return await jobs.RunAsync(Decode, name, (progress, stop) => SoundDecoding.RunAsync(input, output, progress, stop), cancel);
        }
        catch (TooManyJobsException)
        {
            throw new SoundFileException("Too many sound files wait to be decoded.", $"at most {Decode.MostWaiting} at a time");
        }
        catch (JobStoppedException)
        {
            throw new SoundFileException("Somebody stopped it while it was being decoded. Nothing was added.", "the same file again");
        }
    }

    private StreamedSound? Playing(string address) => _playing.TryGetValue(address, out var known) && known.TryGetTarget(out var sound) ? sound : null;

    private string Folder => Path.Combine(options.DataFolder, "sounds");

    private string PlanarPath(string address) => Path.Combine(Folder, address + ".f32");

    private async Task<string> CopyAsync(Stream content, string path, CancellationToken cancel)
    {
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        await using var file = File.Create(path);
        var buffer = new byte[CopyBuffer];
        long total = 0;
        int count;
        while ((count = await content.ReadAsync(buffer, cancel)) > 0)
        {
            total += count;
            if (total > options.MaxUploadBytes)
            {
                throw new SoundFileException("The file is too large.", $"at most {options.MaxUploadBytes / 1024 / 1024} MiB");
            }

            hash.AppendData(buffer, 0, count);
            await file.WriteAsync(buffer.AsMemory(0, count), cancel);
        }

        return Convert.ToHexStringLower(hash.GetHashAndReset());
    }
}

using System.Security.Cryptography;
using Kinetra.Core.Engine;
using Kinetra.Data;
using Kinetra.Data.Rows;
using Kinetra.Media;
using Kinetra.Server.Hosting;

namespace Kinetra.Server.Features.Sounds;

/// <summary>Sound files by the address of their content: the bytes in the data folder, what is known of them in the database.</summary>
public sealed class SoundLibrary(ServerOptions options, SoundStore store, TimeProvider time)
{
    private const int CopyBuffer = 128 * 1024;

    /// <summary>Takes in a file: copies, hashes, decodes and stores it. The same file twice is one sound.</summary>
    /// <exception cref="SoundFileException">It is no sound, or not one that is allowed.</exception>
    public async Task<SoundRow> TakeInAsync(Stream content, string fileName, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(content);
        Directory.CreateDirectory(Folder);
        var incoming = Path.Combine(Folder, $"incoming-{Guid.NewGuid():n}");
        try
        {
            var address = await CopyAsync(content, incoming, cancel);
            if (await store.FindAsync(address, cancel) is { } known && File.Exists(PlanarPath(address)))
            {
                return known;
            }

            var report = await SoundDecoding.RunAsync(incoming, PlanarPath(address), cancel);
            File.Move(incoming, Path.Combine(Folder, address), overwrite: true);
            var row = new SoundRow
            {
                Address = address,
                FileName = fileName,
                Format = report.Format,
                SampleRate = report.SampleRate,
                Channels = report.Channels,
                PlayedChannels = report.PlayedChannels,
                Frames = report.Frames,
                AddedAt = time.GetUtcNow(),
            };
            await store.AddAsync(row, cancel);
            return row;
        }
        finally
        {
            File.Delete(incoming);
        }
    }

    /// <summary>A stored sound, decoded; null where it is not there any more.</summary>
    public async Task<SoundBuffer?> LoadAsync(string address, CancellationToken cancel)
    {
        try
        {
            return await store.FindAsync(address, cancel) is { } row ? PlanarFile.Read(PlanarPath(address), row.PlayedChannels) : null;
        }
        catch (Exception e) when (e is IOException or SoundFileException)
        {
            return null;
        }
    }

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

using System.Text.Json;
using Kinetra.Core.Rigs;
using Kinetra.Data.Rows;

namespace Kinetra.Server.Features.Takes;

/// <summary>
/// What is known of a take, beside its files: with it, a take is whole even where the database was away when it began or ended.
/// </summary>
static class TakeNote
{
    private const string FileName = "take.json";

    /// <summary>Writes it; whole or not at all.</summary>
    /// <exception cref="IOException">It could not be written.</exception>
    public static void Write(string folder, TakeRow take)
    {
        var part = Path.Combine(folder, FileName + ".part");
        using (var file = new FileStream(part, FileMode.Create, FileAccess.Write))
        {
            JsonSerializer.Serialize(file, take, RigJson.Options);
            file.Flush(flushToDisk: true);
        }

        File.Move(part, Path.Combine(folder, FileName), overwrite: true);
    }

    /// <summary>Writes it where there is room; the files tell what it would have told.</summary>
    public static void TryWrite(string folder, TakeRow take)
    {
        try
        {
            Write(folder, take);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            // A full disk, or a folder that is gone: the database knows how the take ended, or the next start finds out from the files.
        }
    }

    /// <summary>The notes of all takes; one that cannot be read is left out.</summary>
    public static IEnumerable<TakeRow> ReadAll(string folder)
    {
        foreach (var take in Directory.Exists(folder) ? Directory.EnumerateDirectories(folder) : [])
        {
            var path = Path.Combine(take, FileName);
            TakeRow? row = null;
            try
            {
                row = File.Exists(path) ? JsonSerializer.Deserialize<TakeRow>(File.ReadAllText(path), RigJson.Options) : null;
            }
            catch (Exception e) when (e is JsonException or IOException)
            {
                // Nothing can be said of it; its files stay where they are.
            }

            if (row is not null)
            {
                yield return row;
            }
        }
    }
}

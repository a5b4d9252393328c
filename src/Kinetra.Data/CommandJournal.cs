using System.Text;
using Kinetra.Core.Editing;

namespace Kinetra.Data;

/// <summary>A step that waits for the database.</summary>
/// <param name="Show">The show.</param>
/// <param name="Step">The step.</param>
/// <param name="Version">The version of the step's form.</param>
public sealed record JournalEntry(Guid Show, Step Step, int Version = StoredJson.Version);

/// <summary>
/// Where steps are durable while the database is away: a file of lines, one step each, on the disk before it is acknowledged
/// (fsync). A last line that was cut off in mid-write was never acknowledged, and does not count. One caller at a time.
/// </summary>
/// <param name="path">The file; made when it is needed, gone when all has been stored.</param>
public sealed class CommandJournal(string path) : IDisposable
{
    private FileStream? _file;

    /// <summary>Appends a step. Once this returns, it is durable.</summary>
    /// <exception cref="IOException">It could not be written.</exception>
    public void Append(JournalEntry entry)
    {
        Directory.CreateDirectory(Path.GetDirectoryName(path)!);
        var isNew = !File.Exists(path);
        if (_file is null)
        {
            Repair();
            _file = new FileStream(path, FileMode.Append, FileAccess.Write, FileShare.Read, bufferSize: 1);
        }

        var start = _file.Length;
        try
        {
            _file.Write(Encoding.UTF8.GetBytes(StoredJson.Write(entry) + "\n"));
            _file.Flush(flushToDisk: true);
        }
        catch (IOException)
        {
            // Half a line must not spoil the next.
            _file.SetLength(start);
            throw;
        }

        if (isNew)
        {
            FolderSync.Flush(Path.GetDirectoryName(path)!);
        }
    }

    /// <summary>All steps, in the order in which they were appended.</summary>
    /// <exception cref="InvalidDataException">A line that is whole cannot be understood.</exception>
    public IReadOnlyList<JournalEntry> Read()
    {
        if (!File.Exists(path))
        {
            return [];
        }

        using var file = new FileStream(path, FileMode.Open, FileAccess.Read, FileShare.ReadWrite);
        using var reader = new StreamReader(file, Encoding.UTF8);
        var text = reader.ReadToEnd();
        var entries = new List<JournalEntry>();
        foreach (var line in text[..(text.LastIndexOf('\n') + 1)].Split('\n', StringSplitOptions.RemoveEmptyEntries))
        {
            entries.Add(StoredJson.Read<JournalEntry>(line, StoredJson.Version, $"Line {entries.Count + 1} of {path}"));
            if (entries[^1].Version != StoredJson.Version)
            {
                throw new InvalidDataException($"Line {entries.Count} of {path} is of form {entries[^1].Version}; this version of Kinetra writes {StoredJson.Version}.");
            }
        }

        return entries;
    }

    /// <summary>All of it has been stored: the file goes.</summary>
    public void Clear()
    {
        Dispose();
        if (File.Exists(path))
        {
            File.Delete(path);
            FolderSync.Flush(Path.GetDirectoryName(path)!);
        }
    }

    /// <summary>It does not fit what is stored: it is kept under another name.</summary>
    /// <returns>Where it lies now.</returns>
    public string SetAside()
    {
        Dispose();
        var aside = $"{path}.aside-{Guid.CreateVersion7():n}";
        File.Move(path, aside);
        return aside;
    }

    /// <inheritdoc/>
    public void Dispose()
    {
        _file?.Dispose();
        _file = null;
    }

    // A line that was cut off by a crash goes before the next is appended.
    private void Repair()
    {
        if (File.Exists(path))
        {
            var bytes = File.ReadAllBytes(path);
            using var file = new FileStream(path, FileMode.Open, FileAccess.Write);
            file.SetLength(Array.LastIndexOf(bytes, (byte)'\n') + 1);
        }
    }
}

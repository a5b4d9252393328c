using System.Text.Json;
using Kinetra.Core.Rigs;
using Kinetra.Data;
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
    public static void Write(string folder, TakeRow take) => Write(folder, Text(take, []));

    /// <summary>What the note of a take says.</summary>
    /// <param name="take">The take.</param>
    /// <param name="open">For each of its tracks what is away, to no end yet.</param>
    public static byte[] Text(TakeRow take, IEnumerable<TrackGap?> open)
    {
        var note = JsonSerializer.SerializeToNode(take, RigJson.Options)!;
        foreach (var (track, gap) in note["tracks"]!.AsArray().Zip(open))
        {
            if (gap is not null)
            {
                track!["gaps"]!.AsArray().Add(JsonSerializer.SerializeToNode(gap, RigJson.Options));
            }
        }

        return JsonSerializer.SerializeToUtf8Bytes(note, RigJson.Options);
    }

    /// <summary>Of a take that was cut off: what was away then was so to its end.</summary>
    public static void EndGaps(TakeRow take)
    {
        foreach (var track in take.Tracks)
        {
            track.Gaps = [.. track.Gaps.Select(g => g.Frames > 0 ? g : g with { Frames = take.Frames - g.Start }).Where(g => g.Frames > 0)];
        }
    }

    /// <summary>Writes a note; whole or not at all.</summary>
    /// <exception cref="IOException">It could not be written.</exception>
    private static void Write(string folder, byte[] text)
    {
        var part = Path.Combine(folder, FileName + ".part");
        using (var file = new FileStream(part, FileMode.Create, FileAccess.Write))
        {
            file.Write(text);
            file.Flush(flushToDisk: true);
        }

        File.Move(part, Path.Combine(folder, FileName), overwrite: true);
    }

    /// <summary>Writes it where there is room; the files tell what it would have told.</summary>
    public static void TryWrite(string folder, TakeRow take) => TryWrite(folder, Text(take, []));

    /// <summary>The same of what it says.</summary>
    public static void TryWrite(string folder, byte[] text)
    {
        try
        {
            Write(folder, text);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            // A full disk, or a folder that is gone: the database knows how the take ended, or the next start finds out from the files.
        }
    }

    /// <summary>Whether a folder holds a take, by its note.</summary>
    public static bool IsOf(string folder, Guid take)
    {
        try
        {
            return StoredJson.Read<TakeRow>(File.ReadAllText(Path.Combine(folder, FileName)), StoredJson.Version, "Its note").Id == take;
        }
        catch (Exception e) when (e is InvalidDataException or IOException or UnauthorizedAccessException)
        {
            return false;
        }
    }

    /// <summary>What lies in the folder of takes: the notes that can be read, and of the others why they cannot.</summary>
    public static (IReadOnlyList<TakeRow> Takes, IReadOnlyList<DamagedTake> Damaged) ReadAll(string folder)
    {
        var takes = new List<TakeRow>();
        var damaged = new List<DamagedTake>();
        foreach (var take in Directory.CreateDirectory(folder).GetDirectories().Select(d => d.FullName).Order(StringComparer.Ordinal))
        {
            var name = Path.GetFileName(take);
            try
            {
                var row = StoredJson.Read<TakeRow>(File.ReadAllText(Path.Combine(take, FileName)), StoredJson.Version, "Its note");
                if (row.Id.ToString() == name)
                {
                    takes.Add(row);
                }
                else
                {
                    damaged.Add(new(name, $"It is a copy of the take “{row.Name}”, under another name. Its files can be taken from there; it is no take of its own."));
                }
            }
            catch (FileNotFoundException)
            {
                damaged.Add(new(name, "It has no note of what it is. Its files can be taken from there."));
            }
            catch (Exception e) when (e is InvalidDataException or IOException or UnauthorizedAccessException)
            {
                damaged.Add(new(name, e is InvalidDataException ? $"{e.Message} Its files can be taken from there." : "Its note cannot be read."));
            }
        }

        return (takes, damaged);
    }
}

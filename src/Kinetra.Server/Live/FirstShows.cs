using Kinetra.Core.Editing;
using Kinetra.Core.Rigs;
using Kinetra.Gear;

namespace Kinetra.Server.Live;

/// <summary>The shows that a new database begins with: the demo shows, or those of a folder, by the names of their files.</summary>
public static class FirstShows
{
    /// <summary>Name and rig of each, the one that is opened first in front.</summary>
    /// <exception cref="NotSupportedException">There are none, or one cannot be read; its message says which and why.</exception>
    public static IReadOnlyList<(string Name, Rig Rig)> Of(string? folder)
    {
        if (folder is null)
        {
            return DemoShows.All;
        }

        try
        {
            var shows = Directory.GetFiles(folder, "*.show.json").Order(StringComparer.Ordinal).Select(Read).ToList();
            if (shows.Count == 0)
            {
                throw new NotSupportedException($"The folder of first shows has none: {folder}; allowed: files that end with .show.json.");
            }

            return shows.GroupBy(s => s.Name, StringComparer.OrdinalIgnoreCase).FirstOrDefault(g => g.Count() > 1) is { } twice
                ? throw new NotSupportedException($"Two of the first shows are called “{twice.Key}”; allowed: a name that no other has.")
                : shows;
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            throw new NotSupportedException($"The folder of first shows cannot be read: {e.Message}", e);
        }
    }

    private static (string Name, Rig Rig) Read(string path) => ShowFile.Read(File.ReadAllBytes(path), out var problems) is { } file
        ? (file.Name, file.Rig)
        : throw new NotSupportedException($"The first show {Path.GetFileName(path)} cannot be read: {problems[0]}");
}

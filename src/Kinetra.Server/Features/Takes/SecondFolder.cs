using System.Globalization;
using Kinetra.Core.Editing;
using Kinetra.Server.Hosting;

namespace Kinetra.Server.Features.Takes;

/// <summary>
/// The folder, perhaps on another disk, in which every take is written at the same time. It is this computer's, and no part of the show. Any thread.
/// </summary>
public sealed class SecondFolder(ServerOptions options, ILogger<SecondFolder> log)
{
    /// <summary>The longest path, in characters.</summary>
    public const int PathLength = 1_000;

    private const UnixFileMode Own = UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute;

    private readonly KeptNote<Note> _note = new(System.IO.Path.Combine(options.DataFolder, "second-folder.json"), new Note(null), log, "Which folder is the second", n => Shape(n.Path) is null ? n : new Note(null));

    /// <summary>Where; null: takes are written to one folder.</summary>
    public string? Path => _note.Now.Path;

    /// <summary>Takes another one, from the next take on.</summary>
    /// <param name="path">A folder with its whole path, which is made where it is not there; null or nothing: none.</param>
    /// <returns>What is wrong with it, in which case all stays as it is; null: nothing.</returns>
    public RigProblem? Set(string? path)
    {
        var wanted = string.IsNullOrWhiteSpace(path) ? null : path.Trim();
        if (Shape(wanted) is { } problem)
        {
            return problem;
        }

        if (wanted is not null)
        {
            var folder = System.IO.Path.GetFullPath(wanted);
            if (IsIn(folder, System.IO.Path.GetFullPath(options.DataFolder)))
            {
                return new RigProblem("path", "This is where takes are written already.", "a folder outside the data folder, best on another disk");
            }

            try
            {
                Directory.CreateDirectory(folder);
                var probe = System.IO.Path.Combine(folder, $".kinetra-{Guid.NewGuid():n}");
                File.WriteAllText(probe, "x");
                File.Delete(probe);
            }
            catch (Exception e) when (e is IOException or UnauthorizedAccessException or NotSupportedException)
            {
                return new RigProblem("path", string.Create(CultureInfo.InvariantCulture, $"Nothing can be written there: {e.Message}"), "a folder that can be written to");
            }

            wanted = folder;
        }

        _note.Change(_ => new Note(wanted));
        return null;
    }

    /// <summary>Makes the folder of a take: for nobody else on this computer.</summary>
    internal static void Make(string folder)
    {
        if (OperatingSystem.IsWindows())
        {
            Directory.CreateDirectory(folder);
        }
        else
        {
            Directory.CreateDirectory(folder, Own);
        }
    }

    private static RigProblem? Shape(string? path) => path is null || (path.Length <= PathLength && !path.Any(char.IsControl) && System.IO.Path.IsPathFullyQualified(path))
        ? null
        : new RigProblem("path", "This is no folder.", $"the whole path of a folder, beginning with a slash, at most {PathLength} characters");

    private static bool IsIn(string folder, string other)
    {
        var between = System.IO.Path.GetRelativePath(other, folder);
        return between == "." || !(between == ".." || between.StartsWith("../", StringComparison.Ordinal) || System.IO.Path.IsPathRooted(between));
    }

    private sealed record Note(string? Path);
}

using Kinetra.Data;
using Kinetra.Server.Hosting;

namespace Kinetra.Server.Live;

/// <summary>
/// Whether the data folder belongs to the database: the folder notes the database that it was first used with. With another one nothing
/// of the folder is collected, since what that refers to is not known.
/// </summary>
public sealed partial class FolderOwner(ShowStore store, ServerOptions options, ILogger<FolderOwner> log)
{
    private string Note => Path.Combine(options.DataFolder, "database-id");

    /// <summary>True where it belongs to this database, also from now on.</summary>
    public async Task<bool> IsOwnAsync(CancellationToken cancel)
    {
        var id = (await store.IdentityAsync(cancel)).ToString();
        try
        {
            if (!File.Exists(Note))
            {
                await File.WriteAllTextAsync(Note, id, cancel);
                return true;
            }

            if ((await File.ReadAllTextAsync(Note, cancel)).Trim() == id)
            {
                return true;
            }

            LogOther(log, options.DataFolder, Note);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            // What is not known to be one's own stays: it only takes room, and stops no start.
            LogUnknown(log, Note, e.Message);
        }

        return false;
    }

    [LoggerMessage(LogLevel.Warning, "{Note} can be neither read nor written: sounds that nothing refers to are kept. ({Reason})")]
    private static partial void LogUnknown(ILogger log, string note, string reason);

    [LoggerMessage(LogLevel.Warning, "{Folder} was first used with another database: sounds that nothing refers to are kept in it. Allowed: a KINETRA_HOME for each database; or, where that database is gone, removing {Note}.")]
    private static partial void LogOther(ILogger log, string folder, string note);
}

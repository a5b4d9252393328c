using System.Text.Json;
using Kinetra.Data;

namespace Kinetra.Server.Hosting;

/// <summary>
/// Something small that outlives a restart, as a JSON file in the data folder: whole before or whole after, whenever the machine stops. Where the file
/// cannot be read, it is as if there were none; what is in it is set aside as <c>….damaged</c> before another is written. Any thread.
/// </summary>
/// <typeparam name="T">An immutable value.</typeparam>
/// <param name="path">The file.</param>
/// <param name="none">What it is where there is no file.</param>
/// <param name="log">Is told what could not be kept, or not be read: it is so all the same, until a restart.</param>
/// <param name="what">What it is, as a sentence about it begins.</param>
/// <param name="fit">Makes something allowed of what was read; null: nothing in it can be wrong.</param>
public sealed class KeptNote<T>(string path, T none, ILogger log, string what, Func<T, T>? fit = null)
    where T : class
{
    private readonly Lock _keeping = new();
    private T? _now;
    private bool _isUnread;

    /// <summary>As it is now.</summary>
    public T Now
    {
        get
        {
            lock (_keeping)
            {
                return _now ??= Read();
            }
        }
    }

    /// <summary>Makes it another.</summary>
    /// <returns>What it is then.</returns>
    public T Change(Func<T, T> change)
    {
        ArgumentNullException.ThrowIfNull(change);
        lock (_keeping)
        {
            _now = change(_now ??= Read());
            try
            {
                File.WriteAllText(path + ".part", JsonSerializer.Serialize(_now));
                if (_isUnread)
                {
                    File.Move(path, path + ".damaged", overwrite: true);
                    _isUnread = false;
                }

                File.Move(path + ".part", path, overwrite: true);
                FolderSync.Flush(Path.GetDirectoryName(path)!);
            }
            catch (Exception e) when (e is IOException or UnauthorizedAccessException)
            {
                KeptNoteLog.NotKept(log, what, e.Message);
            }

            return _now;
        }
    }

    private T Read()
    {
        try
        {
            var read = JsonSerializer.Deserialize<T>(File.ReadAllText(path)) ?? none;
            return fit is null ? read : fit(read);
        }
        catch (Exception e) when (e is FileNotFoundException or DirectoryNotFoundException)
        {
            return none;
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException or JsonException)
        {
            // The words of whoever reads JSON could hold what is in it.
            KeptNoteLog.NotRead(log, what, path, e is JsonException ? "it is damaged" : e.Message);
            _isUnread = true;
            return none;
        }
    }
}

/// <summary>What a <see cref="KeptNote{T}"/> tells.</summary>
static partial class KeptNoteLog
{
    [LoggerMessage(LogLevel.Warning, "{What} could not be stored; after a restart it is as before: {Reason}")]
    public static partial void NotKept(ILogger log, string what, string reason);

    [LoggerMessage(LogLevel.Warning, "{What} could not be read from {File}: {Reason}. It begins anew; before something is written there, what it holds is set aside as “.damaged” beside it")]
    public static partial void NotRead(ILogger log, string what, string file, string reason);
}

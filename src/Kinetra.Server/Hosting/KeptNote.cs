using System.Text.Json;
using Kinetra.Data;

namespace Kinetra.Server.Hosting;

/// <summary>
/// Something small that outlives a restart, as a JSON file in the data folder: whole before or whole after, whenever the machine stops. Where the file cannot be read, it is as if there were none. Any thread.
/// </summary>
/// <typeparam name="T">An immutable value.</typeparam>
/// <param name="path">The file.</param>
/// <param name="none">What it is where there is no file.</param>
/// <param name="notKept">Hears why it could not be kept: it is so all the same, until a restart.</param>
/// <param name="fit">Makes something allowed of what was read; null: nothing in it can be wrong.</param>
public sealed class KeptNote<T>(string path, T none, Action<string> notKept, Func<T, T>? fit = null)
    where T : class
{
    private readonly Lock _keeping = new();
    private T? _now;

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
                File.Move(path + ".part", path, overwrite: true);
                FolderSync.Flush(Path.GetDirectoryName(path)!);
            }
            catch (Exception e) when (e is IOException or UnauthorizedAccessException)
            {
                notKept(e.Message);
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
        catch (Exception e) when (e is IOException or UnauthorizedAccessException or JsonException)
        {
            return none;
        }
    }
}

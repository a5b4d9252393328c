namespace Kinetra.Server.Hosting;

/// <summary>
/// The data folder. Recordings and talk that is off the air are for nobody else on this computer: whatever lies in it, others do not get in.
/// </summary>
public sealed partial class PrivateFolder(string path, ILogger<PrivateFolder> log)
{
    private const UnixFileMode Own = UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute;

    /// <summary>Makes it, and takes from others what they may do in it. Where that is refused, since it is somebody else's, the log says so.</summary>
    /// <exception cref="IOException">It cannot be made.</exception>
    public void Ensure()
    {
        if (OperatingSystem.IsWindows())
        {
            return;
        }

        try
        {
            Directory.CreateDirectory(path, Own);
            if (File.GetUnixFileMode(path) != Own)
            {
                File.SetUnixFileMode(path, Own);
            }
        }
        catch (UnauthorizedAccessException)
        {
            LogOpen(log, path);
        }
    }

    [LoggerMessage(LogLevel.Warning, "{Path} belongs to somebody else: other users of this computer may be able to read what is recorded. Allowed: a folder of your own, --data chooses it.")]
    private static partial void LogOpen(ILogger log, string path);
}

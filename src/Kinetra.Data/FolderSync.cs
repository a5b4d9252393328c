using System.Runtime.InteropServices;

namespace Kinetra.Data;

/// <summary>Makes it durable that a file was made in a folder, or is gone from it.</summary>
public static partial class FolderSync
{
    /// <summary>Flushes it.</summary>
    /// <param name="folder">The folder; one that is not there is none.</param>
    public static void Flush(string folder)
    {
        const int readOnly = 0;
        var descriptor = Open(folder, readOnly);
        if (descriptor >= 0)
        {
            _ = Fsync(descriptor);
            _ = Close(descriptor);
        }
    }

    [LibraryImport("libc", EntryPoint = "open", StringMarshalling = StringMarshalling.Utf8)]
    private static partial int Open(string path, int flags);

    [LibraryImport("libc", EntryPoint = "fsync")]
    private static partial int Fsync(int descriptor);

    [LibraryImport("libc", EntryPoint = "close")]
    private static partial int Close(int descriptor);
}

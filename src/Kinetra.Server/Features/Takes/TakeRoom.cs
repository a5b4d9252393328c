namespace Kinetra.Server.Features.Takes;

/// <summary>The room that there is for takes.</summary>
static class TakeRoom
{
    /// <summary>Bytes that can still be written where a folder lies; 0: that cannot be told.</summary>
    public static long Free(string folder)
    {
        try
        {
            return new DriveInfo(Path.GetFullPath(folder)).AvailableFreeSpace;
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException or ArgumentException)
        {
            return 0;
        }
    }
}

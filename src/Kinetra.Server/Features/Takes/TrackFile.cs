using Kinetra.Media;

namespace Kinetra.Server.Features.Takes;

/// <summary>The file of a track in one folder, with its outline beside it. Not safe for several threads.</summary>
sealed class TrackFile(string path, TakeFileWriter writer) : IDisposable
{
    private readonly PeakFile _peaks = new(path);

    /// <summary>Samples beyond full scale.</summary>
    public long Clipped => writer.Clipped;

    /// <summary>Appends frames.</summary>
    /// <exception cref="IOException">They could not be written.</exception>
    public void Write(ReadOnlySpan<float> left, ReadOnlySpan<float> right, bool isMono)
    {
        writer.Write(left, right);
        _peaks.Append(left, isMono ? left : right);
    }

    /// <summary>Makes all that was written so far readable by others.</summary>
    public void Flush()
    {
        writer.UpdateHeader();
        _peaks.Flush();
    }

    /// <inheritdoc/>
    public void Dispose()
    {
        writer.Dispose();
        _peaks.Dispose();
    }
}

using System.Runtime.InteropServices;
using Kinetra.Core.Takes;

namespace Kinetra.Server.Features.Takes;

/// <summary>The outline of a track in a file of the folder <c>outlines</c> beside it, which grows while the track does. Not safe for several threads.</summary>
sealed class PeakFile : IDisposable
{
    private readonly Peaks _peaks = new();
    private FileStream? _file;

    /// <summary>Begins one. Where it cannot be written there is none: the sound counts.</summary>
    /// <param name="track">The path of the track's file.</param>
    public PeakFile(string track)
    {
        try
        {
            Directory.CreateDirectory(Path.GetDirectoryName(PathOf(track))!);
            _file = new FileStream(PathOf(track), FileMode.Create, FileAccess.Write, FileShare.Read);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            _file = null;
        }
    }

    /// <summary>Where the outline of a track lies.</summary>
    public static string PathOf(string track) => Path.Combine(Path.GetDirectoryName(track)!, "outlines", Path.GetFileName(track) + ".peaks");

    /// <summary>Takes in what comes next.</summary>
    public void Append(ReadOnlySpan<float> left, ReadOnlySpan<float> right) => _peaks.Append(left, right);

    /// <summary>Makes what there is readable by others.</summary>
    public void Flush()
    {
        try
        {
            _file?.Write(MemoryMarshal.AsBytes(_peaks.Take().AsSpan()));
            _file?.Flush();
        }
        catch (IOException)
        {
            // A full disk: it is no outline any more, and is made again when the take is read.
            _file?.Dispose();
            _file = null;
        }
    }

    /// <inheritdoc/>
    public void Dispose()
    {
        _peaks.Finish();
        Flush();
        _file?.Dispose();
        _file = null;
    }

    /// <summary>How many values the outline of a track has; null: there is none.</summary>
    public static long? LengthOf(string track) => new FileInfo(PathOf(track)) is { Exists: true } file ? file.Length / sizeof(ushort) : null;

    /// <summary>A part of the outline of a track; null: there is none that can be read.</summary>
    /// <param name="track">The path of the track's file.</param>
    /// <param name="first">The first value; beyond the end there is nothing.</param>
    /// <param name="count">How many at most.</param>
    public static ushort[]? Read(string track, long first, long count)
    {
        try
        {
            // As it is: what is read goes past no second buffer.
            using var file = new FileStream(PathOf(track), FileMode.Open, FileAccess.Read, FileShare.ReadWrite, bufferSize: 0);
            var values = new ushort[Math.Clamp((file.Length / sizeof(ushort)) - first, 0, count)];
            file.Position = first * sizeof(ushort);
            file.ReadExactly(MemoryMarshal.AsBytes(values.AsSpan()));
            return values;
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            return null;
        }
    }
}

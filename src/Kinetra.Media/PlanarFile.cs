using System.Runtime.InteropServices;
using Kinetra.Core.Engine;

namespace Kinetra.Media;

/// <summary>
/// Decoded sound as it is kept for playing: no header, 32-bit float little-endian at 48 kHz, the left channel whole, then the
/// right. How many channels there are stands in the database. Nothing needs to be parsed, so nothing can be parsed wrongly.
/// </summary>
public static class PlanarFile
{
    /// <summary>Writes a sound, under another name first, so that a file of that name is always whole.</summary>
    public static void Write(string path, SoundBuffer sound)
    {
        ArgumentNullException.ThrowIfNull(sound);
        var temporary = path + ".part";
        using (var file = File.Create(temporary))
        {
            file.Write(MemoryMarshal.AsBytes(sound.Left.AsSpan()));
            file.Write(MemoryMarshal.AsBytes(sound.Right.AsSpan()));
        }

        File.Move(temporary, path, overwrite: true);
    }

    /// <summary>Reads a sound.</summary>
    /// <param name="path">A file that <see cref="Write"/> made.</param>
    /// <param name="channels">1 or 2.</param>
    /// <exception cref="SoundFileException">The file's length does not fit.</exception>
    public static SoundBuffer Read(string path, int channels)
    {
        using var file = File.OpenRead(path);
        var frames = file.Length / sizeof(float) / channels;
        if (frames == 0 || frames * channels * sizeof(float) != file.Length)
        {
            throw new SoundFileException($"The stored sound {Path.GetFileName(path)} is damaged.", "the file as it was stored");
        }

        var planar = Enumerable.Range(0, channels).Select(_ => new float[frames]).ToArray();
        foreach (var channel in planar)
        {
            file.ReadExactly(MemoryMarshal.AsBytes(channel.AsSpan()));
        }

        return new SoundBuffer(planar[0], channels == 2 ? planar[1] : null);
    }
}

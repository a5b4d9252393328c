using System.Buffers.Binary;
using System.Text;

namespace Kinetra.Media;

/// <summary>A marked place of a WAV file.</summary>
/// <param name="Frame">Which frame; what lies beyond 2³² − 1 is left out, since the chunk has no room for it.</param>
/// <param name="Words">What it is.</param>
public sealed record WavMark(long Frame, string Words);

/// <summary>
/// Writes marks into a WAV or RF64 file that is whole: a <c>cue </c> chunk, and their words in a <c>LIST</c> of kind <c>adtl</c> (<c>labl</c>), behind
/// all that is there. The sound is not touched: what is new is on the disk before the header tells of it, so that whatever happens the file opens.
/// Source: Multimedia Programming Interface and Data Specifications 1.0; EBU Tech 3306 for RF64.
/// </summary>
public static class WavMarks
{
    private const int CueBytes = 24;

    /// <summary>Appends marks.</summary>
    /// <param name="path">The file.</param>
    /// <param name="marks">The marks; none: nothing is done.</param>
    /// <returns>False: it is no WAV file that can be added to.</returns>
    /// <exception cref="IOException">It could not be written.</exception>
    public static bool Append(string path, IReadOnlyList<WavMark> marks)
    {
        ArgumentNullException.ThrowIfNull(marks);
        List<WavMark> held = [.. marks.Where(m => m.Frame is >= 0 and <= uint.MaxValue)];
        if (held.Count == 0)
        {
            return true;
        }

        using var file = new FileStream(path, FileMode.Open, FileAccess.ReadWrite);
        Span<byte> head = stackalloc byte[28];
        if (file.Length < head.Length)
        {
            return false;
        }

        file.ReadExactly(head);
        var isLong = head[..4].SequenceEqual("RF64"u8);
        if ((!isLong && !head[..4].SequenceEqual("RIFF"u8)) || !head[8..12].SequenceEqual("WAVE"u8) || (isLong && !head[12..16].SequenceEqual("ds64"u8)))
        {
            return false;
        }

        var chunks = Chunks(held);

        // Chunks begin at even places.
        var end = file.Length + (file.Length % 2);
        if (!isLong && end + chunks.Length - 8 > uint.MaxValue)
        {
            return false;
        }

        file.SetLength(end);
        file.Position = end;
        file.Write(chunks);
        file.Flush(flushToDisk: true);
        Span<byte> size = stackalloc byte[8];
        BinaryPrimitives.WriteInt64LittleEndian(size, end + chunks.Length - 8);
        file.Position = isLong ? 20 : 4;
        file.Write(isLong ? size : size[..4]);
        file.Flush(flushToDisk: true);
        return true;
    }

    private static byte[] Chunks(List<WavMark> marks)
    {
        using var made = new MemoryStream();
        using var to = new BinaryWriter(made);
        to.Write("cue "u8);
        to.Write(4 + (CueBytes * marks.Count));
        to.Write(marks.Count);
        foreach (var (index, mark) in marks.Index())
        {
            to.Write(index + 1);
            to.Write((uint)mark.Frame);
            to.Write("data"u8);
            to.Write(0);
            to.Write(0);
            to.Write((uint)mark.Frame);
        }

        byte[][] labels = [.. marks.Select((m, n) => Label(n + 1, m.Words))];
        to.Write("LIST"u8);
        to.Write(4 + labels.Sum(l => l.Length));
        to.Write("adtl"u8);
        foreach (var label in labels)
        {
            to.Write(label);
        }

        to.Flush();
        return made.ToArray();
    }

    // Words end with a zero; a chunk that is not even has another behind it, which its size does not count.
    private static byte[] Label(int number, string words)
    {
        var text = Encoding.UTF8.GetBytes(string.Concat(words.Where(c => !char.IsControl(c))) + "\0");
        var label = new byte[12 + text.Length + (text.Length % 2)];
        "labl"u8.CopyTo(label);
        BinaryPrimitives.WriteInt32LittleEndian(label.AsSpan(4), 4 + text.Length);
        BinaryPrimitives.WriteInt32LittleEndian(label.AsSpan(8), number);
        text.CopyTo(label, 12);
        return label;
    }
}

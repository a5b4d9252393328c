using System.Buffers;
using System.Buffers.Binary;
using System.Globalization;
using System.Text;
using Kinetra.Media.Streaming;

namespace Kinetra.Media.Cutting;

/// <summary>A part of Opus in Ogg, packet by packet. Sources: RFC 7845 (pre-skip, end trimming), RFC 6716, 3.1 (how long a packet is).</summary>
static class OpusCut
{
    // A decoder that begins in the middle needs 80 ms until it gives nearly what it would have given (RFC 7845, 4.6), and a quarter of a second until no ear
    // and hardly a number tells them apart. No more: what was cut off is still in those packets.
    private const int PreRoll = 12_000;

    private const int PreSkipAt = 10;
    private const int HeadBytes = 19;
    private const int VendorAt = 8;

    public static bool Cut(Stream from, Stream to, long start, long frames, TakeFileInfo info, CancellationToken cancel)
    {
        using var packets = new OggPackets(from);
        if (!packets.Next() || packets.Bytes.Length < HeadBytes || !packets.Bytes.StartsWith("OpusHead"u8))
        {
            return false;
        }

        var head = packets.Bytes.ToArray();
        if (!packets.Next() || !packets.Bytes.StartsWith("OpusTags"u8) || TagsOf(packets.Bytes, info) is not { } tags)
        {
            return false;
        }

        var wanted = start + BinaryPrimitives.ReadUInt16LittleEndian(head.AsSpan(PreSkipAt));
        var earliest = Math.Max(0, wanted - PreRoll);
        using var pages = new OggPages();
        var buffer = new ArrayBufferWriter<byte>();
        long at = 0, first = -1;
        while (packets.Next())
        {
            cancel.ThrowIfCancellationRequested();
            if (packets.IsFirst || Samples(packets.Bytes) is not (> 0 and var samples))
            {
                return false;
            }

            if (first < 0 && at + samples > earliest)
            {
                first = at;
                BinaryPrimitives.WriteUInt16LittleEndian(head.AsSpan(PreSkipAt), (ushort)(wanted - first));
                pages.Add(head, 0, begins: true);
                pages.Out(buffer, all: true);
                pages.Add(tags, 0);
                pages.Out(buffer, all: true);
            }

            // Where it says that it is later, something is lost before it.
            at += samples;
            if (packets.Granule > at)
            {
                return false;
            }

            if (first >= 0)
            {
                var last = wanted + frames;
                var ends = at >= last;
                pages.Add(packets.Bytes, Math.Min(at, last) - first, ends: ends);
                pages.Out(buffer, all: ends);
                to.Write(buffer.WrittenSpan);
                buffer.ResetWrittenCount();
                if (ends)
                {
                    return true;
                }
            }
        }

        return false;
    }

    // Frames at 48 kHz; 0: it is no packet.
    private static int Samples(ReadOnlySpan<byte> packet)
    {
        if (packet.IsEmpty)
        {
            return 0;
        }

        var (kind, code) = (packet[0] >> 3, packet[0] & 3);
        var frame = kind switch
        {
            < 12 => ((ReadOnlySpan<int>)[480, 960, 1_920, 2_880])[kind & 3],
            < 16 => ((ReadOnlySpan<int>)[480, 960])[kind & 1],
            _ => ((ReadOnlySpan<int>)[120, 240, 480, 960])[kind & 3],
        };
        return code switch
        {
            0 => frame,
            1 or 2 => 2 * frame,
            _ => packet.Length < 2 ? 0 : (packet[1] & 63) * frame,
        };
    }

    // Who coded it stays; null: they are none.
    private static byte[]? TagsOf(ReadOnlySpan<byte> old, TakeFileInfo info)
    {
        if (old.Length < VendorAt + 4 || BinaryPrimitives.ReadInt32LittleEndian(old[VendorAt..]) is var length && (length < 0 || length > old.Length - VendorAt - 4))
        {
            return null;
        }

        string[] said = [$"TITLE={info.Title}", $"DATE={info.Start.ToString("yyyy-MM-ddTHH:mm:sszzz", CultureInfo.InvariantCulture)}"];
        using var tags = new MemoryStream();
        using var writer = new BinaryWriter(tags);
        writer.Write(old[..(VendorAt + 4 + length)]);
        writer.Write(said.Length);
        foreach (var text in said)
        {
            var bytes = Encoding.UTF8.GetBytes(text);
            writer.Write(bytes.Length);
            writer.Write(bytes);
        }

        return tags.ToArray();
    }
}

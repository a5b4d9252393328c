using System.Buffers.Binary;
using System.Globalization;
using System.Text;

namespace Kinetra.Media.Cutting;

/// <summary>
/// A part of an MP3 file, frame by frame. A frame takes bits from those before it: where the part does not begin with the file, a silent frame holds what
/// the first ones ask for. How many samples to leave out on both sides stands in the frame that an encoder writes ahead of all others. Source: ISO/IEC 11172-3;
/// that frame's layout is the one which players and encoders share.
/// </summary>
static class Mp3Cut
{
    // What a decoder is late by, samples; players add it to what the file says.
    private const int DecoderDelay = 529;

    // The longest that the file can say, in 12 bits.
    private const int MostDelay = 4_095;

    // How far back a frame may look for its bits.
    private const int Reservoir = 511;

    // Of the frame before the sound: all four fields, and what the encoder tells behind them.
    private const int AllFields = 15, FramesAt = 8, BytesAt = 12, TableAt = 16, TableLength = 100, EncoderAt = 120;
    private const int DelayAt = EncoderAt + 21, LengthAt = EncoderAt + 28, SoundCheckAt = EncoderAt + 32, CheckAt = EncoderAt + 34;

    public static bool Cut(Stream from, Stream to, long start, long frames, TakeFileInfo info, CancellationToken cancel)
    {
        SkipTag(from);
        if (Next(from) is not { } told || told.Frame.SoundAt + CheckAt + 2 > told.Bytes.Length)
        {
            return false;
        }

        var tag = told.Bytes.AsSpan(told.Frame.SoundAt);
        if (!(tag.StartsWith("Info"u8) || tag.StartsWith("Xing"u8)) || BinaryPrimitives.ReadInt32BigEndian(tag[4..]) != AllFields)
        {
            return false;
        }

        var delay = ((tag[DelayAt] << 4) | (tag[DelayAt + 1] >> 4)) + start;
        var first = Math.Max(0, (delay - MostDelay + Mp3Frame.Samples - 1) / Mp3Frame.Samples);
        delay -= first * Mp3Frame.Samples;
        var count = (delay + frames + DecoderDelay + Mp3Frame.Samples - 1) / Mp3Frame.Samples;

        WriteTag(to, info);
        var begin = to.Position;
        to.Write(told.Bytes);
        var places = new long[TableLength];
        var placed = 0;
        var kept = new byte[Reservoir];
        ushort check = 0;
        for (long index = 0, made = 0; made < count; index++)
        {
            cancel.ThrowIfCancellationRequested();
            if (Next(from) is not { } next)
            {
                return false;
            }

            var bytes = next.Bytes;
            if (index <= first && first > 0)
            {
                Keep(kept, bytes.AsSpan(Math.Min(bytes.Length, next.Frame.SoundAt)));
                if (index < first)
                {
                    continue;
                }

                bytes = Mp3Frame.Silent(bytes, kept);
            }

            for (; placed < TableLength && placed * count <= made * TableLength; placed++)
            {
                places[placed] = to.Position - begin;
            }

            to.Write(bytes);
            check = Crc(check, bytes);
            made++;
        }

        // What is nearer to the end than the last frame begins with that.
        Array.Fill(places, places[placed - 1], placed, TableLength - placed);
        Tell(told.Bytes, told.Frame.SoundAt, count, to.Position - begin, places, delay, (count * Mp3Frame.Samples) - delay - frames, check);
        var end = to.Position;
        to.Position = begin;
        to.Write(told.Bytes);
        to.Position = end;
        return true;
    }

    private static void Tell(byte[] frame, int at, long count, long bytes, long[] places, long delay, long padding, ushort check)
    {
        var tag = frame.AsSpan(at);
        BinaryPrimitives.WriteUInt32BigEndian(tag[FramesAt..], (uint)count);
        BinaryPrimitives.WriteUInt32BigEndian(tag[BytesAt..], (uint)bytes);
        for (var n = 0; n < TableLength; n++)
        {
            tag[TableAt + n] = (byte)Math.Min(255, 256 * places[n] / bytes);
        }

        tag[DelayAt] = (byte)(delay >> 4);
        tag[DelayAt + 1] = (byte)((delay << 4) | (padding >> 8));
        tag[DelayAt + 2] = (byte)padding;
        BinaryPrimitives.WriteUInt32BigEndian(tag[LengthAt..], (uint)bytes);
        BinaryPrimitives.WriteUInt16BigEndian(tag[SoundCheckAt..], check);
        BinaryPrimitives.WriteUInt16BigEndian(tag[CheckAt..], Crc(0, frame.AsSpan(0, at + CheckAt)));
    }

    // The next frame; null: there is none.
    private static (Mp3Frame Frame, byte[] Bytes)? Next(Stream from)
    {
        Span<byte> head = stackalloc byte[Mp3Frame.HeadBytes];
        if (from.ReadAtLeast(head, head.Length, throwOnEndOfStream: false) < head.Length || Mp3Frame.Of(head) is not { } frame)
        {
            return null;
        }

        var bytes = new byte[frame.Bytes];
        head.CopyTo(bytes);
        var rest = bytes.AsSpan(head.Length);
        return from.ReadAtLeast(rest, rest.Length, throwOnEndOfStream: false) < rest.Length ? null : (frame, bytes);
    }

    private static void Keep(byte[] kept, ReadOnlySpan<byte> more)
    {
        more = more[Math.Max(0, more.Length - kept.Length)..];
        kept.AsSpan(more.Length).CopyTo(kept);
        more.CopyTo(kept.AsSpan(kept.Length - more.Length));
    }

    // ID3v2, 3.1: sizes have seven bits a byte.
    private static void SkipTag(Stream from)
    {
        Span<byte> head = stackalloc byte[10];
        var read = from.ReadAtLeast(head, head.Length, throwOnEndOfStream: false);
        from.Position = read == head.Length && head.StartsWith("ID3"u8) ? head.Length + ((head[6] << 21) | (head[7] << 14) | (head[8] << 7) | head[9]) : 0;
    }

    private static void WriteTag(Stream to, TakeFileInfo info)
    {
        using var texts = new MemoryStream();
        foreach (var (id, text) in new[] { ("TIT2", info.Title), ("TSSE", "Kinetra"), ("TDRC", info.Start.ToUniversalTime().ToString("yyyy-MM-ddTHH:mm:ss", CultureInfo.InvariantCulture)) })
        {
            var bytes = Encoding.UTF8.GetBytes(text);
            texts.Write(Encoding.ASCII.GetBytes(id));
            texts.Write(Size(bytes.Length + 1));

            // No flags; what follows is UTF-8.
            texts.Write([0, 0, 3]);
            texts.Write(bytes);
        }

        to.Write([.. "ID3"u8, 4, 0, 0, .. Size((int)texts.Length)]);
        texts.WriteTo(to);
    }

    private static byte[] Size(int bytes) => [(byte)((bytes >> 21) & 127), (byte)((bytes >> 14) & 127), (byte)((bytes >> 7) & 127), (byte)(bytes & 127)];

    // x¹⁶ + x¹⁵ + x² + 1, reflected, from zero.
    private static ushort Crc(ushort crc, ReadOnlySpan<byte> bytes)
    {
        foreach (var value in bytes)
        {
            crc ^= value;
            for (var bit = 0; bit < 8; bit++)
            {
                crc = (ushort)((crc & 1) != 0 ? (crc >> 1) ^ 0xA001 : crc >> 1);
            }
        }

        return crc;
    }
}

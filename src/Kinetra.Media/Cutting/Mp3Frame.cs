namespace Kinetra.Media.Cutting;

/// <summary>What the head of a frame of MPEG-1 layer III at 48 kHz says. Source: ISO/IEC 11172-3, 2.4.1.3.</summary>
/// <param name="Bytes">The whole frame.</param>
/// <param name="SoundAt">Where its main data begin: behind the head, the check and the side information.</param>
readonly record struct Mp3Frame(int Bytes, int SoundAt)
{
    /// <summary>Samples of each channel.</summary>
    public const int Samples = 1_152;

    /// <summary>The head's own bytes.</summary>
    public const int HeadBytes = 4;

    private static readonly int[] Kilobits = [0, 32, 40, 48, 56, 64, 80, 96, 112, 128, 160, 192, 224, 256, 320, 0];

    /// <summary>Reads a head; null: it is none of these.</summary>
    public static Mp3Frame? Of(ReadOnlySpan<byte> head)
    {
        // Synchronisation, MPEG-1, layer III; 48 kHz.
        if (head.Length < HeadBytes || head[0] != 0xFF || (head[1] & 0xFE) != 0xFA || (head[2] & 0x0C) != 0x04 || Kilobits[head[2] >> 4] is not (> 0 and var kilobits))
        {
            return null;
        }

        var isMono = head[3] >> 6 == 3;
        return new((144 * kilobits * 1_000 / 48_000) + ((head[2] >> 1) & 1), HeadBytes + ((head[1] & 1) == 0 ? 2 : 0) + (isMono ? 17 : 32));
    }

    /// <summary>A silent frame of the most bytes that there are, with bytes at the end of its main data: where the frames behind it look for them.</summary>
    /// <param name="head">The head of a frame of the same stream.</param>
    /// <param name="kept">The last main data before the frames behind it; at most 511 bytes are asked for.</param>
    public static byte[] Silent(ReadOnlySpan<byte> head, ReadOnlySpan<byte> kept)
    {
        Span<byte> full = [head[0], (byte)(head[1] | 1), (byte)(0xE0 | (head[2] & 0x0D)), head[3]];
        var frame = new byte[Of(full)!.Value.Bytes];
        full.CopyTo(frame);
        kept.CopyTo(frame.AsSpan(frame.Length - kept.Length));
        return frame;
    }
}

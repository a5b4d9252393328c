using System.Buffers.Binary;
using Kinetra.Core.Signal;

namespace Kinetra.Media;

/// <summary>WAV of 16 bits at 48 kHz, made in memory piece by piece: for what Kinetra makes itself, and for a browser to play.</summary>
public static class PlainWav
{
    private const int HeaderBytes = 44;

    /// <summary>Bytes of one sample.</summary>
    public const int SampleBytes = 2;

    /// <summary>What stands before the samples.</summary>
    /// <param name="channels">1 or 2.</param>
    /// <param name="frames">How many follow; at most 1 GiB of them.</param>
    public static byte[] Header(int channels, int frames)
    {
        var header = new byte[HeaderBytes];
        var data = checked(frames * channels * SampleBytes);
        "RIFF"u8.CopyTo(header);
        BinaryPrimitives.WriteInt32LittleEndian(header.AsSpan(4), HeaderBytes - 8 + data);
        "WAVEfmt "u8.CopyTo(header.AsSpan(8));
        BinaryPrimitives.WriteInt32LittleEndian(header.AsSpan(16), 16);
        BinaryPrimitives.WriteInt16LittleEndian(header.AsSpan(20), 1);
        BinaryPrimitives.WriteInt16LittleEndian(header.AsSpan(22), (short)channels);
        BinaryPrimitives.WriteInt32LittleEndian(header.AsSpan(24), AudioFormat.SampleRate);
        BinaryPrimitives.WriteInt32LittleEndian(header.AsSpan(28), AudioFormat.SampleRate * channels * SampleBytes);
        BinaryPrimitives.WriteInt16LittleEndian(header.AsSpan(32), (short)(channels * SampleBytes));
        BinaryPrimitives.WriteInt16LittleEndian(header.AsSpan(34), 8 * SampleBytes);
        "data"u8.CopyTo(header.AsSpan(36));
        BinaryPrimitives.WriteInt32LittleEndian(header.AsSpan(40), data);
        return header;
    }

    /// <summary>Writes one sample; what is beyond full scale is held there.</summary>
    public static void Write(Span<byte> to, float sample) =>
        BinaryPrimitives.WriteInt16LittleEndian(to, (short)Math.Clamp(MathF.Round(sample * short.MaxValue), short.MinValue, short.MaxValue));
}

using System.Buffers;
using System.Buffers.Binary;

namespace Kinetra.Media.Streaming;

/// <summary>WAV of 24 bit whose length is not stated, as programs take it that read on until nothing comes.</summary>
sealed class WavEncoder(int channels, int sampleRate) : StreamEncoder(channels)
{
    private const int SampleBytes = 3;
    private const int HeaderBytes = 44;
    private readonly int[] _words = new int[MostFrames * channels];

    public override void Begin(IBufferWriter<byte> to)
    {
        var header = to.GetSpan(HeaderBytes);
        "RIFF"u8.CopyTo(header);
        BinaryPrimitives.WriteUInt32LittleEndian(header[4..], uint.MaxValue);
        "WAVEfmt "u8.CopyTo(header[8..]);
        BinaryPrimitives.WriteInt32LittleEndian(header[16..], 16);
        BinaryPrimitives.WriteInt16LittleEndian(header[20..], 1);
        BinaryPrimitives.WriteInt16LittleEndian(header[22..], (short)Channels);
        BinaryPrimitives.WriteInt32LittleEndian(header[24..], sampleRate);
        BinaryPrimitives.WriteInt32LittleEndian(header[28..], sampleRate * Channels * SampleBytes);
        BinaryPrimitives.WriteInt16LittleEndian(header[32..], (short)(Channels * SampleBytes));
        BinaryPrimitives.WriteInt16LittleEndian(header[34..], 8 * SampleBytes);
        "data"u8.CopyTo(header[36..]);
        BinaryPrimitives.WriteUInt32LittleEndian(header[40..], uint.MaxValue);
        to.Advance(HeaderBytes);
    }

    public override void Encode(ReadOnlySpan<float> left, ReadOnlySpan<float> right, IBufferWriter<byte> to)
    {
        SampleWords.Put(left, _words, Channels, 0);
        if (Channels == 2)
        {
            SampleWords.Put(right, _words, Channels, 1);
        }

        var bytes = to.GetSpan(left.Length * Channels * SampleBytes);
        for (var n = 0; n < left.Length * Channels; n++)
        {
            BinaryPrimitives.WriteInt16LittleEndian(bytes[(n * SampleBytes)..], (short)_words[n]);
            bytes[(n * SampleBytes) + 2] = (byte)(_words[n] >> 16);
        }

        to.Advance(left.Length * Channels * SampleBytes);
    }

    public override void End(IBufferWriter<byte> to)
    {
    }

    protected override void Release()
    {
    }
}

using System.Buffers.Binary;

namespace Kinetra.Media.Streaming;

/// <summary>WAV as it comes. A length of nothing, or of the most that can be stated, stands for one that nobody knows.</summary>
sealed class WavDecoder(Stream from) : StreamDecoder
{
    private const int Pcm = 1, Float = 3, Extensible = 0xFFFE;

    // Chunks before the sound that are longer are no such chunks.
    private const uint MostChunk = 1 << 20;

    private readonly byte[] _bytes = new byte[16_384];
    private bool _isFloat;
    private int _sampleBytes;
    private long _left = long.MaxValue;

    public override string Format => $"WAV, {8 * _sampleBytes} bit";

    public override int Read(Span<float> interleaved)
    {
        var frameBytes = _sampleBytes * Channels;
        var wanted = (int)Math.Min(Math.Min(interleaved.Length / Channels, _bytes.Length / frameBytes), _left / frameBytes);

        // What there is, not all that there is room for: who waits for the rest is late.
        var count = wanted == 0 ? 0 : from.ReadAtLeast(_bytes.AsSpan(0, wanted * frameBytes), frameBytes, throwOnEndOfStream: false);
        if (count % frameBytes is not 0 and var part && count > frameBytes)
        {
            count += from.ReadAtLeast(_bytes.AsSpan(count, frameBytes - part), frameBytes - part, throwOnEndOfStream: false);
        }

        var frames = count / frameBytes;
        _left -= count;
        for (var n = 0; n < frames * Channels; n++)
        {
            interleaved[n] = Sample(_bytes.AsSpan(n * _sampleBytes));
        }

        return frames;
    }

    private protected override void Start()
    {
        Span<byte> head = stackalloc byte[12];
        Fill(head);
        if (!head[8..].SequenceEqual("WAVE"u8))
        {
            throw new SoundFileException("What came begins as a WAV file and is none.", Allowed);
        }

        while (true)
        {
            Fill(head[..8]);
            var length = BinaryPrimitives.ReadUInt32LittleEndian(head[4..]);
            if (head.StartsWith("data"u8))
            {
                if (_sampleBytes == 0)
                {
                    throw new SoundFileException("The WAV sound does not say what it is before it begins.", Allowed);
                }

                _left = length is 0 or >= int.MaxValue ? long.MaxValue : length;
                return;
            }

            if (length > MostChunk)
            {
                throw new SoundFileException("The WAV sound has a part before its beginning that has no end.", Allowed);
            }

            var chunk = new byte[length + (length & 1)];
            Fill(chunk);
            if (head.StartsWith("fmt "u8) && length >= 16)
            {
                Take(chunk);
            }
        }
    }

    private protected override void Release()
    {
    }

    private void Take(ReadOnlySpan<byte> chunk)
    {
        int form = BinaryPrimitives.ReadUInt16LittleEndian(chunk);
        if (form == Extensible && chunk.Length >= 26)
        {
            form = BinaryPrimitives.ReadUInt16LittleEndian(chunk[24..]);
        }

        Channels = BinaryPrimitives.ReadUInt16LittleEndian(chunk[2..]);
        SampleRate = BinaryPrimitives.ReadInt32LittleEndian(chunk[4..]);
        var bits = BinaryPrimitives.ReadUInt16LittleEndian(chunk[14..]);
        if ((form, bits) is not ((Pcm, 8 or 16 or 24 or 32) or (Float, 32)))
        {
            throw new SoundFileException($"The WAV sound is of kind {form} with {bits} bit.", "whole numbers of 8, 16, 24 or 32 bit, or floating point of 32 bit");
        }

        (_isFloat, _sampleBytes) = (form == Float, bits / 8);
    }

    private void Fill(Span<byte> bytes)
    {
        if (from.ReadAtLeast(bytes, bytes.Length, throwOnEndOfStream: false) < bytes.Length)
        {
            throw new SoundFileException("The WAV sound ended before it began.", Allowed);
        }
    }

    private float Sample(ReadOnlySpan<byte> at) => _sampleBytes switch
    {
        1 => (at[0] - 128) / 128f,
        2 => BinaryPrimitives.ReadInt16LittleEndian(at) / 32_768f,
        3 => ((at[2] << 24 | at[1] << 16 | at[0] << 8) >> 8) / 8_388_608f,
        _ when _isFloat => BinaryPrimitives.ReadSingleLittleEndian(at),
        _ => BinaryPrimitives.ReadInt32LittleEndian(at) / 2_147_483_648f,
    };
}

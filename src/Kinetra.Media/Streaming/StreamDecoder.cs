using Kinetra.Core.Dsp;

namespace Kinetra.Media.Streaming;

/// <summary>Sound out of bytes as they come, without an end. Reading waits for them. Not safe for several threads.</summary>
public abstract class StreamDecoder : IDisposable
{
    /// <summary>What is accepted, in words.</summary>
    public const string Allowed = "WAV, FLAC, MP3, or Opus, Vorbis or FLAC in Ogg";

    /// <summary>The most channels that are accepted.</summary>
    public const int MostChannels = 2;

    private const int PeekBytes = 64;

    // What stands before the first packet of an Ogg page that holds one short packet.
    private const int OggHeaderBytes = 28;

    /// <summary>1 or 2.</summary>
    public int Channels { get; private protected set; }

    /// <summary>Hz.</summary>
    public int SampleRate { get; private protected set; }

    /// <summary>What it is, in words: "Opus in Ogg".</summary>
    public abstract string Format { get; }

    /// <summary>Finds out what comes, by its first bytes and by nothing that anybody says of it.</summary>
    /// <param name="from">Where it comes from; read only.</param>
    /// <exception cref="SoundFileException">It is no such sound; or it has more channels or an odd rate.</exception>
    /// <exception cref="IOException">It broke off.</exception>
    public static StreamDecoder Open(Stream from)
    {
        ArgumentNullException.ThrowIfNull(from);
        var start = new byte[PeekBytes];
        var count = from.ReadAtLeast(start, PeekBytes, throwOnEndOfStream: false);
        var whole = new BegunStream(start.AsMemory(0, count), from);
        var decoder = Choose(start.AsSpan(0, count), whole);
        try
        {
            decoder.Start();
            if (decoder.Channels is < 1 or > MostChannels || decoder.SampleRate is < RateConverter.LowestRate or > RateConverter.HighestRate)
            {
                throw new SoundFileException(
                    $"The sound has {decoder.Channels} channels and a rate of {decoder.SampleRate} Hz.",
                    $"1 or 2 channels, {RateConverter.LowestRate} to {RateConverter.HighestRate} Hz");
            }

            return decoder;
        }
        catch
        {
            decoder.Dispose();
            throw;
        }
    }

    /// <summary>The next frames, interleaved.</summary>
    /// <param name="interleaved">Room for one frame at least.</param>
    /// <returns>Frames read; 0: it is over.</returns>
    /// <exception cref="SoundFileException">What comes is damaged, or goes on otherwise.</exception>
    /// <exception cref="IOException">It broke off.</exception>
    public abstract int Read(Span<float> interleaved);

    /// <inheritdoc/>
    public void Dispose()
    {
        Release();
        GC.SuppressFinalize(this);
    }

    /// <summary>Reads what stands before the sound.</summary>
    private protected abstract void Start();

    /// <summary>Lets go of what the library holds.</summary>
    private protected abstract void Release();

    private static StreamDecoder Choose(ReadOnlySpan<byte> start, Stream whole)
    {
        if (start.StartsWith("RIFF"u8) || start.StartsWith("RF64"u8))
        {
            return new WavDecoder(whole);
        }

        if (start.StartsWith("fLaC"u8))
        {
            return new FlacDecoder(whole, isOgg: false);
        }

        if (start.StartsWith("OggS"u8) && start.Length > OggHeaderBytes)
        {
            var packet = start[OggHeaderBytes..];
            if (packet.StartsWith("OpusHead"u8))
            {
                return new OpusDecoder(whole);
            }

            if (packet.StartsWith("\u0001vorbis"u8))
            {
                return new VorbisDecoder(whole);
            }

            // 0x7F and the letters: a byte of itself, not a character of two.
            if (packet[0] == 0x7F && packet[1..].StartsWith("FLAC"u8))
            {
                return new FlacDecoder(whole, isOgg: true);
            }
        }

        if (start.StartsWith("ID3"u8) || (start.Length > 1 && start[0] == 0xFF && (start[1] & 0xE0) == 0xE0))
        {
            return new Mp3Decoder(whole);
        }

        throw new SoundFileException(start.IsEmpty ? "Nothing came." : "What came is no sound that can be read.", Allowed);
    }

    // What has been read of a stream already, and then the rest.
    private sealed class BegunStream(ReadOnlyMemory<byte> start, Stream rest) : PassingStream
    {
        private int _at;

        public override int Read(Span<byte> buffer)
        {
            if (_at == start.Length)
            {
                return rest.Read(buffer);
            }

            var part = Math.Min(buffer.Length, start.Length - _at);
            start.Span.Slice(_at, part).CopyTo(buffer);
            _at += part;
            return part;
        }
    }
}

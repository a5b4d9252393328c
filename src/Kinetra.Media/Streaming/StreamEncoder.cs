using System.Buffers;
using Kinetra.Core.Rigs;

namespace Kinetra.Media.Streaming;

/// <summary>Makes bytes of sound as it comes, without an end. Not safe for several threads.</summary>
public abstract class StreamEncoder : IDisposable
{
    /// <summary>The most frames that are taken at once.</summary>
    public const int MostFrames = 4_096;

    /// <summary>1 or 2.</summary>
    protected int Channels { get; }

    /// <summary>What it is from the beginning on.</summary>
    protected StreamEncoder(int channels) => Channels = channels;

    /// <summary>An encoder.</summary>
    /// <param name="form">What it makes.</param>
    /// <param name="channels">1 or 2.</param>
    /// <param name="sampleRate">Hz; Opus: 48 000.</param>
    /// <param name="kilobits">Bit rate where it has one, kbit/s; see <see cref="AirForms.KilobitsOf"/>.</param>
    /// <param name="title">What it is called, where that is written into it; null: nothing.</param>
    /// <exception cref="ArgumentException">It cannot be made so; the message says why.</exception>
    public static StreamEncoder Of(StreamForm form, int channels, int sampleRate, int kilobits, string? title = null)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(channels, 1);
        ArgumentOutOfRangeException.ThrowIfGreaterThan(channels, 2);
        return form switch
        {
            StreamForm.Mp3 => new Mp3Encoder(channels, sampleRate, kilobits),
            StreamForm.OggOpus => new OpusEncoder(channels, kilobits, title),
            StreamForm.OggVorbis => new VorbisEncoder(channels, sampleRate, kilobits, title),
            StreamForm.OggFlac => new FlacEncoder(channels, sampleRate, isOgg: true, title),
            StreamForm.Flac => new FlacEncoder(channels, sampleRate, isOgg: false, title),
            _ => new WavEncoder(channels, sampleRate),
        };
    }

    /// <summary>What the bytes are, as a media type.</summary>
    public static string MediaTypeOf(StreamForm form) => form switch
    {
        StreamForm.Mp3 => "audio/mpeg",
        StreamForm.Flac => "audio/flac",
        StreamForm.Wav => "audio/wav",
        _ => "audio/ogg",
    };

    /// <summary>What must be there before any sound.</summary>
    public virtual void Begin(IBufferWriter<byte> to)
    {
    }

    /// <summary>Takes sound; what can be made of it comes out.</summary>
    /// <param name="left">Left, or the only channel: 0 … <see cref="MostFrames"/>, finite.</param>
    /// <param name="right">As long; not read where there is one channel.</param>
    /// <param name="to">Where the bytes go.</param>
    public abstract void Encode(ReadOnlySpan<float> left, ReadOnlySpan<float> right, IBufferWriter<byte> to);

    /// <summary>What is left comes out; nothing is taken after it.</summary>
    public abstract void End(IBufferWriter<byte> to);

    /// <inheritdoc/>
    public void Dispose()
    {
        Release();
        GC.SuppressFinalize(this);
    }

    /// <summary>Lets go of what the library holds.</summary>
    protected abstract void Release();
}

using System.Buffers;

namespace Kinetra.Media.Streaming;

/// <summary>MP3 of a constant bit rate: 1 152 frames at a time.</summary>
sealed class Mp3Encoder : StreamEncoder
{
    // Not the best of nine, whose last steps cost much and are hardly heard.
    private const int Quality = 4;

    // As lame.h asks for: 1.25 times the frames, and 7 200 bytes.
    private const int Room = (MostFrames * 5 / 4) + 7_200;

    private readonly nint _encoder;

    public Mp3Encoder(int channels, int sampleRate, int kilobits)
        : base(channels)
    {
        _encoder = Made(channels, sampleRate, kilobits, 1);
        if (_encoder != 0 && Libmp3.ScaleOf(_encoder) is not 1 and var scale)
        {
            // With some bit rates it makes all softer, up to 0.45 dB, so that what is close to full scale does not clip; here as loud as it came.
            _ = Libmp3.Close(_encoder);
            _encoder = Made(channels, sampleRate, kilobits, 1 / scale);
        }

        if (_encoder == 0)
        {
            throw new ArgumentException($"MP3 cannot be made at {sampleRate} Hz with {kilobits} kbit/s.", nameof(kilobits));
        }
    }

    public override void Encode(ReadOnlySpan<float> left, ReadOnlySpan<float> right, IBufferWriter<byte> to)
    {
        var made = Libmp3.Encode(_encoder, left, Channels == 1 ? left : right, left.Length, to.GetSpan(Room), Room);
        to.Advance(Math.Max(0, made));
    }

    public override void End(IBufferWriter<byte> to) => to.Advance(Math.Max(0, Libmp3.Flush(_encoder, to.GetSpan(Room), Room)));

    protected override void Release() => _ = Libmp3.Close(_encoder);

    // 0: it cannot be made.
    private static nint Made(int channels, int sampleRate, int kilobits, float scale)
    {
        var encoder = Libmp3.Init();
        _ = Libmp3.SetRate(encoder, sampleRate);
        _ = Libmp3.SetOutRate(encoder, sampleRate);
        _ = Libmp3.SetChannels(encoder, channels);
        _ = Libmp3.SetBitRate(encoder, kilobits);
        _ = Libmp3.SetMode(encoder, channels == 1 ? Libmp3.Mono : Libmp3.JointStereo);
        _ = Libmp3.SetQuality(encoder, Quality);
        _ = Libmp3.SetScale(encoder, scale);

        // It states a length, and nobody knows it.
        _ = Libmp3.SetWriteTag(encoder, 0);
        if (Libmp3.InitParams(encoder) >= 0)
        {
            return encoder;
        }

        _ = Libmp3.Close(encoder);
        return 0;
    }
}

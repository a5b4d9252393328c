using System.Runtime.InteropServices;

namespace Kinetra.Media.Streaming;

/// <summary>The calls of libopus 1 that are used. Names and numbers as in its <c>opus.h</c> and <c>opus_defines.h</c>.</summary>
static partial class Libopus
{
    public const int ForAudio = 2049;
    public const int SetBitRate = 4002;
    public const int GetLookAhead = 4027;

    private const string Library = "libopus.so.0";

    [LibraryImport(Library, EntryPoint = "opus_encoder_create")]
    public static partial nint EncoderCreate(int sampleRate, int channels, int application, out int error);

    [LibraryImport(Library, EntryPoint = "opus_encoder_destroy")]
    public static partial void EncoderDestroy(nint encoder);

    [LibraryImport(Library, EntryPoint = "opus_encoder_ctl")]
    public static partial int EncoderSet(nint encoder, int request, int value);

    [LibraryImport(Library, EntryPoint = "opus_encoder_ctl")]
    public static partial int EncoderGet(nint encoder, int request, out int value);

    [LibraryImport(Library, EntryPoint = "opus_encode_float")]
    public static partial int Encode(nint encoder, ReadOnlySpan<float> interleaved, int frames, Span<byte> to, int room);

    [LibraryImport(Library, EntryPoint = "opus_decoder_create")]
    public static partial nint DecoderCreate(int sampleRate, int channels, out int error);

    [LibraryImport(Library, EntryPoint = "opus_decoder_destroy")]
    public static partial void DecoderDestroy(nint decoder);

    [LibraryImport(Library, EntryPoint = "opus_decode_float")]
    public static partial int Decode(nint decoder, nint data, int bytes, Span<float> interleaved, int frames, int forwardCorrection);
}

using System.Runtime.InteropServices;

namespace Kinetra.Media.Streaming;

/// <summary>The calls of the MP3 encoder library (<c>lame.h</c>) and of the MP3 decoder library (<c>mpg123.h</c>) that are used.</summary>
static partial class Libmp3
{
    public const int JointStereo = 1;
    public const int Mono = 3;

    public const int AddFlags = 2;
    public const int ForceFloat = 0x400;
    public const int Quiet = 0x20;
    public const int Fine = 0;
    public const int NeedsMore = -10;
    public const int NewFormat = -11;
    public const int Done = -12;

    private const string Encoding = "libmp3lame.so.0";
    private const string Decoding = "libmpg123.so.0";

    [LibraryImport(Encoding, EntryPoint = "lame_init")]
    public static partial nint Init();

    [LibraryImport(Encoding, EntryPoint = "lame_close")]
    public static partial int Close(nint encoder);

    [LibraryImport(Encoding, EntryPoint = "lame_set_in_samplerate")]
    public static partial int SetRate(nint encoder, int hertz);

    [LibraryImport(Encoding, EntryPoint = "lame_set_out_samplerate")]
    public static partial int SetOutRate(nint encoder, int hertz);

    [LibraryImport(Encoding, EntryPoint = "lame_set_num_channels")]
    public static partial int SetChannels(nint encoder, int channels);

    [LibraryImport(Encoding, EntryPoint = "lame_set_brate")]
    public static partial int SetBitRate(nint encoder, int kilobits);

    [LibraryImport(Encoding, EntryPoint = "lame_set_mode")]
    public static partial int SetMode(nint encoder, int mode);

    [LibraryImport(Encoding, EntryPoint = "lame_set_quality")]
    public static partial int SetQuality(nint encoder, int quality);

    [LibraryImport(Encoding, EntryPoint = "lame_set_scale")]
    public static partial int SetScale(nint encoder, float factor);

    [LibraryImport(Encoding, EntryPoint = "lame_get_scale")]
    public static partial float ScaleOf(nint encoder);

    [LibraryImport(Encoding, EntryPoint = "lame_set_bWriteVbrTag")]
    public static partial int SetWriteTag(nint encoder, int write);

    [LibraryImport(Encoding, EntryPoint = "lame_init_params")]
    public static partial int InitParams(nint encoder);

    [LibraryImport(Encoding, EntryPoint = "lame_encode_buffer_ieee_float")]
    public static partial int Encode(nint encoder, ReadOnlySpan<float> left, ReadOnlySpan<float> right, int frames, Span<byte> to, int room);

    [LibraryImport(Encoding, EntryPoint = "lame_encode_flush")]
    public static partial int Flush(nint encoder, Span<byte> to, int room);

    [LibraryImport(Decoding, EntryPoint = "mpg123_init")]
    public static partial int DecoderLibrary();

    [LibraryImport(Decoding, EntryPoint = "mpg123_new", StringMarshalling = StringMarshalling.Utf8)]
    public static partial nint DecoderNew(string? decoder, out int error);

    [LibraryImport(Decoding, EntryPoint = "mpg123_delete")]
    public static partial void DecoderDelete(nint decoder);

    [LibraryImport(Decoding, EntryPoint = "mpg123_param")]
    public static partial int DecoderSet(nint decoder, int parameter, nint value, double fraction);

    [LibraryImport(Decoding, EntryPoint = "mpg123_open_feed")]
    public static partial int OpenFeed(nint decoder);

    [LibraryImport(Decoding, EntryPoint = "mpg123_decode")]
    public static partial int Decode(nint decoder, ReadOnlySpan<byte> from, nuint bytes, Span<byte> to, nuint room, out nuint made);

    [LibraryImport(Decoding, EntryPoint = "mpg123_getformat")]
    public static partial int FormatOf(nint decoder, out nint hertz, out int channels, out int encoding);
}

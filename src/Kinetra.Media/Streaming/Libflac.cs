using System.Reflection;
using System.Runtime.InteropServices;

namespace Kinetra.Media.Streaming;

/// <summary>The calls of libFLAC that are used. Names, numbers and layouts as in its <c>stream_encoder.h</c>, <c>stream_decoder.h</c> and <c>format.h</c>.</summary>
static unsafe partial class Libflac
{
    public const int DecoderAtEnd = 4;

    private const string Library = "libFLAC";

    // The name counts its versions; what is called here is in all of them.
    private static readonly string[] Names = ["libFLAC.so.12", "libFLAC.so.14", "libFLAC.so.8"];

    static Libflac() => NativeLibrary.SetDllImportResolver(typeof(Libflac).Assembly, Find);

    /// <summary>The beginning of <c>FLAC__FrameHeader</c>.</summary>
    [StructLayout(LayoutKind.Sequential)]
    public struct Frame
    {
        public uint Frames;
        public uint SampleRate;
        public uint Channels;
        public int Assignment;
        public uint Bits;
    }

    /// <summary><c>FLAC__StreamMetadata_VorbisComment_Entry</c>.</summary>
    [StructLayout(LayoutKind.Sequential)]
    public struct Comment
    {
        public uint Length;
        public byte* Entry;
    }

    /// <summary>A block of metadata that holds comments.</summary>
    public const int CommentBlock = 4;

    [LibraryImport(Library, EntryPoint = "FLAC__metadata_object_new")]
    public static partial nint MetadataNew(int type);

    [LibraryImport(Library, EntryPoint = "FLAC__metadata_object_delete")]
    public static partial void MetadataDelete(nint block);

    [LibraryImport(Library, EntryPoint = "FLAC__metadata_object_vorbiscomment_append_comment")]
    public static partial int AppendComment(nint block, Comment entry, int copy);

    [LibraryImport(Library, EntryPoint = "FLAC__stream_encoder_set_metadata")]
    public static partial int SetMetadata(nint encoder, nint* blocks, uint count);

    [LibraryImport(Library, EntryPoint = "FLAC__stream_encoder_new")]
    public static partial nint EncoderNew();

    [LibraryImport(Library, EntryPoint = "FLAC__stream_encoder_delete")]
    public static partial void EncoderDelete(nint encoder);

    [LibraryImport(Library, EntryPoint = "FLAC__stream_encoder_set_channels")]
    public static partial int SetChannels(nint encoder, uint channels);

    [LibraryImport(Library, EntryPoint = "FLAC__stream_encoder_set_bits_per_sample")]
    public static partial int SetBits(nint encoder, uint bits);

    [LibraryImport(Library, EntryPoint = "FLAC__stream_encoder_set_sample_rate")]
    public static partial int SetRate(nint encoder, uint hertz);

    [LibraryImport(Library, EntryPoint = "FLAC__stream_encoder_set_compression_level")]
    public static partial int SetCompression(nint encoder, uint level);

    [LibraryImport(Library, EntryPoint = "FLAC__stream_encoder_set_blocksize")]
    public static partial int SetBlock(nint encoder, uint frames);

    [LibraryImport(Library, EntryPoint = "FLAC__stream_encoder_set_ogg_serial_number")]
    public static partial int SetSerial(nint encoder, nint serial);

    [LibraryImport(Library, EntryPoint = "FLAC__stream_encoder_init_stream")]
    public static partial int EncoderInit(
        nint encoder, delegate* unmanaged<nint, byte*, nuint, uint, uint, nint, int> write, nint seek, nint tell, nint metadata, nint client);

    [LibraryImport(Library, EntryPoint = "FLAC__stream_encoder_init_ogg_stream")]
    public static partial int EncoderInitOgg(
        nint encoder, nint read, delegate* unmanaged<nint, byte*, nuint, uint, uint, nint, int> write, nint seek, nint tell, nint metadata, nint client);

    [LibraryImport(Library, EntryPoint = "FLAC__stream_encoder_process_interleaved")]
    public static partial int Process(nint encoder, ReadOnlySpan<int> interleaved, uint frames);

    [LibraryImport(Library, EntryPoint = "FLAC__stream_encoder_finish")]
    public static partial int EncoderFinish(nint encoder);

    [LibraryImport(Library, EntryPoint = "FLAC__stream_decoder_new")]
    public static partial nint DecoderNew();

    [LibraryImport(Library, EntryPoint = "FLAC__stream_decoder_delete")]
    public static partial void DecoderDelete(nint decoder);

    [LibraryImport(Library, EntryPoint = "FLAC__stream_decoder_init_stream")]
    public static partial int DecoderInit(
        nint decoder, delegate* unmanaged<nint, byte*, nuint*, nint, int> read, nint seek, nint tell, nint length, nint eof,
        delegate* unmanaged<nint, Frame*, int**, nint, int> write, nint metadata, delegate* unmanaged<nint, int, nint, void> error, nint client);

    [LibraryImport(Library, EntryPoint = "FLAC__stream_decoder_process_single")]
    public static partial int DecodeOne(nint decoder);

    [LibraryImport(Library, EntryPoint = "FLAC__stream_decoder_get_state")]
    public static partial int DecoderState(nint decoder);

    private static nint Find(string name, Assembly assembly, DllImportSearchPath? paths)
    {
        if (name == Library)
        {
            foreach (var one in Names)
            {
                if (NativeLibrary.TryLoad(one, out var found))
                {
                    return found;
                }
            }
        }

        return 0;
    }
}

using System.Runtime.InteropServices;

namespace Kinetra.Media;

/// <summary>The calls of libsndfile 1.2 that are used. Names and numbers as in its <c>sndfile.h</c>.</summary>
static partial class Libsndfile
{
    public const int ModeRead = 0x10;
    public const int ModeWrite = 0x20;

    public const int FormatRf64 = 0x220000;
    public const int FormatFlac = 0x170000;
    public const int FormatOgg = 0x200000;
    public const int FormatMpeg = 0x230000;
    public const int FormatPcm8 = 0x0001;
    public const int FormatPcm16 = 0x0002;
    public const int FormatPcmUnsigned8 = 0x0005;
    public const int FormatPcm24 = 0x0003;
    public const int FormatFloat = 0x0006;
    public const int FormatVorbis = 0x0060;
    public const int FormatOpus = 0x0064;
    public const int FormatMpegLayer3 = 0x0082;

    public const int CommandUpdateHeaderNow = 0x1060;
    public const int CommandRf64AutoDowngrade = 0x1210;
    public const int CommandSetBroadcastInfo = 0x10F1;
    public const int CommandGetFormatInfo = 0x1028;

    public const int CommandGetChannelMap = 0x1100;

    public const int StringTitle = 0x01;
    public const int StringSoftware = 0x03;
    public const int StringComment = 0x05;
    public const int StringDate = 0x06;

    private const string Library = "libsndfile.so.1";

    [StructLayout(LayoutKind.Sequential)]
    public struct Info
    {
        public long Frames;
        public int SampleRate;
        public int Channels;
        public int Format;
        public int Sections;
        public int Seekable;
    }

    [StructLayout(LayoutKind.Sequential)]
    public struct FormatInfo
    {
        public int Format;
        public nint Name;
        public nint Extension;
    }

    /// <summary>SF_CHUNK_INFO.</summary>
    [StructLayout(LayoutKind.Sequential)]
    public unsafe struct ChunkInfo
    {
        public const int IdLength = 64;
        public fixed byte Id[IdLength];
        public uint IdSize;
        public uint DataLength;
        public nint Data;
    }

    [LibraryImport(Library, EntryPoint = "sf_set_chunk")]
    public static partial int SetChunk(SoundHandle file, ref ChunkInfo chunk);

    [LibraryImport(Library, EntryPoint = "sf_open", StringMarshalling = StringMarshalling.Utf8)]
    public static partial SoundHandle Open(string path, int mode, ref Info info);

    [LibraryImport(Library, EntryPoint = "sf_close")]
    public static partial int Close(nint file);

    /// <summary>Goes to a frame, from the beginning where <paramref name="whence"/> is 0. Negative: it cannot.</summary>
    [LibraryImport(Library, EntryPoint = "sf_seek")]
    public static partial long Seek(SoundHandle file, long frames, int whence);

    [LibraryImport(Library, EntryPoint = "sf_readf_float")]
    public static partial long ReadFloat(SoundHandle file, Span<float> interleaved, long frames);

    [LibraryImport(Library, EntryPoint = "sf_writef_int")]
    public static partial long WriteInt(SoundHandle file, ReadOnlySpan<int> interleaved, long frames);

    [LibraryImport(Library, EntryPoint = "sf_writef_float")]
    public static partial long WriteFloat(SoundHandle file, ReadOnlySpan<float> interleaved, long frames);

    [LibraryImport(Library, EntryPoint = "sf_strerror")]
    public static partial nint ErrorText(SoundHandle file);

    [LibraryImport(Library, EntryPoint = "sf_strerror")]
    public static partial nint OpenErrorText(nint file);

    [LibraryImport(Library, EntryPoint = "sf_set_string", StringMarshalling = StringMarshalling.Utf8)]
    public static partial int SetString(SoundHandle file, int kind, string text);

    [LibraryImport(Library, EntryPoint = "sf_command")]
    public static partial int Command(SoundHandle file, int command, Span<byte> data, int size);

    [LibraryImport(Library, EntryPoint = "sf_command")]
    public static partial int Command(SoundHandle file, int command, Span<int> data, int size);

    [LibraryImport(Library, EntryPoint = "sf_command")]
    public static partial int Command(SoundHandle file, int command, nint data, int size);

    [LibraryImport(Library, EntryPoint = "sf_command")]
    public static partial int Command(nint file, int command, ref FormatInfo data, int size);
}

/// <summary>An open sound file of libsndfile's.</summary>
sealed class SoundHandle : SafeHandle
{
    public SoundHandle()
        : base(0, ownsHandle: true)
    {
    }

    public override bool IsInvalid => handle == 0;

    protected override bool ReleaseHandle() => Libsndfile.Close(handle) == 0;
}

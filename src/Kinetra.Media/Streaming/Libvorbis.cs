using System.Runtime.InteropServices;

namespace Kinetra.Media.Streaming;

/// <summary>The calls of libvorbis 1.3 that are used. Names and layouts as in its <c>codec.h</c> and <c>vorbisenc.h</c>.</summary>
static partial class Libvorbis
{
    private const string Library = "libvorbis.so.0";
    private const string Encoding = "libvorbisenc.so.2";

    /// <summary>The beginning of <c>vorbis_info</c>.</summary>
    [StructLayout(LayoutKind.Sequential)]
    public struct Info
    {
        public int Version;
        public int Channels;
        public nint Rate;
    }

    [LibraryImport(Library, EntryPoint = "vorbis_info_init")]
    public static partial void InfoInit(nint info);

    [LibraryImport(Library, EntryPoint = "vorbis_info_clear")]
    public static partial void InfoClear(nint info);

    [LibraryImport(Library, EntryPoint = "vorbis_comment_init")]
    public static partial void CommentInit(nint comment);

    [LibraryImport(Library, EntryPoint = "vorbis_comment_add_tag", StringMarshalling = StringMarshalling.Utf8)]
    public static partial void AddTag(nint comment, string tag, string text);

    [LibraryImport(Library, EntryPoint = "vorbis_comment_clear")]
    public static partial void CommentClear(nint comment);

    [LibraryImport(Encoding, EntryPoint = "vorbis_encode_init")]
    public static partial int EncodeInit(nint info, nint channels, nint rate, nint most, nint nominal, nint least);

    [LibraryImport(Library, EntryPoint = "vorbis_analysis_init")]
    public static partial int AnalysisInit(nint state, nint info);

    [LibraryImport(Library, EntryPoint = "vorbis_analysis_headerout")]
    public static partial int HeaderOut(nint state, nint comment, nint first, nint second, nint third);

    [LibraryImport(Library, EntryPoint = "vorbis_analysis_buffer")]
    public static partial nint AnalysisBuffer(nint state, int frames);

    [LibraryImport(Library, EntryPoint = "vorbis_analysis_wrote")]
    public static partial int AnalysisWrote(nint state, int frames);

    [LibraryImport(Library, EntryPoint = "vorbis_analysis_blockout")]
    public static partial int BlockOut(nint state, nint block);

    [LibraryImport(Library, EntryPoint = "vorbis_analysis")]
    public static partial int Analysis(nint block, nint packet);

    [LibraryImport(Library, EntryPoint = "vorbis_bitrate_addblock")]
    public static partial int AddBlock(nint block);

    [LibraryImport(Library, EntryPoint = "vorbis_bitrate_flushpacket")]
    public static partial int FlushPacket(nint state, nint packet);

    [LibraryImport(Library, EntryPoint = "vorbis_synthesis_headerin")]
    public static partial int HeaderIn(nint info, nint comment, nint packet);

    [LibraryImport(Library, EntryPoint = "vorbis_synthesis_init")]
    public static partial int SynthesisInit(nint state, nint info);

    [LibraryImport(Library, EntryPoint = "vorbis_block_init")]
    public static partial int BlockInit(nint state, nint block);

    [LibraryImport(Library, EntryPoint = "vorbis_block_clear")]
    public static partial int BlockClear(nint block);

    [LibraryImport(Library, EntryPoint = "vorbis_dsp_clear")]
    public static partial void StateClear(nint state);

    [LibraryImport(Library, EntryPoint = "vorbis_synthesis")]
    public static partial int Synthesis(nint block, nint packet);

    [LibraryImport(Library, EntryPoint = "vorbis_synthesis_blockin")]
    public static partial int BlockIn(nint state, nint block);

    [LibraryImport(Library, EntryPoint = "vorbis_synthesis_pcmout")]
    public static partial int SamplesOut(nint state, out nint planes);

    [LibraryImport(Library, EntryPoint = "vorbis_synthesis_read")]
    public static partial int SamplesRead(nint state, int frames);
}

using System.Runtime.InteropServices;

namespace Kinetra.Media.Streaming;

/// <summary>The calls of libogg 1.3 that are used. Names and layouts as in its <c>ogg.h</c>.</summary>
static partial class Libogg
{
    private const string Library = "libogg.so.0";

    [StructLayout(LayoutKind.Sequential)]
    public struct Packet
    {
        public nint Data;
        public nint Bytes;
        public nint Begins;
        public nint Ends;
        public long Granule;
        public long Number;
    }

    [StructLayout(LayoutKind.Sequential)]
    public struct Page
    {
        public nint Header;
        public nint HeaderBytes;
        public nint Body;
        public nint BodyBytes;
    }

    [LibraryImport(Library, EntryPoint = "ogg_stream_init")]
    public static partial int StreamInit(nint stream, int serial);

    [LibraryImport(Library, EntryPoint = "ogg_stream_clear")]
    public static partial int StreamClear(nint stream);

    [LibraryImport(Library, EntryPoint = "ogg_stream_packetin")]
    public static partial int PacketIn(nint stream, ref Packet packet);

    [LibraryImport(Library, EntryPoint = "ogg_stream_packetin")]
    public static partial int PacketIn(nint stream, nint packet);

    [LibraryImport(Library, EntryPoint = "ogg_stream_pageout")]
    public static partial int PageOut(nint stream, ref Page page);

    [LibraryImport(Library, EntryPoint = "ogg_stream_flush")]
    public static partial int Flush(nint stream, ref Page page);

    [LibraryImport(Library, EntryPoint = "ogg_stream_pagein")]
    public static partial int PageIn(nint stream, ref Page page);

    [LibraryImport(Library, EntryPoint = "ogg_stream_packetout")]
    public static partial int PacketOut(nint stream, nint packet);

    [LibraryImport(Library, EntryPoint = "ogg_sync_init")]
    public static partial int SyncInit(nint sync);

    [LibraryImport(Library, EntryPoint = "ogg_sync_clear")]
    public static partial int SyncClear(nint sync);

    [LibraryImport(Library, EntryPoint = "ogg_sync_buffer")]
    public static partial nint SyncBuffer(nint sync, nint bytes);

    [LibraryImport(Library, EntryPoint = "ogg_sync_wrote")]
    public static partial int SyncWrote(nint sync, nint bytes);

    [LibraryImport(Library, EntryPoint = "ogg_sync_pageout")]
    public static partial int SyncPageOut(nint sync, ref Page page);

    [LibraryImport(Library, EntryPoint = "ogg_page_serialno")]
    public static partial int SerialOf(ref Page page);

    [LibraryImport(Library, EntryPoint = "ogg_page_bos")]
    public static partial int Begins(ref Page page);
}

using System.Buffers;
using System.Security.Cryptography;

namespace Kinetra.Media.Streaming;

/// <summary>Packets into the pages of one logical Ogg stream. Source: RFC 3533.</summary>
sealed unsafe class OggPages : IDisposable
{
    private readonly NativeBlock _stream = new();

    public OggPages() => _ = Libogg.StreamInit(_stream.At, RandomNumberGenerator.GetInt32(int.MaxValue));

    /// <summary>One packet.</summary>
    /// <param name="data">Its bytes.</param>
    /// <param name="granule">Where its last frame is.</param>
    /// <param name="begins">True: the first of the stream.</param>
    /// <param name="ends">True: the last.</param>
    public void Add(ReadOnlySpan<byte> data, long granule, bool begins = false, bool ends = false)
    {
        fixed (byte* at = data)
        {
            var packet = new Libogg.Packet { Data = (nint)at, Bytes = data.Length, Begins = begins ? 1 : 0, Ends = ends ? 1 : 0, Granule = granule };
            _ = Libogg.PacketIn(_stream.At, ref packet);
        }
    }

    /// <summary>One packet that a library has made.</summary>
    public void Add(nint packet) => _ = Libogg.PacketIn(_stream.At, packet);

    /// <summary>Whole pages come out; with <paramref name="all"/> what is begun, too.</summary>
    public void Out(IBufferWriter<byte> to, bool all)
    {
        var page = default(Libogg.Page);
        while ((all ? Libogg.Flush(_stream.At, ref page) : Libogg.PageOut(_stream.At, ref page)) != 0)
        {
            to.Write(new ReadOnlySpan<byte>((void*)page.Header, (int)page.HeaderBytes));
            to.Write(new ReadOnlySpan<byte>((void*)page.Body, (int)page.BodyBytes));
        }
    }

    public void Dispose()
    {
        _ = Libogg.StreamClear(_stream.At);
        _stream.Dispose();
    }
}

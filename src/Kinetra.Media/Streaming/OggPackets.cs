namespace Kinetra.Media.Streaming;

/// <summary>The packets of one logical Ogg stream after the other, out of bytes as they come. Source: RFC 3533.</summary>
sealed unsafe class OggPackets : IDisposable
{
    private const int ChunkBytes = 2_048;

    // A page has at most 65 307 bytes: where so many were none, there is none.
    private const int MostWithoutPage = 1 << 18;

    private readonly Stream _from;
    private readonly NativeBlock _sync = new();
    private readonly NativeBlock _stream = new();
    private readonly NativeBlock _packet = new();
    private bool _isOpen;
    private int _serial;
    private bool _isNew;

    public OggPackets(Stream from)
    {
        _from = from;
        _ = Libogg.SyncInit(_sync.At);
    }

    /// <summary>The packet that was read last.</summary>
    public nint Packet => _packet.At;

    /// <summary>Its bytes.</summary>
    public ReadOnlySpan<byte> Bytes => new((void*)_packet.As<Libogg.Packet>().Data, (int)_packet.As<Libogg.Packet>().Bytes);

    /// <summary>Where its last frame is; -1: that is not said of it.</summary>
    public long Granule => _packet.As<Libogg.Packet>().Granule;

    /// <summary>True where it is the first of another logical stream.</summary>
    public bool IsFirst { get; private set; }

    /// <summary>Goes to the next packet, waiting for it. False: it is over.</summary>
    /// <exception cref="SoundFileException">What comes is no Ogg.</exception>
    public bool Next()
    {
        var fed = 0;
        while (true)
        {
            if (_isOpen)
            {
                var found = Libogg.PacketOut(_stream.At, _packet.At);
                if (found == 1)
                {
                    (IsFirst, _isNew) = (_isNew, false);
                    return true;
                }

                if (found < 0)
                {
                    // Something was lost: it goes on behind it.
                    continue;
                }
            }

            var page = default(Libogg.Page);
            var state = Libogg.SyncPageOut(_sync.At, ref page);
            if (state == 1)
            {
                fed = 0;
                Enter(ref page);
            }
            else if (state == 0)
            {
                var room = new Span<byte>((void*)Libogg.SyncBuffer(_sync.At, ChunkBytes), ChunkBytes);
                var count = _from.Read(room);
                _ = Libogg.SyncWrote(_sync.At, count);
                fed += count;
                if (count == 0)
                {
                    return false;
                }

                if (fed > MostWithoutPage)
                {
                    throw new SoundFileException("The Ogg sound goes on as something else.", StreamDecoder.Allowed);
                }
            }
        }
    }

    public void Dispose()
    {
        if (_isOpen)
        {
            _ = Libogg.StreamClear(_stream.At);
        }

        _ = Libogg.SyncClear(_sync.At);
        _sync.Dispose();
        _stream.Dispose();
        _packet.Dispose();
    }

    private void Enter(ref Libogg.Page page)
    {
        var serial = Libogg.SerialOf(ref page);
        if (Libogg.Begins(ref page) != 0)
        {
            if (_isOpen)
            {
                _ = Libogg.StreamClear(_stream.At);
            }

            _ = Libogg.StreamInit(_stream.At, serial);
            (_isOpen, _serial, _isNew) = (true, serial, true);
        }

        if (_isOpen && serial == _serial)
        {
            _ = Libogg.PageIn(_stream.At, ref page);
        }
    }
}

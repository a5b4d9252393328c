using System.Buffers;
using System.Buffers.Binary;
using System.Text;
using Kinetra.Core.Signal;

namespace Kinetra.Media.Streaming;

/// <summary>Opus in Ogg: packets of 20 ms, five to a page. Source: RFC 7845.</summary>
sealed class OpusEncoder : StreamEncoder
{
    private const int PacketFrames = 960;
    private const int PacketsPerPage = 5;

    // As opus.h recommends.
    private const int Room = 4_000;

    private const string Maker = "Kinetra";
    private readonly OggPages _pages = new();
    private readonly nint _encoder;
    private readonly int _lookAhead;
    private readonly string? _title;
    private readonly float[] _waiting;
    private readonly byte[] _packet = new byte[Room];
    private int _count;
    private int _inPage;
    private long _granule;

    public OpusEncoder(int channels, int kilobits, string? title)
        : base(channels)
    {
        _title = title;
        _waiting = new float[PacketFrames * channels];
        _encoder = Libopus.EncoderCreate(AudioFormat.SampleRate, channels, Libopus.ForAudio, out var error);
        if (error != 0 || Libopus.EncoderSet(_encoder, Libopus.SetBitRate, kilobits * 1_000) != 0)
        {
            Dispose();
            throw new ArgumentException($"Opus cannot be made with {kilobits} kbit/s.", nameof(kilobits));
        }

        _ = Libopus.EncoderGet(_encoder, Libopus.GetLookAhead, out _lookAhead);
        _granule = _lookAhead;
    }

    public override void Begin(IBufferWriter<byte> to)
    {
        var head = new byte[19];
        "OpusHead"u8.CopyTo(head);
        head[8] = 1;
        head[9] = (byte)Channels;
        BinaryPrimitives.WriteUInt16LittleEndian(head.AsSpan(10), (ushort)_lookAhead);
        BinaryPrimitives.WriteInt32LittleEndian(head.AsSpan(12), AudioFormat.SampleRate);
        _pages.Add(head, 0, begins: true);
        _pages.Out(to, all: true);

        using var tags = new MemoryStream();
        using var writer = new BinaryWriter(tags);
        writer.Write("OpusTags"u8);
        WriteText(writer, Maker);
        writer.Write(_title is null ? 0 : 1);
        if (_title is not null)
        {
            WriteText(writer, $"TITLE={_title}");
        }

        _pages.Add(tags.ToArray(), 0);
        _pages.Out(to, all: true);
    }

    public override void Encode(ReadOnlySpan<float> left, ReadOnlySpan<float> right, IBufferWriter<byte> to)
    {
        for (var n = 0; n < left.Length; n++)
        {
            _waiting[_count++] = left[n];
            if (Channels == 2)
            {
                _waiting[_count++] = right[n];
            }

            if (_count == _waiting.Length)
            {
                Packet(ends: false, to);
            }
        }
    }

    public override void End(IBufferWriter<byte> to)
    {
        _waiting.AsSpan(_count).Clear();
        Packet(ends: true, to);
    }

    protected override void Release()
    {
        if (_encoder != 0)
        {
            Libopus.EncoderDestroy(_encoder);
        }

        _pages.Dispose();
    }

    private static void WriteText(BinaryWriter writer, string text)
    {
        var bytes = Encoding.UTF8.GetBytes(text);
        writer.Write(bytes.Length);
        writer.Write(bytes);
    }

    private void Packet(bool ends, IBufferWriter<byte> to)
    {
        var bytes = Libopus.Encode(_encoder, _waiting, PacketFrames, _packet, Room);
        _granule += ends ? _count / Channels : PacketFrames;
        _count = 0;
        _pages.Add(_packet.AsSpan(0, Math.Max(0, bytes)), _granule, ends: ends);
        if (++_inPage == PacketsPerPage || ends)
        {
            _inPage = 0;
            _pages.Out(to, all: true);
        }
    }
}

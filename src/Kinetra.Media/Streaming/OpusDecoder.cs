using System.Buffers.Binary;
using Kinetra.Core.Signal;

namespace Kinetra.Media.Streaming;

/// <summary>Opus in Ogg as it comes, at 48 kHz. Source: RFC 7845.</summary>
sealed class OpusDecoder : PieceDecoder
{
    // 120 ms, the longest packet that there is.
    private const int MostFrames = 5_760;

    private readonly OggPackets _packets;
    private nint _decoder;
    private int _skip;

    public OpusDecoder(Stream from)
    {
        _packets = new OggPackets(from);
        Made = new float[MostFrames * MostChannels];
    }

    public override string Format => "Opus in Ogg";

    private protected override bool More()
    {
        Give(0, 0);
        while (Count == 0)
        {
            if (!_packets.Next())
            {
                return false;
            }

            if (_packets.IsFirst)
            {
                Begin();
            }
            else
            {
                Decode();
            }
        }

        return true;
    }

    private protected override void Start()
    {
        if (!_packets.Next())
        {
            throw new SoundFileException("The Opus sound ended before it began.", Allowed);
        }

        SampleRate = AudioFormat.SampleRate;
        Begin();
    }

    private protected override void Release()
    {
        if (_decoder != 0)
        {
            Libopus.DecoderDestroy(_decoder);
        }

        _packets.Dispose();
    }

    // The packet is the first of a stream; the one after it holds words.
    private void Begin()
    {
        var head = _packets.Bytes;
        if (head.Length < 19 || !head.StartsWith("OpusHead"u8))
        {
            throw new SoundFileException("The Ogg sound goes on as something other than Opus.", "Opus, as it began");
        }

        int channels = head[9];
        if (channels > MostChannels || (Channels != 0 && channels != Channels))
        {
            throw new SoundFileException($"The Opus sound has {channels} channels.", Channels == 0 ? "1 or 2" : $"{Channels}, as it began");
        }

        Channels = channels;
        _skip = BinaryPrimitives.ReadUInt16LittleEndian(head[10..]);
        if (_decoder != 0)
        {
            Libopus.DecoderDestroy(_decoder);
        }

        _decoder = Libopus.DecoderCreate(AudioFormat.SampleRate, channels, out _);
        _ = _packets.Next();
    }

    private unsafe void Decode()
    {
        var bytes = _packets.Bytes;
        int frames;
        fixed (byte* at = bytes)
        {
            frames = Libopus.Decode(_decoder, (nint)at, bytes.Length, Made, MostFrames, 0);
        }

        if (frames < 0)
        {
            throw new SoundFileException("The Opus sound is damaged.", Allowed);
        }

        var skipped = Math.Min(_skip, frames);
        _skip -= skipped;
        if (skipped < frames)
        {
            Give(skipped * Channels, frames * Channels);
        }
    }
}

using System.Buffers;
using System.Runtime.InteropServices;
using System.Security.Cryptography;
using System.Text;

namespace Kinetra.Media.Streaming;

/// <summary>FLAC of 24 bit, by itself or in Ogg, whose length is not stated.</summary>
sealed unsafe class FlacEncoder : StreamEncoder
{
    private const int Bits = 24;

    // 24 ms at 48 kHz.
    private const int BlockFrames = 1_152;
    private const int Level = 3;

    private readonly nint _encoder;
    private readonly GCHandle _self;
    private readonly int[] _words;
    private readonly ArrayBufferWriter<byte> _made = new();

    public FlacEncoder(int channels, int sampleRate, bool isOgg, string? title)
        : base(channels)
    {
        _words = new int[MostFrames * channels];
        _self = GCHandle.Alloc(this);
        _encoder = Libflac.EncoderNew();
        _ = Libflac.SetChannels(_encoder, (uint)channels);
        _ = Libflac.SetBits(_encoder, Bits);
        _ = Libflac.SetRate(_encoder, (uint)sampleRate);
        _ = Libflac.SetCompression(_encoder, Level);
        _ = Libflac.SetBlock(_encoder, BlockFrames);
        _ = Libflac.SetSerial(_encoder, RandomNumberGenerator.GetInt32(int.MaxValue));
        var client = GCHandle.ToIntPtr(_self);

        // It is read while the encoder begins, and not after that.
        var comments = Commented(title);
        var blocks = comments;
        if (comments != 0)
        {
            _ = Libflac.SetMetadata(_encoder, &blocks, 1);
        }

        var isMade = (isOgg ? Libflac.EncoderInitOgg(_encoder, 0, &Write, 0, 0, 0, client) : Libflac.EncoderInit(_encoder, &Write, 0, 0, 0, client)) == 0;
        if (comments != 0)
        {
            Libflac.MetadataDelete(comments);
        }

        if (!isMade)
        {
            Dispose();
            throw new ArgumentException($"FLAC cannot be made at {sampleRate} Hz in {channels} channels.", nameof(sampleRate));
        }
    }

    private static nint Commented(string? title)
    {
        if (title is null || Libflac.MetadataNew(Libflac.CommentBlock) is not (not 0 and var block))
        {
            return 0;
        }

        var bytes = Encoding.UTF8.GetBytes($"TITLE={title}");
        fixed (byte* entry = bytes)
        {
            _ = Libflac.AppendComment(block, new Libflac.Comment { Length = (uint)bytes.Length, Entry = entry }, 1);
        }

        return block;
    }

    public override void Begin(IBufferWriter<byte> to) => Give(to);

    public override void Encode(ReadOnlySpan<float> left, ReadOnlySpan<float> right, IBufferWriter<byte> to)
    {
        SampleWords.Put(left, _words, Channels, 0);
        if (Channels == 2)
        {
            SampleWords.Put(right, _words, Channels, 1);
        }

        _ = Libflac.Process(_encoder, _words, (uint)left.Length);
        Give(to);
    }

    public override void End(IBufferWriter<byte> to)
    {
        _ = Libflac.EncoderFinish(_encoder);
        Give(to);
    }

    protected override void Release()
    {
        // Deleting finishes, which writes.
        Libflac.EncoderDelete(_encoder);
        _self.Free();
    }

    [UnmanagedCallersOnly]
    private static int Write(nint encoder, byte* bytes, nuint count, uint frames, uint current, nint client)
    {
        ((FlacEncoder)GCHandle.FromIntPtr(client).Target!)._made.Write(new ReadOnlySpan<byte>(bytes, (int)count));
        return 0;
    }

    private void Give(IBufferWriter<byte> to)
    {
        to.Write(_made.WrittenSpan);
        _made.ResetWrittenCount();
    }
}

using System.Buffers;

namespace Kinetra.Media.Streaming;

/// <summary>Vorbis in Ogg, of a bit rate on average. Source: the calls' own documentation, <c>vorbisenc.h</c>.</summary>
sealed unsafe class VorbisEncoder : StreamEncoder
{
    // A page at least so often, frames, however little there is in it: what is soft comes as soon as what is loud.
    private const int PageFrames = 9_600;

    private readonly NativeBlock _info = new(), _comment = new(), _state = new(), _block = new();
    private readonly NativeBlock _first = new(), _second = new(), _third = new();
    private readonly OggPages _pages = new();
    private int _inPage;

    public VorbisEncoder(int channels, int sampleRate, int kilobits, string? title)
        : base(channels)
    {
        Libvorbis.InfoInit(_info.At);
        Libvorbis.CommentInit(_comment.At);
        if (title is not null)
        {
            Libvorbis.AddTag(_comment.At, "TITLE", title);
        }

        if (Libvorbis.EncodeInit(_info.At, channels, sampleRate, -1, kilobits * 1_000, -1) != 0)
        {
            Libvorbis.CommentClear(_comment.At);
            Libvorbis.InfoClear(_info.At);
            Free();
            throw new ArgumentException($"Vorbis cannot be made at {sampleRate} Hz with {kilobits} kbit/s in {channels} channels.", nameof(kilobits));
        }

        _ = Libvorbis.AnalysisInit(_state.At, _info.At);
        _ = Libvorbis.BlockInit(_state.At, _block.At);
    }

    public override void Begin(IBufferWriter<byte> to)
    {
        _ = Libvorbis.HeaderOut(_state.At, _comment.At, _first.At, _second.At, _third.At);
        _pages.Add(_first.At);
        _pages.Out(to, all: true);
        _pages.Add(_second.At);
        _pages.Add(_third.At);
        _pages.Out(to, all: true);
    }

    public override void Encode(ReadOnlySpan<float> left, ReadOnlySpan<float> right, IBufferWriter<byte> to)
    {
        if (left.IsEmpty)
        {
            return;
        }

        var planes = (float**)Libvorbis.AnalysisBuffer(_state.At, left.Length);
        left.CopyTo(new Span<float>(planes[0], left.Length));
        if (Channels == 2)
        {
            right.CopyTo(new Span<float>(planes[1], left.Length));
        }

        _ = Libvorbis.AnalysisWrote(_state.At, left.Length);
        _inPage += left.Length;
        Packets();
        _pages.Out(to, all: _inPage >= PageFrames);
        if (_inPage >= PageFrames)
        {
            _inPage = 0;
        }
    }

    public override void End(IBufferWriter<byte> to)
    {
        _ = Libvorbis.AnalysisWrote(_state.At, 0);
        Packets();
        _pages.Out(to, all: true);
    }

    protected override void Release()
    {
        _ = Libvorbis.BlockClear(_block.At);
        Libvorbis.StateClear(_state.At);
        Libvorbis.CommentClear(_comment.At);
        Libvorbis.InfoClear(_info.At);
        Free();
    }

    private void Free()
    {
        _pages.Dispose();
        foreach (var block in new[] { _info, _comment, _state, _block, _first, _second, _third })
        {
            block.Dispose();
        }
    }

    private void Packets()
    {
        while (Libvorbis.BlockOut(_state.At, _block.At) == 1)
        {
            _ = Libvorbis.Analysis(_block.At, 0);
            _ = Libvorbis.AddBlock(_block.At);
            while (Libvorbis.FlushPacket(_state.At, _first.At) == 1)
            {
                _pages.Add(_first.At);
            }
        }
    }
}

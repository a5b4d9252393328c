namespace Kinetra.Media.Streaming;

/// <summary>Vorbis in Ogg as it comes. Source: the calls' own documentation, <c>codec.h</c>.</summary>
sealed unsafe class VorbisDecoder(Stream from) : StreamDecoder
{
    private const int HeaderPackets = 3;
    private readonly OggPackets _packets = new(from);
    private readonly NativeBlock _info = new(), _comment = new(), _state = new(), _block = new();
    private bool _isOpen;

    public override string Format => "Vorbis in Ogg";

    public override int Read(Span<float> interleaved)
    {
        while (true)
        {
            var frames = Math.Min(Libvorbis.SamplesOut(_state.At, out var planes), interleaved.Length / Channels);
            if (frames > 0)
            {
                for (var c = 0; c < Channels; c++)
                {
                    var plane = new ReadOnlySpan<float>(((float**)planes)[c], frames);
                    for (var n = 0; n < frames; n++)
                    {
                        interleaved[(n * Channels) + c] = plane[n];
                    }
                }

                _ = Libvorbis.SamplesRead(_state.At, frames);
                return frames;
            }

            if (!_packets.Next())
            {
                return 0;
            }

            if (_packets.IsFirst)
            {
                Begin();
            }
            else if (Libvorbis.Synthesis(_block.At, _packets.Packet) == 0)
            {
                _ = Libvorbis.BlockIn(_state.At, _block.At);
            }
        }
    }

    private protected override void Start()
    {
        if (!_packets.Next())
        {
            throw new SoundFileException("The Vorbis sound ended before it began.", Allowed);
        }

        Begin();
    }

    private protected override void Release()
    {
        Close();
        _packets.Dispose();
        foreach (var block in new[] { _info, _comment, _state, _block })
        {
            block.Dispose();
        }
    }

    // The packet is the first of three that say what comes.
    private void Begin()
    {
        Close();
        Libvorbis.InfoInit(_info.At);
        Libvorbis.CommentInit(_comment.At);
        for (var n = 0; n < HeaderPackets; n++)
        {
            if ((n > 0 && !_packets.Next()) || Libvorbis.HeaderIn(_info.At, _comment.At, _packets.Packet) != 0)
            {
                Libvorbis.CommentClear(_comment.At);
                Libvorbis.InfoClear(_info.At);
                throw new SoundFileException("The Vorbis sound does not say what it is.", Allowed);
            }
        }

        ref var info = ref _info.As<Libvorbis.Info>();
        var now = (info.Channels, (int)info.Rate);
        _ = Libvorbis.SynthesisInit(_state.At, _info.At);
        _ = Libvorbis.BlockInit(_state.At, _block.At);
        _isOpen = true;
        if (SampleRate != 0 && now != (Channels, SampleRate))
        {
            throw new SoundFileException($"The Vorbis sound goes on with {now.Channels} channels at {now.Item2} Hz.", $"as it began, {Channels} at {SampleRate} Hz");
        }

        (Channels, SampleRate) = now;
    }

    private void Close()
    {
        if (_isOpen)
        {
            _ = Libvorbis.BlockClear(_block.At);
            Libvorbis.StateClear(_state.At);
            Libvorbis.CommentClear(_comment.At);
            Libvorbis.InfoClear(_info.At);
            _isOpen = false;
        }
    }
}

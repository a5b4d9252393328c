using System.Runtime.ExceptionServices;
using System.Runtime.InteropServices;

namespace Kinetra.Media.Streaming;

/// <summary>FLAC as it comes, by itself or in Ogg.</summary>
sealed unsafe class FlacDecoder : PieceDecoder
{
    private const int GoOn = 0, AtEnd = 1, Abort = 2;

    private readonly Stream _from;
    private readonly bool _isOgg;
    private readonly nint _decoder;
    private readonly GCHandle _self;
    private ExceptionDispatchInfo? _broken;

    public FlacDecoder(Stream from, bool isOgg)
    {
        (_from, _isOgg) = (isOgg ? new OggFlac(from) : from, isOgg);
        _self = GCHandle.Alloc(this);
        _decoder = Libflac.DecoderNew();
        var client = GCHandle.ToIntPtr(_self);
        _ = Libflac.DecoderInit(_decoder, &ReadMore, 0, 0, 0, 0, &Write, 0, &Wrong, client);
    }

    public override string Format => _isOgg ? "FLAC in Ogg" : "FLAC";

    private protected override void Start()
    {
        if (!More())
        {
            throw new SoundFileException("What came begins as FLAC and is none.", Allowed);
        }
    }

    private protected override void Release()
    {
        Libflac.DecoderDelete(_decoder);
        _self.Free();
        (_from as OggFlac)?.Dispose();
    }

    [UnmanagedCallersOnly]
    private static int ReadMore(nint decoder, byte* to, nuint* bytes, nint client)
    {
        var self = Self(client);
        try
        {
            var count = self._from.Read(new Span<byte>(to, (int)*bytes));
            *bytes = (nuint)count;
            return count == 0 ? AtEnd : GoOn;
        }
        catch (Exception e)
        {
            // None may go through the library: it is thrown behind it.
            self._broken = ExceptionDispatchInfo.Capture(e);
            *bytes = 0;
            return Abort;
        }
    }

    [UnmanagedCallersOnly]
    private static int Write(nint decoder, Libflac.Frame* frame, int** planes, nint client)
    {
        Self(client).Take(*frame, planes);
        return Self(client)._broken is null ? GoOn : Abort;
    }

    // What is damaged is left out; the library finds the next that is whole.
    [UnmanagedCallersOnly]
    private static void Wrong(nint decoder, int status, nint client)
    {
    }

    private static FlacDecoder Self(nint client) => (FlacDecoder)GCHandle.FromIntPtr(client).Target!;

    private protected override bool More()
    {
        Give(0, 0);
        while (Count == 0)
        {
            var went = Libflac.DecodeOne(_decoder) != 0;
            _broken?.Throw();
            if (!went || (Count == 0 && Libflac.DecoderState(_decoder) >= Libflac.DecoderAtEnd))
            {
                return false;
            }
        }

        return true;
    }

    private void Take(Libflac.Frame frame, int** planes)
    {
        var now = ((int)frame.Channels, (int)frame.SampleRate);
        if (frame.Channels > MostChannels || (SampleRate != 0 && now != (Channels, SampleRate)))
        {
            _broken = ExceptionDispatchInfo.Capture(new SoundFileException($"The FLAC sound has {now.Item1} channels at {now.Item2} Hz.", SampleRate == 0 ? "1 or 2 channels" : "as it began"));
            return;
        }

        (Channels, SampleRate) = now;
        Give(0, (int)frame.Frames * Channels);
        if (Made.Length < Count)
        {
            Made = new float[Count];
        }

        var scale = 1f / (1L << ((int)frame.Bits - 1));
        for (var c = 0; c < Channels; c++)
        {
            for (var n = 0; n < frame.Frames; n++)
            {
                Made[(n * Channels) + c] = planes[c][n] * scale;
            }
        }
    }
}

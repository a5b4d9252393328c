using System.Runtime.InteropServices;

namespace Kinetra.Media.Streaming;

/// <summary>MP3 as it comes.</summary>
sealed class Mp3Decoder : PieceDecoder
{
    // As much as nobody fails to find a beginning in.
    private const int MostBefore = 1 << 18;

    private readonly Stream _from;
    private readonly nint _decoder;
    private readonly byte[] _bytes = new byte[2_048];

    public Mp3Decoder(Stream from)
    {
        _from = from;
        Made = new float[8_192];
        _ = Libmp3.DecoderLibrary();
        _decoder = Libmp3.DecoderNew(null, out _);
        _ = Libmp3.DecoderSet(_decoder, Libmp3.AddFlags, Libmp3.ForceFloat | Libmp3.Quiet, 0);
        _ = Libmp3.OpenFeed(_decoder);
    }

    public override string Format => "MP3";

    private protected override void Start()
    {
        if (!More())
        {
            throw new SoundFileException("What came begins as MP3 and is none.", Allowed);
        }
    }

    private protected override void Release() => Libmp3.DecoderDelete(_decoder);

    // Decodes until something comes out.
    private protected override bool More()
    {
        var input = 0;
        for (var fed = 0; ;)
        {
            var result = Libmp3.Decode(_decoder, _bytes.AsSpan(0, input), (nuint)input, MemoryMarshal.AsBytes(Made.AsSpan()), (nuint)(Made.Length * sizeof(float)), out var made);
            input = 0;
            Give(0, (int)made / sizeof(float));
            if (result == Libmp3.NewFormat)
            {
                _ = Libmp3.FormatOf(_decoder, out var hertz, out var channels, out _);
                if (SampleRate != 0 && (SampleRate, Channels) != ((int)hertz, channels))
                {
                    throw new SoundFileException($"The MP3 sound goes on with {channels} channels at {hertz} Hz.", $"as it began, {Channels} at {SampleRate} Hz");
                }

                (SampleRate, Channels) = ((int)hertz, channels);
            }
            else if (result is not Libmp3.Fine and not Libmp3.NeedsMore)
            {
                if (result == Libmp3.Done)
                {
                    return Count > 0;
                }

                throw new SoundFileException("The MP3 sound is damaged.", Allowed);
            }

            if (Count > 0)
            {
                return true;
            }

            if (result == Libmp3.NeedsMore)
            {
                input = _from.Read(_bytes);
                fed += input;
                if (input == 0)
                {
                    return false;
                }

                if (fed > MostBefore)
                {
                    throw new SoundFileException("There is no MP3 sound in what came.", Allowed);
                }
            }
        }
    }
}

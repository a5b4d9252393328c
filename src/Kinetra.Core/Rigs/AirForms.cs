using System.Collections.Immutable;

namespace Kinetra.Core.Rigs;

/// <summary>What streams can be encoded as: the rates that every encoder of a form takes, and what they sound like.</summary>
public static class AirForms
{
    /// <summary>The forms, most understood first.</summary>
    public static readonly ImmutableArray<StreamForm> All = [StreamForm.Mp3, StreamForm.OggOpus, StreamForm.OggVorbis, StreamForm.OggFlac];

    // ISO/IEC 11172-3 (layer III), and 13818-3 for the lower sample rates.
    private static readonly ImmutableArray<int> Layer3 = [32, 40, 48, 56, 64, 80, 96, 112, 128, 160, 192, 224, 256, 320];
    private static readonly ImmutableArray<int> Layer3Low = [8, 16, 24, 32, 40, 48, 56, 64, 80, 96, 112, 128, 144, 160];

    /// <summary>Sample rates that a form can have, Hz, highest first.</summary>
    public static ImmutableArray<int> RatesOf(StreamForm form) => form switch
    {
        StreamForm.Mp3 => [48_000, 44_100, 32_000, 24_000, 22_050],
        StreamForm.OggVorbis or StreamForm.OggFlac => [48_000, 44_100, 32_000],
        _ => [48_000],
    };

    /// <summary>Bit rates, kbit/s: the least, the most, and, where no others are possible, all. Of what is lossless 0 to 0.</summary>
    /// <param name="form">The form.</param>
    /// <param name="sampleRate">Hz.</param>
    /// <param name="channels">1 or 2.</param>
    public static (int Least, int Most, ImmutableArray<int>? Only) KilobitsOf(StreamForm form, int sampleRate, int channels) => form switch
    {
        StreamForm.Mp3 when sampleRate < 32_000 => (Layer3Low[0], Layer3Low[^1], Layer3Low),
        StreamForm.Mp3 => (Layer3[0], Layer3[^1], Layer3),
        StreamForm.OggOpus => (6, 256 * channels, null),

        // What the library's tables hold, less a little at either end.
        StreamForm.OggVorbis => sampleRate < 44_100 ? channels == 1 ? (32, 190, null) : (40, 370, null) : channels == 1 ? (32, 240, null) : (48, 500, null),
        _ => (0, 0, null),
    };

    /// <summary>Bit rates that are worth offering, kbit/s, lowest first.</summary>
    public static ImmutableArray<int> Offered(StreamForm form, int sampleRate, int channels)
    {
        var (least, most, only) = KilobitsOf(form, sampleRate, channels);
        return [.. (only ?? [16, 24, 32, 48, 64, 80, 96, 112, 128, 160, 192, 224, 256, 320]).Where(k => k >= least && k <= most && most > 0)];
    }

    /// <summary>What a bit rate is good for, in words.</summary>
    /// <param name="form">The form.</param>
    /// <param name="kilobits">kbit/s.</param>
    /// <param name="channels">1 or 2.</param>
    /// <param name="sampleRate">Hz.</param>
    public static string Words(StreamForm form, int kilobits, int channels, int sampleRate)
    {
        if (form == StreamForm.OggFlac)
        {
            return "to the bit what leaves the mix; five to ten times as much data as the others";
        }

        // What one channel has, as if it were MP3: the newer two need about half and two thirds. Two channels share what they have alike.
        var worth = kilobits / (channels == 1 ? 1.0 : 1.6) * (form == StreamForm.OggOpus ? 2 : form == StreamForm.OggVorbis ? 1.4 : 1);
        var sound = worth switch
        {
            < 24 => "words can be understood, as on a bad telephone line",
            < 40 => "speech that is dull, and rings a little; no music",
            < 56 => "speech is good; music loses its top and swirls",
            < 80 => "speech is as good as it gets; music is passable",
            < 110 => "music is good; who listens closely hears a difference",
            _ => "music is as good as it gets in this form",
        };
        return sampleRate < 32_000 ? $"{sound}; nothing above {(sampleRate / 2_000.0).ToString("0", System.Globalization.CultureInfo.InvariantCulture)} kHz" : sound;
    }
}

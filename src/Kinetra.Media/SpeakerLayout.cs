using System.Collections.Immutable;
using Kinetra.Core.Metering;

namespace Kinetra.Media;

/// <summary>
/// Where the channels of a file are heard from: by its channel map where it has one; else by the order that its format prescribes for that
/// number of channels (FLAC: RFC 9639, 9.1.3; Vorbis: I specification, 4.3.9; Opus: RFC 7845, 5.1.1.2; the others: the order of
/// WAVEFORMATEXTENSIBLE).
/// </summary>
static class SpeakerLayout
{
    private const int MajorFormat = 0x0FFF0000;

    /// <summary>libsndfile's places, by their numbers in <c>sndfile.h</c>.</summary>
    private enum Place
    {
        Mono = 1,
        Left = 2,
        Right = 3,
        Centre = 4,
        FrontLeft = 5,
        FrontRight = 6,
        FrontCentre = 7,
        RearCentre = 8,
        RearLeft = 9,
        RearRight = 10,
        LowFrequency = 11,
        SideLeft = 14,
        SideRight = 15,
    }

    private static readonly Dictionary<int, string> Words = new() { [1] = "mono", [2] = "stereo", [3] = "3.0", [4] = "4.0", [5] = "5.0", [6] = "5.1", [7] = "6.1", [8] = "7.1" };

    public static (ImmutableArray<Speaker> Speakers, string? Layout) Of(SoundHandle file, in Libsndfile.Info info)
    {
        var places = new int[info.Channels];
        var known = Libsndfile.Command(file, Libsndfile.CommandGetChannelMap, places.AsSpan(), places.Length * sizeof(int)) == 1
            && Array.TrueForAll(places, p => p is > 0 and < 32)
            ? [.. places.Select(p => (Place)p)]
            : Ordered(info.Format & MajorFormat, info.Channels);
        if (known is null)
        {
            return (Speakers.Unknown(info.Channels), null);
        }

        // Beside channels from the side, those from behind are behind; without, they are the two surround channels.
        var hasSides = known.Contains(Place.SideLeft);
        return (
            [.. known.Select(p => p switch
            {
                Place.LowFrequency => Speaker.LowFrequency,
                Place.SideLeft or Place.SideRight => Speaker.Side,
                Place.RearLeft or Place.RearRight when !hasSides => Speaker.Side,
                _ => Speaker.Plain,
            })],
            Words.GetValueOrDefault(info.Channels));
    }

    private static Place[]? Ordered(int format, int channels) => (format, channels) switch
    {
        (_, 1) => [Place.Mono],
        (_, 2) => [Place.Left, Place.Right],
        (Libsndfile.FormatOgg, 3) => [Place.Left, Place.Centre, Place.Right],
        (Libsndfile.FormatOgg, 5) => [Place.Left, Place.Centre, Place.Right, Place.RearLeft, Place.RearRight],
        (Libsndfile.FormatOgg, 6) => [Place.Left, Place.Centre, Place.Right, Place.RearLeft, Place.RearRight, Place.LowFrequency],
        (Libsndfile.FormatOgg, 7) => [Place.Left, Place.Centre, Place.Right, Place.SideLeft, Place.SideRight, Place.RearCentre, Place.LowFrequency],
        (Libsndfile.FormatOgg, 8) =>
            [Place.Left, Place.Centre, Place.Right, Place.SideLeft, Place.SideRight, Place.RearLeft, Place.RearRight, Place.LowFrequency],
        (_, 3) => [Place.Left, Place.Right, Place.Centre],
        (_, 4) => [Place.Left, Place.Right, Place.RearLeft, Place.RearRight],
        (_, 5) => [Place.Left, Place.Right, Place.Centre, Place.RearLeft, Place.RearRight],
        (_, 6) => [Place.Left, Place.Right, Place.Centre, Place.LowFrequency, Place.RearLeft, Place.RearRight],
        (_, 7) => [Place.Left, Place.Right, Place.Centre, Place.LowFrequency, Place.RearCentre, Place.SideLeft, Place.SideRight],
        (_, 8) =>
            [Place.Left, Place.Right, Place.Centre, Place.LowFrequency, Place.RearLeft, Place.RearRight, Place.SideLeft, Place.SideRight],
        _ => null,
    };
}

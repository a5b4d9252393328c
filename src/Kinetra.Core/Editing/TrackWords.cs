using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Editing;

/// <summary>Planned tracks in words.</summary>
public static class TrackWords
{
    /// <summary>What a track takes, in the middle of a sentence.</summary>
    /// <param name="takes">The point.</param>
    /// <param name="name">What points are called.</param>
    public static string Of(Point takes, Func<Point, string> name)
    {
        ArgumentNullException.ThrowIfNull(name);
        return takes switch
        {
            SourcePoint { Tap: not Tap.AfterChain } source => $"{name(source)} before its chain",
            SourcePoint source => $"{name(source)} after its chain",
            MixPoint mix => $"the mix {name(mix)}",
            CablePoint cable => $"the cable {name(cable)}",
            AppPoint app => $"what {(name(app) is var known && known == Rig.Unknown ? "a program" : known)} hears",
            _ => name(takes),
        };
    }

    /// <summary>What a file is written as.</summary>
    public static string Of(TakeForm form) => form switch
    {
        TakeForm.Wav24 => "WAV, 24 bit",
        TakeForm.Wav16 => "WAV, 16 bit",
        TakeForm.Wav32 => "WAV, 32-bit float",
        TakeForm.Flac => "FLAC",
        TakeForm.Mp3 => "MP3",
        TakeForm.Opus => "Opus",
        _ => throw new ArgumentOutOfRangeException(nameof(form)),
    };
}

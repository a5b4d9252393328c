using System.Text.Json.Serialization;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Planning;

/// <summary>How a voice comes in.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<LevelVerdict>))]
public enum LevelVerdict
{
    /// <summary>Nobody has spoken.</summary>
    Silent,

    /// <summary>Too quiet: noise comes up with it.</summary>
    Low,

    /// <summary>As it should be, with room above.</summary>
    Good,

    /// <summary>Too near to full scale.</summary>
    Hot,

    /// <summary>At full scale before the trim, which cannot help it.</summary>
    Clips,
}

/// <summary>What could be set so that a voice comes in well.</summary>
/// <param name="Verdict">How it comes in now.</param>
/// <param name="Peak">Its loudest peak after the trim, dBFS.</param>
/// <param name="Trim">The trim that would be good, dB; null: the one it has, or none that there is would do.</param>
/// <param name="Gain">The device's own gain that would be good, dB; null: it has none, or the one it has.</param>
/// <param name="Words">The same for a person.</param>
public sealed record TrimAdvice(LevelVerdict Verdict, double Peak, Gain? Trim, double? Gain, string Words)
{
    /// <summary>From this peak on a voice is loud enough, dBFS.</summary>
    public const double LowestGood = -18;

    /// <summary>Up to this peak there is room for a laugh, dBFS.</summary>
    public const double HighestGood = -8;

    /// <summary>The peak that is aimed at, dBFS.</summary>
    public const double Aim = -12;

    /// <summary>What lies below is the room, not a voice, dBFS.</summary>
    public const double LeastVoice = -55;

    private const double FullScale = -0.1;

    /// <summary>Of a person who has spoken as loud as in the show.</summary>
    /// <param name="raw">The loudest peak as it comes in, before the trim, dBFS; −∞: nothing.</param>
    /// <param name="trim">The trim that it has.</param>
    /// <param name="gain">The device's own gain, dB; null: it has none that can be set.</param>
    /// <param name="mostGain">The most that it goes to, dB.</param>
    public static TrimAdvice Of(double raw, Gain trim, double? gain, double mostGain)
    {
        var peak = raw + trim.Decibels;
        if (double.IsNaN(raw) || trim.IsOff || Math.Max(raw, peak) < LeastVoice)
        {
            return new(LevelVerdict.Silent, peak, null, null, trim.IsOff ? "The trim is off: nothing passes it." : "Nothing was heard yet: speak as loud as you will in the show.");
        }

        var move = Aim - peak;
        var hardware = gain is { } now ? Math.Clamp(Math.Round(now + move), 0, mostGain) : (double?)null;
        var better = new Gain(Math.Clamp(Math.Round(2 * (trim.Decibels + move)) / 2, Signal.Gain.MinDecibels, Signal.Gain.MaxDecibels));
        if (raw >= FullScale)
        {
            // How loud it would have been nobody knows: it is turned down by what is safe, and looked at again.
            var less = gain is { } clips ? Math.Clamp(Math.Round(clips - 12), 0, mostGain) : (double?)null;
            return new(
                LevelVerdict.Clips, peak, null, less == gain ? null : less, "It clips before the trim: the trim cannot help. Turn it down at the device, or speak from further away.");
        }

        return peak switch
        {
            < LowestGood => new(LevelVerdict.Low, peak, better == trim ? null : better, hardware == gain ? null : hardware, "Low: with more gain later, the noise of the room comes up with it."),
            > HighestGood => new(LevelVerdict.Hot, peak, better == trim ? null : better, hardware == gain ? null : hardware, "Hot: a laugh would clip."),
            _ => new(LevelVerdict.Good, peak, null, null, "Good: loud enough, with room for a laugh."),
        };
    }
}

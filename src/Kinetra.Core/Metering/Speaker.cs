using System.Collections.Immutable;

namespace Kinetra.Core.Metering;

/// <summary>Where a channel of a recording is heard from, as far as loudness asks.</summary>
public enum Speaker
{
    /// <summary>In front, behind, or above; and where nothing is known.</summary>
    Plain,

    /// <summary>From the side, 60° to 120° off the front: a surround channel of five.</summary>
    Side,

    /// <summary>Low-frequency effects.</summary>
    LowFrequency,
}

/// <summary>How much channels count in loudness.</summary>
public static class Speakers
{
    /// <summary>As many channels of which nothing is known: all count alike.</summary>
    public static ImmutableArray<Speaker> Unknown(int channels) => [.. Enumerable.Repeat(Speaker.Plain, channels)];

    /// <summary>The weight of a channel's power: BS.1770-5, Annex 1, table 3, and Annex 3, table 4. Low-frequency effects do not count.</summary>
    public static double Weight(Speaker speaker) => speaker switch { Speaker.LowFrequency => 0, Speaker.Side => 1.41, _ => 1 };
}

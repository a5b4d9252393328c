using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Rigs;

/// <summary>Which channels of a cable a sound fills, counted from 0.</summary>
/// <param name="Left">That of left, of the only channel, or of the first of a cable's channels.</param>
/// <param name="Right">That of right. Null: a stereo sound is folded into one (the mean), a mono one fills one channel.</param>
public sealed record CableChannels(int Left = 0, int? Right = null);

/// <summary>One thing that plays into a cable.</summary>
public sealed record CableFeed
{
    /// <summary>What plays: a source, a mix or another cable; in one cable only once.</summary>
    public required Point From { get; init; }

    /// <summary>Level for this cable alone.</summary>
    public Gain Gain { get; init; } = Gain.Unity;

    /// <summary>False: it does not play now.</summary>
    public bool On { get; init; } = true;

    /// <summary>Which channels it fills.</summary>
    public CableChannels Into { get; init; } = new(0, 1);

    /// <summary>True: where it closes a loop, the person has let it play.</summary>
    public bool LoopAllowed { get; init; }

    /// <summary>The factor that reaches the cable.</summary>
    [JsonIgnore]
    public double Factor => On ? Gain.Linear : 0;
}

/// <summary>A virtual audio device: what is played into it is summed, and any number can record from it.</summary>
public sealed record Cable
{
    /// <summary>Its identity within the show.</summary>
    public required CableId Id { get; init; }

    /// <summary>1–60 characters, unique among the show's cables whatever the case.</summary>
    public required string Name { get; init; }

    /// <summary>How many channels: 1–16.</summary>
    public int Channels { get; init; } = 2;

    /// <summary>By how much what is recorded from it lies behind what is played into it, frames: 0–4096.</summary>
    public int BufferFrames { get; init; }

    /// <summary>What plays into it. At most <see cref="RigLimits.Feeds"/>.</summary>
    public ImmutableArray<CableFeed> Feeds { get; init; } = [];

    /// <summary>What comes from a point, or null.</summary>
    public CableFeed? Find(Point from)
    {
        foreach (var feed in Feeds)
        {
            if (feed.From == from)
            {
                return feed;
            }
        }

        return null;
    }
}

using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Rigs;

/// <summary>Which listener a mix is for; decides where a new source is proposed to stand in it.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<MixPurpose>))]
public enum MixPurpose
{
    /// <summary>The maker's own headphones.</summary>
    MyEars,

    /// <summary>The audience.</summary>
    Viewers,

    /// <summary>What a caller is sent: everything but himself.</summary>
    Guest,

    /// <summary>What is kept.</summary>
    Recording,

    /// <summary>Any other listener.</summary>
    Other,
}

/// <summary>One source's level in one mix.</summary>
public sealed record Send
{
    /// <summary>The source that is sent.</summary>
    public required SourceId Source { get; init; }

    /// <summary>Level for this listener alone.</summary>
    public Gain Gain { get; init; } = Gain.Unity;

    /// <summary>False: the source waits in the dock and the listener does not hear it. Its gain is kept.</summary>
    public bool Heard { get; init; } = true;

    /// <summary>True: silenced for now, in its place.</summary>
    public bool Muted { get; init; }

    /// <summary>−1 (left) … 0 (centre) … +1 (right). Mono: sine/cosine law, −3 dB at the centre. Stereo: balance.</summary>
    public double Pan { get; init; }

    /// <summary>Where the sound is taken: after the source's chain, or before it for a clean copy.</summary>
    public Tap Tap { get; init; }

    /// <summary>The point that it is taken from.</summary>
    [JsonIgnore]
    public Point From => new SourcePoint(Source, Tap);

    /// <summary>Lowers it for this listener alone while something else sounds; null: nothing does.</summary>
    public Processor? Ducker { get; init; }

    /// <summary>The factor that reaches the mix: 0 where docked, muted or off.</summary>
    [JsonIgnore]
    public double Factor => Heard && !Muted ? Gain.Linear : 0;
}

/// <summary>One blend, made for one listener. Stereo.</summary>
public sealed record Mix
{
    /// <summary>Its identity within the show.</summary>
    public required MixId Id { get; init; }

    /// <summary>1–60 characters, unique among the show's mixes whatever the case.</summary>
    public required string Name { get; init; }

    /// <summary>Which listener it is for.</summary>
    public required MixPurpose Purpose { get; init; }

    /// <summary>Gain of the whole blend.</summary>
    public Gain Gain { get; init; } = Gain.Unity;

    /// <summary>The loudness that this listener should get, LUFS, −40 … −6.</summary>
    public double TargetLufs { get; init; } = -16;

    /// <summary>What the blend goes through after the gain, in order. At most <see cref="RigLimits.Processors"/>.</summary>
    public ImmutableArray<Processor> Chain { get; init; } = [];

    /// <summary>One send for each source of the show, in the show's order.</summary>
    public ImmutableArray<Send> Sends { get; init; } = [];

    /// <summary>Where it goes, beside cables. At most <see cref="RigLimits.Destinations"/>.</summary>
    public ImmutableArray<Destination> Destinations { get; init; } = [];

    /// <summary>The destination of that id, or null.</summary>
    public Destination? Find(DestinationId id)
    {
        foreach (var destination in Destinations)
        {
            if (destination.Id == id)
            {
                return destination;
            }
        }

        return null;
    }
}

using System.Text.Json.Serialization;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Rigs;

/// <summary>Where a mix goes to, beside cables (what plays into those is theirs, <see cref="Cable.Feeds"/>).</summary>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "type")]
[JsonDerivedType(typeof(DeviceOutput), "device")]
[JsonDerivedType(typeof(BrowserOutput), "browser")]
public abstract record DestinationEnd
{
    /// <summary>The point that it plays into.</summary>
    [JsonIgnore]
    public abstract DevicePoint Point { get; }
}

/// <summary>A sound device of the computer.</summary>
/// <param name="Device">Which.</param>
public sealed record DeviceOutput(DeviceId Device) : DestinationEnd
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override DevicePoint Point => new(Device, Side.Out);
}

/// <summary>A sound output that a browser plays to.</summary>
/// <param name="Client">Which browser: the name that it gave itself and keeps. 1–64 characters.</param>
/// <param name="Device">Which of its outputs, by the browser's own id. 1–128 characters.</param>
/// <param name="Label">What the browser calls it. 1–200 characters.</param>
public sealed record BrowserOutput(string Client, string Device, string Label) : DestinationEnd
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override DevicePoint Point => new(BrowserEnds.IdOf(Client, Device), Side.Out);
}

/// <summary>One way of a mix to a listener's ears.</summary>
public sealed record Destination
{
    /// <summary>Its identity within the mix.</summary>
    public required DestinationId Id { get; init; }

    /// <summary>Where it goes.</summary>
    public required DestinationEnd End { get; init; }

    /// <summary>Which channels of it are filled.</summary>
    public CableChannels Into { get; init; } = new(0, 1);

    /// <summary>Level for this destination alone.</summary>
    public Gain Gain { get; init; } = Gain.Unity;

    /// <summary>False: nothing goes there now.</summary>
    public bool On { get; init; } = true;

    /// <summary>True: where it closes a loop, the person has let it play.</summary>
    public bool LoopAllowed { get; init; }

    /// <summary>The factor that leaves.</summary>
    [JsonIgnore]
    public double Factor => On ? Gain.Linear : 0;
}

using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Gear;

/// <summary>What a sound device is.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<DeviceKind>))]
public enum DeviceKind
{
    /// <summary>A box with inputs for microphones and instruments, and outputs.</summary>
    Interface,

    /// <summary>A microphone by itself.</summary>
    Microphone,

    /// <summary>Headphones with a microphone.</summary>
    Headset,

    /// <summary>Loudspeakers in the room.</summary>
    Speakers,

    /// <summary>It takes in another machine's picture and sound.</summary>
    Capture,

    /// <summary>Several devices as one.</summary>
    Joined,
}

/// <summary>What is plugged into an input.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<Plugged>))]
public enum Plugged
{
    /// <summary>Nothing.</summary>
    Nothing,

    /// <summary>A dynamic microphone: it needs much gain.</summary>
    Dynamic,

    /// <summary>A condenser microphone.</summary>
    Condenser,

    /// <summary>A headset's microphone.</summary>
    HeadsetPlug,

    /// <summary>A line: an instrument, a player, another computer.</summary>
    Line,

    /// <summary>Sound that comes as numbers.</summary>
    Digital,
}

/// <summary>One input channel of a device.</summary>
public sealed record DeviceInputChannel
{
    /// <summary>What is written beside it.</summary>
    public required string Name { get; init; }

    /// <summary>What is plugged in.</summary>
    public Plugged Plugged { get; init; }

    /// <summary>The gain that this needs so that its sound is as loud as it should be, dB, 0 … 70.</summary>
    public double NeededGain { get; init; }

    /// <summary>The device's own gain, dB, 0 … 70; null: it has none to set.</summary>
    public double? Gain { get; init; }

    /// <summary>The device's own low cut, 12 dB an octave at 80 Hz; null: it has none.</summary>
    public bool? LowCut { get; init; }

    /// <summary>False: one of those that are hidden until somebody wants them.</summary>
    public bool IsExposed { get; init; } = true;

    /// <summary>True where it hears the room.</summary>
    [JsonIgnore]
    public bool HearsTheRoom => Plugged is Plugged.Dynamic or Plugged.Condenser or Plugged.HeadsetPlug;

    /// <summary>By how much louder than it should be the device takes it in, dB.</summary>
    [JsonIgnore]
    public double Excess => (Gain ?? NeededGain) - NeededGain;
}

/// <summary>A sound device of the computer, as it is now.</summary>
public sealed record Device
{
    /// <summary>The slowest and fastest rate, Hz.</summary>
    public const int LowestRate = 8_000, HighestRate = 192_000;

    /// <summary>Its identity.</summary>
    public required DeviceId Id { get; init; }

    /// <summary>What the computer calls it.</summary>
    public required string Name { get; init; }

    /// <summary>What it is.</summary>
    public required DeviceKind Kind { get; init; }

    /// <summary>Its input channels.</summary>
    public ImmutableArray<DeviceInputChannel> Inputs { get; init; } = [];

    /// <summary>How many output channels it has.</summary>
    public int Outputs { get; init; }

    /// <summary>The rate that it runs at, Hz, <see cref="LowestRate"/> … <see cref="HighestRate"/>.</summary>
    public int Rate { get; init; } = AudioFormat.SampleRate;

    /// <summary>How many of its own frames it hands over at once.</summary>
    public int BufferFrames { get; init; } = 256;

    /// <summary>By how much its clock runs fast, ppm.</summary>
    public double PartsPerMillion { get; init; }

    /// <summary>False: unplugged.</summary>
    public bool IsPresent { get; init; } = true;

    /// <summary>The program that has it for itself; null: none.</summary>
    public string? BusyWith { get; init; }

    /// <summary>True where it can play its inputs straight to its own first pair.</summary>
    public bool CanMonitor { get; init; }

    /// <summary>True where it does.</summary>
    public bool IsMonitoring { get; init; }

    /// <summary>True where what it plays comes back into every open microphone.</summary>
    public bool IsOpen { get; init; }

    /// <summary>Of a joined device: the devices that it is made of, in the order of its channels; the first gives the clock.</summary>
    public ImmutableArray<DeviceId> Joins { get; init; } = [];

    /// <summary>When it was last plugged, unplugged, taken or let go; null: nothing has happened yet.</summary>
    public DateTimeOffset? Since { get; init; }

    /// <summary>True where sound goes in and out.</summary>
    [JsonIgnore]
    public bool IsUsable => IsPresent && BusyWith is null;

    /// <summary>How many channels it has on a side.</summary>
    public int ChannelsOf(Side side) => side == Side.In ? Inputs.Length : Outputs;
}

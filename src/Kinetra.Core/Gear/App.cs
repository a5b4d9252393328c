using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Gear;

/// <summary>What a program is for; decides with which others it is told.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<AppKind>))]
public enum AppKind
{
    /// <summary>A game.</summary>
    Game,

    /// <summary>It plays music.</summary>
    Music,

    /// <summary>It plays whatever somebody opens in it: a browser, a sampler, the system's own sounds.</summary>
    Player,

    /// <summary>A call with somebody far away.</summary>
    Call,

    /// <summary>Voice chat.</summary>
    Chat,

    /// <summary>It sends on what it hears.</summary>
    Encoder,

    /// <summary>It records what it hears.</summary>
    Recorder,

    /// <summary>Any other that hears something: a lesson, a tuner.</summary>
    Listener,

    /// <summary>It sends sound into a cable by its address, and is there for as long as it does.</summary>
    Sender,
}

/// <summary>What becomes of the channels of an end for which an input has no room, or of those of an output for which its end has none.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<Intake>))]
public enum Intake
{
    /// <summary>The first channels, as many as it has; the others fall away.</summary>
    First,

    /// <summary>All of them, folded: the mean of those that come to one channel.</summary>
    Folded,
}

/// <summary>One output or input of a program.</summary>
public sealed record AppPort
{
    /// <summary>Its identity within the program; 1–40 characters of <c>a–z 0–9 -</c>.</summary>
    public required string Id { get; init; }

    /// <summary>What it plays or hears, in words that go into a sentence: "its game sound".</summary>
    public required string Name { get; init; }

    /// <summary>Whether it plays or hears.</summary>
    public required Side Side { get; init; }

    /// <summary>How many channels it has, 1–16.</summary>
    public int Channels { get; init; } = 2;

    /// <summary>What becomes of channels for which there is no room, here or at the end.</summary>
    public Intake Intake { get; init; }

    /// <summary>True: it has no choice of its own.</summary>
    public bool IsFixed { get; init; }

    /// <summary>What it is set to.</summary>
    public EndChoice Choice { get; init; } = new DefaultEnd();
}

/// <summary>What a program passes on from one of its inputs to one of its outputs, channel by channel, folded where it must be.</summary>
/// <param name="From">The input.</param>
/// <param name="To">The output.</param>
/// <param name="Gain">By how much.</param>
/// <param name="DelayFrames">How late, 0 … 24 000 (half a second).</param>
public sealed record Pass(string From, string To, Gain Gain, int DelayFrames = 0)
{
    /// <summary>True: an echo, that is gone while the program removes echo.</summary>
    public bool IsEcho { get; init; }
}

/// <summary>A program of the computer that plays or hears something, as it is now.</summary>
public sealed record App
{
    /// <summary>Its identity.</summary>
    public required AppId Id { get; init; }

    /// <summary>What it is called.</summary>
    public required string Name { get; init; }

    /// <summary>What it is for.</summary>
    public required AppKind Kind { get; init; }

    /// <summary>Its outputs and inputs.</summary>
    public required ImmutableArray<AppPort> Ports { get; init; }

    /// <summary>What it passes on.</summary>
    public ImmutableArray<Pass> Passes { get; init; } = [];

    /// <summary>True while it runs: only then it is there.</summary>
    public bool IsRunning { get; init; }

    /// <summary>True while it plays what it has to play.</summary>
    public bool IsPlaying { get; init; }

    /// <summary>Its own volume.</summary>
    public Gain Volume { get; init; } = Gain.Unity;

    /// <summary>Whether it removes echo and evens levels in what it is sent: good for a voice, bad for music; null: it cannot.</summary>
    public bool? EvensVoices { get; init; }

    /// <summary>Whether it plays its own test sound; null: it has none.</summary>
    public bool? Tests { get; init; }

    /// <summary>True where a device or a cable that is new is there for it only after its restart.</summary>
    public bool SeesNewAfterRestart { get; init; }

    /// <summary>Of such a program, while it runs: the ends that it knows, as text.</summary>
    public ImmutableHashSet<string> Knows { get; init; } = [];

    /// <summary>Where such a choice usually is in a program of that kind.</summary>
    public string? Where { get; init; }

    /// <summary>When it was started or ended last; null: nothing has happened yet.</summary>
    public DateTimeOffset? Since { get; init; }

    /// <summary>The port of that id, or null.</summary>
    public AppPort? Find(string port)
    {
        foreach (var one in Ports)
        {
            if (one.Id == port)
            {
                return one;
            }
        }

        return null;
    }

    /// <summary>True where it would find that end now.</summary>
    public bool Sees(Point end)
    {
        ArgumentNullException.ThrowIfNull(end);
        return !SeesNewAfterRestart || !IsRunning || Knows.Contains(end.ToString());
    }
}

using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Rigs;

/// <summary>What kind of thing sounds; decides the icon offered first and where a mix would place it.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<SourceKind>))]
public enum SourceKind
{
    /// <summary>A person's microphone, or any other microphone.</summary>
    Microphone,

    /// <summary>An instrument on a line input.</summary>
    Instrument,

    /// <summary>A program.</summary>
    App,

    /// <summary>A game.</summary>
    Game,

    /// <summary>The far side of a call.</summary>
    Call,

    /// <summary>Private voice chat.</summary>
    Chat,

    /// <summary>Music.</summary>
    Music,

    /// <summary>Sound pads.</summary>
    Pads,

    /// <summary>A sound file of the person's own.</summary>
    File,

    /// <summary>Everything else the computer plays.</summary>
    CatchAll,
}

/// <summary>Where a source's sound comes from.</summary>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "type")]
[JsonDerivedType(typeof(StandInInput), "standIn")]
[JsonDerivedType(typeof(SoundFileInput), "soundFile")]
[JsonDerivedType(typeof(BrowserInput), "browser")]
[JsonDerivedType(typeof(CableInput), "cable")]
public abstract record SourceInput;

/// <summary>A simulated device or app that ships with the application.</summary>
/// <param name="Device">The stand-in's key, for example <c>host-mic</c>.</param>
public sealed record StandInInput(string Device) : SourceInput;

/// <summary>A stored sound file.</summary>
/// <param name="Sound">SHA-256 of the file's bytes, 64 hexadecimal digits: its address in the sound store.</param>
/// <param name="Loop">True: it starts over at its end. False: it plays once, then is silent until it is played again.</param>
public sealed record SoundFileInput(string Sound, bool Loop) : SourceInput;

/// <summary>A microphone, or another input, that a browser gives.</summary>
/// <param name="Client">Which browser: the name that it gave itself and keeps. 1–64 characters.</param>
/// <param name="Device">Which of its inputs, by the browser's own id. 1–128 characters.</param>
/// <param name="Label">What the browser calls the input. 1–200 characters.</param>
/// <param name="Left">The input's channel, 0–7, that is left, or the only one.</param>
/// <param name="Right">The input's channel that is right; null: the source is mono.</param>
public sealed record BrowserInput(string Client, string Device, string Label, int Left, int? Right = null) : SourceInput;

/// <summary>What is played into a cable of the show.</summary>
/// <param name="Cable">Which cable.</param>
/// <param name="Left">The cable's channel, from 0, that is left, or the only one.</param>
/// <param name="Right">The channel that is right; null: the source is mono.</param>
/// <param name="LoopAllowed">True: where it closes a loop, the person has let it play.</param>
public sealed record CableInput(CableId Cable, int Left, int? Right = null, bool LoopAllowed = false) : SourceInput;

/// <summary>The picture beside a source's name.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<SourceIcon>))]
public enum SourceIcon
{
#pragma warning disable CS1591 // Each says what it shows.
    Microphone,
    Headset,
    Person,
    People,
    Guitar,
    Piano,
    Drum,
    Waves,
    Window,
    Game,
    Phone,
    Chat,
    Music,
    Pads,
    File,
    Computer,
    Bell,
    Radio,
    Television,
    Star,
#pragma warning restore CS1591
}

/// <summary>How a source is told from the others: colour and shape, so that nobody depends on colour, and an icon.</summary>
/// <param name="Color">Index into the interface's palette of source colours, 0–11.</param>
/// <param name="Shape">Index into the interface's set of shapes, 0–11.</param>
/// <param name="Icon">The picture; null: that of its kind.</param>
public sealed record SourceLook(int Color, int Shape, SourceIcon? Icon = null)
{
    /// <summary>How many colours and shapes there are.</summary>
    public const int Count = 12;
}

/// <summary>Something that sounds.</summary>
public sealed record Source
{
    /// <summary>Its identity within the show.</summary>
    public required SourceId Id { get; init; }

    /// <summary>1–60 characters, unique among the show's sources whatever the case.</summary>
    public required string Name { get; init; }

    /// <summary>What kind of thing it is.</summary>
    public required SourceKind Kind { get; init; }

    /// <summary>Where its sound comes from.</summary>
    public required SourceInput Input { get; init; }

    /// <summary>Gain applied before anything else.</summary>
    public Gain Trim { get; init; } = Gain.Unity;

    /// <summary>What its sound goes through after the trim, in order. At most <see cref="RigLimits.Processors"/>.</summary>
    public ImmutableArray<Processor> Chain { get; init; } = [];

    /// <summary>Its colour and shape.</summary>
    public SourceLook Look { get; init; } = new(0, 0);
}

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
[JsonDerivedType(typeof(SoundFileInput), "soundFile")]
[JsonDerivedType(typeof(BrowserInput), "browser")]
[JsonDerivedType(typeof(CableInput), "cable")]
[JsonDerivedType(typeof(DeviceInput), "device")]
[JsonDerivedType(typeof(AppInput), "app")]
[JsonDerivedType(typeof(EverythingElseInput), "everythingElse")]
[JsonDerivedType(typeof(PadsInput), "pads")]
public abstract record SourceInput
{
    /// <summary>True where its sound comes from another point of the signal, false where something gives it samples.</summary>
    [JsonIgnore]
    public virtual bool IsLinked => false;

    /// <summary>True: where it closes a loop, the person has let it play.</summary>
    [JsonIgnore]
    public virtual bool MayLoop => false;

    /// <summary>The same, let play or not where it closes a loop; null: it closes none.</summary>
    public virtual SourceInput? Looping(bool allowed) => null;
}

/// <summary>A stored sound file.</summary>
/// <param name="Sound">SHA-256 of the file's bytes, 64 hexadecimal digits: its address in the sound store.</param>
/// <param name="Loop">True: it starts over at its end. False: it plays once, then is silent until it is played again.</param>
public sealed record SoundFileInput(string Sound, bool Loop) : SourceInput;

/// <summary>A microphone, or another input, that a browser gives; or the sound of a tab or of the whole computer that a person shares through it.</summary>
/// <param name="Client">Which browser: the name that it gave itself and keeps. 1–64 characters.</param>
/// <param name="Device">Which of its inputs, by the browser's own id. 1–128 characters.</param>
/// <param name="Label">What the browser calls the input. 1–200 characters.</param>
/// <param name="Left">The input's channel, 0–7, that is left, or the only one.</param>
/// <param name="Right">The input's channel that is right; null: the source is mono.</param>
/// <param name="StillPlays">Of shared sound: whether it still plays where it played. Null: an input that the browser lists.</param>
public sealed record BrowserInput(string Client, string Device, string Label, int Left, int? Right = null, bool? StillPlays = null) : SourceInput
{
    /// <summary>True: sound that a person shares, which is asked for anew each time.</summary>
    [JsonIgnore]
    public bool IsShared => StillPlays is not null;
}

/// <summary>What is played into a cable of the show.</summary>
/// <param name="Cable">Which cable.</param>
/// <param name="Left">The cable's channel, from 0, that is left, or the only one.</param>
/// <param name="Right">The channel that is right; null: the source is mono.</param>
/// <param name="LoopAllowed">True: where it closes a loop, the person has let it play.</param>
public sealed record CableInput(CableId Cable, int Left, int? Right = null, bool LoopAllowed = false) : SourceInput
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override bool IsLinked => true;

    /// <inheritdoc/>
    [JsonIgnore]
    public override bool MayLoop => LoopAllowed;

    /// <inheritdoc/>
    public override SourceInput? Looping(bool allowed) => this with { LoopAllowed = allowed };
}

/// <summary>Inputs of a sound device of the computer.</summary>
/// <param name="Device">Which device.</param>
/// <param name="Left">Its channel, from 0, that is left, or the only one.</param>
/// <param name="Right">The channel that is right; null: the source is mono.</param>
/// <param name="LoopAllowed">True: where it closes a loop, the person has let it play.</param>
public sealed record DeviceInput(DeviceId Device, int Left, int? Right = null, bool LoopAllowed = false) : SourceInput
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override bool IsLinked => true;

    /// <inheritdoc/>
    [JsonIgnore]
    public override bool MayLoop => LoopAllowed;

    /// <inheritdoc/>
    public override SourceInput? Looping(bool allowed) => this with { LoopAllowed = allowed };
}

/// <summary>A copy of what a program plays.</summary>
/// <param name="App">Which program.</param>
/// <param name="Port">Which of its outputs; null: all of them.</param>
/// <param name="StillPlays">True: it still plays where it played. False: it is heard here alone.</param>
/// <param name="LoopAllowed">True: where it closes a loop, the person has let it play.</param>
public sealed record AppInput(AppId App, string? Port = null, bool StillPlays = false, bool LoopAllowed = false) : SourceInput
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override bool IsLinked => true;

    /// <inheritdoc/>
    [JsonIgnore]
    public override bool MayLoop => LoopAllowed;

    /// <inheritdoc/>
    public override SourceInput? Looping(bool allowed) => this with { LoopAllowed = allowed };
}

/// <summary>What programs play to devices and nothing else takes.</summary>
/// <param name="StillPlays">True: it still plays where it played. False: it is heard here alone.</param>
/// <param name="LoopAllowed">True: where it closes a loop, the person has let it play.</param>
public sealed record EverythingElseInput(bool StillPlays = true, bool LoopAllowed = false) : SourceInput
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override bool IsLinked => true;

    /// <inheritdoc/>
    [JsonIgnore]
    public override bool MayLoop => LoopAllowed;

    /// <inheritdoc/>
    public override SourceInput? Looping(bool allowed) => this with { LoopAllowed = allowed };
}

/// <summary>Pads: those of the show that are played through this source.</summary>
public sealed record PadsInput : SourceInput;

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

    /// <summary>True: upside down, so that it does not cancel with what hears the same from the other side.</summary>
    public bool Inverted { get; init; }

    /// <summary>True: both channels of what comes in are folded into one, their mean.</summary>
    public bool Fold { get; init; }

    /// <summary>By how much it is held back after its chain, so that it agrees with a picture, ms: 0–2000.</summary>
    public double SyncDelay
    {
        get;
        init
        {
            if (value != field)
            {
                (field, _sync) = (value, value > 0 ? SyncOf(value) : null);
            }
        }
    }

    /// <summary>What its sound goes through after the trim, in order. At most <see cref="RigLimits.Processors"/>.</summary>
    public ImmutableArray<Processor> Chain { get; init; } = [];

    /// <summary>The factor before its chain, negative where it is upside down.</summary>
    [JsonIgnore]
    public double Factor => Inverted ? -Trim.Linear : Trim.Linear;

    /// <summary>All that its sound goes through: its chain, and then its sync delay, where it has one.</summary>
    [JsonIgnore]
    public ImmutableArray<Processor> Way => _sync is null ? Chain : Chain.Add(_sync);

    /// <summary>Its colour and shape.</summary>
    public SourceLook Look { get; init; } = new(0, 0);

    /// <summary>By what the sync delay stands at the end of a source's <see cref="Way"/>: of every source the same. No processor of a show can have it.</summary>
    public static readonly ProcessorId SyncDelayId = new("sync delay");

    // The same object as long as it is the same, as with every other processor.
    private readonly Processor? _sync;

    private static Processor SyncOf(double milliseconds) =>
        new() { Id = SyncDelayId, Type = "delay", Values = ImmutableSortedDictionary<string, double>.Empty.Add("time", milliseconds) };
}

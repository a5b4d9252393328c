using System.Text.Json.Serialization;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Rigs;

/// <summary>A statement about who hears what, which is watched in the routing and in the running sound. Part of the show.</summary>
/// <param name="Id">Its identity.</param>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "kind")]
[JsonDerivedType(typeof(Reaches), "reaches")]
[JsonDerivedType(typeof(NeverReaches), "neverReaches")]
[JsonDerivedType(typeof(HeardOnce), "heardOnce")]
[JsonDerivedType(typeof(NeverHearsHimself), "neverHearsHimself")]
[JsonDerivedType(typeof(SpeechOverBed), "speechOverBed")]
[JsonDerivedType(typeof(LoudnessInRange), "loudnessInRange")]
[JsonDerivedType(typeof(TruePeakUnder), "truePeakUnder")]
[JsonDerivedType(typeof(OwnTrack), "ownTrack")]
[JsonDerivedType(typeof(InStep), "inStep")]
[JsonDerivedType(typeof(DefaultStays), "defaultStays")]
[JsonDerivedType(typeof(StaysOnAir), "staysOnAir")]
public abstract record Promise(PromiseId Id)
{
    /// <summary>The source that it is about, or null.</summary>
    [JsonIgnore]
    public virtual SourceId? About => null;

    /// <summary>The listener that it is about, or null.</summary>
    [JsonIgnore]
    public virtual Point? At => null;

    /// <summary>True where it speaks of something.</summary>
    public bool SpeaksOf(Point point) => point switch
    {
        SourcePoint source => About == source.Id || (this is SpeechOverBed over && (over.Speech == source.Id || over.Bed == source.Id)),
        MixPoint mix => At is MixPoint at && at.Id == mix.Id,
        CablePoint => this is DefaultStays stays && stays.End == point,
        _ => false,
    };
}

/// <summary>The listener hears the source.</summary>
/// <param name="Id">Its identity.</param>
/// <param name="Source">The source.</param>
/// <param name="Listener">A mix, an input of a program, or what a device plays.</param>
public sealed record Reaches(PromiseId Id, SourceId Source, Point Listener) : Promise(Id)
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override SourceId? About => Source;

    /// <inheritdoc/>
    [JsonIgnore]
    public override Point? At => Listener;
}

/// <summary>Nothing of the source comes to the listener, by whatever way and however softly.</summary>
/// <param name="Id">Its identity.</param>
/// <param name="Source">The source.</param>
/// <param name="Listener">A mix, an input of a program, or what a device plays.</param>
public sealed record NeverReaches(PromiseId Id, SourceId Source, Point Listener) : Promise(Id)
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override SourceId? About => Source;

    /// <inheritdoc/>
    [JsonIgnore]
    public override Point? At => Listener;
}

/// <summary>What the listener hears of the source comes by one way.</summary>
/// <param name="Id">Its identity.</param>
/// <param name="Listener">A mix, an input of a program, or what a device plays.</param>
/// <param name="Source">The source; null: of every one.</param>
public sealed record HeardOnce(PromiseId Id, Point Listener, SourceId? Source = null) : Promise(Id)
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override SourceId? About => Source;

    /// <inheritdoc/>
    [JsonIgnore]
    public override Point? At => Listener;
}

/// <summary>
/// Whose sound the source is never gets it back: a program in what it hears, a caller from elsewhere in the mixes that are made for a caller, a
/// person here in his own ears.
/// </summary>
/// <param name="Id">Its identity.</param>
/// <param name="Source">The source.</param>
public sealed record NeverHearsHimself(PromiseId Id, SourceId Source) : Promise(Id)
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override SourceId? About => Source;
}

/// <summary>While both sound, speech is louder than what lies under it.</summary>
/// <param name="Id">Its identity.</param>
/// <param name="Mix">In which mix.</param>
/// <param name="AtLeast">By how much, LU, 0–40.</param>
/// <param name="Speech">The voice; null: all microphones and calls of the mix together.</param>
/// <param name="Bed">What lies under it; null: all music, games and programs of the mix together.</param>
public sealed record SpeechOverBed(PromiseId Id, MixId Mix, double AtLeast, SourceId? Speech = null, SourceId? Bed = null) : Promise(Id)
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override Point? At => new MixPoint(Mix);
}

/// <summary>The loudness of a mix stays in a range.</summary>
/// <param name="Id">Its identity.</param>
/// <param name="Mix">Which mix.</param>
/// <param name="From">At least, LUFS, −60 … 0.</param>
/// <param name="To">At most, LUFS, above From, up to 0.</param>
public sealed record LoudnessInRange(PromiseId Id, MixId Mix, double From, double To) : Promise(Id)
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override Point? At => new MixPoint(Mix);
}

/// <summary>The true peak of a mix stays under a ceiling.</summary>
/// <param name="Id">Its identity.</param>
/// <param name="Mix">Which mix.</param>
/// <param name="Ceiling">dBTP, −20 … 0.</param>
public sealed record TruePeakUnder(PromiseId Id, MixId Mix, double Ceiling) : Promise(Id)
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override Point? At => new MixPoint(Mix);
}

/// <summary>The source is recorded on a track of its own, and nothing else is on it.</summary>
/// <param name="Id">Its identity.</param>
/// <param name="Source">The source.</param>
public sealed record OwnTrack(PromiseId Id, SourceId Source) : Promise(Id)
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override SourceId? About => Source;
}

/// <summary>The source comes to the listener when the picture does.</summary>
/// <param name="Id">Its identity.</param>
/// <param name="Source">The source.</param>
/// <param name="Listener">A mix, an input of a program, or what a device plays.</param>
/// <param name="Picture">How late the picture is there, counted from when the source's sound comes in, ms, 0–4000.</param>
/// <param name="Within">By how much the sound may be earlier or later, ms, 1–500.</param>
public sealed record InStep(PromiseId Id, SourceId Source, Point Listener, double Picture, double Within) : Promise(Id)
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override SourceId? About => Source;

    /// <inheritdoc/>
    [JsonIgnore]
    public override Point? At => Listener;
}

/// <summary>A default of the computer stays what it is.</summary>
/// <param name="Id">Its identity.</param>
/// <param name="Role">Which default.</param>
/// <param name="End">A device or a cable.</param>
public sealed record DefaultStays(PromiseId Id, Role Role, Point End) : Promise(Id);

/// <summary>A stream is on air from when somebody starts it until somebody ends it.</summary>
/// <param name="Id">Its identity.</param>
/// <param name="Stream">A stream of the show.</param>
public sealed record StaysOnAir(PromiseId Id, StreamId Stream) : Promise(Id);

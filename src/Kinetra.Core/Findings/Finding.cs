using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Kinetra.Core.Editing;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Findings;

/// <summary>What a finding is about.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<FindingKind>))]
public enum FindingKind
{
    /// <summary>Private talk comes to the public.</summary>
    Leak,

    /// <summary>Somebody far away hears himself.</summary>
    SelfHearing,

    /// <summary>Sound goes round.</summary>
    Loop,

    /// <summary>A sound comes twice.</summary>
    Twice,

    /// <summary>A microphone comes both through its chain and around it.</summary>
    RawBeside,

    /// <summary>A program takes a microphone as it comes in, and not what its chain makes of it.</summary>
    RawInstead,

    /// <summary>Channels that carry sound fall away in a program.</summary>
    LostChannels,

    /// <summary>A program records the same on several of its tracks.</summary>
    AlikeTracks,

    /// <summary>What plays into a cable is heard by nobody.</summary>
    CableUnheard,

    /// <summary>A source that nobody hears.</summary>
    SourceUnheard,

    /// <summary>A mix that goes nowhere.</summary>
    MixNowhere,

    /// <summary>A stream that should be on air is not.</summary>
    OffAir,

    /// <summary>One's own voice comes late to one's own ears.</summary>
    LateVoice,

    /// <summary>Something on the computer is not as the show wants it.</summary>
    NotAsWished,

    /// <summary>A program finds what it is set to only once it is started anew.</summary>
    NeedsRestart,
}

/// <summary>How much harm something does, the least first.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<Harm>))]
public enum Harm
{
    /// <summary>Good to know.</summary>
    Slight,

    /// <summary>Somebody will notice.</summary>
    Noticeable,

    /// <summary>The show is spoilt by it.</summary>
    Serious,
}

/// <summary>One change that ends what was found.</summary>
/// <param name="Label">What it does, as something that is asked for: "Leave Guest call out of Guest hears".</param>
/// <param name="Show">The change of the show; null: the computer is changed.</param>
/// <param name="Computer">The change of the computer; null: the show is changed.</param>
public sealed record Fix(string Label, RigCommand? Show = null, GearChange? Computer = null);

/// <summary>Something about where sound goes that a person should know.</summary>
/// <param name="Kind">What it is about.</param>
/// <param name="Key">What it stays the same by while its figures change.</param>
/// <param name="Harm">How much harm it does.</param>
/// <param name="Sentence">What is so, and what comes of it.</param>
/// <param name="Places">What it concerns: where to look first comes first.</param>
/// <param name="Fixes">What ends it, the least change first; none: words say what to do.</param>
public sealed record Finding(FindingKind Kind, string Key, Harm Harm, string Sentence, ImmutableArray<Point> Places, ImmutableArray<Fix> Fixes);

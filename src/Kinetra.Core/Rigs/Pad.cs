using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Rigs;

/// <summary>What pressing a pad does.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<PadPlay>))]
public enum PadPlay
{
    /// <summary>It plays to its end; a press while it sounds does nothing.</summary>
    Once,

    /// <summary>A press while it sounds begins it again.</summary>
    Again,

    /// <summary>A press while it sounds plays it once more, over itself.</summary>
    Over,

    /// <summary>It goes round until it is pressed again.</summary>
    Loop,

    /// <summary>It plays as long as it is held, and no longer than to its end.</summary>
    Held,
}

/// <summary>A sound at hand.</summary>
public sealed record Pad
{
    /// <summary>The code values of the writing rows and the number block that a pad can lie on (W3C UI Events KeyboardEvent code Values).</summary>
    public const string KeyPattern =
        "^(|Key[A-Z]|Digit[0-9]|Minus|Equal|BracketLeft|BracketRight|Semicolon|Quote|Backquote|Backslash|Comma|Period|Slash|IntlBackslash|IntlRo|IntlYen|Numpad([0-9]|Add|Subtract|Multiply|Divide|Decimal))$";

    /// <summary>Its identity within the show.</summary>
    public required PadId Id { get; init; }

    /// <summary>1–60 characters. Two pads may have the same.</summary>
    public required string Name { get; init; }

    /// <summary>SHA-256 of the sound file's bytes, 64 hexadecimal digits: its address in the sound store.</summary>
    public required string Sound { get; init; }

    /// <summary>Through which source it is heard. Where that is gone, it is silent: nobody hears it whom nobody meant to.</summary>
    public required SourceId Source { get; init; }

    /// <summary>Its end in the sound, ms; beyond <see cref="Begin"/> by <see cref="RigLimits.ShortestPad"/> or more. Beyond the sound's own end: that.</summary>
    public required double End { get; init; }

    /// <summary>Its beginning in the sound, ms, 0 or more.</summary>
    public double Begin { get; init; }

    /// <summary>How long it fades in, ms, 0–30000.</summary>
    public double FadeIn { get; init; }

    /// <summary>How long it fades out at its end, and where it is stopped, ms, 0–30000.</summary>
    public double FadeOut { get; init; }

    /// <summary>Its own gain.</summary>
    public Gain Gain { get; init; } = Gain.Unity;

    /// <summary>What pressing it does.</summary>
    public PadPlay Play { get; init; } = PadPlay.Again;

    /// <summary>The key on which it lies, as a keyboard's physical place (<c>KeyQ</c>, <c>Digit1</c>); empty: none.</summary>
    public string Key { get; init; } = "";

    /// <summary>Of pads with the same word, whatever set they lie in, the one that begins ends the others. At most 60 characters; empty: none.</summary>
    public string Group { get; init; } = "";

    /// <summary>By how much all else that its listeners hear is quieter while it sounds, dB, 0–60.</summary>
    public double Dim { get; init; }

    /// <summary>Its colour and shape.</summary>
    public SourceLook Look { get; init; } = new(0, 0);
}

/// <summary>Pads that are at hand together.</summary>
public sealed record PadSet
{
    /// <summary>Its identity within the show.</summary>
    public required PadSetId Id { get; init; }

    /// <summary>1–60 characters, unique among the show's sets whatever the case.</summary>
    public required string Name { get; init; }

    /// <summary>Its pads, in order. At most <see cref="RigLimits.PadsOfSet"/>; each key once.</summary>
    public ImmutableArray<Pad> Pads { get; init; } = [];

    /// <summary>The pad of that id, or null.</summary>
    public Pad? Find(PadId id)
    {
        foreach (var pad in Pads)
        {
            if (pad.Id == id)
            {
                return pad;
            }
        }

        return null;
    }
}

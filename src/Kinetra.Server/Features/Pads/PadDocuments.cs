using System.Collections.Immutable;
using System.ComponentModel.DataAnnotations;
using Kinetra.Core.Editing;
using Kinetra.Core.Pads;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Server.Hosting;

namespace Kinetra.Server.Features.Pads;

/// <summary>A sound that pads are made of.</summary>
/// <param name="Sound">Its address: SHA-256 of the file's bytes.</param>
/// <param name="Name">What the file was called, without its ending.</param>
/// <param name="Seconds">How long it is.</param>
/// <param name="Channels">1 or 2.</param>
/// <param name="Columns">Its waveform: the highest sample of each of <see cref="ColumnCount"/> parts of equal length, 0–255 of full scale; base64.</param>
public sealed record PadSoundDocument(string Sound, string Name, double Seconds, int Channels, string Columns)
{
    /// <summary>In how many parts it is drawn.</summary>
    public const int ColumnCount = 400;
}

/// <summary>How the pads of the live show stand.</summary>
/// <param name="AtHand">The set that is at hand; null: there is none.</param>
/// <param name="Silent">Pads that a press does not play, and why.</param>
public sealed record PadsDocument(PadSetId? AtHand, ImmutableArray<SilentPad> Silent);

/// <summary>A pad that a press does not play.</summary>
/// <param name="Pad">Which one.</param>
/// <param name="Why">Why, in a sentence.</param>
public sealed record SilentPad(PadId Pad, string Why);

/// <summary>How loud a pad is for those who hear it, beside the voice.</summary>
/// <param name="Pad">Which one.</param>
/// <param name="Momentary">Its highest momentary loudness through its source, LUFS; null: it is silent.</param>
/// <param name="Peak">Its highest sample, dBFS; null: it is silent.</param>
/// <param name="Gain">The gain with which that is so: its own, or the one that is proposed.</param>
/// <param name="Missing">Of a proposal: by how much it stays quieter than was wished, since no more gain is allowed, LU.</param>
/// <param name="Mixes">In each mix that hears it.</param>
public sealed record PadLoudnessDocument(PadId Pad, double? Momentary, double? Peak, Gain Gain, double Missing, ImmutableArray<PadBesideVoice> Mixes);

/// <summary>A pad and the voice in one mix.</summary>
/// <param name="Mix">The mix.</param>
/// <param name="Pad">The pad's loudest moment there, LUFS.</param>
/// <param name="Voice">The voice's place there, LUFS.</param>
/// <param name="Speaker">Which source that is; null: nobody has spoken yet, and the mix's target stands for a voice.</param>
public sealed record PadBesideVoice(MixId Mix, double Pad, double Voice, SourceId? Speaker);

/// <summary>A new set of pads.</summary>
/// <param name="Name">1–60 characters; left out: a free one.</param>
public sealed record NewPadSet([property: Like(typeof(PadSet), "name")] string? Name = null);

/// <summary>A change of a set of pads. What is left out stays as it is.</summary>
/// <param name="Name">1–60 characters.</param>
/// <param name="Index">Its place among the sets, from 0.</param>
public sealed record PadSetChange([property: Like(typeof(PadSet), "name")] string? Name = null, [property: Range(0, RigLimits.PadSets)] int? Index = null);

/// <summary>Pads that are added in one step.</summary>
/// <param name="Pads">1–100.</param>
/// <param name="Source">Through which source they are heard; left out: the first that plays pads, or a new one.</param>
public sealed record NewPads([property: MinLength(1), MaxLength(RigLimits.PadsOfSet)] ImmutableArray<NewPad> Pads, SourceId? Source = null);

/// <summary>A pad that is added.</summary>
/// <param name="Sound">The address of its sound.</param>
/// <param name="Name">1–60 characters; left out: that of the sound.</param>
/// <param name="Key">The key on which it lies; left out: none.</param>
public sealed record NewPad([property: Like(typeof(Pad), "sound")] string Sound, [property: Like(typeof(Pad), "name")] string? Name = null, [property: Like(typeof(Pad), "key")] string? Key = null);

/// <summary>A pad of what was just heard.</summary>
/// <param name="Of">A source or a mix: <c>source/ID</c> or <c>mix/ID</c>.</param>
/// <param name="Seconds">Its last seconds, up to 30; all that is kept stays its sound, so that it can be trimmed.</param>
/// <param name="From">All since this engine frame, instead; that alone is its sound.</param>
/// <param name="Name">1–60 characters; left out: that of what was heard.</param>
/// <param name="Key">The key on which it lies; left out: none.</param>
/// <param name="Source">Through which source it is heard; left out: the first that plays pads, or a new one.</param>
public sealed record HeardPad(
    Point Of,
    [property: Range(0.1, 30)] double? Seconds = null,
    [property: Range(0.0, 9e15)] long? From = null,
    [property: Like(typeof(Pad), "name")] string? Name = null,
    [property: Like(typeof(Pad), "key")] string? Key = null,
    SourceId? Source = null);

/// <summary>A change of a pad. What is left out stays as it is.</summary>
public sealed record PadChange(
    [property: Like(typeof(Pad), "name")] string? Name = null,
    SourceId? Source = null,
    [property: Like(typeof(Pad), "begin")] double? Begin = null,
    [property: Like(typeof(Pad), "end")] double? End = null,
    [property: Like(typeof(Pad), "fadeIn")] double? FadeIn = null,
    [property: Like(typeof(Pad), "fadeOut")] double? FadeOut = null,
    Gain? Gain = null,
    PadPlay? Play = null,
    [property: Like(typeof(Pad), "key")] string? Key = null,
    [property: Like(typeof(Pad), "group")] string? Group = null,
    [property: Like(typeof(Pad), "dim")] double? Dim = null,
    SourceLook? Look = null);

/// <summary>Where a pad is to lie.</summary>
/// <param name="Set">In which set.</param>
/// <param name="Index">Its place there, from 0; left out: last.</param>
/// <param name="Key">On which key; left out: the same, where it is free there.</param>
public sealed record PadPlaceChange(
    [property: RegularExpression(ShowFileSchema.IdPattern)] string Set, [property: Range(0, RigLimits.PadsOfSet)] int? Index = null, [property: Like(typeof(Pad), "key")] string? Key = null);

/// <summary>How loud the pads of a set are to be.</summary>
/// <param name="Wish">As what.</param>
/// <param name="Pads">Which ones; left out: all of the set.</param>
public sealed record PadLevels(PadWish Wish, [property: MaxLength(RigLimits.PadsOfSet)] ImmutableArray<PadId>? Pads = null);

/// <summary>The set that is to be at hand.</summary>
/// <param name="Set">Which one.</param>
public sealed record PadSetAtHand([property: RegularExpression(ShowFileSchema.IdPattern)] string Set);

/// <summary>A press of a pad.</summary>
/// <param name="Level">On top of its own gain, dB, −60 to 0.</param>
public sealed record PadPress([property: Range(-60.0, 0.0)] double Level = 0);

/// <summary>What of the pads that sound is to end.</summary>
/// <param name="Group">Those of a group; left out: all.</param>
/// <param name="Fade">How long that takes, ms; left out: each as its pad says.</param>
public sealed record PadStop([property: Like(typeof(Pad), "group")] string? Group = null, [property: Range(0.0, RigLimits.PadFade)] double? Fade = null);

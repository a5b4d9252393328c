using System.Collections.Immutable;
using System.ComponentModel.DataAnnotations;
using Kinetra.Core.Editing;
using Kinetra.Core.Planning;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Core.Voice;
using Kinetra.Server.Hosting;

namespace Kinetra.Server.Features.Bench;

/// <summary>One way to treat a loop.</summary>
/// <param name="Id">Its identity.</param>
/// <param name="Name">1–60 characters.</param>
/// <param name="Chain">Its processors, in order.</param>
/// <param name="Notes">Where that order works against itself.</param>
public sealed record VariantDocument(string Id, string Name, ImmutableArray<Processor> Chain, ImmutableArray<OrderNote> Notes);

/// <summary>A stretch of a source's sound on the bench.</summary>
/// <param name="Id">Its identity.</param>
/// <param name="Source">The source's id.</param>
/// <param name="Name">1–60 characters.</param>
/// <param name="Seconds">Its length.</param>
/// <param name="TakenAt">When it was taken.</param>
/// <param name="Revision">Counts its changes.</param>
/// <param name="Variants">How it is treated, in order.</param>
/// <param name="Beside">The ids of the sources whose sound goes round beside it.</param>
/// <param name="Mix">The id of the mix whose levels they are heard with; null: those after their chains.</param>
public sealed record LoopDocument(
    Guid Id, string Source, string Name, double Seconds, DateTimeOffset TakenAt, long Revision, ImmutableArray<VariantDocument> Variants, ImmutableArray<string> Beside, string? Mix)
{
    internal static LoopDocument Of(KeptLoop loop) => new(
        loop.Row.Id,
        loop.Row.Source,
        loop.Row.Name,
        (double)loop.Row.Frames / AudioFormat.SampleRate,
        loop.Row.TakenAt,
        loop.Row.Revision,
        [.. loop.Variants.Select(v => new VariantDocument(v.Id.Value, v.Name, v.Chain, ChainOrder.Notes(v.Chain)))],
        [.. loop.Row.Beside?.Split(' ') ?? []],
        loop.Row.Mix);
}

/// <summary>How much of a source is kept.</summary>
/// <param name="Source">The source's id.</param>
/// <param name="Seconds">0–30.</param>
/// <param name="Until">The engine frame after the last that is kept.</param>
public sealed record RecentDocument(string Source, double Seconds, long Until);

/// <summary>What is to be put on the bench: the last seconds of a source, or all since an engine frame.</summary>
/// <param name="Source">The source's id.</param>
/// <param name="Seconds">The last so many, 5–30; left out: all since <paramref name="From"/>.</param>
/// <param name="From">The engine frame that it begins with; of more than 30 s, the last.</param>
/// <param name="Name">1–60 characters; left out: “Loop” and a number.</param>
/// <param name="Beside">Ids of other sources that are to go round beside it, as they are heard now: who speaks over a bed.</param>
/// <param name="Mix">The id of the mix whose levels they are heard with; left out: those after their chains.</param>
public sealed record NewLoop(
    [property: RegularExpression(ShowFileSchema.IdPattern)] string Source,
    [property: Range(LoopSound.ShortestSeconds, LoopSound.LongestSeconds)] double? Seconds = null,
    [property: Range(0, long.MaxValue)] long? From = null,
    [property: Like(typeof(Source), "name")] string? Name = null,
    [property: MaxLength(Loops.MostBeside)] ImmutableArray<string>? Beside = null,
    [property: RegularExpression(ShowFileSchema.IdPattern)] string? Mix = null);

/// <summary>Another name for a loop.</summary>
/// <param name="Name">1–60 characters.</param>
public sealed record LoopChange([property: Like(typeof(Source), "name")] string Name);

/// <summary>A new variant: a copy of another, a preset, or the source's chain as it is now.</summary>
/// <param name="CopyOf">The id of a variant of the same loop.</param>
/// <param name="Preset">The key of a preset.</param>
/// <param name="Name">1–60 characters; left out: that of what it is made of, and a number.</param>
public sealed record NewVariant(
    [property: RegularExpression(ShowFileSchema.IdPattern)] string? CopyOf = null,
    [property: Chains.PresetKeys] string? Preset = null,
    [property: Like(typeof(Source), "name")] string? Name = null);

/// <summary>A variant as it is to be. What is left out stays as it is.</summary>
/// <param name="Name">1–60 characters.</param>
/// <param name="Chain">Its processors, in order.</param>
public sealed record VariantChange([property: Like(typeof(Source), "name")] string? Name = null, [property: Like(typeof(Source), "chain")] ImmutableArray<Processor>? Chain = null);

/// <summary>What was measured of a variant; what cannot be, since nothing sounds, is left out.</summary>
/// <param name="Variant">Its id; “plain”: the sound without any chain.</param>
/// <param name="Gain">By how many dB it is made louder on the bench, so that all are equally loud.</param>
/// <param name="Loudness">Programme loudness, LUFS.</param>
/// <param name="Range">How far soft and loud are apart, LU.</param>
/// <param name="Floor">What is left where nobody speaks, dBFS.</param>
/// <param name="Peak">Highest true peak, dBTP.</param>
/// <param name="Sibilance">How loud the sharp sounds are over the voice, dB.</param>
/// <param name="Tilt">How bright it is, dB for each octave.</param>
public sealed record MeasuresDocument(string Variant, double Gain, double? Loudness, double? Range, double? Floor, double? Peak, double? Sibilance, double? Tilt)
{
    internal static MeasuresDocument Of(SourceId id, double gain, SoundMeasures m) =>
        new(id.Value, 20 * Math.Log10(gain), Finite(m.Loudness), Finite(m.Range), Finite(m.Floor), Finite(m.Peak), Finite(m.Sibilance), Finite(m.Tilt));

    private static double? Finite(double value) => double.IsFinite(value) ? value : null;
}

/// <summary>A blind comparison that is to begin.</summary>
/// <param name="First">The id of a variant, or “plain”.</param>
/// <param name="Second">Another.</param>
public sealed record NewBlind([property: RegularExpression(ShowFileSchema.IdPattern)] string First, [property: RegularExpression(ShowFileSchema.IdPattern)] string Second);

/// <summary>A blind comparison that goes on.</summary>
/// <param name="Id">Its identity.</param>
/// <param name="Rounds">Rounds that were answered.</param>
public sealed record BlindDocument(Guid Id, int Rounds);

/// <summary>Which of both was the better one.</summary>
/// <param name="Better">1 or 2.</param>
public sealed record BlindChoice([property: Range(1, 2)] int Better);

/// <summary>What a blind comparison came to.</summary>
/// <param name="First">The id of the one.</param>
/// <param name="Second">The id of the other.</param>
/// <param name="Rounds">Rounds that were answered.</param>
/// <param name="ChoseFirst">In how many the first was the better one.</param>
/// <param name="ByChance">How likely somebody who hears no difference chooses one of both at least so often.</param>
/// <param name="Words">The same in words.</param>
public sealed record BlindResult(string First, string Second, int Rounds, int ChoseFirst, double ByChance, string Words);

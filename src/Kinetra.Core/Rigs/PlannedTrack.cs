using System.Text.Json.Serialization;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Rigs;

/// <summary>What a track's file is written as, at 48 kHz.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<TakeForm>))]
public enum TakeForm
{
    /// <summary>WAV, 24 bit; RF64 beyond 4 GiB.</summary>
    Wav24,

    /// <summary>WAV, 16 bit, dithered.</summary>
    Wav16,

    /// <summary>WAV, 32-bit float: to the bit what the engine has, beyond full scale too.</summary>
    Wav32,

    /// <summary>FLAC, 24 bit: the same samples as WAV of 24 bit, in less room.</summary>
    Flac,

    /// <summary>MP3.</summary>
    Mp3,

    /// <summary>Ogg Opus.</summary>
    Opus,
}

/// <summary>How many channels a track has.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<TrackWidth>))]
public enum TrackWidth
{
    /// <summary>As many as what it takes: one, or two.</summary>
    AsItIs,

    /// <summary>One: of two the mean.</summary>
    Mono,

    /// <summary>Two: one goes to both.</summary>
    Stereo,
}

/// <summary>A planned track: what a take has on a file of its own. It takes that by itself, whatever lanes do.</summary>
/// <param name="Id">Its identity within the show.</param>
/// <param name="Name">1–60 characters; no two tracks of a show have the same.</param>
/// <param name="Takes">What it takes: a source before or after its chain, a mix, a cable, or what a program hears at an input.</param>
/// <param name="Width">Mono, stereo, or as it is.</param>
/// <param name="Armed">False: a take leaves it out.</param>
/// <param name="Form">What its file is written as; null: as the show says for all.</param>
/// <param name="FileName">What its file is called, without its ending; null: its place and its name.</param>
public sealed record PlannedTrack(
    TrackId Id, string Name, Point Takes, TrackWidth Width = TrackWidth.AsItIs, bool Armed = true, TakeForm? Form = null, string? FileName = null);

/// <summary>What holds for all takes of a show.</summary>
/// <param name="Form">What files are written as where their track says nothing else.</param>
/// <param name="Before">How many seconds from before the press a take has, 0 to <see cref="MostBefore"/>: so long the last of every track is kept in memory.</param>
public sealed record Recording(TakeForm Form = TakeForm.Wav24, int Before = 0)
{
    /// <summary>The most seconds from before the press.</summary>
    public const int MostBefore = 9;

    /// <summary>As it is where nobody chose anything.</summary>
    public static readonly Recording Usual = new();
}

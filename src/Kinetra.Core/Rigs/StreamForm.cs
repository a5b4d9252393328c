using System.Text.Json.Serialization;

namespace Kinetra.Core.Rigs;

/// <summary>What sound goes out and comes in as while it is made, without an end.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<StreamForm>))]
public enum StreamForm
{
    /// <summary>WAV, 24 bit, of a length that is not stated.</summary>
    Wav,

    /// <summary>FLAC, 24 bit.</summary>
    Flac,

    /// <summary>FLAC in Ogg, 24 bit.</summary>
    OggFlac,

    /// <summary>Opus in Ogg.</summary>
    OggOpus,

    /// <summary>Vorbis in Ogg.</summary>
    OggVorbis,

    /// <summary>MP3 of a constant bit rate.</summary>
    Mp3,
}

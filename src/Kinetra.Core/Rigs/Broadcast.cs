using System.Text.Json.Serialization;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Rigs;

/// <summary>How a stream's server lets somebody in who brings sound.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<ServerKind>))]
public enum ServerKind
{
    /// <summary>An HTTP request with the method <c>PUT</c>.</summary>
    Put,

    /// <summary>The older way of the same: an HTTP/1.0 request with the method <c>SOURCE</c>.</summary>
    Source,

    /// <summary>The oldest: the password on the first line of a connection one port above the one that is stated, then <c>icy-</c> headers.</summary>
    FirstLine,
}

/// <summary>Where a stream goes. The password is no part of it: it is this computer's, and in no show.</summary>
/// <param name="Kind">How one gets in.</param>
/// <param name="Host">A name or an IP address, 1–253 characters.</param>
/// <param name="Port">1–65 535, the one that listeners use.</param>
/// <param name="Path">Its place there, beginning with a slash; of <see cref="ServerKind.FirstLine"/> the number of the stream, or nothing.</param>
/// <param name="User">Who one is there; not of <see cref="ServerKind.FirstLine"/>.</param>
/// <param name="Secure">True: through TLS.</param>
public sealed record AirServer(ServerKind Kind, string Host, int Port, string Path = "/live", string User = "source", bool Secure = false);

/// <summary>Who says what listeners hear.</summary>
/// <param name="App">A program; null: a person.</param>
public sealed record SongTeller(AppId? App = null);

/// <summary>A stream to a server that many listen to. It takes a mix, and is encoded beside the engine.</summary>
/// <param name="Id">Its identity within the show.</param>
/// <param name="Name">1–60 characters; no two streams of a show have the same.</param>
/// <param name="Mix">What it takes.</param>
/// <param name="Server">Where it goes.</param>
/// <param name="Form">What it is encoded as: MP3, Opus, Vorbis, or FLAC in Ogg.</param>
/// <param name="Channels">1 or 2; one is the mean of both sides.</param>
/// <param name="Kilobits">Bit rate, kbit/s, one of <see cref="AirForms.KilobitsOf"/>; of what is lossless 0.</param>
/// <param name="SampleRate">Hz, one of <see cref="AirForms.RatesOf"/>.</param>
/// <param name="Title">What listeners see that they hear; empty: its name.</param>
/// <param name="Description">What it is about; at most 200 characters.</param>
/// <param name="IsPublic">True: the server may list it for everybody.</param>
/// <param name="SongFrom">The program that says what listeners hear, as far as it does; null: a person alone does.</param>
public sealed record Broadcast(
    StreamId Id,
    string Name,
    MixId Mix,
    AirServer Server,
    StreamForm Form = StreamForm.Mp3,
    int Channels = 2,
    int Kilobits = 128,
    int SampleRate = AudioFormat.SampleRate,
    string Title = "",
    string Description = "",
    bool IsPublic = false,
    AppId? SongFrom = null)
{
    /// <summary>Its own level, after the mix's.</summary>
    public Gain Gain { get; init; } = Gain.Unity;
}

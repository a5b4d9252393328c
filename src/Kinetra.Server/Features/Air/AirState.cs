using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Kinetra.Core.Signal;

namespace Kinetra.Server.Features.Air;

/// <summary>How a stream stands.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<AirState>))]
public enum AirState
{
    /// <summary>Nobody wants it on air.</summary>
    Off,

    /// <summary>It is on its way to its server, which has not let it in yet.</summary>
    Connecting,

    /// <summary>The server has let it in, and sound flows.</summary>
    OnAir,

    /// <summary>It is on air, but the server takes it more slowly than it is made.</summary>
    TooSlow,

    /// <summary>It was on air, and is on its way there again.</summary>
    Reconnecting,

    /// <summary>The server said no; it is not tried again until somebody asks.</summary>
    Refused,
}

/// <summary>A time in which listeners had nothing.</summary>
/// <param name="Since">When it began.</param>
/// <param name="Seconds">How much of the mix they missed; null: it lasts.</param>
/// <param name="Words">Why.</param>
public sealed record AirGap(DateTimeOffset Since, double? Seconds, string Words);

/// <summary>How a stream stands, and what it has done since it was started.</summary>
/// <param name="Stream">Which one.</param>
/// <param name="State">How it stands.</param>
/// <param name="Words">The same in a sentence.</param>
/// <param name="Check">What to look at where it is not as it should be; null: nothing.</param>
/// <param name="Since">When listeners first got something; null: they did not yet.</param>
/// <param name="Seconds">How much of the mix was sent.</param>
/// <param name="Bytes">How many bytes were sent.</param>
/// <param name="WaitingSeconds">How much waits to be sent.</param>
/// <param name="DroppedSeconds">How much was left out since the server was too slow.</param>
/// <param name="Gaps">The latest times in which listeners had nothing, oldest first.</param>
/// <param name="GapCount">How many there were in all.</param>
/// <param name="Song">What listeners were told that they hear; null: nothing was told.</param>
/// <param name="SongTrouble">Why the server does not know it; null: it does.</param>
/// <param name="Pause">What is sent instead of the mix; null: the mix is.</param>
/// <param name="HasPassword">Whether a password is kept for it.</param>
/// <param name="Sound">What it sounds like with its bit rate, in words.</param>
public sealed record AirDocument(
    StreamId Stream,
    AirState State,
    string Words,
    string? Check,
    DateTimeOffset? Since,
    double Seconds,
    long Bytes,
    double WaitingSeconds,
    double DroppedSeconds,
    ImmutableArray<AirGap> Gaps,
    int GapCount,
    string? Song,
    string? SongTrouble,
    AirPause? Pause,
    bool HasPassword,
    string Sound);

/// <summary>What is sent instead of a mix while a stream is paused.</summary>
/// <param name="Source">A source after its chain; null: silence.</param>
public sealed record AirPause(SourceId? Source = null);

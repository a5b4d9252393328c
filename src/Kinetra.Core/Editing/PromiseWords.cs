using System.Globalization;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Editing;

/// <summary>Promises in words.</summary>
public static class PromiseWords
{
    /// <summary>A promise as a sentence, without its full stop.</summary>
    /// <param name="promise">The promise.</param>
    /// <param name="rig">The show that it is of.</param>
    /// <param name="nameOf">What a person calls a point.</param>
    public static string Of(Promise promise, Rig rig, Func<Point, string> nameOf)
    {
        ArgumentNullException.ThrowIfNull(rig);
        ArgumentNullException.ThrowIfNull(nameOf);
        return promise switch
        {
            Reaches p => $"{Name(p.Source)} reaches {nameOf(p.Listener)}",
            NeverReaches p => $"{Name(p.Source)} never reaches {nameOf(p.Listener)}",
            HeardOnce { Source: { } source } p => $"{nameOf(p.Listener)} hears {Name(source)} once",
            HeardOnce p => $"{nameOf(p.Listener)} hears every source once",
            NeverHearsHimself p => $"{Name(p.Source)} never hears itself",
            SpeechOverBed p => $"In {Mix(p.Mix)}, {(p.Speech is { } speech ? Name(speech) : "speech")} is at least {Plain(p.AtLeast)} LU over {(p.Bed is { } bed ? Name(bed) : "music, games and programs")} while both sound",
            LoudnessInRange p => $"The loudness of {Mix(p.Mix)} is from {Plain(p.From)} to {Plain(p.To)} LUFS",
            TruePeakUnder p => $"The true peak of {Mix(p.Mix)} stays under {Plain(p.Ceiling)} dBTP",
            OwnTrack p => $"{Name(p.Source)} is on a track of its own, alone",
            InStep p => $"{Name(p.Source)} comes to {nameOf(p.Listener)} {Plain(p.Picture)} ms late, as the picture does, within {Plain(p.Within)} ms",
            DefaultStays p => $"The default {Sentences.Words(p.Role)} stays {nameOf(p.End)}",
            StaysOnAir p => $"{StreamsOf.Find(rig, p.Stream)?.Stream.Name ?? "A stream that is gone"} stays on air from its start to its end",
            _ => throw new ArgumentOutOfRangeException(nameof(promise)),
        };

        string Name(SourceId id) => nameOf(new SourcePoint(id));

        string Mix(MixId id) => nameOf(new MixPoint(id));
    }

    private static string Plain(double value) => value.ToString("0.#", CultureInfo.InvariantCulture).Replace('-', '−');
}

using System.Collections.Immutable;
using System.Text.Json.Serialization;

namespace Kinetra.Core.Takes;

/// <summary>How a track, or a take, came out.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<TakeStanding>))]
public enum TakeStanding
{
    /// <summary>It is what its name says, whole.</summary>
    Sound,

    /// <summary>It is what its name says, with something that a person should know.</summary>
    Remarks,

    /// <summary>It is not what it should be.</summary>
    Wrong,
}

/// <summary>Something about a track.</summary>
/// <param name="IsFault">True: it should not be so.</param>
/// <param name="Words">A sentence.</param>
/// <param name="At">Where it begins, seconds of the take; null: it holds for all of it.</param>
public sealed record TrackRemark(bool IsFault, string Words, double? At = null);

/// <summary>What was found out about a track by reading its file.</summary>
/// <param name="Ordinal">Its place in the take, from 1.</param>
/// <param name="Name">What it is called.</param>
/// <param name="Remarks">All that there is to say; none: it is what its name says.</param>
/// <param name="PeakDb">Its highest sample, dBFS; null: it is silent.</param>
/// <param name="ExactSeconds">How many whole seconds of it were compared with what the engine gave, sample by sample, and are the same.</param>
public sealed record TrackVerdict(int Ordinal, string Name, ImmutableArray<TrackRemark> Remarks, double? PeakDb, long ExactSeconds)
{
    /// <summary>How it came out.</summary>
    [JsonIgnore]
    public TakeStanding Standing => Remarks.Any(r => r.IsFault) ? TakeStanding.Wrong : Remarks.IsEmpty ? TakeStanding.Sound : TakeStanding.Remarks;
}

/// <summary>What was found out about a take by reading its files.</summary>
/// <param name="Sentence">In one sentence.</param>
/// <param name="Tracks">Track by track.</param>
public sealed record TakeVerdict(string Sentence, ImmutableArray<TrackVerdict> Tracks)
{
    /// <summary>How it came out.</summary>
    [JsonIgnore]
    public TakeStanding Standing => Tracks.IsEmpty ? TakeStanding.Wrong : Tracks.Max(t => t.Standing);
}

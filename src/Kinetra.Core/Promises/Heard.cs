using System.Collections.Immutable;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Promises;

/// <summary>What came to one point when it was listened to last.</summary>
/// <param name="Sources">Of each source of the show but itself.</param>
public sealed record HeardAt(ImmutableDictionary<SourceId, HeardSource> Sources);

/// <summary>How loud a mix was lately.</summary>
/// <param name="Loudness">Gated mean of its short-term loudness while it sounded, LUFS; null: it has not sounded for long enough.</param>
/// <param name="TruePeak">Its highest true peak, dBTP; null: it did not sound.</param>
public sealed record HeardMix(double? Loudness, double? TruePeak);

/// <summary>All that was heard since anything last changed.</summary>
/// <param name="Points">By the listener's last point; by a source's own point what that carries of others.</param>
/// <param name="Mixes">By mix.</param>
/// <param name="Balances">By promise, by how much speech was over what lies under it while both sounded, LU; null: they did not for long enough.</param>
/// <param name="Delays">By promise, how late a source came from where it comes in to its listener, ms.</param>
/// <param name="Deaf">Points that cannot be listened to: they have more than two channels.</param>
public sealed record Heard(
    ImmutableDictionary<Point, HeardAt> Points,
    ImmutableDictionary<MixId, HeardMix> Mixes,
    ImmutableDictionary<PromiseId, double> Balances,
    ImmutableDictionary<PromiseId, double> Delays,
    ImmutableHashSet<Point> Deaf)
{
    /// <summary>Nothing yet.</summary>
    public static readonly Heard Nothing = new(
        ImmutableDictionary<Point, HeardAt>.Empty, ImmutableDictionary<MixId, HeardMix>.Empty, ImmutableDictionary<PromiseId, double>.Empty, ImmutableDictionary<PromiseId, double>.Empty, []);
}

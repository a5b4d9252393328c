using System.Collections.Immutable;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Promises;

/// <summary>What came to one point in all looks since anything last changed.</summary>
/// <param name="Sources">Of each source of the show but itself.</param>
public sealed record HeardAt(ImmutableDictionary<SourceId, HeardSource> Sources)
{
    // By so much a later look must have been finer than what an earlier one heard, to say that it does not come any more, dB.
    private const double Finer = 6;

    // What comes by one way comes as late each time, ms.
    private const double SameWithin = 3;

    // Two looks that are so far apart share no sound, frames.
    private const long LookFrames = (long)HeardSound.Kept * AudioFormat.SampleRate / HeardSound.Rate;

    /// <summary>
    /// The same with one more look. What came once comes still, until a look that would have found it has not; what no look has found is softer than the
    /// finest of them would have found; who is silent now was heard, or not, before.
    /// </summary>
    public HeardAt And(HeardAt later)
    {
        ArgumentNullException.ThrowIfNull(later);
        return new(later.Sources.ToImmutableDictionary(l => l.Key, l => Sources.TryGetValue(l.Key, out var before) ? Both(before, l.Value) : l.Value));
    }

    private static HeardSource Both(HeardSource before, HeardSource later) => (before, later) switch
    {
        ({ Sounds: false }, _) => later,
        (_, { Sounds: false }) => before,
        ({ Arrivals: [var was, ..] }, { Arrivals: [var now, ..] }) when Math.Abs(was.DelayMilliseconds - now.DelayMilliseconds) <= SameWithin =>
            later.Frame - before.Frame >= LookFrames
                ? later with { Times = before.Times + 1, TimesAgain = IsSameAgain(before, later) ? before.TimesAgain + 1 : later.TimesAgain }
                : later with { Times = before.Times, TimesAgain = IsSameAgain(before, later) ? before.TimesAgain : later.TimesAgain, Frame = before.Frame },
        (_, { Arrivals.IsEmpty: false }) => later,
        ({ Arrivals: [var came, ..] }, _) => later.FloorDecibels <= came.GainDecibels - Finer ? later : before,
        _ => later with { FloorDecibels = Math.Min(before.FloorDecibels, later.FloorDecibels) },
    };

    private static bool IsSameAgain(HeardSource before, HeardSource later) =>
        (before.Arrivals, later.Arrivals) is ([var a, var b, ..], [var c, var d, ..])
        && Math.Abs(b.DelayMilliseconds - a.DelayMilliseconds - (d.DelayMilliseconds - c.DelayMilliseconds)) <= SameWithin;
}

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

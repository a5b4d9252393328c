using System.Collections.Immutable;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Findings;

/// <summary>All that a person should know about where sound goes. Pure: the same situation gives the same findings, in the same order.</summary>
public static class Examination
{
    /// <summary>What is found, the most harmful first.</summary>
    public static ImmutableArray<Finding> Of(Situation situation)
    {
        ArgumentNullException.ThrowIfNull(situation);
        return
        [
            .. Leaks.In(situation)
                .Concat(SelfHearing.In(situation))
                .Concat(Circles.In(situation))
                .Concat(Doubles.In(situation))
                .Concat(AtPrograms.In(situation))
                .Concat(Stranded.In(situation))
                .Concat(OffAir(situation))
                .OrderByDescending(f => f.Harm)
                .ThenBy(f => f.Kind),
        ];
    }

    // What a server says is beyond any change here: words say what to look at.
    private static IEnumerable<Finding> OffAir(Situation s) =>
        from away in s.Away
        from stream in s.Rig.Streams
        where stream.Id == away.Stream
        select new Finding(
            FindingKind.OffAir, $"off-air {stream.Id}", Harm.Serious, $"{stream.Name} should be on air and is not: {away.Why}", [new MixPoint(stream.Mix)], []);
}

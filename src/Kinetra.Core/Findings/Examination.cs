using System.Collections.Immutable;

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
                .OrderByDescending(f => f.Harm)
                .ThenBy(f => f.Kind),
        ];
    }
}

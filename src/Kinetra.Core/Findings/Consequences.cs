using System.Collections.Immutable;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Findings;

/// <summary>What a change does to what people hear, beside what it is made for.</summary>
/// <param name="Ends">The keys of findings that it ends.</param>
/// <param name="Begins">Findings that there were not before.</param>
/// <param name="Heard">Who hears what otherwise than before, each in a sentence.</param>
public sealed record Consequences(ImmutableArray<string> Ends, ImmutableArray<Finding> Begins, ImmutableArray<string> Heard)
{
    /// <summary>Less than this is told as no difference, dB.</summary>
    public const double SameWithin = 0.1;

    /// <summary>The most sentences that are told.</summary>
    public const int MostSentences = 12;

    /// <summary>What differs between two situations.</summary>
    public static Consequences Between(Situation before, Situation after)
    {
        ArgumentNullException.ThrowIfNull(before);
        ArgumentNullException.ThrowIfNull(after);
        var (old, now) = (before.Findings, after.Findings);
        var known = old.Select(f => f.Key).ToHashSet();
        var left = now.Select(f => f.Key).ToHashSet();
        return new([.. known.Where(k => !left.Contains(k))], [.. now.Where(f => !known.Contains(f.Key))], HeardOtherwise(before, after));
    }

    private static ImmutableArray<string> HeardOtherwise(Situation before, Situation after)
    {
        var (old, now) = (LevelsOf(before), LevelsOf(after));
        var told = new List<string>();
        foreach (var (key, _) in old.Where(o => !now.ContainsKey(o.Key)))
        {
            told.Add($"{key.Listener} no longer gets {key.What}.");
        }

        foreach (var (key, level) in now.Where(n => !old.ContainsKey(n.Key)))
        {
            told.Add($"{key.Listener} gets {key.What}{(level > -0.05 ? "" : $", {Situation.Decibels(level)} down")}.");
        }

        foreach (var (key, level) in now)
        {
            if (old.TryGetValue(key, out var was) && Math.Abs(level - was) >= SameWithin)
            {
                told.Add($"{key.Listener} gets {key.What} {Situation.Decibels(level - was)} {(level > was ? "louder" : "softer")}.");
            }
        }

        return told.Count <= MostSentences ? [.. told] : [.. told.Take(MostSentences), $"And {told.Count - MostSentences} more."];
    }

    // By the strongest way, all channels of one beginning together.
    private static Dictionary<(string Listener, string What), double> LevelsOf(Situation s)
    {
        var heard = new Dictionary<(string Listener, string What), double>();
        foreach (var arrival in s.Heard)
        {
            var key = (s.NameOf(arrival.Listener), s.NameOf(arrival.Origin));
            heard[key] = Math.Max(arrival.GainDecibels, heard.GetValueOrDefault(key, double.NegativeInfinity));
        }

        return heard;
    }
}

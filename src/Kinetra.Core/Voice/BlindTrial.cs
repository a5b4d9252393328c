namespace Kinetra.Core.Voice;

/// <summary>How sure one can be of a choice that somebody made several times between two sounds without knowing which is which.</summary>
public static class BlindTrial
{
    /// <summary>The most rounds that are counted.</summary>
    public const int MostRounds = 100;

    /// <summary>Fewer rounds tell nothing.</summary>
    public const int FewestRounds = 5;

    /// <summary>How likely somebody who hears no difference chooses one of both at least so often: the two-sided binomial tail with p = ½.</summary>
    /// <param name="first">How often the first was chosen, 0 … <paramref name="rounds"/>.</param>
    /// <param name="rounds">All rounds, 0 … <see cref="MostRounds"/>.</param>
    /// <returns>0 … 1; of no rounds, 1.</returns>
    /// <exception cref="ArgumentOutOfRangeException">There cannot be so many.</exception>
    public static double ByChance(int first, int rounds)
    {
        ArgumentOutOfRangeException.ThrowIfNegative(rounds);
        ArgumentOutOfRangeException.ThrowIfGreaterThan(rounds, MostRounds);
        ArgumentOutOfRangeException.ThrowIfNegative(first);
        ArgumentOutOfRangeException.ThrowIfGreaterThan(first, rounds);

        // Term after term from the top: each is the one above times k / (n − k + 1).
        var more = Math.Max(first, rounds - first);
        var (term, sum) = (Math.Pow(0.5, rounds), 0.0);
        for (var k = rounds; k >= more; k--)
        {
            sum += term;
            term *= k / (rounds - k + 1.0);
        }

        return Math.Min(1, 2 * sum);
    }

    /// <summary>The same in words.</summary>
    /// <param name="first">How often the first was chosen.</param>
    /// <param name="rounds">All rounds.</param>
    /// <param name="firstName">What the first is called.</param>
    /// <param name="secondName">What the other is called.</param>
    public static string Words(int first, int rounds, string firstName, string secondName)
    {
        var (more, name) = first * 2 >= rounds ? (first, firstName) : (rounds - first, secondName);
        var chance = ByChance(first, rounds);
        return rounds switch
        {
            0 => "Nothing was compared yet.",
            < FewestRounds => $"“{name}” {more} of {rounds} times: too few rounds to tell.",
            _ when chance <= 0.05 => $"“{name}” {more} of {rounds} times: you do prefer it. Somebody who hears no difference chooses so once in {Math.Round(1 / chance):0} times.",
            _ => $"“{name}” {more} of {rounds} times: that says nothing. Somebody who hears no difference chooses so {Math.Round(100 * chance):0} times in a hundred.",
        };
    }
}

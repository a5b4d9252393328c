namespace Kinetra.Core.Hands;

/// <summary>Addresses that a pattern of Open Sound Control 1.0 means: <c>?</c> one character, <c>*</c> any, <c>[a-c]</c> and <c>[!a-c]</c> one of those or none of them, <c>{one,two}</c> one of those words; none goes across a slash.</summary>
public static class OscPattern
{
    // What a pattern with many stars could cost.
    private const int MostSteps = 20_000;

    /// <summary>True where an address is a pattern, and not one address.</summary>
    public static bool IsPattern(string address)
    {
        ArgumentNullException.ThrowIfNull(address);
        return address.AsSpan().IndexOfAny("?*[{") >= 0;
    }

    /// <summary>True where a pattern means an address. A pattern that does not end what it begins means none.</summary>
    public static bool Fits(string pattern, string address)
    {
        ArgumentNullException.ThrowIfNull(pattern);
        ArgumentNullException.ThrowIfNull(address);
        var steps = MostSteps;
        return Fits(pattern, address, ref steps);
    }

    private static bool Fits(ReadOnlySpan<char> pattern, ReadOnlySpan<char> address, ref int steps)
    {
        while (!pattern.IsEmpty)
        {
            if (--steps < 0)
            {
                return false;
            }

            switch (pattern[0])
            {
                case '*':
                    for (var taken = 0; ; taken++)
                    {
                        if (Fits(pattern[1..], address[taken..], ref steps))
                        {
                            return true;
                        }

                        if (taken == address.Length || address[taken] == '/' || steps < 0)
                        {
                            return false;
                        }
                    }

                case '{':
                    return FitsOne(pattern, address, ref steps);
                case '[':
                    var end = pattern.IndexOf(']');
                    if (end < 0 || address.IsEmpty || address[0] == '/' || !IsOf(pattern[1..end], address[0]))
                    {
                        return false;
                    }

                    pattern = pattern[(end + 1)..];
                    address = address[1..];
                    break;
                case '?' when !address.IsEmpty && address[0] != '/':
                case var c when !address.IsEmpty && c != '?' && char.ToLowerInvariant(c) == char.ToLowerInvariant(address[0]):
                    pattern = pattern[1..];
                    address = address[1..];
                    break;
                default:
                    return false;
            }
        }

        return address.IsEmpty;
    }

    private static bool FitsOne(ReadOnlySpan<char> pattern, ReadOnlySpan<char> address, ref int steps)
    {
        var end = pattern.IndexOf('}');
        if (end < 0)
        {
            return false;
        }

        foreach (var range in pattern[1..end].Split(','))
        {
            var word = pattern[1..end][range];
            if (address.StartsWith(word, StringComparison.OrdinalIgnoreCase) && Fits(pattern[(end + 1)..], address[word.Length..], ref steps))
            {
                return true;
            }
        }

        return false;
    }

    private static bool IsOf(ReadOnlySpan<char> set, char c)
    {
        var not = set is ['!', ..];
        set = not ? set[1..] : set;
        for (var i = 0; i < set.Length; i++)
        {
            var isRange = i + 2 < set.Length && set[i + 1] == '-';
            if (isRange ? c >= set[i] && c <= set[i + 2] : c == set[i])
            {
                return !not;
            }

            i += isRange ? 2 : 0;
        }

        return not;
    }
}

using System.Globalization;

namespace Kinetra.Core.Editing;

/// <summary>What is done to names that nobody typed.</summary>
public static class Names
{
    /// <summary>The beginning of a text, never cut within a character as a person sees it (a grapheme cluster, UAX 29).</summary>
    /// <param name="text">The text.</param>
    /// <param name="longest">How long it may be, UTF-16 units.</param>
    public static string Cut(string text, int longest)
    {
        ArgumentNullException.ThrowIfNull(text);
        if (text.Length <= longest)
        {
            return text;
        }

        var end = 0;
        while (end < text.Length && StringInfo.GetNextTextElementLength(text, end) is var length && end + length <= longest)
        {
            end += length;
        }

        return text[..end];
    }
}

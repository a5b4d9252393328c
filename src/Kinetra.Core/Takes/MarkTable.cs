using System.Globalization;
using System.Text;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Takes;

/// <summary>A take's marks as a table of comma-separated values (RFC 4180), in UTF-8, with a first line that says what each column is.</summary>
public static class MarkTable
{
    /// <summary>The table; lines end with CR and LF.</summary>
    /// <param name="take">The take.</param>
    /// <param name="rate">Frames of picture a second, of the time codes.</param>
    public static string Of(TimeLine take, int rate)
    {
        ArgumentNullException.ThrowIfNull(take);
        var text = new StringBuilder("seconds,time code,frame at 48000 Hz,set by,words\r\n");
        foreach (var mark in take.Marks)
        {
            text.Append(CultureInfo.InvariantCulture, $"{mark.Frame / (double)AudioFormat.SampleRate:0.######},{TimeLine.TimeCode(mark.Frame, rate)},{mark.Frame},{(mark.ByProgram ? "Kinetra" : "a person")},{Field(mark.Words)}\r\n");
        }

        return text.ToString();
    }

    // What begins as a formula would be computed by the program that opens the table; somebody else may have written it.
    private static string Field(string words)
    {
        var said = words.Length > 0 && "=+-@\t\r".Contains(words[0], StringComparison.Ordinal) ? "'" + words : words;
        return said.AsSpan().ContainsAny("\",\r\n") ? $"\"{said.Replace("\"", "\"\"", StringComparison.Ordinal)}\"" : said;
    }
}

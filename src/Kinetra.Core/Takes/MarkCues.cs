using System.Text;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Takes;

/// <summary>A take's marks as WebVTT, as players show chapters: each lasts until the next one, the last to the end of the take.</summary>
public static class MarkCues
{
    /// <summary>The document; lines end with LF.</summary>
    public static string Of(TimeLine take)
    {
        ArgumentNullException.ThrowIfNull(take);
        var text = new StringBuilder("WEBVTT\n");
        for (var n = 0; n < take.Marks.Length; n++)
        {
            // A cue ends after it begins: of two marks within a millisecond the first lasts one.
            var from = Milliseconds(take.Marks[n].Frame);
            var to = Math.Max(from + 1, Milliseconds(n + 1 < take.Marks.Length ? take.Marks[n + 1].Frame : take.Frames));
            text.Append('\n').Append(Time(from)).Append(" --> ").Append(Time(to)).Append('\n').Append(Words(take.Marks[n].Called(n))).Append('\n');
        }

        return text.ToString();
    }

    private static long Milliseconds(long frame) => frame * 1000 / AudioFormat.SampleRate;

    private static string Time(long ms) => FormattableString.Invariant($"{ms / 3_600_000:00}:{ms / 60_000 % 60:00}:{ms / 1000 % 60:00}.{ms % 1000:000}");

    private static string Words(string words) =>
        string.Concat(words.Select(c => char.IsControl(c) || c is '\u2028' or '\u2029' ? " " : c switch { '&' => "&amp;", '<' => "&lt;", '>' => "&gt;", _ => c.ToString() }));
}

using System.Globalization;
using System.Text;

namespace Kinetra.Core.Takes;

/// <summary>
/// A take's time line as an edit decision list after CMX 3600: plain lines that nearly every editing program reads. It knows four channels of sound and
/// whole frames of picture; of a take with more, the first tracks that have room are in it, and the others are named in remarks. All begin at one hour.
/// </summary>
public static class EditList
{
    /// <summary>How many channels of sound such a list knows.</summary>
    public const int Channels = 4;

    private const int FirstHour = 1;

    /// <summary>The list; lines end with CR and LF.</summary>
    /// <param name="take">The take.</param>
    /// <param name="rate">Frames of picture a second, one of <see cref="TimeLine.Rates"/>.</param>
    public static string Of(TimeLine take, int rate)
    {
        ArgumentNullException.ThrowIfNull(take);
        var text = new StringBuilder();
        Line(text, $"TITLE: {Plain(take.Name)}");
        Line(text, "FCM: NON-DROP FRAME");
        Line(text, "");

        // What lasts less than a frame of picture could not be in it at all.
        var length = Math.Max(1, take.Frames * rate / Signal.AudioFormat.SampleRate);
        var from = take.From * rate / Signal.AudioFormat.SampleRate;
        var (first, number) = (0, 0);
        var left = new List<TimeLineTrack>();
        foreach (var track in take.Tracks)
        {
            if (first + track.Channels > Channels)
            {
                left.Add(track);
                continue;
            }

            var (field, more) = FieldOf(first, track.Channels);
            first += track.Channels;
            Line(text, string.Create(
                CultureInfo.InvariantCulture,
                $"{++number:000}  AX       {field,-5} C        {TimeLine.OfPictures(from, rate)} {TimeLine.OfPictures(from + length, rate)} {TimeLine.OfPictures(0, rate, FirstHour)} {TimeLine.OfPictures(length, rate, FirstHour)}"));
            if (more is not null)
            {
                Line(text, more);
            }

            Line(text, $"* FROM CLIP NAME: {Plain(track.FileName)}");
            if (number == 1)
            {
                Marks(text, take, rate);
            }
        }

        foreach (var track in left)
        {
            Line(text, $"* NOT IN THIS LIST, WHICH KNOWS FOUR CHANNELS: {Plain(track.FileName)}");
        }

        return text.ToString();
    }

    private static void Marks(StringBuilder text, TimeLine take, int rate)
    {
        foreach (var (place, mark) in take.Marks.Index())
        {
            Line(text, $"* LOC: {TimeLine.TimeCode(mark.Frame, rate, FirstHour)} {(mark.ByProgram ? "YELLOW" : "GREEN"),-7} {Plain(mark.Called(place))}");
        }
    }

    // The third and fourth channel have a line of their own.
    private static (string Field, string? More) FieldOf(int first, int channels) => (first, channels) switch
    {
        (0, 1) => ("A", null),
        (1, 1) => ("A2", null),
        (0, 2) => ("AA", null),
        (1, 2) => ("A2", "AUD  3"),
        (2, 1) => ("NONE", "AUD  3"),
        (2, 2) => ("NONE", "AUD  3    4"),
        _ => ("NONE", "AUD  4"),
    };

    // One line, of characters that are seen.
    private static string Plain(string text) => string.Concat(text.Select(c => char.IsControl(c) || c is '\u2028' or '\u2029' ? ' ' : c));

    private static void Line(StringBuilder text, string line) => text.Append(line.TrimEnd()).Append("\r\n");
}

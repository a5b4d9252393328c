using System.Text;
using Kinetra.Core.Takes;
using Kinetra.Data.Rows;
using Kinetra.Media;

namespace Kinetra.Server.Features.Takes;

/// <summary>A take's time line and marks as documents for other programs.</summary>
static class TakeTimeLine
{
    /// <summary>Frames of picture a second where nobody says.</summary>
    public const int UsualRate = 25;

    private static readonly Dictionary<string, (string Type, Func<TimeLine, int, string> Write)> All = new()
    {
        ["otio"] = ("application/json", (take, _) => OpenTimeline.Of(take)),
        ["edl"] = ("text/plain", EditList.Of),
        ["csv"] = ("text/csv", MarkTable.Of),
        ["vtt"] = ("text/vtt", (take, _) => MarkCues.Of(take)),
    };

    /// <summary>The endings that there are.</summary>
    public static IEnumerable<string> Endings => All.Keys;

    /// <summary>The document of an ending, with its media type; null: there is none such.</summary>
    public static (string Type, byte[] Bytes)? Of(TakeRow take, string ending, int rate) => All.TryGetValue(ending, out var form)
        ? ($"{form.Type}; charset=utf-8", Encoding.UTF8.GetBytes(form.Write(LineOf(take), rate)))
        : null;

    /// <summary>A take’s marks in order of time.</summary>
    public static IEnumerable<TimeLineMark> MarksOf(TakeRow take) => take.Marks.OrderBy(m => m.Frame).Select(m => new TimeLineMark(m.Frame, m.Words, m.ByProgram));

    /// <summary>The marks of a part of a take, as WAV files have them.</summary>
    public static IReadOnlyList<WavMark> WavMarksOf(TakeRow take, TakePart part) =>
        [.. MarksOf(take).Index().Where(m => m.Item.Frame >= part.Start && m.Item.Frame < part.End).Select(m => new WavMark(m.Item.Frame - part.Start, m.Item.Called(m.Index)))];

    private static TimeLine LineOf(TakeRow take)
    {
        var kept = TakeParts.Kept(take.Frames, take.From, take.To);
        return new(
            take.Name,
            kept.Frames,
            [.. take.Tracks.Select(t => new TimeLineTrack(t.Name, t.FileName, t.Channels))],
            [.. MarksOf(take).Where(m => m.Frame >= kept.Start && m.Frame <= kept.End).Select(m => m with { Frame = m.Frame - kept.Start })],
            kept.Start,
            take.Frames);
    }
}

using System.Text;
using Kinetra.Core.Takes;
using Kinetra.Data.Rows;

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

    private static TimeLine LineOf(TakeRow take) => new(
        take.Name,
        take.Frames,
        [.. take.Tracks.Select(t => new TimeLineTrack(t.Name, t.FileName, t.Channels))],
        [.. take.Marks.OrderBy(m => m.Frame).Select(m => new TimeLineMark(m.Frame, m.Words, m.ByProgram))]);
}

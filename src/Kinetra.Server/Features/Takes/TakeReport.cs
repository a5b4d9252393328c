using System.Globalization;
using System.Text;
using Kinetra.Core.Takes;
using Kinetra.Data.Rows;

namespace Kinetra.Server.Features.Takes;

/// <summary>The verdict on a take as a file that a person can read, beside its tracks.</summary>
static class TakeReport
{
    /// <summary>Its name.</summary>
    public const string FileName = "report.txt";

    /// <summary>Writes it where there is room.</summary>
    public static void TryWrite(string folder, TakeRow take, TakeVerdict verdict)
    {
        try
        {
            File.WriteAllText(Path.Combine(folder, FileName), Text(take, verdict));
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            // The verdict is with the take; this is a copy for whoever has the folder alone.
        }
    }

    /// <summary>What it says.</summary>
    public static string Text(TakeRow take, TakeVerdict verdict)
    {
        var text = new StringBuilder();
        text.AppendLine(CultureInfo.InvariantCulture, $"{take.Name}, {take.StartedAt:yyyy-MM-dd HH:mm:ss} UTC");
        text.AppendLine(verdict.Sentence).AppendLine();
        foreach (var (track, row) in verdict.Tracks.Zip(take.Tracks))
        {
            var peak = track.PeakDb is { } db ? string.Create(CultureInfo.InvariantCulture, $"highest {db:0.0} dBFS") : "silent";
            var same = track.ExactSeconds > 0 ? $", {track.ExactSeconds} s compared sample by sample" : "";
            text.AppendLine(CultureInfo.InvariantCulture, $"{row.FileName}: {track.Name}, {peak}{same}");
            foreach (var remark in track.Remarks)
            {
                text.AppendLine(CultureInfo.InvariantCulture, $"  {(remark.IsFault ? "!" : "-")} {remark.Words}");
            }
        }

        return text.ToString();
    }
}

using System.Collections.Immutable;

namespace Kinetra.Core.Takes;

/// <summary>A part of a take, as it is exported.</summary>
/// <param name="Start">Its first frame, at 48 kHz.</param>
/// <param name="End">The frame behind its last.</param>
/// <param name="Words">What the mark says that it begins with; empty: nothing.</param>
public sealed record TakePart(long Start, long End, string Words)
{
    /// <summary>How long it is, frames.</summary>
    public long Frames => End - Start;
}

/// <summary>Which parts of a take are kept, and where it is split.</summary>
public static class TakeParts
{
    /// <summary>What is kept of a take; of ends that leave nothing, the whole.</summary>
    /// <param name="frames">Its length, frames.</param>
    /// <param name="from">Its first frame that is kept.</param>
    /// <param name="to">The frame behind the last one; null: its end.</param>
    public static TakePart Kept(long frames, long from, long? to)
    {
        var start = Math.Clamp(from, 0, frames);
        var end = Math.Clamp(to ?? frames, 0, frames);
        return start < end ? new TakePart(start, end, "") : new TakePart(0, frames, "");
    }

    /// <summary>What is kept, split where somebody has set a mark: no frame is lost, none is there twice, and no part is empty.</summary>
    /// <param name="kept">What is kept.</param>
    /// <param name="marks">The take's marks, in order of time. Those that the program set by itself split nothing.</param>
    public static ImmutableArray<TakePart> AtMarks(TakePart kept, IEnumerable<TimeLineMark> marks)
    {
        ArgumentNullException.ThrowIfNull(kept);
        ArgumentNullException.ThrowIfNull(marks);
        var parts = ImmutableArray.CreateBuilder<TakePart>();
        var begun = kept;
        foreach (var mark in marks)
        {
            if (mark.ByProgram || mark.Frame < begun.Start || mark.Frame >= kept.End)
            {
                continue;
            }

            if (mark.Frame > begun.Start)
            {
                parts.Add(begun with { End = mark.Frame });
            }

            begun = new TakePart(mark.Frame, kept.End, mark.Words);
        }

        parts.Add(begun);
        return parts.ToImmutable();
    }
}

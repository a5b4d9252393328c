using Shouldly;

namespace Kinetra.Tests.Shared;

/// <summary>What a thread takes from the heap.</summary>
/// <remarks>The runtime hands a thread 8 KiB at a time, and counts what is left of them as taken where a collection
/// that another thread causes ends them early. So the work is measured piece by piece, and a piece with a collection or a pause of one in
/// it says nothing. A pause is counted only after it: so a piece counts once the next one has seen none either.</remarks>
internal static class Allocations
{
    /// <summary>Bytes taken in all pieces that no collection fell into; at least half of them are such.</summary>
    /// <param name="pieces">How many there are.</param>
    /// <param name="piece">Does one, given its number from 0.</param>
    public static long Of(int pieces, Action<int> piece)
    {
        var (taken, measured, last) = (0L, 0, (long?)null);
        for (var n = 0; n < pieces; n++)
        {
            var (collections, pauses, before) = (GC.CollectionCount(0), GC.GetTotalPauseDuration(), GC.GetAllocatedBytesForCurrentThread());
            piece(n);
            var bytes = GC.GetAllocatedBytesForCurrentThread() - before;
            var isQuiet = GC.CollectionCount(0) == collections && GC.GetTotalPauseDuration() == pauses;
            if (isQuiet && last is { } known)
            {
                (taken, measured) = (taken + known, measured + 1);
            }

            last = isQuiet ? bytes : null;
        }

        if (last is { } final)
        {
            (taken, measured) = (taken + final, measured + 1);
        }

        measured.ShouldBeGreaterThanOrEqualTo((pieces + 1) / 2, "Too many pieces had a collection in them.");
        return taken;
    }
}

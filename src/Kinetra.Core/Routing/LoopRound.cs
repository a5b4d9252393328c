using Kinetra.Core.Signal;

namespace Kinetra.Core.Routing;

/// <summary>How long a sound is under way once round a loop.</summary>
public static class LoopRound
{
    /// <summary>
    /// Frames of the shortest round: what waits, looks ahead, is set, buffered or outside; what closes it is a block late at least, since the block
    /// before is all that it can read.
    /// </summary>
    /// <param name="routed">What is wired.</param>
    /// <param name="loop">One of its loops.</param>
    public static int FramesOf(Routed routed, SoundLoop loop)
    {
        ArgumentNullException.ThrowIfNull(routed);
        ArgumentNullException.ThrowIfNull(loop);
        var table = new LinkTable(routed);
        var links = loop.Links.Select(l => (l.From, l.To, Index: routed.Wiring.Shape.Find(l.Identity))).ToList();
        var shortest = int.MaxValue;
        foreach (var closing in links.Where(l => routed.Order.IsLate(l.Index)))
        {
            var (best, open) = (new Dictionary<Point, int> { [closing.To] = 0 }, new PriorityQueue<Point, int>());
            open.Enqueue(closing.To, 0);
            while (open.TryDequeue(out var at, out var frames))
            {
                foreach (var link in frames > best[at] || at == closing.From ? [] : links.Where(l => l.From == at))
                {
                    var next = frames + Late(link.Index);
                    if (!best.TryGetValue(link.To, out var known) || next < known)
                    {
                        best[link.To] = next;
                        open.Enqueue(link.To, next);
                    }
                }
            }

            if (best.TryGetValue(closing.From, out var way))
            {
                shortest = Math.Min(shortest, way + Late(closing.Index));
            }
        }

        return shortest;

        int Late(int link)
        {
            var delays = routed.Wiring.Links[link].Delays;
            return table.DelayOf(link) + (routed.Order.IsLate(link) ? Math.Max(0, AudioFormat.BlockFrames - delays.Buffer - delays.Device) : 0);
        }
    }
}

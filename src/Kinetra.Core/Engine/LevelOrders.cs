using System.Collections.Concurrent;

namespace Kinetra.Core.Engine;

/// <summary>The orders that wait and those under way, in the order in which they were given. One thread, but for <see cref="Add"/>.</summary>
sealed class LevelOrders
{
    private readonly ConcurrentQueue<LevelOrder> _given = new();
    private LevelOrder? _first;

    /// <summary>Any thread.</summary>
    public void Add(LevelOrder order) => _given.Enqueue(order);

    /// <summary>Does what is due at a block.</summary>
    public void GoOn(EnginePlan plan, long frame)
    {
        while (_given.TryDequeue(out var given))
        {
            if (_first is null)
            {
                _first = given;
                continue;
            }

            var last = _first;
            while (last.Next is not null)
            {
                last = last.Next;
            }

            last.Next = given;
        }

        LevelOrder? before = null;
        for (var order = _first; order is not null; order = order.Next)
        {
            if (order.GoOn(plan, frame, _first))
            {
                before = order;
            }
            else if (before is null)
            {
                _first = order.Next;
            }
            else
            {
                before.Next = order.Next;
            }
        }
    }
}

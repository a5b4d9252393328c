using System.Collections.Concurrent;
using System.Security.Cryptography;
using Kinetra.Core.Signal;
using Kinetra.Core.Voice;

namespace Kinetra.Server.Features.Bench;

/// <summary>
/// Two variants of a loop, heard as the one and the other without saying which is which: in each round it is drawn anew. Who has chosen says so, and at the end is told. In memory: one that is
/// not ended is forgotten with the server. Any thread.
/// </summary>
sealed class BlindComparisons
{
    private const int Most = 32;

    private readonly ConcurrentDictionary<Guid, BlindComparison> _all = new();

    /// <summary>Begins one.</summary>
    public BlindComparison Begin(Guid loop, SourceId first, SourceId second)
    {
        // The oldest that nobody ended give way.
        foreach (var old in _all.Values.OrderByDescending(c => c.Began).Skip(Most - 1))
        {
            _all.TryRemove(old.Id, out _);
        }

        var made = new BlindComparison(Guid.CreateVersion7(), loop, first, second);
        return _all[made.Id] = made;
    }

    /// <summary>One that goes on, or null.</summary>
    public BlindComparison? Find(Guid id) => _all.GetValueOrDefault(id);

    /// <summary>Ends one.</summary>
    public BlindComparison? End(Guid id) => _all.TryRemove(id, out var ended) ? ended : null;
}

/// <summary>One comparison.</summary>
sealed class BlindComparison(Guid id, Guid loop, SourceId first, SourceId second)
{
    private readonly Lock _lock = new();
    private bool _isTurned = Draw();

    public Guid Id => id;

    public Guid Loop => loop;

    public SourceId First => first;

    public SourceId Second => second;

    public long Began { get; } = Environment.TickCount64;

    /// <summary>Rounds that were answered.</summary>
    public int Rounds { get; private set; }

    /// <summary>In how many the first was chosen.</summary>
    public int ChoseFirst { get; private set; }

    /// <summary>Which variant is heard as the one (1) or the other (2) in this round.</summary>
    public SourceId Heard(int which)
    {
        lock (_lock)
        {
            return (which == 1) != _isTurned ? first : second;
        }
    }

    /// <summary>The one (1) or the other (2) is the better one; the next round begins.</summary>
    /// <returns>False: there are as many rounds as are counted.</returns>
    public bool Choose(int which)
    {
        lock (_lock)
        {
            if (Rounds == BlindTrial.MostRounds)
            {
                return false;
            }

            Rounds++;
            ChoseFirst += (which == 1) != _isTurned ? 1 : 0;
            _isTurned = Draw();
            return true;
        }
    }

    private static bool Draw() => RandomNumberGenerator.GetInt32(2) == 1;
}

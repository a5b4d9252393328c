namespace Kinetra.Core.Promises;

/// <summary>
/// Whose turn it is to be looked at, where one is at a time: whoever has waited longest, so that nobody waits for ever, whoever else comes and goes. Not safe for
/// several threads.
/// </summary>
/// <typeparam name="T">What is looked at.</typeparam>
public sealed class Turns<T>
    where T : notnull
{
    private readonly Dictionary<T, long> _last = [];

    /// <summary>In the order in which they are to be tried.</summary>
    /// <param name="often">What is looked at whenever it can be; of those that have waited alike, the first named first.</param>
    /// <param name="seldom">What is looked at less often.</param>
    /// <param name="since">From when on who was never looked at has waited.</param>
    /// <param name="later">By how much later what is looked at seldom has its turn; of the same measure as <paramref name="since"/>, ≥ 0.</param>
    public IEnumerable<T> Order(IEnumerable<T> often, IEnumerable<T> seldom, long since, long later) =>
        often.Select(t => (Of: t, Due: LastOf(t, since)))
            .Concat(seldom.Select(t => (Of: t, Due: LastOf(t, since) + later)))
            .OrderBy(t => t.Due)
            .Select(t => t.Of);

    /// <summary>It was looked at.</summary>
    public void Took(T which, long at) => _last[which] = at;

    /// <summary>What was looked at before does not count any more.</summary>
    public void Forget() => _last.Clear();

    private long LastOf(T which, long since) => Math.Max(since, _last.GetValueOrDefault(which, since));
}

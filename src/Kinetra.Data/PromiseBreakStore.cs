using Kinetra.Data.Rows;
using Microsoft.EntityFrameworkCore;

namespace Kinetra.Data;

/// <summary>When promises were broken, and for how long.</summary>
public sealed class PromiseBreakStore(IDbContextFactory<KinetraContext> contexts)
{
    /// <summary>The most of a show that are given.</summary>
    public const int Most = 200;

    /// <summary>The newest of a show, the newest first.</summary>
    public async Task<IReadOnlyList<PromiseBreakRow>> OfAsync(Guid show, CancellationToken cancel)
    {
        await using var context = await contexts.CreateDbContextAsync(cancel);
        return await context.PromiseBreaks.AsNoTracking().Where(b => b.ShowId == show).OrderByDescending(b => b.Began).ThenBy(b => b.Id).Take(Most).ToListAsync(cancel);
    }

    /// <summary>Stores some as they are now, whether or not they were stored before. Of a show that is not there any more, none.</summary>
    public async Task SaveAsync(IReadOnlyCollection<PromiseBreakRow> breaks, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(breaks);
        await using var context = await contexts.CreateDbContextAsync(cancel);
        var ids = breaks.Select(b => b.Id).ToList();
        var stored = await context.PromiseBreaks.Where(b => ids.Contains(b.Id)).ToDictionaryAsync(b => b.Id, cancel);
        var wanted = breaks.Select(b => b.ShowId).Distinct().ToList();
        var shows = (await context.Shows.Where(s => wanted.Contains(s.Id)).Select(s => s.Id).ToListAsync(cancel)).ToHashSet();
        foreach (var row in breaks.Where(b => shows.Contains(b.ShowId)))
        {
            if (stored.TryGetValue(row.Id, out var known))
            {
                known.Ended = row.Ended;
            }
            else
            {
                context.Add(new PromiseBreakRow { Id = row.Id, ShowId = row.ShowId, Promise = row.Promise, Sentence = row.Sentence, Why = row.Why, BySound = row.BySound, Began = row.Began, Ended = row.Ended });
            }
        }

        await context.SaveChangesAsync(cancel);
    }
}

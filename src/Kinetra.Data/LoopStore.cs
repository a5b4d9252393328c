using Kinetra.Data.Rows;
using Microsoft.EntityFrameworkCore;

namespace Kinetra.Data;

/// <summary>What is known of the loops on the bench.</summary>
public sealed class LoopStore(IDbContextFactory<KinetraContext> contexts)
{
    /// <summary>Those of a show, the newest first.</summary>
    public async Task<IReadOnlyList<LoopRow>> OfAsync(Guid show, CancellationToken cancel)
    {
        await using var context = await contexts.CreateDbContextAsync(cancel);
        return await context.Loops.AsNoTracking().Where(l => l.ShowId == show).OrderByDescending(l => l.TakenAt).ThenBy(l => l.Id).ToListAsync(cancel);
    }

    /// <summary>One, or null.</summary>
    public async Task<LoopRow?> FindAsync(Guid id, CancellationToken cancel)
    {
        await using var context = await contexts.CreateDbContextAsync(cancel);
        return await context.Loops.AsNoTracking().SingleOrDefaultAsync(l => l.Id == id, cancel);
    }

    /// <summary>Those of all shows.</summary>
    public async Task<IReadOnlyList<LoopRow>> AllAsync(CancellationToken cancel)
    {
        await using var context = await contexts.CreateDbContextAsync(cancel);
        return await context.Loops.AsNoTracking().ToListAsync(cancel);
    }

    /// <summary>Stores one that is new.</summary>
    public async Task AddAsync(LoopRow loop, CancellationToken cancel)
    {
        await using var context = await contexts.CreateDbContextAsync(cancel);
        context.Add(loop);
        await context.SaveChangesAsync(cancel);
    }

    /// <summary>Stores one as it is now; one that is gone stays gone.</summary>
    /// <returns>False: it is gone.</returns>
    public async Task<bool> SaveAsync(LoopRow loop, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(loop);
        await using var context = await contexts.CreateDbContextAsync(cancel);
        return await context.Loops.Where(l => l.Id == loop.Id).ExecuteUpdateAsync(
            set => set.SetProperty(l => l.Name, loop.Name).SetProperty(l => l.Variants, loop.Variants).SetProperty(l => l.Form, loop.Form).SetProperty(l => l.Revision, loop.Revision),
            cancel) == 1;
    }

    /// <summary>Forgets one.</summary>
    public async Task RemoveAsync(Guid id, CancellationToken cancel)
    {
        await using var context = await contexts.CreateDbContextAsync(cancel);
        await context.Loops.Where(l => l.Id == id).ExecuteDeleteAsync(cancel);
    }
}

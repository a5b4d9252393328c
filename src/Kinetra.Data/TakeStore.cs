using Kinetra.Core.Takes;
using Kinetra.Data.Rows;
using Microsoft.EntityFrameworkCore;

namespace Kinetra.Data;

/// <summary>Takes and their tracks.</summary>
public sealed class TakeStore(IDbContextFactory<KinetraContext> contexts)
{
    /// <summary>All takes, newest first, with their tracks in order; those that were deleted, too.</summary>
    public async Task<IReadOnlyList<TakeRow>> AllAsync(CancellationToken cancel)
    {
        await using var context = await contexts.CreateDbContextAsync(cancel);
        return await context.Takes.AsNoTracking().Include(t => t.Tracks.OrderBy(k => k.Ordinal))
            .OrderByDescending(t => t.StartedAt).ToListAsync(cancel);
    }

    /// <summary>One take with its tracks in order; null: there is none such, or it was deleted.</summary>
    public async Task<TakeRow?> FindAsync(Guid id, CancellationToken cancel)
    {
        await using var context = await contexts.CreateDbContextAsync(cancel);
        return await context.Takes.AsNoTracking().Include(t => t.Tracks.OrderBy(k => k.Ordinal)).SingleOrDefaultAsync(t => t.Id == id && t.DeletedAt == null, cancel);
    }

    /// <summary>Changes what is known of a take, deleted or not.</summary>
    /// <param name="id">The take.</param>
    /// <param name="change">Changes it. What it answers is false where it is to stay as it is.</param>
    /// <param name="cancel">Gives up.</param>
    /// <returns>The take, with its tracks in order, as it is stored now; null: there is none such.</returns>
    public async Task<TakeRow?> ChangeAsync(Guid id, Func<TakeRow, bool> change, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(change);
        await using var context = await contexts.CreateDbContextAsync(cancel);
        var take = await context.Takes.Include(t => t.Tracks.OrderBy(k => k.Ordinal)).SingleOrDefaultAsync(t => t.Id == id, cancel);
        if (take is not null && change(take))
        {
            await context.SaveChangesAsync(cancel);
        }

        return take;
    }

    /// <summary>Forgets a take for good.</summary>
    public async Task ForgetAsync(Guid id, CancellationToken cancel)
    {
        await using var context = await contexts.CreateDbContextAsync(cancel);
        await context.Takes.Where(t => t.Id == id).ExecuteDeleteAsync(cancel);
    }

    /// <summary>Keeps what was found out about a take.</summary>
    public async Task SetVerdictAsync(Guid id, TakeVerdict verdict, CancellationToken cancel)
    {
        await using var context = await contexts.CreateDbContextAsync(cancel);
        if (await context.Takes.SingleOrDefaultAsync(t => t.Id == id, cancel) is { } take)
        {
            take.Verdict = verdict;
            await context.SaveChangesAsync(cancel);
        }
    }

    /// <summary>Stores a take as it is now, whether or not it was stored before.</summary>
    public async Task SaveAsync(TakeRow take, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(take);
        await using var context = await contexts.CreateDbContextAsync(cancel);
        if (await context.Takes.AnyAsync(t => t.Id == take.Id, cancel))
        {
            context.Update(take);
        }
        else
        {
            context.Add(take);
        }

        await context.SaveChangesAsync(cancel);
    }
}

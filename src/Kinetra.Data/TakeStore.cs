using Kinetra.Data.Rows;
using Microsoft.EntityFrameworkCore;

namespace Kinetra.Data;

/// <summary>Takes and their tracks.</summary>
public sealed class TakeStore(IDbContextFactory<KinetraContext> contexts)
{
    /// <summary>All takes, newest first, with their tracks in order.</summary>
    public async Task<IReadOnlyList<TakeRow>> AllAsync(CancellationToken cancel)
    {
        await using var context = await contexts.CreateDbContextAsync(cancel);
        return await context.Takes.AsNoTracking().Include(t => t.Tracks.OrderBy(k => k.Ordinal))
            .OrderByDescending(t => t.StartedAt).ToListAsync(cancel);
    }

    /// <summary>One take with its tracks in order, or null.</summary>
    public async Task<TakeRow?> FindAsync(Guid id, CancellationToken cancel)
    {
        await using var context = await contexts.CreateDbContextAsync(cancel);
        return await context.Takes.AsNoTracking().Include(t => t.Tracks.OrderBy(k => k.Ordinal)).SingleOrDefaultAsync(t => t.Id == id, cancel);
    }

    /// <summary>Stores a take that begins.</summary>
    public async Task AddAsync(TakeRow take, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(take);
        await using var context = await contexts.CreateDbContextAsync(cancel);
        context.Add(take);
        await context.SaveChangesAsync(cancel);
    }

    /// <summary>Stores how a take ended, and what is known of its tracks then.</summary>
    public async Task EndAsync(TakeRow take, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(take);
        await using var context = await contexts.CreateDbContextAsync(cancel);
        context.Update(take);
        await context.SaveChangesAsync(cancel);
    }

    /// <summary>After a start: takes that were left recording are interrupted ones.</summary>
    /// <param name="length">Tells a take's length in frames from its files.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task CloseInterruptedAsync(Func<TakeRow, long> length, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(length);
        await using var context = await contexts.CreateDbContextAsync(cancel);
        foreach (var take in await context.Takes.Include(t => t.Tracks).Where(t => t.State == TakeState.Recording).ToListAsync(cancel))
        {
            take.State = TakeState.Interrupted;
            take.EndedBecause = "The server ended while it was being recorded.";
            take.Frames = length(take);
        }

        await context.SaveChangesAsync(cancel);
    }
}

using Kinetra.Data.Rows;
using Microsoft.EntityFrameworkCore;

namespace Kinetra.Data;

/// <summary>What is known of the stored sound files.</summary>
public sealed class SoundStore(IDbContextFactory<KinetraContext> contexts)
{
    /// <summary>The sound of that address, or null.</summary>
    public async Task<SoundRow?> FindAsync(string address, CancellationToken cancel)
    {
        await using var context = await contexts.CreateDbContextAsync(cancel);
        return await context.Sounds.AsNoTracking().SingleOrDefaultAsync(s => s.Address == address, cancel);
    }

    /// <summary>The sounds that no show plays and no step of any show speaks of.</summary>
    public async Task<IReadOnlyList<string>> UnreferencedAsync(CancellationToken cancel)
    {
        await using var context = await contexts.CreateDbContextAsync(cancel);
        return await context.Database.SqlQuery<string>(
            $"""
            select address as "Value" from sounds s
            where not exists (select from shows where strpos(rig::text, s.address) > 0)
              and not exists (select from commands where strpos(body::text, s.address) > 0 or strpos(inverse::text, s.address) > 0)
            """).ToListAsync(cancel);
    }

    /// <summary>Forgets a sound.</summary>
    public async Task RemoveAsync(string address, CancellationToken cancel)
    {
        await using var context = await contexts.CreateDbContextAsync(cancel);
        await context.Sounds.Where(s => s.Address == address).ExecuteDeleteAsync(cancel);
    }

    /// <summary>Stores it; the same sound stored twice is one.</summary>
    public async Task AddAsync(SoundRow sound, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(sound);
        await using var context = await contexts.CreateDbContextAsync(cancel);
        if (await context.Sounds.FindAsync([sound.Address], cancel) is null)
        {
            context.Add(sound);
            await context.SaveChangesAsync(cancel);
        }
    }
}

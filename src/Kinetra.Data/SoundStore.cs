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

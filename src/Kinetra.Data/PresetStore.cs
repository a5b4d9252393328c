using Kinetra.Data.Rows;
using Microsoft.EntityFrameworkCore;

namespace Kinetra.Data;

/// <summary>Chains that people have kept.</summary>
public sealed class PresetStore(IDbContextFactory<KinetraContext> contexts)
{
    /// <summary>All, by name.</summary>
    public async Task<IReadOnlyList<PresetRow>> AllAsync(CancellationToken cancel)
    {
        await using var context = await contexts.CreateDbContextAsync(cancel);
        return await context.Presets.AsNoTracking().OrderBy(p => p.Name).ThenBy(p => p.MadeAt).ToListAsync(cancel);
    }

    /// <summary>One, or null.</summary>
    public async Task<PresetRow?> FindAsync(Guid id, CancellationToken cancel)
    {
        await using var context = await contexts.CreateDbContextAsync(cancel);
        return await context.Presets.AsNoTracking().SingleOrDefaultAsync(p => p.Id == id, cancel);
    }

    /// <summary>Stores one that is new.</summary>
    public async Task AddAsync(PresetRow preset, CancellationToken cancel)
    {
        await using var context = await contexts.CreateDbContextAsync(cancel);
        context.Add(preset);
        await context.SaveChangesAsync(cancel);
    }

    /// <summary>Gives one another name and another description.</summary>
    /// <returns>False: it is gone.</returns>
    public async Task<bool> RenameAsync(Guid id, string name, string says, CancellationToken cancel)
    {
        await using var context = await contexts.CreateDbContextAsync(cancel);
        return await context.Presets.Where(p => p.Id == id).ExecuteUpdateAsync(set => set.SetProperty(p => p.Name, name).SetProperty(p => p.Says, says), cancel) == 1;
    }

    /// <summary>Forgets one.</summary>
    /// <returns>False: it was gone.</returns>
    public async Task<bool> RemoveAsync(Guid id, CancellationToken cancel)
    {
        await using var context = await contexts.CreateDbContextAsync(cancel);
        return await context.Presets.Where(p => p.Id == id).ExecuteDeleteAsync(cancel) == 1;
    }
}

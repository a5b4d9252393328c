using System.Text.Json;
using Kinetra.Core.Rigs;
using Kinetra.Data.Rows;
using Microsoft.EntityFrameworkCore;

namespace Kinetra.Data;

/// <summary>A show as it was stored.</summary>
/// <param name="Id">Its identity.</param>
/// <param name="Name">Its name.</param>
/// <param name="Revision">Counts the commands that made it.</param>
/// <param name="Rig">What it is.</param>
public sealed record StoredShow(Guid Id, string Name, long Revision, Rig Rig);

/// <summary>Shows and their logs.</summary>
public sealed class ShowStore(IDbContextFactory<KinetraContext> contexts, TimeProvider time)
{
    private const string LiveShow = "live-show";

    /// <summary>The show that is live; made from the given one where there is none yet.</summary>
    /// <exception cref="InvalidDataException">The stored rig cannot be read, or is not valid.</exception>
    public async Task<StoredShow> LoadLiveAsync(string seedName, Func<Rig> seed, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(seed);
        await using var context = await contexts.CreateDbContextAsync(cancel);
        var live = await context.Settings.FindAsync([LiveShow], cancel);
        if (live is not null && await context.Shows.FindAsync([Guid.Parse(live.Value)], cancel) is { } row)
        {
            return new StoredShow(row.Id, row.Name, row.Revision, Parse(row));
        }

        var now = time.GetUtcNow();
        row = new ShowRow { Id = Guid.CreateVersion7(), Name = seedName, Rig = Json(seed()), CreatedAt = now, UpdatedAt = now };
        context.Add(row);
        context.Add(new SettingRow { Key = LiveShow, Value = row.Id.ToString() });
        await context.SaveChangesAsync(cancel);
        return new StoredShow(row.Id, row.Name, row.Revision, Parse(row));
    }

    /// <summary>Stores a command and what it made of the show, both or neither. Once this returns, it is durable.</summary>
    /// <param name="show">The show before it.</param>
    /// <param name="command">The command.</param>
    /// <param name="result">What it made.</param>
    /// <param name="cancel">Gives up.</param>
    /// <returns>The show after it.</returns>
    /// <exception cref="DbUpdateConcurrencyException">Somebody else has stored a command on that revision.</exception>
    public async Task<StoredShow> AppendAsync(StoredShow show, RigCommand command, CommandResult.Applied result, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(show);
        ArgumentNullException.ThrowIfNull(result);
        await using var context = await contexts.CreateDbContextAsync(cancel);
        var now = time.GetUtcNow();
        var next = show with { Revision = show.Revision + 1, Rig = result.Rig };
        var rig = Json(next.Rig);
        await using var transaction = await context.Database.BeginTransactionAsync(cancel);
        var updated = await context.Shows
            .Where(s => s.Id == show.Id && s.Revision == show.Revision)
            .ExecuteUpdateAsync(s => s.SetProperty(r => r.Rig, rig).SetProperty(r => r.Revision, next.Revision).SetProperty(r => r.UpdatedAt, now), cancel);
        if (updated != 1)
        {
            throw new DbUpdateConcurrencyException($"Show {show.Id} is no longer at revision {show.Revision}.");
        }

        context.Add(new CommandRow
        {
            ShowId = show.Id,
            Revision = next.Revision,
            Body = JsonSerializer.Serialize(command, RigJson.Options),
            Inverse = JsonSerializer.Serialize(result.Inverse, RigJson.Options),
            Sentence = result.Sentence,
            At = now,
        });
        await context.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        return next;
    }

    /// <summary>The newest commands of a show, newest first.</summary>
    public async Task<IReadOnlyList<CommandRow>> HistoryAsync(Guid show, int count, CancellationToken cancel)
    {
        await using var context = await contexts.CreateDbContextAsync(cancel);
        return await context.Commands.AsNoTracking().Where(c => c.ShowId == show)
            .OrderByDescending(c => c.Revision).Take(count).ToListAsync(cancel);
    }

    private static string Json(Rig rig) => JsonSerializer.Serialize(rig, RigJson.Options);

    private static Rig Parse(ShowRow row)
    {
        try
        {
            var rig = JsonSerializer.Deserialize<Rig>(row.Rig, RigJson.Options)!;
            var problems = RigRules.Check(rig);
            return problems.IsEmpty ? rig : throw new InvalidDataException($"The stored show “{row.Name}” is not valid. {string.Join(" ", problems)}");
        }
        catch (JsonException e)
        {
            throw new InvalidDataException($"The stored show “{row.Name}” cannot be read: {e.Message}", e);
        }
    }
}

using System.Collections.Concurrent;
using Kinetra.Core.Editing;
using Kinetra.Core.Rigs;
using Kinetra.Data.Rows;
using Microsoft.EntityFrameworkCore;

namespace Kinetra.Data;

/// <summary>A show as it was stored.</summary>
/// <param name="Id">Its identity.</param>
/// <param name="Name">Its name.</param>
/// <param name="Revision">Counts the steps that made it.</param>
/// <param name="Rig">What it is.</param>
public sealed record StoredShow(Guid Id, string Name, long Revision, Rig Rig);

/// <summary>What a list of shows says of one.</summary>
/// <param name="Id">Its identity.</param>
/// <param name="Name">Its name.</param>
/// <param name="UpdatedAt">When it last changed.</param>
/// <param name="DeletedAt">When it was put away, or null.</param>
/// <param name="Sources">How many sources it has.</param>
/// <param name="Mixes">How many mixes it has.</param>
/// <param name="Damaged">Why it cannot be opened; null: it can.</param>
public sealed record ShowSummary(Guid Id, string Name, DateTimeOffset UpdatedAt, DateTimeOffset? DeletedAt, int Sources, int Mixes, string? Damaged);

/// <summary>Shows and their logs.</summary>
public sealed class ShowStore(IDbContextFactory<KinetraContext> contexts, TimeProvider time)
{
    private const string LiveShow = "live-show";
    private const string Seeded = "seeded";
    private const string Identity = "identity";
    private const int SettingVersion = 1;

    // Which shows cannot be read, and why: found when they are read, not each time they are listed.
    private readonly ConcurrentDictionary<Guid, string> _damaged = new();

    /// <summary>Whether it has begun with its first shows already.</summary>
    public async Task<bool> IsSeededAsync(CancellationToken cancel)
    {
        await using var context = await contexts.CreateDbContextAsync(cancel);
        return await context.Settings.FindAsync([Seeded], cancel) is not null;
    }

    /// <summary>Makes the given shows, the first of them live, where this was never done.</summary>
    public async Task SeedAsync(Func<IReadOnlyList<(string Name, Rig Rig)>> shows, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(shows);
        if (await IsSeededAsync(cancel))
        {
            return;
        }

        await using var context = await contexts.CreateDbContextAsync(cancel);

        var names = await context.Shows.Select(s => s.Name).ToListAsync(cancel);
        var isLive = await context.Settings.FindAsync([LiveShow], cancel) is not null;
        foreach (var (name, rig) in shows().Where(s => !names.Contains(s.Name)))
        {
            var row = Row(name, rig);
            context.Add(row);
            if (!isLive)
            {
                context.Add(new SettingRow { Key = LiveShow, Value = row.Id.ToString(), Version = SettingVersion });
                isLive = true;
            }
        }

        context.Add(new SettingRow { Key = Seeded, Value = "yes", Version = SettingVersion });
        await context.SaveChangesAsync(cancel);
    }

    /// <summary>By what this database is told from others; given to it when it is asked for first.</summary>
    public async Task<Guid> IdentityAsync(CancellationToken cancel)
    {
        await using var context = await contexts.CreateDbContextAsync(cancel);
        var row = await context.Settings.FindAsync([Identity], cancel);
        if (Guid.TryParse(row?.Value, out var known))
        {
            return known;
        }

        var id = Guid.CreateVersion7();
        if (row is null)
        {
            context.Add(new SettingRow { Key = Identity, Value = id.ToString(), Version = SettingVersion });
        }
        else
        {
            row.Value = id.ToString();
        }

        await context.SaveChangesAsync(cancel);
        return id;
    }

    /// <summary>
    /// The show that is live. Where it is damaged, or no show is live, that is the one that changed last of those that can be opened, and
    /// where there is none, the one that is given.
    /// </summary>
    /// <exception cref="InvalidDataException">There is none, and nothing is given.</exception>
    public async Task<StoredShow> LoadLiveAsync(CancellationToken cancel, Func<(string Name, Rig Rig)>? otherwise = null)
    {
        await using var context = await contexts.CreateDbContextAsync(cancel);
        var live = await context.Settings.FindAsync([LiveShow], cancel);
        if (Guid.TryParse(live?.Value, out var id) && await context.Shows.AsNoTracking().SingleOrDefaultAsync(s => s.Id == id, cancel) is { } row && TryRead(row) is { } show)
        {
            return show;
        }

        foreach (var other in await context.Shows.AsNoTracking().Where(s => s.DeletedAt == null).OrderByDescending(s => s.UpdatedAt).ToListAsync(cancel))
        {
            if (TryRead(other) is { } readable)
            {
                await MakeLiveAsync(readable.Id, cancel);
                return readable;
            }
        }

        if (otherwise is null)
        {
            throw new InvalidDataException("No stored show can be opened.");
        }

        var (name, rig) = otherwise();
        var added = await AddAsync(name, rig, cancel);
        await MakeLiveAsync(added.Id, cancel);
        return added;
    }

    /// <summary>Looks at every show, so that the list says which are damaged.</summary>
    /// <returns>Those that are, by name, with the reason.</returns>
    public async Task<IReadOnlyList<string>> InspectAsync(CancellationToken cancel)
    {
        await using var context = await contexts.CreateDbContextAsync(cancel);
        await foreach (var row in context.Shows.AsNoTracking().AsAsyncEnumerable().WithCancellation(cancel))
        {
            TryRead(row);
        }

        return [.. _damaged.Values];
    }

    /// <summary>A show that was not put away, or null.</summary>
    /// <exception cref="InvalidDataException">The stored rig cannot be read, or is not valid.</exception>
    public async Task<StoredShow?> FindAsync(Guid id, CancellationToken cancel)
    {
        await using var context = await contexts.CreateDbContextAsync(cancel);
        return await context.Shows.AsNoTracking().SingleOrDefaultAsync(s => s.Id == id && s.DeletedAt == null, cancel) is { } row ? Stored(row) : null;
    }

    /// <summary>All shows, those that were put away too, by name; of damaged ones, what can be said.</summary>
    public async Task<IReadOnlyList<ShowSummary>> AllAsync(CancellationToken cancel)
    {
        await using var context = await contexts.CreateDbContextAsync(cancel);
        var rows = await context.Database.SqlQuery<Listed>(
            $"""
            select id, name, updated_at, deleted_at,
              case when jsonb_typeof(rig -> 'sources') = 'array' then jsonb_array_length(rig -> 'sources') else 0 end as sources,
              case when jsonb_typeof(rig -> 'mixes') = 'array' then jsonb_array_length(rig -> 'mixes') else 0 end as mixes
            from shows order by name
            """).ToListAsync(cancel);
        return [.. rows.Select(r => new ShowSummary(r.Id, r.Name, r.UpdatedAt, r.DeletedAt, r.Sources, r.Mixes, _damaged.GetValueOrDefault(r.Id)))];
    }

    /// <summary>Stores a new show.</summary>
    public async Task<StoredShow> AddAsync(string name, Rig rig, CancellationToken cancel)
    {
        await using var context = await contexts.CreateDbContextAsync(cancel);
        var row = Row(name, rig);
        context.Add(row);
        await context.SaveChangesAsync(cancel);
        return Stored(row);
    }

    /// <summary>From now on this show is the live one.</summary>
    public async Task MakeLiveAsync(Guid show, CancellationToken cancel)
    {
        await using var context = await contexts.CreateDbContextAsync(cancel);
        await context.Database.ExecuteSqlAsync(
            $"insert into settings (key, value, version) values ({LiveShow}, {show.ToString()}, {SettingVersion}) on conflict (key) do update set value = excluded.value, version = excluded.version", cancel);
    }

    /// <summary>Gives a show another name. False: there is no such show.</summary>
    public Task<bool> RenameAsync(Guid show, string name, CancellationToken cancel) => ChangeAsync(
        context => context.Shows.Where(s => s.Id == show && s.DeletedAt == null).ExecuteUpdateAsync(s => s.SetProperty(r => r.Name, name), cancel), cancel);

    /// <summary>Puts a show away, or brings it back. False: there is none to.</summary>
    public Task<bool> PutAwayAsync(Guid show, bool away, CancellationToken cancel)
    {
        DateTimeOffset? at = away ? time.GetUtcNow() : null;
        return ChangeAsync(
            context => context.Shows.Where(s => s.Id == show && s.DeletedAt == null == away).ExecuteUpdateAsync(s => s.SetProperty(r => r.DeletedAt, at), cancel),
            cancel);
    }

    /// <summary>Stores a step and what it made of the show, both or neither. Once this returns, it is durable.</summary>
    /// <param name="before">The show before it.</param>
    /// <param name="step">The step.</param>
    /// <param name="after">The rig after it.</param>
    /// <param name="cancel">Gives up; whether it was stored is then not known.</param>
    /// <returns>The show after it.</returns>
    /// <exception cref="DbUpdateConcurrencyException">Somebody else has stored a step on that revision.</exception>
    public async Task<StoredShow> AppendAsync(StoredShow before, Step step, Rig after, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(before);
        ArgumentNullException.ThrowIfNull(step);
        await using var context = await contexts.CreateDbContextAsync(cancel);
        var rig = StoredJson.Write(after);
        await using var transaction = await context.Database.BeginTransactionAsync(cancel);
        var updated = await context.Shows
            .Where(s => s.Id == before.Id && s.Revision == before.Revision)
            .ExecuteUpdateAsync(s => s.SetProperty(r => r.Rig, rig).SetProperty(r => r.RigVersion, StoredJson.Version).SetProperty(r => r.Revision, step.Revision).SetProperty(r => r.UpdatedAt, step.At), cancel);
        if (updated != 1)
        {
            throw new DbUpdateConcurrencyException($"Show {before.Id} is no longer at revision {before.Revision}.");
        }

        context.Add(new CommandRow
        {
            ShowId = before.Id,
            Revision = step.Revision,
            Body = StoredJson.Write(step.Body),
            Inverse = StoredJson.Write(step.Inverse),
            Version = StoredJson.Version,
            Sentence = step.Sentence,
            Kind = step.Kind,
            Of = step.Of,
            Window = step.By.Window,
            WindowName = step.By.Name,
            At = step.At,
        });
        await context.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        return before with { Revision = step.Revision, Rig = after };
    }

    /// <summary>The newest steps of a show; where one is damaged, those after it: nothing can be taken back across it.</summary>
    public async Task<History> HistoryAsync(Guid show, CancellationToken cancel)
    {
        await using var context = await contexts.CreateDbContextAsync(cancel);
        var rows = await context.Commands.AsNoTracking().Where(c => c.ShowId == show)
            .OrderByDescending(c => c.Revision).Take(History.MaxNewest).ToListAsync(cancel);
        return History.Of(rows.Select(TryRead).TakeWhile(s => s is not null).Reverse().Select(s => s!));
    }

    /// <summary>Asks for a sign of life.</summary>
    public async Task PingAsync(CancellationToken cancel)
    {
        await using var context = await contexts.CreateDbContextAsync(cancel);
        await context.Database.ExecuteSqlAsync($"select 1", cancel);
    }

    private async Task<bool> ChangeAsync(Func<KinetraContext, Task<int>> change, CancellationToken cancel)
    {
        await using var context = await contexts.CreateDbContextAsync(cancel);
        return await change(context) > 0;
    }

    private ShowRow Row(string name, Rig rig)
    {
        var now = time.GetUtcNow();
        return new ShowRow { Id = Guid.CreateVersion7(), Name = name, Rig = StoredJson.Write(rig), RigVersion = StoredJson.Version, CreatedAt = now, UpdatedAt = now };
    }

    private StoredShow Stored(ShowRow row)
    {
        var what = $"The stored show “{row.Name}”";
        try
        {
            var rig = StoredJson.Read<Rig>(row.Rig, row.RigVersion, what);
            var problems = RigRules.Check(rig);
            if (!problems.IsEmpty)
            {
                throw new InvalidDataException($"{what} is not valid. {string.Join(" ", problems)}");
            }

            _damaged.TryRemove(row.Id, out _);
            return new(row.Id, row.Name, row.Revision, rig);
        }
        catch (InvalidDataException e)
        {
            _damaged[row.Id] = e.Message;
            throw;
        }
    }

    private StoredShow? TryRead(ShowRow row)
    {
        try
        {
            return Stored(row);
        }
        catch (InvalidDataException)
        {
            return null;
        }
    }

    private static Step? TryRead(CommandRow row)
    {
        try
        {
            var what = $"Step {row.Revision}";
            return row.Kind == KinetraContext.Unreadable
                ? null
                : new Step(
                    row.Revision, row.At, row.Kind, row.Of, new StepAuthor(row.Window, row.WindowName), row.Sentence,
                    StoredJson.Read<RigCommand>(row.Body, row.Version, what), StoredJson.Read<RigCommand>(row.Inverse, row.Version, what));
        }
        catch (InvalidDataException)
        {
            return null;
        }
    }

    private sealed record Listed(Guid Id, string Name, DateTimeOffset UpdatedAt, DateTimeOffset? DeletedAt, int Sources, int Mixes);
}

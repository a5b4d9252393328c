using System.Text.Json;
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
public sealed record ShowSummary(Guid Id, string Name, DateTimeOffset UpdatedAt, DateTimeOffset? DeletedAt, int Sources, int Mixes);

/// <summary>Shows and their logs.</summary>
public sealed class ShowStore(IDbContextFactory<KinetraContext> contexts, TimeProvider time)
{
    private const string LiveShow = "live-show";
    private const string Seeded = "seeded";

    /// <summary>Makes the given shows, the first of them live, where this was never done.</summary>
    public async Task SeedAsync(IReadOnlyList<(string Name, Rig Rig)> shows, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(shows);
        await using var context = await contexts.CreateDbContextAsync(cancel);
        if (await context.Settings.FindAsync([Seeded], cancel) is not null)
        {
            return;
        }

        var names = await context.Shows.Select(s => s.Name).ToListAsync(cancel);
        var isLive = await context.Settings.FindAsync([LiveShow], cancel) is not null;
        foreach (var (name, rig) in shows.Where(s => !names.Contains(s.Name)))
        {
            var row = Row(name, rig);
            context.Add(row);
            if (!isLive)
            {
                context.Add(new SettingRow { Key = LiveShow, Value = row.Id.ToString() });
                isLive = true;
            }
        }

        context.Add(new SettingRow { Key = Seeded, Value = "yes" });
        await context.SaveChangesAsync(cancel);
    }

    /// <summary>The show that is live.</summary>
    /// <exception cref="InvalidDataException">There is none, or the stored rig cannot be read, or is not valid.</exception>
    public async Task<StoredShow> LoadLiveAsync(CancellationToken cancel)
    {
        await using var context = await contexts.CreateDbContextAsync(cancel);
        var live = await context.Settings.FindAsync([LiveShow], cancel);
        return live is not null && await context.Shows.FindAsync([Guid.Parse(live.Value)], cancel) is { } row
            ? Stored(row)
            : throw new InvalidDataException("No stored show is the live one.");
    }

    /// <summary>A show that was not put away, or null.</summary>
    /// <exception cref="InvalidDataException">The stored rig cannot be read, or is not valid.</exception>
    public async Task<StoredShow?> FindAsync(Guid id, CancellationToken cancel)
    {
        await using var context = await contexts.CreateDbContextAsync(cancel);
        return await context.Shows.AsNoTracking().SingleOrDefaultAsync(s => s.Id == id && s.DeletedAt == null, cancel) is { } row ? Stored(row) : null;
    }

    /// <summary>All shows, those that were put away too, by name.</summary>
    public async Task<IReadOnlyList<ShowSummary>> AllAsync(CancellationToken cancel)
    {
        await using var context = await contexts.CreateDbContextAsync(cancel);
        var rows = await context.Shows.AsNoTracking().OrderBy(s => s.Name).ToListAsync(cancel);
        return [.. rows.Select(r => (Row: r, Rig: Parse(r))).Select(s => new ShowSummary(
            s.Row.Id, s.Row.Name, s.Row.UpdatedAt, s.Row.DeletedAt, s.Rig.Sources.Length, s.Rig.Mixes.Length))];
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
    public Task MakeLiveAsync(Guid show, CancellationToken cancel) => ChangeAsync(
        context => context.Settings.Where(s => s.Key == LiveShow).ExecuteUpdateAsync(s => s.SetProperty(r => r.Value, show.ToString()), cancel), cancel);

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
        var rig = Json(after);
        await using var transaction = await context.Database.BeginTransactionAsync(cancel);
        var updated = await context.Shows
            .Where(s => s.Id == before.Id && s.Revision == before.Revision)
            .ExecuteUpdateAsync(s => s.SetProperty(r => r.Rig, rig).SetProperty(r => r.Revision, step.Revision).SetProperty(r => r.UpdatedAt, step.At), cancel);
        if (updated != 1)
        {
            throw new DbUpdateConcurrencyException($"Show {before.Id} is no longer at revision {before.Revision}.");
        }

        context.Add(new CommandRow
        {
            ShowId = before.Id,
            Revision = step.Revision,
            Body = JsonSerializer.Serialize(step.Body, RigJson.Options),
            Inverse = JsonSerializer.Serialize(step.Inverse, RigJson.Options),
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

    /// <summary>The newest steps of a show.</summary>
    public async Task<History> HistoryAsync(Guid show, CancellationToken cancel)
    {
        await using var context = await contexts.CreateDbContextAsync(cancel);
        var rows = await context.Commands.AsNoTracking().Where(c => c.ShowId == show)
            .OrderByDescending(c => c.Revision).Take(History.MaxNewest).ToListAsync(cancel);
        return History.Of(rows.AsEnumerable().Reverse().Select(r => new Step(
            r.Revision, r.At, r.Kind, r.Of, new StepAuthor(r.Window, r.WindowName), r.Sentence, Command(r.Body), Command(r.Inverse))));
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
        return new ShowRow { Id = Guid.CreateVersion7(), Name = name, Rig = Json(rig), CreatedAt = now, UpdatedAt = now };
    }

    private static StoredShow Stored(ShowRow row) => new(row.Id, row.Name, row.Revision, Parse(row));

    private static string Json(Rig rig) => JsonSerializer.Serialize(rig, RigJson.Options);

    private static RigCommand Command(string json)
    {
        try
        {
            return JsonSerializer.Deserialize<RigCommand>(json, RigJson.Options)!;
        }
        catch (JsonException e)
        {
            throw new InvalidDataException($"A stored step of the show cannot be read: {e.Message}", e);
        }
    }

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

using Kinetra.Core.Editing;
using Kinetra.Core.Planning;
using Kinetra.Data;
using Kinetra.Server.Features.Sources;
using Kinetra.Server.Features.Takes;
using Kinetra.Server.Hosting;
using Kinetra.Server.Live;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Kinetra.Server.Features.Shows;

/// <summary>One show of the list.</summary>
/// <param name="Id">Its identity.</param>
/// <param name="Name">Its name.</param>
/// <param name="Live">True: it is the one that plays.</param>
/// <param name="UpdatedAt">When it last changed.</param>
/// <param name="DeletedAt">When it was put away, or null.</param>
/// <param name="Sources">How many sources it has.</param>
/// <param name="Mixes">How many mixes it has.</param>
public sealed record ShowListItem(Guid Id, string Name, bool Live, DateTimeOffset UpdatedAt, DateTimeOffset? DeletedAt, int Sources, int Mixes);

/// <summary>A new show.</summary>
/// <param name="Name">1–60 characters; left out: a free one.</param>
/// <param name="CopyOf">The show that it copies; null: it begins with the usual mixes and no source.</param>
public sealed record NewShowRequest(string? Name = null, Guid? CopyOf = null);

/// <summary>A show's new name.</summary>
/// <param name="Name">1–60 characters.</param>
public sealed record ShowName(string Name);

/// <summary>All shows: made, copied, opened, renamed, put away and brought back.</summary>
static class ShowListEndpoints
{
    private const string Known = "a show of /api/shows";

    public static void MapShowList(this IEndpointRouteBuilder routes)
    {
        routes.MapGet("/shows", ListAsync).WithName("getShows").WithSummary("All shows, by name; those that were put away too.");
        routes.MapPost("/shows", AddAsync).WithName("addShow").WithSummary("Makes a show, or copies one. It is not opened.");
        routes.MapPatch("/shows/{show:guid}", RenameAsync).WithName("renameShow").WithSummary("Gives a show another name.");
        routes.MapPost("/shows/{show:guid}/open", OpenAsync).WithName("openShow").WithSummary("Makes a show the live one, by a crossfade.");
        routes.MapDelete("/shows/{show:guid}", DeleteAsync).WithName("deleteShow").WithSummary("Puts a show away; it can be brought back.");
        routes.MapPost("/shows/{show:guid}/restore", RestoreAsync).WithName("restoreShow").WithSummary("Brings back a show that was put away.");
    }

    private static async Task<IEnumerable<ShowListItem>> ListAsync(ShowStore store, LiveShow live, CancellationToken cancel) =>
        (await store.AllAsync(cancel)).Select(s => new ShowListItem(
            s.Id, s.Name, s.Id == live.Show.Id, s.UpdatedAt, s.DeletedAt, s.Sources, s.Mixes));

    private static async Task<Results<Ok<ShowListItem>, ProblemHttpResult>> AddAsync(
        NewShowRequest wanted, ShowStore store, LiveShow live, IShowListAudience audience, CancellationToken cancel)
    {
        if (wanted.Name is not null && RigRules.CheckName("name", wanted.Name.Trim()) is { } problem)
        {
            return Problems.Invalid([problem]);
        }

        var copied = wanted.CopyOf switch
        {
            { } id when id == live.Show.Id => live.Show,
            { } id => await store.FindAsync(id, cancel),
            _ => null,
        };
        if (wanted.CopyOf is not null && copied is null)
        {
            return Unknown(wanted.CopyOf.Value);
        }

        var names = (await store.AllAsync(cancel)).Select(s => s.Name);
        var name = wanted.Name?.Trim() ?? FreeNames.For(names, copied?.Name ?? "", "New show");
        var added = await store.AddAsync(name, copied?.Rig ?? NewShow.Rig(), cancel);
        await audience.ShowsChangedAsync();
        return TypedResults.Ok(new ShowListItem(
            added.Id, added.Name, false, DateTimeOffset.UtcNow, null, added.Rig.Sources.Length, added.Rig.Mixes.Length));
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> RenameAsync(
        Guid show, ShowName name, ShowStore store, LiveShow live, IShowListAudience audience, CancellationToken cancel)
    {
        if (RigRules.CheckName("name", name.Name?.Trim()) is { } problem)
        {
            return Problems.Invalid([problem]);
        }

        if (!await store.RenameAsync(show, name.Name!.Trim(), cancel))
        {
            return Unknown(show);
        }

        if (live.Show.Id == show)
        {
            await live.RenamedAsync(name.Name.Trim());
        }

        await audience.ShowsChangedAsync();
        return TypedResults.NoContent();
    }

    private static async Task<Results<Ok<ShowDocument>, ProblemHttpResult>> OpenAsync(
        Guid show, LiveShow live, TakeRecorder recorder, ShowLedger ledger, IShowListAudience audience, CancellationToken cancel)
    {
        if (recorder.Current is not null && show != live.Show.Id)
        {
            return Problems.Conflict("take", "A take is being recorded.", "opening another show once the take has ended");
        }

        if (ledger.IsAway)
        {
            return Problems.Unavailable("The database is away, and the other show is in it.");
        }

        if (!await live.SwitchAsync(show, cancel))
        {
            return Unknown(show);
        }

        await audience.ShowsChangedAsync();
        return TypedResults.Ok(ShowDocument.Of(live.State));
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> DeleteAsync(
        Guid show, ShowStore store, LiveShow live, IShowListAudience audience, CancellationToken cancel)
    {
        if (live.Show.Id == show)
        {
            return Problems.Conflict("show", "This show is live.", "a show that is not live: open another one first");
        }

        return await PutAwayAsync(show, true, store, audience, cancel);
    }

    private static Task<Results<NoContent, ProblemHttpResult>> RestoreAsync(
        Guid show, ShowStore store, IShowListAudience audience, CancellationToken cancel) => PutAwayAsync(show, false, store, audience, cancel);

    private static async Task<Results<NoContent, ProblemHttpResult>> PutAwayAsync(
        Guid show, bool away, ShowStore store, IShowListAudience audience, CancellationToken cancel)
    {
        if (!await store.PutAwayAsync(show, away, cancel))
        {
            return Unknown(show);
        }

        await audience.ShowsChangedAsync();
        return TypedResults.NoContent();
    }

    private static ProblemHttpResult Unknown(Guid show) => Problems.NotFound("show", $"There is no show {show} to do that with.", Known);
}

/// <summary>Hears of changes in the list of shows.</summary>
public interface IShowListAudience
{
    /// <summary>The list has changed.</summary>
    Task ShowsChangedAsync();
}

using Kinetra.Core.Editing;
using Kinetra.Core.Planning;
using Kinetra.Core.Rigs;
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
/// <param name="Damaged">Why it cannot be opened, for a person; null: it can.</param>
public sealed record ShowListItem(
    Guid Id, string Name, bool Live, DateTimeOffset UpdatedAt, DateTimeOffset? DeletedAt, int Sources, int Mixes, string? Damaged = null);

/// <summary>A new show.</summary>
/// <param name="Name">1–60 characters; left out: a free one.</param>
/// <param name="CopyOf">The show that it copies; null: it begins with the usual mixes and no source.</param>
public sealed record NewShowRequest([property: Like(typeof(Source), "name")] string? Name = null, Guid? CopyOf = null);

/// <summary>A show's new name.</summary>
/// <param name="Name">1–60 characters.</param>
public sealed record ShowName([property: Like(typeof(Source), "name")] string Name);

/// <summary>All shows: made, copied, opened, renamed, put away and brought back.</summary>
sealed class ShowListEndpoints : IFeature
{
    private const string Known = "a show of /api/shows";

    public void MapTo(IEndpointRouteBuilder routes)
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
            s.Id, s.Name, s.Id == live.Show.Id, s.UpdatedAt, s.DeletedAt, s.Sources, s.Mixes, s.Damaged));

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
        audience.ShowsChanged();
        return TypedResults.Ok(new ShowListItem(
            added.Id, added.Name, false, DateTimeOffset.UtcNow, null, added.Rig.Sources.Length, added.Rig.Mixes.Length));
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> RenameAsync(
        Guid show, ShowName name, Openings openings, IShowListAudience audience, CancellationToken cancel)
    {
        if (RigRules.CheckName("name", name.Name?.Trim()) is { } problem)
        {
            return Problems.Invalid([problem]);
        }

        return After(await openings.RenameAsync(show, name.Name!.Trim(), cancel), show, audience);
    }

    private static async Task<Results<Ok<ShowDocument>, ProblemHttpResult>> OpenAsync(
        Guid show, Openings openings, LiveShow live, TakeRecorder recorder, IShowListAudience audience, CancellationToken cancel)
    {
        if (Refusal(await openings.SwitchAsync(show, () => recorder.Current is not null, cancel), show) is { } refusal)
        {
            return refusal;
        }

        audience.ShowsChanged();
        return TypedResults.Ok(live.State.Document);
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> DeleteAsync(
        Guid show, Openings openings, IShowListAudience audience, CancellationToken cancel) =>
        After(await openings.PutAwayAsync(show, cancel), show, audience);

    private static async Task<Results<NoContent, ProblemHttpResult>> RestoreAsync(
        Guid show, ShowStore store, IShowListAudience audience, CancellationToken cancel) =>
        After(await store.PutAwayAsync(show, false, cancel) ? Opening.Done : Opening.Unknown, show, audience);

    private static Results<NoContent, ProblemHttpResult> After(Opening became, Guid show, IShowListAudience audience)
    {
        if (Refusal(became, show) is { } refusal)
        {
            return refusal;
        }

        audience.ShowsChanged();
        return TypedResults.NoContent();
    }

    private static ProblemHttpResult? Refusal(Opening became, Guid show) => became switch
    {
        Opening.Unknown => Unknown(show),
        Opening.Held => Problems.Conflict("take", "A take is being recorded.", "opening another show once the take has ended"),
        Opening.IsLive => Problems.Conflict("show", "This show is live.", "a show that is not live: open another one first"),
        Opening.Away => Problems.Unavailable("The database is away, and the other show is in it."),
        _ => null,
    };

    private static ProblemHttpResult Unknown(Guid show) => Problems.NotFound("show", $"There is no show {show} to do that with.", Known);
}

/// <summary>Hears of changes in the list of shows.</summary>
public interface IShowListAudience
{
    /// <summary>The list has changed.</summary>
    void ShowsChanged();
}

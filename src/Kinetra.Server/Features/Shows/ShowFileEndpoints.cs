using System.Text;
using Kinetra.Core.Editing;
using Kinetra.Data;
using Kinetra.Server.Features.Sources;
using Kinetra.Server.Hosting;
using Kinetra.Server.Live;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Kinetra.Server.Features.Shows;

/// <summary>Shows as files that anyone can read: taken out, and brought in as new shows.</summary>
sealed class ShowFileEndpoints : IFeature
{
    public void MapTo(IEndpointRouteBuilder routes)
    {
        routes.MapGet("/shows/{show:guid}/file", ExportAsync).WithName("exportShow").WithSummary("A show as a file (docs/show-format.md).").Produces<string>(200, "application/json");
        routes.MapPost("/shows/file", ImportAsync).WithName("importShow").WithSummary("Makes a show of a show file. It is not opened.").Accepts<ShowFileBody>("application/json");
    }

    private static async Task<Results<FileContentHttpResult, ProblemHttpResult>> ExportAsync(Guid show, ShowStore store, LiveShow live, CancellationToken cancel)
    {
        var stored = show == live.Show.Id ? live.Show : await store.FindAsync(show, cancel);
        return stored is null
            ? Problems.NotFound("show", $"There is no show {show}.", "a show of /api/shows")
            : TypedResults.File(Encoding.UTF8.GetBytes(new ShowFile(stored.Name, stored.Rig).Write()), "application/json", FileNames.Of(stored.Name, ".show.json"));
    }

    private static async Task<Results<Ok<ShowListItem>, ProblemHttpResult>> ImportAsync(
        HttpRequest request, ShowStore store, IShowListAudience audience, CancellationToken cancel)
    {
        using var body = new MemoryStream();
        var buffer = new byte[64 * 1024];
        int count;
        while (body.Length <= ShowFile.MaxBytes && (count = await request.Body.ReadAsync(buffer, cancel)) > 0)
        {
            body.Write(buffer, 0, count);
        }

        if (ShowFile.Read(body.GetBuffer().AsSpan(0, (int)body.Length), out var problems) is not { } file)
        {
            return Problems.Invalid(problems);
        }

        var names = (await store.AllAsync(cancel)).Select(s => s.Name);
        var added = await store.AddAsync(FreeNames.For(names, file.Name, "New show"), file.Rig, cancel);
        audience.ShowsChanged();
        return TypedResults.Ok(new ShowListItem(
            added.Id, added.Name, false, DateTimeOffset.UtcNow, null, added.Rig.Sources.Length, added.Rig.Mixes.Length));
    }

    /// <summary>A show file; see docs/show.schema.json.</summary>
    private sealed record ShowFileBody;
}

using Kinetra.Core.Editing;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Media;
using Kinetra.Server.Features.Shows;
using Kinetra.Server.Features.Sounds;
using Kinetra.Server.Hosting;
using Kinetra.Server.Live;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;

namespace Kinetra.Server.Features.Sources;

/// <summary>A change of one source. What is left out stays as it is.</summary>
/// <param name="Name">1–60 characters.</param>
/// <param name="Trim">dB, −120 … 12, or "off".</param>
/// <param name="Look">Colour and shape.</param>
/// <param name="BaseRevision">The revision it was made on.</param>
public sealed record SourceChange(string? Name = null, Gain? Trim = null, SourceLook? Look = null, long? BaseRevision = null);

/// <summary>Sources: changed, added from a sound file, played again, removed.</summary>
static class SourceEndpoints
{
    public static void MapSources(this IEndpointRouteBuilder routes)
    {
        routes.MapPatch("/show/sources/{source}", ChangeAsync).WithName("changeSource").WithSummary("Changes a source.");
        routes.MapPost("/show/sources", AddAsync).WithName("addSource").DisableAntiforgery()
            .WithSummary("Adds a sound file as a source (multipart: file, name, loop).");
        routes.MapDelete("/show/sources/{source}", RemoveAsync).WithName("removeSource").WithSummary("Removes a source.");
        routes.MapPut("/show/sources/{source}/place", MoveAsync).WithName("moveSource").WithSummary("Puts a source in another place among the sources.");
        routes.MapPost("/show/sources/{source}/play", Play).WithName("playSource").WithSummary("Plays a sound file from its beginning.");
    }

    private static Task<Results<Ok<ShowDocument>, ProblemHttpResult>> ChangeAsync(
        string source, SourceChange change, LiveShow live, HttpRequest request) =>
        live.DoAsync(new SetSource(new(source), change.Name, change.Trim, change.Look), change.BaseRevision, request);

    private static Task<Results<Ok<ShowDocument>, ProblemHttpResult>> RemoveAsync(
        string source, LiveShow live, HttpRequest request) =>
        live.DoAsync(new RemoveSource(new(source)), null, request);

    private static Task<Results<Ok<ShowDocument>, ProblemHttpResult>> MoveAsync(
        string source, Mixes.Place place, LiveShow live, HttpRequest request) =>
        live.DoAsync(new MoveSource(new(source), place.Index), place.BaseRevision, request);

    private static async Task<Results<Ok<ShowDocument>, ProblemHttpResult>> AddAsync(
        IFormFile file, [FromForm] string? name, [FromForm] bool? loop, LiveShow live, SoundLibrary sounds, HttpRequest request, CancellationToken cancel)
    {
        var rig = live.Show.Rig;
        var chosen = string.IsNullOrWhiteSpace(name) ? FreeNames.For(rig, Path.GetFileNameWithoutExtension(file.FileName)) : name;

        // Told before a long file is decoded for nothing.
        if (RigRules.CheckName("name", chosen.Trim()) is { } problem)
        {
            return Problems.Invalid([problem]);
        }

        try
        {
            await using var content = file.OpenReadStream();
            var sound = await sounds.TakeInAsync(content, file.FileName, cancel);
            var source = new Source
            {
                Id = SourceId.New(),
                Name = chosen,
                Kind = SourceKind.File,
                Input = new SoundFileInput(sound.Address, loop ?? true),
                Look = FreeNames.Look(live.Show.Rig),
            };
            return await live.DoAsync(new AddSource(source), null, request);
        }
        catch (SoundFileException refusal)
        {
            return Problems.Invalid("file", refusal.What, refusal.Allowed);
        }
    }

    private static Results<NoContent, ProblemHttpResult> Play(string source, LiveShow live)
    {
        switch (live.Show.Rig.Find(new SourceId(source)))
        {
            case null:
                return Problems.NotFound("source", $"There is no source “{source}”.", "an id that the show has now");
            case { Input: not SoundFileInput }:
                return Problems.Invalid("source", "This source has no beginning to play from.", "a source that is a sound file");
            default:
                live.Restart(new SourceId(source));
                return TypedResults.NoContent();
        }
    }
}

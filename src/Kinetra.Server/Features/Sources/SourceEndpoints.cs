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
public sealed record SourceChange([property: Like(typeof(Source), "name")] string? Name = null, Gain? Trim = null, SourceLook? Look = null);

/// <summary>Sources: changed, added from a sound file, played again, removed.</summary>
sealed class SourceEndpoints : IFeature
{
    public void MapTo(IEndpointRouteBuilder routes)
    {
        var show = routes.MapGroup(ShowEndpoints.Path);
        show.MapPatch("/sources/{source}", ChangeAsync).WithName("changeSource").WithSummary("Changes a source.");
        show.MapPost("/sources", AddAsync).WithName("addSource").DisableAntiforgery()
            .WithSummary("Adds a sound file as a source (multipart: file, name, loop).");
        show.MapDelete("/sources/{source}", RemoveAsync).WithName("removeSource").WithSummary("Removes a source.");
        show.MapPut("/sources/{source}/place", MoveAsync).WithName("moveSource").WithSummary("Puts a source in another place among the sources.");
        show.MapPost("/sources/{source}/play", Play).WithName("playSource").WithSummary("Plays a sound file from its beginning.");
    }

    private static Task<Results<Ok<ShowDocument>, ProblemHttpResult>> ChangeAsync(
        string source, SourceChange change, ShowCommands commands, [AsParameters] CommandCall call) =>
        commands.DoAsync(call, new SetSource(new(source), change.Name, change.Trim, change.Look));

    private static Task<Results<Ok<ShowDocument>, ProblemHttpResult>> RemoveAsync(
        string source, ShowCommands commands, [AsParameters] CommandCall call) =>
        commands.DoAsync(call, new RemoveSource(new(source)));

    private static Task<Results<Ok<ShowDocument>, ProblemHttpResult>> MoveAsync(
        string source, Place place, ShowCommands commands, [AsParameters] CommandCall call) =>
        place.DoAsync(index => commands.DoAsync(call, new MoveSource(new(source), index)));

    private static async Task<Results<Ok<ShowDocument>, ProblemHttpResult>> AddAsync(
        IFormFile file, [FromForm, Like(typeof(Source), "name")] string? name, [FromForm] bool? loop, LiveShow live, SoundLibrary sounds, ShowCommands commands,
        [AsParameters] CommandCall call, CancellationToken cancel)
    {
        // Told before a long file is decoded for nothing.
        var chosen = string.IsNullOrWhiteSpace(name) ? null : name;
        if (chosen is not null && RigRules.CheckName("name", chosen.Trim()) is { } problem)
        {
            return Problems.Invalid([problem]);
        }

        if (live.State is var state && state.Show.Id != call.Show)
        {
            return CommandAnswers.NotLive(state);
        }

        try
        {
            await using var content = file.OpenReadStream();
            var sound = await sounds.TakeInAsync(content, file.FileName, cancel);

            // Read before it is this command's turn; whoever waits for theirs does not wait for a disk.
            var ready = await sounds.OpenAsync(sound.Address, cancel);
            var answer = await commands.DoAsync(call, rig => new AddSource(new Source
            {
                Id = SourceId.New(),
                Name = chosen ?? FreeNames.For(rig, Path.GetFileNameWithoutExtension(file.FileName)),
                Kind = SourceKind.File,
                Input = new SoundFileInput(sound.Address, loop ?? true),
                Look = FreeNames.Look(rig),
            }));
            GC.KeepAlive(ready);
            return answer;
        }
        catch (SoundFileException refusal)
        {
            return Problems.Invalid("file", refusal.What, refusal.Allowed);
        }
    }

    private static Results<NoContent, ProblemHttpResult> Play(Guid show, string source, LiveShow live, EngineHost host)
    {
        var state = live.State;
        if (state.Show.Id != show)
        {
            return CommandAnswers.NotLive(state);
        }

        switch (state.Show.Rig.Find(new SourceId(source)))
        {
            case null:
                return Problems.NotFound("source", $"There is no source “{source}”.", "an id that the show has now");
            case { Input: not SoundFileInput }:
                return Problems.Invalid("source", "This source has no beginning to play from.", "a source that is a sound file");
            default:
                host.Engine.PostRestart(new SourceId(source));
                return TypedResults.NoContent();
        }
    }
}

using System.Collections.Immutable;
using System.ComponentModel.DataAnnotations;
using Kinetra.Core.Editing;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Server.Features.Shows;
using Kinetra.Server.Hosting;
using Kinetra.Server.Live;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Kinetra.Server.Features.Pads;

/// <summary>A new cue.</summary>
/// <param name="Name">1–60 characters.</param>
/// <param name="Acts">What it does; left out: nothing yet.</param>
/// <param name="Index">Where in the list; left out: last.</param>
public sealed record NewCue(
    [property: Like(typeof(Cue), "name")] string Name, [property: MaxLength(RigLimits.CueActs)] ImmutableArray<CueAct>? Acts = null, [property: Range(0, RigLimits.Cues)] int? Index = null);

/// <summary>A change of a cue. What is left out stays as it is.</summary>
public sealed record CueChange(
    [property: Like(typeof(Cue), "name")] string? Name = null,
    [property: Like(typeof(Cue), "notes")] string? Notes = null,
    CueBegin? Begin = null,
    [property: Like(typeof(Cue), "wait")] double? Wait = null,
    [property: MaxLength(RigLimits.CueActs)] ImmutableArray<CueAct>? Acts = null,
    [property: Range(0, RigLimits.Cues)] int? Index = null);

/// <summary>Which cue is to be next.</summary>
/// <param name="Cue">Its id; left out: the one before the one that is next now.</param>
public sealed record NextCue([property: RegularExpression(ShowFileSchema.IdPattern)] string? Cue = null);

/// <summary>Whether cues follow by themselves.</summary>
/// <param name="On">True: none does.</param>
public sealed record CueHold(bool On);

/// <summary>How one stands in the list of cues of the live show.</summary>
/// <param name="Next">The cue that comes next; null: the list is over, or empty.</param>
/// <param name="Last">The one that began last; null: none has.</param>
/// <param name="Held">True: none follows by itself.</param>
/// <param name="Due">In how many seconds the next one begins by itself; null: it waits for a hand.</param>
/// <param name="Hands">When hands went on since the list was begun, seconds from the first one: what a render takes as <c>--cues</c>.</param>
public sealed record CuesDocument(CueId? Next, CueId? Last, bool Held, double? Due, ImmutableArray<double> Hands);

/// <summary>The list of cues: what is in it, as steps of the show, and going through it.</summary>
sealed class CueEndpoints : IFeature
{
    public void AddTo(IServiceCollection services, ServerOptions options)
    {
        // What follows the engine cannot need what needs the engine, but later.
        services.AddSingleton(s => new Lazy<Playing>(s.GetRequiredService<Playing>)).AddSingleton(s => new Lazy<ShowCommands>(s.GetRequiredService<ShowCommands>));
        services.AddSingleton<CueSteps>().AddSingleton<Cues>().AddSingleton<IFollower>(s => s.GetRequiredService<Cues>());
    }

    public void MapTo(IEndpointRouteBuilder routes)
    {
        var show = routes.MapGroup(ShowEndpoints.Path);
        show.MapPost("/cues", (NewCue wanted, ShowCommands commands, [AsParameters] CommandCall call) =>
            commands.DoAsync(call, new AddCue(new Cue { Id = CueId.New(), Name = wanted.Name, Acts = wanted.Acts ?? [] }, wanted.Index))).WithName("addCue").WithSummary("Adds a cue.");
        show.MapPatch("/cues/{cue}", (string cue, CueChange change, ShowCommands commands, [AsParameters] CommandCall call) =>
            commands.DoAsync(call, new SetCue(new(cue), change.Name, change.Notes, change.Begin, change.Wait, change.Acts, change.Index))).WithName("changeCue").WithSummary("Changes or moves a cue.");
        show.MapDelete("/cues/{cue}", (string cue, ShowCommands commands, [AsParameters] CommandCall call) => commands.DoAsync(call, new RemoveCue(new(cue))))
            .WithName("removeCue").WithSummary("Removes a cue.");
        show.MapGet("/cue-run", (Guid show, LiveShow live, Cues cues) => On(show, live, cues, _ => null)).WithName("getCueRun").WithSummary("Which cue is next, and when it follows by itself.");
        show.MapPost("/cue-run/go", (Guid show, LiveShow live, Cues cues) => On(show, live, cues, c => c.Go())).WithName("goCue").WithSummary("The next cue begins.");
        show.MapPut("/cue-run/next", (Guid show, NextCue next, LiveShow live, Cues cues) => On(show, live, cues, c => c.Jump(next.Cue is { } id ? new CueId(id) : null))).WithName("setNextCue").WithSummary("Another cue is next. Nothing begins.");
        show.MapPut("/cue-run/hold", (Guid show, CueHold hold, LiveShow live, Cues cues) => On(show, live, cues, c => c.Hold(hold.On))).WithName("holdCues").WithSummary("No cue follows by itself, or they do again.");
        show.MapPost("/cue-run/begin", (Guid show, LiveShow live, Cues cues) => On(show, live, cues, c => c.Begin())).WithName("beginCues").WithSummary("Back to the first cue; what was done is forgotten. What sounds plays on.");
    }

    private static Results<Ok<CuesDocument>, ProblemHttpResult> On(Guid show, LiveShow live, Cues cues, Func<Cues, RigProblem?> act)
    {
        var state = live.State;
        if (state.Show.Id != show)
        {
            return CommandAnswers.NotLive(state);
        }

        return act(cues) is { } problem ? Problems.Invalid([problem]) : TypedResults.Ok(cues.Now);
    }
}

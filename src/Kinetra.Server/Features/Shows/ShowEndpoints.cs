using System.ComponentModel.DataAnnotations;
using Kinetra.Core.Rigs;
using Kinetra.Server.Hosting;
using Kinetra.Server.Live;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Kinetra.Server.Features.Shows;

/// <summary>Which step is meant.</summary>
/// <param name="Step">Its revision, as the show's toUndo or toRedo states it.</param>
public sealed record WhichStep([property: Range(typeof(long), "1", "9223372036854775807")] long Step);

/// <summary>The live show as a whole, and its history.</summary>
sealed class ShowEndpoints : IFeature
{
    /// <summary>Where the commands to a show are.</summary>
    public const string Path = "/shows/{show:guid}";

    private const int MaxLines = 200;

    public void MapTo(IEndpointRouteBuilder routes)
    {
        var show = routes.MapGroup(Path);
        routes.MapGet("/shows/live", (LiveShow live) => live.State.Document).WithName("getShow").WithSummary("The live show.");
        show.MapGet("/history", HistoryOf).WithName("getHistory").WithSummary("The newest 200 steps of the live show, newest first.");
        show.MapPost("/undo", async (WhichStep which, ShowCommands commands, [AsParameters] CommandCall call) =>
            CommandAnswers.Answer(await commands.UndoAsync(call.Target, which.Step), call)).WithName("undo").WithSummary("Takes back the last step, whoever's it was.");
        show.MapPost("/redo", async (WhichStep which, ShowCommands commands, [AsParameters] CommandCall call) =>
            CommandAnswers.Answer(await commands.RedoAsync(call.Target, which.Step), call)).WithName("redo").WithSummary("Does again what was taken back last.");
    }

    private static Results<Ok<IEnumerable<HistoryLine>>, ProblemHttpResult> HistoryOf(Guid show, LiveShow live)
    {
        var state = live.State;
        return state.Show.Id == show
            ? TypedResults.Ok(state.History.Newest.Reverse().Take(MaxLines).Select(s => HistoryLine.From(s)!))
            : CommandAnswers.NotLive(state);
    }
}

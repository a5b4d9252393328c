using System.Collections.Immutable;
using Kinetra.Core.Maps;
using Kinetra.Server.Features.Findings;
using Kinetra.Server.Features.Shows;
using Kinetra.Server.Hosting;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Kinetra.Server.Features.Maps;

/// <summary>The map of all paths of the live show.</summary>
/// <param name="Show">The show.</param>
/// <param name="Revision">At which revision.</param>
/// <param name="Layout">What is where.</param>
/// <param name="Outline">The same in words.</param>
public sealed record MapDocument(Guid Show, long Revision, Layout Layout, ImmutableArray<OutlineSection> Outline);

/// <summary>Where every sound goes, drawn.</summary>
sealed class MapEndpoints : IFeature
{
    public void MapTo(IEndpointRouteBuilder routes) => routes.MapGroup(ShowEndpoints.Path + "/map").MapGet("", Get)
        .WithName("getMap").WithSummary("The map of all paths: what is drawn where, and the same in words.");

    private static Results<Ok<MapDocument>, ProblemHttpResult> Get(Guid show, FindingsNow findings)
    {
        var looked = findings.Look();
        if (looked.State.Show.Id != show)
        {
            return CommandAnswers.NotLive(looked.State);
        }

        var diagram = Diagram.Of(looked.Situation);
        return TypedResults.Ok(new MapDocument(show, looked.State.Show.Revision, Layout.Of(diagram), Outline.Of(diagram)));
    }
}

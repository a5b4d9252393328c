using System.ComponentModel.DataAnnotations;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Server.Hosting;
using Kinetra.Server.Live;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Kinetra.Server.Features.Clock;

/// <summary>How far to go.</summary>
/// <param name="Frames">1 … 28 800 000 (ten minutes); rounded up to whole blocks.</param>
public sealed record ClockStep([property: Range(1, 28_800_000)] long Frames);

/// <summary>Where the clock stands.</summary>
/// <param name="Frame">The engine's next frame.</param>
public sealed record ClockPosition(long Frame);

/// <summary>The stepped clock: for tests, and only where the server was started with it.</summary>
sealed class ClockEndpoints : IFeature
{
    private const long MaxFrames = 600L * AudioFormat.SampleRate;

    public void MapTo(IEndpointRouteBuilder routes) =>
        routes.MapPost("/clock/steps", Results<Ok<ClockPosition>, ProblemHttpResult> (ClockStep step, EngineHost host, ServerOptions options) =>
        {
            if (options.Clock != ClockKind.Stepped)
            {
                return Problems.Conflict("clock", "This server runs on the machine's clock.", "a server started with --clock stepped");
            }

            return step.Frames is < 1 or > MaxFrames
                ? Problems.Invalid("frames", $"{step.Frames} frames cannot be stepped at once.", $"1 to {MaxFrames}")
                : TypedResults.Ok(new ClockPosition(host.Step(step.Frames)));
        }).WithName("stepClock").WithSummary("Stepped clock only: computes frames now.");
}

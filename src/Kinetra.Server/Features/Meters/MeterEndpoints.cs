using Kinetra.Server.Hosting;
using Kinetra.Server.Live;

namespace Kinetra.Server.Features.Meters;

/// <summary>What is measured since a start: when that was. The values themselves come by the meter socket.</summary>
sealed class MeterEndpoints : IFeature
{
    public void MapTo(IEndpointRouteBuilder routes) =>
        routes.MapPost("/meters/reset", (EngineHost host) =>
        {
            host.Engine.PostMeterReset();
            return TypedResults.NoContent();
        }).WithName("resetMeters").WithSummary("Begins anew what is measured since a start: integrated loudness, range, highest true peak, clips.");
}

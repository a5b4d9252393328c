using Kinetra.Server.Hosting;
using Kinetra.Server.Live;
using Kinetra.Server.Outputs;

namespace Kinetra.Server.Features.Outputs;

/// <summary>Where sound goes now.</summary>
sealed class OutputEndpoints : IFeature
{
    public void AddTo(IServiceCollection services, ServerOptions options)
    {
        services.AddSingleton<OutputList>().AddSingleton<FollowedPoints>();
        services.AddSingleton<IFollower>(s => s.GetRequiredService<FollowedPoints>());
    }

    public void MapTo(IEndpointRouteBuilder routes) =>
        routes.MapGet("/outputs", (OutputList outputs) => outputs.All)
            .WithName("getOutputs").WithSummary("Everything that takes sound out of the engine now: what, to where, and what it lost.");
}

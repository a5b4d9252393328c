using Kinetra.Server.Features.Status;
using Kinetra.Server.Hosting;
using Kinetra.Server.Live;

namespace Kinetra.Server.Features.Hush;

/// <summary>Whether every listener hears silence.</summary>
/// <param name="On">True: silence.</param>
public sealed record HushState(bool On);

/// <summary>Hush: every mix silent at once, and back.</summary>
sealed class HushEndpoints : IFeature
{
    public void MapTo(IEndpointRouteBuilder routes) =>
        routes.MapPut("/hush", (HushState wanted, HushSwitch hush, StatusReport status) =>
        {
            hush.Set(wanted.On);
            return status.Now();
        }).WithName("setHush").WithSummary("Silences every mix at once, or lets every mix sound again.");
}

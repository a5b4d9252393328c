using Kinetra.Server.Hosting;

namespace Kinetra.Server.Features.Listening;

/// <summary>Sound to the ears of one window.</summary>
sealed class ListeningFeature : IFeature
{
    public void AddTo(IServiceCollection services, ServerOptions options) => services.AddSingleton<ListenSocket>();

    public void MapTo(IEndpointRouteBuilder routes) =>
        routes.Map("/listen", (HttpContext context, ListenSocket listen) => listen.ServeAsync(context)).ExcludeFromDescription();
}

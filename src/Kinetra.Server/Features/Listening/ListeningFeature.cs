using Kinetra.Server.Hosting;

namespace Kinetra.Server.Features.Listening;

/// <summary>Sound to the ears of one window.</summary>
sealed class ListeningFeature : IFeature
{
    public void AddTo(IServiceCollection services, ServerOptions options) => services.AddSingleton<ListenSocket>().AddSingleton<BrowserPlayers>();

    public void MapTo(IEndpointRouteBuilder routes)
    {
        routes.Map("/listen", (HttpContext context, ListenSocket listen) => listen.ServeAsync(context)).ExcludeFromDescription();
        routes.MapGet("/players", (BrowserPlayers players) => players.All).WithName("getPlayers").WithSummary("Which windows play which outputs of their browsers.");
    }
}

using Kinetra.Server.Features.Bench;
using Kinetra.Server.Features.Chains;
using Kinetra.Server.Features.Hands;
using Kinetra.Server.Features.Listening;
using Kinetra.Server.Features.Microphones;
using Kinetra.Server.Features.Pads;
using Kinetra.Server.Features.Promises;
using Kinetra.Server.Features.Shows;
using Kinetra.Server.Features.Takes;
using Kinetra.Server.Features.Voice;
using Kinetra.Server.Hosting;
using Kinetra.Server.Jobs;
using Kinetra.Server.Live;
using Microsoft.AspNetCore.SignalR;

namespace Kinetra.Server.Sockets;

/// <summary>Keeps all windows in step.</summary>
sealed class HubFeature : IFeature
{
    public void AddTo(IServiceCollection services, ServerOptions options)
    {
        services.AddSingleton<Outboxes>().AddSingleton<HubAudience>();
        services.AddSingleton<IShowAudience>(s => s.GetRequiredService<HubAudience>());
        services.AddSingleton<ITakeAudience>(s => s.GetRequiredService<HubAudience>());
        services.AddSingleton<IShowListAudience>(s => s.GetRequiredService<HubAudience>());
        services.AddSingleton<IJobAudience>(s => s.GetRequiredService<HubAudience>());
        services.AddSingleton<IGearAudience>(s => s.GetRequiredService<HubAudience>());
        services.AddSingleton<IPlayerAudience>(s => s.GetRequiredService<HubAudience>());
        services.AddSingleton<IPromiseAudience>(s => s.GetRequiredService<HubAudience>());
        services.AddSingleton<IOnAirAudience>(s => s.GetRequiredService<HubAudience>()).AddSingleton<IPadAudience>(s => s.GetRequiredService<HubAudience>());
        services.AddSingleton<IHandAudience>(s => s.GetRequiredService<HubAudience>());
        services.AddSingleton<ILoopAudience>(s => s.GetRequiredService<HubAudience>());
        services.AddSingleton<IPresetAudience>(s => s.GetRequiredService<HubAudience>());
        services.AddSingleton<IMicrophoneAudience>(s => s.GetRequiredService<HubAudience>());
        services.AddSignalR(signalr =>
        {
            signalr.AddFilter<HubErrors>();
            signalr.MaximumReceiveMessageSize = SocketEndpoint.MaxMessage;
            signalr.KeepAliveInterval = TimeSpan.FromSeconds(2);
            signalr.ClientTimeoutInterval = TimeSpan.FromSeconds(10);
        }).AddJsonProtocol(json => AnswerJson.Configure(json.PayloadSerializerOptions));
    }

    public void MapTo(IEndpointRouteBuilder routes) => routes.MapHub<ShowHub>("/live");
}

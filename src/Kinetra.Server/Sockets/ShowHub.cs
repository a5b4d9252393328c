using Kinetra.Core.Rigs;
using Kinetra.Data;
using Kinetra.Server.Features.Shows;
using Kinetra.Server.Features.Takes;
using Kinetra.Server.Live;
using Microsoft.AspNetCore.SignalR;

namespace Kinetra.Server.Sockets;

/// <summary>What the server tells every window.</summary>
public interface IShowClient
{
    /// <summary>The show is another now.</summary>
    Task ShowChanged(ShowDocument show);

    /// <summary>Somebody drags a send: this is what is heard now. Not kept.</summary>
    Task SendPreviewed(string mix, string source, Gain gain);

    /// <summary>The list of takes has changed.</summary>
    Task TakesChanged();
}

/// <summary>
/// Keeps windows in step, and takes previews while something is dragged: straight to the engine, not stored.
/// </summary>
public sealed class ShowHub(LiveShow live, StartState state) : Hub<IShowClient>
{
    /// <summary>Lets a send be heard at a gain for as long as it is dragged.</summary>
    /// <exception cref="HubException">It breaks a rule.</exception>
    public async Task PreviewSend(string mix, string source, Gain gain)
    {
        if (state.WaitingFor is not null)
        {
            throw new HubException(state.WaitingFor);
        }

        var problems = live.Preview(Context.ConnectionId, new SetSend(new(mix), new(source), gain));
        if (!problems.IsEmpty)
        {
            throw new HubException(string.Join(" ", problems));
        }

        await Clients.Others.SendPreviewed(mix, source, gain);
    }

    /// <summary>Ends this window's preview of a send: what is stored is heard again.</summary>
    public void EndPreview(string mix, string source) =>
        live.EndPreviews(Context.ConnectionId, new SetSend(new(mix), new(source)).Target);

    /// <inheritdoc/>
    public override Task OnDisconnectedAsync(Exception? exception)
    {
        live.EndPreviews(Context.ConnectionId);
        return base.OnDisconnectedAsync(exception);
    }
}

/// <summary>Tells every window what has changed.</summary>
public sealed class HubAudience(IHubContext<ShowHub, IShowClient> hub) : IShowAudience, ITakeAudience
{
    /// <inheritdoc/>
    public Task ChangedAsync(StoredShow show) => hub.Clients.All.ShowChanged(ShowDocument.Of(show));

    /// <inheritdoc/>
    public Task TakesChangedAsync() => hub.Clients.All.TakesChanged();
}

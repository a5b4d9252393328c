using System.Collections.Immutable;
using Kinetra.Core.Editing;
using Kinetra.Core.Signal;
using Kinetra.Server.Features.Microphones;
using Kinetra.Server.Features.Shows;
using Kinetra.Server.Features.Takes;
using Kinetra.Server.Live;
using Microsoft.AspNetCore.SignalR;

namespace Kinetra.Server.Sockets;

/// <summary>What the server tells every window.</summary>
public interface IShowClient
{
    /// <summary>The show is another now.</summary>
    /// <param name="show">The show.</param>
    /// <param name="step">What was done; null: it was opened, or has another name.</param>
    Task ShowChanged(ShowDocument show, HistoryLine? step);

    /// <summary>Somebody drags a send: this is what is heard now. Not kept.</summary>
    Task SendPreviewed(string mix, string source, Gain gain);

    /// <summary>Nobody drags that send any more: what is stored is heard.</summary>
    Task PreviewEnded(string mix, string source);

    /// <summary>Somebody turns a parameter of a processor: this is what is heard now. Not kept. Null: that is over, and what is stored is heard.</summary>
    Task ProcessorPreviewed(string processor, string parameter, double? value);

    /// <summary>The list of takes has changed.</summary>
    Task TakesChanged();

    /// <summary>The list of shows has changed.</summary>
    Task ShowsChanged();

    /// <summary>How the browsers' microphones stand has changed.</summary>
    Task MicrophonesChanged();

    /// <summary>The database has gone, or is back.</summary>
    Task StorageChanged();
}

/// <summary>
/// Keeps windows in step, and takes previews while something is dragged: straight to the engine, not stored.
/// </summary>
public sealed class ShowHub(LiveShow live, StartState state, BrowserDevices devices, MicrophoneNews news) : Hub<IShowClient>
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
    public async Task EndPreview(string mix, string source)
    {
        live.EndPreviews(Context.ConnectionId, new SetSend(new(mix), new(source), Gain.Unity));
        await Clients.Others.PreviewEnded(mix, source);
    }

    /// <summary>Lets a processor be heard with another value for as long as somebody turns it; null: as it is stored again.</summary>
    /// <param name="source">Whose chain: of this source, or with a mix, of that send.</param>
    /// <param name="mix">Whose chain: of this mix.</param>
    /// <param name="processor">Which one.</param>
    /// <param name="parameter">The parameter's key.</param>
    /// <param name="value">Its value.</param>
    /// <exception cref="HubException">It breaks a rule.</exception>
    public async Task PreviewProcessor(string? source, string? mix, string processor, string parameter, double? value)
    {
        if (state.WaitingFor is not null)
        {
            throw new HubException(state.WaitingFor);
        }

        Point place = (source, mix) switch
        {
            ({ } of, { } inMix) => new SendPoint(new(inMix), new(of)),
            ({ } of, null) => new SourcePoint(new(of)),
            _ => new MixPoint(new(mix ?? "")),
        };
        var values = ImmutableSortedDictionary<string, double>.Empty.Add(parameter ?? "", value ?? 0);
        var command = new SetProcessor(place, new(processor ?? ""), Values: values);
        if (value is null)
        {
            live.EndPreviews(Context.ConnectionId, command);
        }
        else if (live.Preview(Context.ConnectionId, command) is { IsEmpty: false } problems)
        {
            throw new HubException(string.Join(" ", problems));
        }

        await Clients.Others.ProcessorPreviewed(processor ?? "", parameter ?? "", value);
    }

    /// <summary>This window's browser cannot give one of its inputs.</summary>
    /// <exception cref="HubException">It breaks a rule.</exception>
    public async Task MicrophoneAbsent(string client, string device, DeviceState because)
    {
        if (because is not (DeviceState.Unplugged or DeviceState.Refused))
        {
            throw new HubException("because: This is not understood. Allowed: Unplugged or Refused.");
        }

        devices.Find(client ?? "", device ?? "")?.Excuse(because);
        await news.TellAsync();
    }

    /// <inheritdoc/>
    public override Task OnDisconnectedAsync(Exception? exception)
    {
        live.EndPreviews(Context.ConnectionId);
        return base.OnDisconnectedAsync(exception);
    }
}

/// <summary>Tells every window what has changed.</summary>
public sealed class HubAudience(IHubContext<ShowHub, IShowClient> hub) : IShowAudience, IShowListAudience, ITakeAudience, IMicrophoneAudience
{
    /// <inheritdoc/>
    public Task ChangedAsync(LiveState state, Step? step) => hub.Clients.All.ShowChanged(ShowDocument.Of(state), HistoryLine.From(step));

    /// <inheritdoc/>
    public Task StorageChangedAsync() => hub.Clients.All.StorageChanged();

    /// <inheritdoc/>
    public Task ShowsChangedAsync() => hub.Clients.All.ShowsChanged();

    /// <inheritdoc/>
    public Task TakesChangedAsync() => hub.Clients.All.TakesChanged();

    /// <inheritdoc/>
    public Task MicrophonesChangedAsync() => hub.Clients.All.MicrophonesChanged();
}

using System.Collections.Immutable;
using Kinetra.Core.Editing;
using Kinetra.Core.Signal;
using Kinetra.Server.Features.Bench;
using Kinetra.Server.Features.Hands;
using Kinetra.Server.Features.Microphones;
using Kinetra.Server.Features.Pads;
using Kinetra.Server.Features.Shows;
using Kinetra.Server.Features.Takes;
using Kinetra.Server.Features.Voice;
using Kinetra.Server.Live;
using Microsoft.AspNetCore.SignalR;

namespace Kinetra.Server.Sockets;

/// <summary>What the server tells every window.</summary>
public interface IShowClient
{
    /// <summary>The show is another now.</summary>
    Task ShowChanged(ShowNews news);

    /// <summary>Another show is live: it is to be fetched.</summary>
    /// <param name="sequence">The sequence of its first document.</param>
    Task ShowOpened(long sequence);

    /// <summary>This window has just come, or fallen too far behind: everything is to be fetched, and nobody drags anything that it was told of.</summary>
    Task EverythingChanged();

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

    /// <summary>Long work has begun, moved on or ended.</summary>
    Task JobsChanged();

    /// <summary>The computer around the desk has changed.</summary>
    /// <param name="sequence">The sequence of its document now.</param>
    Task GearChanged(long sequence);

    /// <summary>At least one promise of the live show is kept, broken or not known that was not before.</summary>
    Task PromisesChanged();

    /// <summary>Which windows play which outputs of their browsers has changed.</summary>
    Task PlayersChanged();

    /// <summary>How the browsers' microphones stand has changed.</summary>
    Task MicrophonesChanged();

    /// <summary>A loop on the bench has come, gone or changed.</summary>
    Task LoopsChanged();

    /// <summary>The chains that people keep have changed.</summary>
    Task PresetsChanged();

    /// <summary>What is compared on air has changed.</summary>
    Task OnAirChanged();

    /// <summary>Another set of pads is at hand.</summary>
    Task PadsChanged();

    /// <summary>Something is held by hand or let go, or a way for hands is another.</summary>
    Task HandsChanged();

    /// <summary>The database has gone, or is back.</summary>
    Task StorageChanged();
}

/// <summary>
/// Keeps windows in step, and takes previews while something is dragged: straight to the engine, not stored.
/// </summary>
public sealed class ShowHub(Playing playing, Outboxes windows, IShowAudience audience, StartState state, BrowserDevices devices, MicrophoneNews news, Loops loops, OnAir onAir, LiveShow live, HeldPads pads, ActionDesk desk) : Hub<IShowClient>
{
    /// <summary>Lets a send of the live show be heard at a gain for as long as it is dragged.</summary>
    /// <param name="show">The show that this window shows.</param>
    /// <param name="mix">The mix.</param>
    /// <param name="source">The source.</param>
    /// <param name="gain">The gain.</param>
    /// <exception cref="HubException">It breaks a rule.</exception>
    public void PreviewSend(Guid show, string mix, string source, Gain gain)
    {
        if (state.WaitingFor is not null)
        {
            throw new HubException(state.WaitingFor);
        }

        var problems = playing.Preview(show, Context.ConnectionId, new SetSend(new(mix), new(source), gain));
        if (!problems.IsEmpty)
        {
            throw new HubException(string.Join(" ", problems));
        }

        windows.Post($"send {mix} {source}", w => w.SendPreviewed(mix, source, gain), Context.ConnectionId);
    }

    /// <summary>Ends this window's preview of a send: what is stored is heard again.</summary>
    public void EndPreview(string mix, string source)
    {
        playing.EndPreviews(Context.ConnectionId, new SetSend(new(mix), new(source), Gain.Unity));
        windows.Post($"send {mix} {source}", w => w.PreviewEnded(mix, source), Context.ConnectionId);
    }

    /// <summary>Lets a processor be heard with another value for as long as somebody turns it; null: as it is stored again.</summary>
    /// <param name="show">The show that this window shows.</param>
    /// <param name="source">Whose chain: of this source, or with a mix, of that send.</param>
    /// <param name="mix">Whose chain: of this mix.</param>
    /// <param name="processor">Which one.</param>
    /// <param name="parameter">The parameter's key.</param>
    /// <param name="value">Its value.</param>
    /// <exception cref="HubException">It breaks a rule.</exception>
    public void PreviewProcessor(Guid show, string? source, string? mix, string processor, string parameter, double? value)
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
            playing.EndPreviews(Context.ConnectionId, command);
        }
        else if (playing.Preview(show, Context.ConnectionId, command) is { IsEmpty: false } problems)
        {
            throw new HubException(string.Join(" ", problems));
        }

        windows.Post($"processor {processor} {parameter}", w => w.ProcessorPreviewed(processor ?? "", parameter ?? "", value), Context.ConnectionId);
    }

    /// <summary>Lets a processor of a loop on the bench be heard with another value for as long as somebody turns it; null: as it is stored again.</summary>
    /// <param name="loop">The loop.</param>
    /// <param name="processor">Which one.</param>
    /// <param name="parameter">The parameter's key.</param>
    /// <param name="value">Its value; one that is not allowed is not heard.</param>
    public void PreviewOnBench(Guid loop, string processor, string parameter, double? value) =>
        loops.Turn(Context.ConnectionId, loop, new(processor ?? ""), parameter ?? "", value);

    /// <summary>Compares a chain on air, with and without it, as loud, for as long as this window is there.</summary>
    /// <param name="show">The show that this window shows.</param>
    /// <param name="source">Whose chain: of this source.</param>
    /// <param name="mix">Whose chain: of this mix.</param>
    /// <param name="processor">Which processor; null: the whole chain.</param>
    /// <param name="without">Whether all are to hear it without.</param>
    /// <exception cref="HubException">It cannot be compared.</exception>
    public void CompareOnAir(Guid show, string? source, string? mix, string? processor, bool without)
    {
        if (state.WaitingFor is not null)
        {
            throw new HubException(state.WaitingFor);
        }

        Point place = mix is null ? new SourcePoint(new(source ?? "")) : new MixPoint(new(mix));
        if (onAir.Compare(show, Context.ConnectionId, place, processor is null ? null : new(processor), without) is { } problem)
        {
            throw new HubException(problem.ToString());
        }
    }

    /// <summary>Ends what this window compares on air.</summary>
    public void EndOnAir() => onAir.End(Context.ConnectionId);

    /// <summary>Presses a pad: it begins with the next block of sound.</summary>
    /// <param name="show">The show that this window shows.</param>
    /// <param name="pad">Which one.</param>
    /// <param name="level">On top of its own gain, dB, −60 to 0.</param>
    /// <exception cref="HubException">It is not played, and why.</exception>
    public void PressPad(Guid show, string pad, double level)
    {
        if (state.WaitingFor is not null)
        {
            throw new HubException(state.WaitingFor);
        }

        if (level is not (>= -60 and <= 0))
        {
            throw new HubException("level: This is no level of a press. Allowed: −60 to 0 dB.");
        }

        if (live.State.Show.Id != show)
        {
            throw new HubException("show: This show does not play now. Allowed: the live show.");
        }

        var silence = pads.Press(Context.ConnectionId, new(pad ?? ""), (float)new Gain(level).Linear);
        if (silence != PadSilence.None)
        {
            throw new HubException($"pad: {PadPlayEndpoints.Words(silence)} Allowed: a pad of the live show whose sound and source are there.");
        }
    }

    /// <summary>Lets go of a pad that plays while it is held.</summary>
    public void ReleasePad(string pad) => pads.Release(Context.ConnectionId, new(pad ?? ""));

    /// <summary>Does an action of the table, with a key, a controller or the palette of this window.</summary>
    /// <param name="show">The show that this window shows.</param>
    /// <param name="address">Its address.</param>
    /// <param name="value">What it is told: on, off, a number, or nothing.</param>
    /// <param name="level">How loud, of a pad that is pressed, dB, −60 to 0.</param>
    /// <param name="window">The window, for the history.</param>
    /// <param name="name">What its owner calls it.</param>
    /// <exception cref="HubException">It is not done, and why.</exception>
    public async Task Act(Guid show, string address, string? value, double level, string? window, string? name)
    {
        if (state.WaitingFor is not null)
        {
            throw new HubException(state.WaitingFor);
        }

        if (live.State.Show.Id != show)
        {
            throw new HubException("show: This show does not play now. Allowed: the live show.");
        }

        var by = new StepAuthor(RigRules.CheckText("window", window, 64) is null ? window : null, RigRules.CheckText("name", name, 60) is null ? name : null);
        if (await desk.DoAsync(HandOf(by), address ?? "", value, level, CancellationToken.None) is { } problem)
        {
            throw new HubException(problem.ToString());
        }
    }

    private Hand HandOf(StepAuthor by) => new(Context.ConnectionId, by.Name ?? "a window", by);

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
    public override Task OnConnectedAsync()
    {
        windows.Open(Context.ConnectionId);
        return base.OnConnectedAsync();
    }

    /// <inheritdoc/>
    public override Task OnDisconnectedAsync(Exception? exception)
    {
        windows.Close(Context.ConnectionId);
        audience.PreviewsEnded(playing.EndPreviews(Context.ConnectionId));
        loops.EndTurns(Context.ConnectionId);
        onAir.End(Context.ConnectionId);
        desk.Gone(HandOf(new StepAuthor()));
        return base.OnDisconnectedAsync(exception);
    }
}

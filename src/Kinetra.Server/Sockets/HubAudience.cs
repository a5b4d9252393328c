using System.Collections.Immutable;
using Kinetra.Core.Editing;
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
using Kinetra.Server.Jobs;
using Kinetra.Server.Live;

namespace Kinetra.Server.Sockets;

/// <summary>What has become of the live show.</summary>
/// <param name="After">The sequence of the document that the patch is for; a window that has another one fetches the show.</param>
/// <param name="Sequence">The sequence after it.</param>
/// <param name="Patch">What makes the one into the other: JSON Patch (RFC 6902).</param>
/// <param name="Step">What was done; null: it has another name.</param>
public sealed record ShowNews(long After, long Sequence, ImmutableArray<PatchOperation> Patch, HistoryLine? Step);

/// <summary>Tells every window what has changed.</summary>
public sealed class HubAudience(Outboxes windows) : IShowAudience, IShowListAudience, ITakeAudience, IMicrophoneAudience, IJobAudience, IGearAudience, IPlayerAudience, IPromiseAudience, ILoopAudience, IPresetAudience, IOnAirAudience, IPadAudience, IHandAudience
{
    /// <inheritdoc/>
    public void Changed(LiveState? before, LiveState now, Step? step)
    {
        ArgumentNullException.ThrowIfNull(now);
        if (before is null)
        {
            windows.Post("opened", w => w.ShowOpened(now.Sequence));
            return;
        }

        var news = new ShowNews(before.Sequence, now.Sequence, ShowPatch.Between(before.Document, now.Document), HistoryLine.From(step));
        windows.Post($"step {now.Sequence}", w => w.ShowChanged(news));
    }

    /// <inheritdoc/>
    public void PreviewsEnded(IReadOnlyList<RigCommand> ended)
    {
        ArgumentNullException.ThrowIfNull(ended);
        foreach (var command in ended)
        {
            if (command is SetSend send)
            {
                windows.Post($"send {send.Mix.Value} {send.Source.Value}", w => w.PreviewEnded(send.Mix.Value, send.Source.Value));
            }
            else if (command is SetProcessor { Values: { } values } turned)
            {
                var key = values.Keys.Single();
                windows.Post($"processor {turned.Id.Value} {key}", w => w.ProcessorPreviewed(turned.Id.Value, key, null));
            }
        }
    }

    /// <inheritdoc/>
    public void StorageChanged() => windows.Post("storage", w => w.StorageChanged());

    /// <inheritdoc/>
    public void ShowsChanged() => windows.Post("shows", w => w.ShowsChanged());

    /// <inheritdoc/>
    public void TakesChanged() => windows.Post("takes", w => w.TakesChanged());

    /// <inheritdoc/>
    public void JobsChanged() => windows.Post("jobs", w => w.JobsChanged());

    /// <inheritdoc/>
    public void GearChanged(long sequence) => windows.Post("gear", w => w.GearChanged(sequence));

    /// <inheritdoc/>
    public void LoopsChanged() => windows.Post("loops", w => w.LoopsChanged());

    /// <inheritdoc/>
    public void OnAirChanged() => windows.Post("on air", w => w.OnAirChanged());

    /// <inheritdoc/>
    public void PadsChanged() => windows.Post("pads", w => w.PadsChanged());

    /// <inheritdoc/>
    public void PresetsChanged() => windows.Post("presets", w => w.PresetsChanged());

    /// <inheritdoc/>
    public void HandsChanged() => windows.Post("hands", w => w.HandsChanged());

    /// <inheritdoc/>
    public void SendMoved(SetSend send)
    {
        ArgumentNullException.ThrowIfNull(send);
        if (send.Gain is { } gain)
        {
            windows.Post($"send {send.Mix.Value} {send.Source.Value}", w => w.SendPreviewed(send.Mix.Value, send.Source.Value, gain));
        }
    }

    /// <inheritdoc/>
    public void PlayersChanged() => windows.Post("players", w => w.PlayersChanged());

    /// <inheritdoc/>
    public void PromisesChanged() => windows.Post("promises", w => w.PromisesChanged());

    /// <inheritdoc/>
    public void MicrophonesChanged() => windows.Post("microphones", w => w.MicrophonesChanged());
}

using System.Collections.Immutable;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Server.Hosting;
using Kinetra.Server.Live;

namespace Kinetra.Server.Features.Pads;

/// <summary>Hears when another set of pads is at hand.</summary>
public interface IPadAudience
{
    /// <summary>It is another one now.</summary>
    void PadsChanged();
}

/// <summary>
/// Which set of pads is at hand, show by show: the same for every window and for every hand that reaches here without one. It is no step of a show, and
/// survives a restart.
/// </summary>
public sealed class PadsAtHand(LiveShow live, IPadAudience audience, ServerOptions options, ILogger<PadsAtHand> log)
{
    private readonly KeptNote<ImmutableDictionary<Guid, string>> _note = new(
        Path.Combine(options.DataFolder, "pads-at-hand.json"), ImmutableDictionary<Guid, string>.Empty, log, "Which pad set is at hand");

    /// <summary>The set at hand in the live show; null: it has none. Where none was taken, or that one is gone, the first.</summary>
    public PadSet? Now
    {
        get
        {
            var show = live.State.Show;
            return (_note.Now.TryGetValue(show.Id, out var id) ? show.Rig.Find(new PadSetId(id)) : null) ?? show.Rig.PadSets.FirstOrDefault();
        }
    }

    /// <summary>Takes a set of the live show. What sounds of another plays on.</summary>
    public void Take(PadSetId set)
    {
        _note.Change(sets => sets.SetItem(live.State.Show.Id, set.Value));
        audience.PadsChanged();
    }
}

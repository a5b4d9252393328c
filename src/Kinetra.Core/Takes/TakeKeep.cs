using System.Collections.Immutable;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Takes;

/// <summary>
/// What a take that is being recorded takes, kept for it: a source, a mix or a cable that is removed from the show meanwhile goes on for its track, heard by nobody, as it was when it went.
/// An immutable value.
/// </summary>
public sealed record TakeKeep
{
    private ImmutableArray<Source> _sources = [];
    private ImmutableArray<Mix> _mixes = [];
    private ImmutableArray<Cable> _cables = [];

    private TakeKeep()
    {
    }

    /// <summary>The sources that are kept.</summary>
    public ImmutableHashSet<SourceId> Sources => [.. _sources.Select(s => s.Id)];

    /// <summary>What a take of a show keeps.</summary>
    /// <param name="rig">The show when it begins.</param>
    /// <param name="points">What its tracks take.</param>
    public static TakeKeep Of(Rig rig, IEnumerable<Point> points)
    {
        ArgumentNullException.ThrowIfNull(rig);
        Point[] all = [.. points];
        Source[] sources = [.. all.OfType<SourcePoint>().Select(p => rig.Find(p.Id)).OfType<Source>().Distinct()];

        // What a source records from goes on with it.
        CableId[] cables = [.. all.OfType<CablePoint>().Select(p => p.Id), .. sources.Select(s => s.Input).OfType<CableInput>().Select(i => i.Cable)];
        return new TakeKeep
        {
            _sources = [.. sources],
            _mixes = [.. all.OfType<MixPoint>().Select(p => rig.Find(p.Id)).OfType<Mix>().Distinct()],
            _cables = [.. cables.Distinct().Select(rig.Find).OfType<Cable>()],
        };
    }

    /// <summary>The same as a later rig has it: what that does not have any more stays as it was.</summary>
    public TakeKeep Remember(Rig rig)
    {
        ArgumentNullException.ThrowIfNull(rig);
        return new TakeKeep
        {
            _sources = [.. _sources.Select(s => rig.Find(s.Id) ?? s)],
            _mixes = [.. _mixes.Select(m => rig.Find(m.Id) ?? m)],
            _cables = [.. _cables.Select(c => rig.Find(c.Id) ?? c)],
        };
    }

    /// <summary>A rig with what is kept and it does not have; the same one where it has all.</summary>
    public Rig Over(Rig rig)
    {
        ArgumentNullException.ThrowIfNull(rig);
        Source[] sources = [.. _sources.Where(s => rig.Find(s.Id) is null)];
        Mix[] mixes = [.. _mixes.Where(m => rig.Find(m.Id) is null)];
        Cable[] cables = [.. _cables.Where(c => rig.Find(c.Id) is null)];
        if (sources.Length + mixes.Length + cables.Length == 0)
        {
            return rig;
        }

        // Nobody hears them: in every mix they wait in the dock, and kept mixes go nowhere.
        var all = rig.Sources.AddRange(sources);
        var over = rig with
        {
            Sources = all,
            Mixes =
            [
                .. rig.Mixes.Select(m => m with { Sends = [.. m.Sends, .. sources.Select(s => Docked(s.Id))] }),
                .. mixes.Select(m => m with { Destinations = [], Sends = [.. all.Select(s => m.Sends.FirstOrDefault(x => x.Source == s.Id) ?? Docked(s.Id))] }),
            ],
            Cables = rig.Cables.AddRange(cables),
        };

        // What they took from may have gone too.
        return over with
        {
            Sources = [.. over.Sources.Select((s, i) => i < rig.Sources.Length ? s : s with { Chain = Keyed(s.Chain) })],
            Mixes = [.. over.Mixes.Select((m, i) => i < rig.Mixes.Length ? m : m with { Chain = Keyed(m.Chain), Sends = [.. m.Sends.Select(x => x.Ducker is null ? x : x with { Ducker = Keyed([x.Ducker])[0] })] })],
            Cables = [.. over.Cables.Select((c, i) => i < rig.Cables.Length ? c : c with { Feeds = [.. c.Feeds.Where(f => over.Has(f.From))] })],
        };

        ImmutableArray<Processor> Keyed(ImmutableArray<Processor> chain) => [.. chain.Select(p => p.Keys.All(over.Has) ? p : p with { Keys = [.. p.Keys.Where(over.Has)] })];

        static Send Docked(SourceId id) => new() { Source = id, Heard = false };
    }
}

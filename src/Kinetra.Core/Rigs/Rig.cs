using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Rigs;

/// <summary>
/// What a person builds: sources, mixes and cables. An immutable value; every change is a new rig.
/// A valid rig (see the rules in Editing) has in each mix exactly one send for each source, in the order of the sources.
/// </summary>
public sealed record Rig
{
    /// <summary>A rig with nothing in it.</summary>
    public static readonly Rig Empty = new();

    /// <summary>What something is called that the rig does not have.</summary>
    public const string Unknown = "Something";

    /// <summary>All sources, in the order in which they are shown. At most <see cref="RigLimits.Sources"/>.</summary>
    public ImmutableArray<Source> Sources { get; init; } = [];

    /// <summary>All mixes, in the order in which they are shown. At most <see cref="RigLimits.Mixes"/>.</summary>
    public ImmutableArray<Mix> Mixes { get; init; } = [];

    /// <summary>All cables, in the order in which they are shown. At most <see cref="RigLimits.Cables"/>.</summary>
    public ImmutableArray<Cable> Cables { get; init; } = [];

    /// <summary>What the show wants of the computer around it.</summary>
    public Wishes Wishes { get; init; } = Wishes.None;

    /// <summary>What is said about who hears what, and watched. At most <see cref="RigLimits.Promises"/>.</summary>
    public ImmutableArray<Promise> Promises { get; init; } = [];

    /// <summary>All sets of pads, in the order in which they are shown. At most <see cref="RigLimits.PadSets"/>.</summary>
    public ImmutableArray<PadSet> PadSets { get; init; } = [];

    /// <summary>What happens in a show that follows an order. At most <see cref="RigLimits.Cues"/>.</summary>
    public ImmutableArray<Cue> Cues { get; init; } = [];

    /// <summary>What a take records, each on a track of its own, in order; none: every mix and every source. At most <see cref="RigLimits.Tracks"/>.</summary>
    public ImmutableArray<PlannedTrack> Tracks { get; init; } = [];

    /// <summary>What holds for all takes.</summary>
    public Recording Recording { get; init; } = Recording.Usual;

    /// <summary>Where mixes are sent to over the network, in order. At most <see cref="RigLimits.Streams"/>.</summary>
    public ImmutableArray<Broadcast> Streams { get; init; } = [];

    /// <summary>What was found and accepted. At most <see cref="RigLimits.Accepted"/>.</summary>
    public ImmutableArray<Acceptance> Accepted { get; init; } = [];

    /// <summary>True for a mix that an audience hears: it is made for viewers, or a stream takes it.</summary>
    public bool IsForMany(MixId mix) => Find(mix) is { Purpose: MixPurpose.Viewers } || Streams.Any(s => s.Mix == mix);

    /// <summary>The source of that id, or null.</summary>
    public Source? Find(SourceId id)
    {
        foreach (var source in Sources)
        {
            if (source.Id == id)
            {
                return source;
            }
        }

        return null;
    }

    /// <summary>The mix of that id, or null.</summary>
    public Mix? Find(MixId id)
    {
        foreach (var mix in Mixes)
        {
            if (mix.Id == id)
            {
                return mix;
            }
        }

        return null;
    }

    /// <summary>The cable of that id, or null.</summary>
    public Cable? Find(CableId id)
    {
        foreach (var cable in Cables)
        {
            if (cable.Id == id)
            {
                return cable;
            }
        }

        return null;
    }

    /// <summary>The promise of that id, or null.</summary>
    public Promise? Find(PromiseId id)
    {
        foreach (var promise in Promises)
        {
            if (promise.Id == id)
            {
                return promise;
            }
        }

        return null;
    }

    /// <summary>The set of pads of that id, or null.</summary>
    public PadSet? Find(PadSetId id)
    {
        foreach (var set in PadSets)
        {
            if (set.Id == id)
            {
                return set;
            }
        }

        return null;
    }

    /// <summary>The pad of that id with the set that it lies in, or null.</summary>
    public (PadSet Set, Pad Pad)? Find(PadId id)
    {
        foreach (var set in PadSets)
        {
            if (set.Find(id) is { } pad)
            {
                return (set, pad);
            }
        }

        return null;
    }

    /// <summary>The send of a source in a mix, or null where either is unknown.</summary>
    public Send? Find(MixId mix, SourceId source)
    {
        foreach (var send in Find(mix)?.Sends ?? [])
        {
            if (send.Source == source)
            {
                return send;
            }
        }

        return null;
    }

    /// <summary>The same rig with one mix replaced by the one of the same id.</summary>
    public Rig With(Mix mix) => this with { Mixes = Replace(Mixes, mix, m => m.Id == mix.Id) };

    /// <summary>The same rig with one source replaced by the one of the same id.</summary>
    public Rig With(Source source) => this with { Sources = Replace(Sources, source, s => s.Id == source.Id) };

    /// <summary>The same rig with one cable replaced by the one of the same id.</summary>
    public Rig With(Cable cable) => this with { Cables = Replace(Cables, cable, c => c.Id == cable.Id) };

    /// <summary>The same rig with one set of pads replaced by the one of the same id.</summary>
    public Rig With(PadSet set) => this with { PadSets = Replace(PadSets, set, s => s.Id == set.Id) };

    /// <summary>The same rig with one send of one mix replaced.</summary>
    public Rig With(MixId mix, Send send)
    {
        var old = Find(mix) ?? throw new ArgumentException($"No mix {mix} in this rig.", nameof(mix));
        return With(old with { Sends = Replace(old.Sends, send, s => s.Source == send.Source) });
    }

    /// <summary>The chain that leads to a point: of a source, of a mix, or of a send, its ducker alone. Null where there is no such place.</summary>
    public ImmutableArray<Processor>? ChainAt(Point place) => place switch
    {
        SourcePoint { Tap: Tap.AfterChain } source => Find(source.Id)?.Chain,
        MixPoint { Tap: Tap.AfterChain } mix => Find(mix.Id)?.Chain,
        SendPoint send => Find(send.Mix, send.Source) is { } found ? found.Ducker is { } ducker ? [ducker] : [] : null,
        _ => null,
    };

    /// <summary>The same rig with another chain at a place that it has. A send takes the first processor as its ducker.</summary>
    public Rig With(Point place, ImmutableArray<Processor> chain) => place switch
    {
        SourcePoint source => With(Find(source.Id)! with { Chain = chain }),
        MixPoint mix => With(Find(mix.Id)! with { Chain = chain }),
        SendPoint send => With(send.Mix, Find(send.Mix, send.Source)! with { Ducker = chain.FirstOrDefault() }),
        _ => throw new ArgumentException($"No chain leads to {place}.", nameof(place)),
    };

    /// <summary>True where the rig has what a point speaks of.</summary>
    public bool Has(Point? point) => point switch
    {
        SourcePoint source => Find(source.Id) is not null,
        MixPoint mix => Find(mix.Id) is not null,
        CablePoint cable => Find(cable.Id) is not null,
        SendPoint send => Find(send.Mix, send.Source) is not null,
        DestinationPoint destination => Find(destination.Mix)?.Find(destination.Id) is not null,
        _ => false,
    };

    /// <summary>What a person calls a point; of something that the rig does not have, <see cref="Unknown"/>.</summary>
    public string NameOf(Point point) => point switch
    {
        SourcePoint source => Find(source.Id)?.Name,
        MixPoint mix => Find(mix.Id)?.Name,
        CablePoint cable => Find(cable.Id)?.Name,
        SendPoint send when Find(send.Source) is { } source && Find(send.Mix) is { } mix => $"{source.Name} in {mix.Name}",
        _ => null,
    } ?? Unknown;

    /// <summary>All that sounds go through: as <see cref="Chains"/>, with what holds sources back.</summary>
    [JsonIgnore]
    public IEnumerable<(Point Place, ImmutableArray<Processor> Chain)> Ways =>
    [
        .. Sources.Where(s => !s.Way.IsEmpty).Select(s => ((Point)new SourcePoint(s.Id), s.Way)),
        .. Chains.Where(c => c.Place is not SourcePoint),
    ];

    /// <summary>Every place that has processors, with them.</summary>
    [JsonIgnore]
    public IEnumerable<(Point Place, ImmutableArray<Processor> Chain)> Chains =>
    [
        .. Sources.Where(s => !s.Chain.IsEmpty).Select(s => ((Point)new SourcePoint(s.Id), s.Chain)),
        .. Mixes.Where(m => !m.Chain.IsEmpty).Select(m => ((Point)new MixPoint(m.Id), m.Chain)),
        .. Mixes.SelectMany(m => m.Sends.Where(s => s.Ducker is not null).Select(s => ((Point)new SendPoint(m.Id, s.Source), (ImmutableArray<Processor>)[s.Ducker!]))),
    ];

    private static ImmutableArray<T> Replace<T>(ImmutableArray<T> items, T item, Func<T, bool> isOld)
    {
        for (var i = 0; i < items.Length; i++)
        {
            if (isOld(items[i]))
            {
                return items.SetItem(i, item);
            }
        }

        throw new ArgumentException("Nothing to replace: no item of that id in this rig.", nameof(item));
    }
}

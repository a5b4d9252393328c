using System.Collections.Immutable;
using Kinetra.Core.Gear;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Routing;

/// <summary>What is there, as far as a show needs it.</summary>
/// <param name="Channels">How many channels each source gets from what gives it samples: 1 or 2 by its id; one that is missing gets 2.</param>
/// <param name="Gear">The computer's devices and programs.</param>
public sealed record Computer(IReadOnlyDictionary<SourceId, int> Channels, GearState Gear)
{
    /// <summary>Nothing is known.</summary>
    public static readonly Computer Unknown = new(ImmutableDictionary<SourceId, int>.Empty, GearState.Empty);
}

/// <summary>
/// A show and a computer resolved: all points that there are, and all links between them. Nothing else knows how a rig is wired.
/// </summary>
public sealed class Wiring
{
    internal Wiring(Rig rig, GearState gear, Ground ground, ImmutableArray<Part> parts, Wiring? before)
    {
        var links = ImmutableArray.CreateBuilder<Link>(parts.Sum(p => p.Links.Length));
        foreach (var part in parts)
        {
            links.AddRange(part.Links);
        }

        (Rig, Gear, Parts, Links) = (rig, gear, parts, links.MoveToImmutable());
        Shape = Shape.Of(ground, Links, before?.Shape);
    }

    private Wiring(Wiring other, ImmutableArray<Link> links) => (Rig, Gear, Parts, Shape, Links) = (other.Rig, other.Gear, other.Parts, other.Shape, links);

    /// <summary>The rig that it came from.</summary>
    public Rig Rig { get; }

    /// <summary>The computer's devices and programs that it came from.</summary>
    public GearState Gear { get; }

    /// <summary>What a person calls a point.</summary>
    public string NameOf(Point point) => Gear.NameOf(point) ?? Rig.NameOf(point);

    /// <summary>All points, each once.</summary>
    public ImmutableArray<Point> Points => Shape.Ground.Points;

    /// <summary>How many channels each point has.</summary>
    public ImmutableArray<int> Channels => Shape.Ground.Channels;

    /// <summary>All links.</summary>
    public ImmutableArray<Link> Links { get; }

    /// <summary>What is joined to what.</summary>
    internal Shape Shape { get; }

    /// <summary>For each link, the places in <see cref="Points"/> that it leads from and to.</summary>
    internal ImmutableArray<(int From, int To)> Ends => Shape.Ends;

    /// <summary>What each thing of the rig became, with nothing held.</summary>
    internal ImmutableArray<Part> Parts { get; }

    /// <summary>How many channels a point has; 0 where it is not there.</summary>
    public int ChannelsOf(Point point) => PlaceOf(point) is >= 0 and var place ? Channels[place] : 0;

    /// <summary>All links that lead to a point.</summary>
    public IEnumerable<Link> Into(Point point) => PlaceOf(point) is >= 0 and var place ? Shape.Into(place).ToArray().Select(l => Links[l]) : [];

    /// <summary>The sounding link that stays the same by that, or null.</summary>
    public Link? Find((Point From, Point To) identity) => Shape.Find(identity) is >= 0 and var place ? Links[place] : null;

    /// <summary>The same, with some links held.</summary>
    internal Wiring Held(HashSet<Link> links) => new(this, [.. Links.Select(l => links.Contains(l) ? l with { State = LinkState.Held } : l)]);

    /// <summary>The place of a point in <see cref="Points"/>, or −1.</summary>
    internal int PlaceOf(Point point) => Shape.Ground.PlaceOf(point);
}

/// <summary>
/// The links that one thing became: a source, a mix's own, a send, a destination, a cable's feeds, all of the computer. While it stays, they do.
/// </summary>
/// <param name="Of">The thing, known again by being the same object.</param>
/// <param name="To">The point that they lead to; null: to many.</param>
/// <param name="Links">The links.</param>
readonly record struct Part(object Of, Point? To, ImmutableArray<Link> Links);

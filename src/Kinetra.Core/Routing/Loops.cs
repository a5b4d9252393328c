using System.Collections.Immutable;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Routing;

/// <summary>A circle that a sound goes round in, or several that share a part of their ways.</summary>
/// <param name="Points">What belongs to it, in the order in which it is computed.</param>
/// <param name="GainDecibels">What a sound gains with each round at the frequency that is worst: from 0 dB on it builds up.</param>
/// <param name="Closing">The links that close it, each one block late.</param>
/// <param name="Held">Those that are held muted, since nobody has allowed them yet: of what closes it, or, where that cannot be held, of the way to it.</param>
public sealed record SoundLoop(ImmutableArray<Point> Points, double GainDecibels, ImmutableArray<Link> Closing, ImmutableArray<Link> Held)
{
    /// <summary>What it goes through, by the names that a person gave, each once.</summary>
    public ImmutableArray<string> Names { get; init; } = [];

    /// <summary>All links in it, by which it is known again.</summary>
    internal ImmutableArray<Link> Links { get; init; } = [];
}

/// <summary>
/// Finds every loop, channel by channel: what goes round on one channel of a cable is none for who takes another. A loop is a strongly
/// connected part of the channels; parts that share a link are told as one.
/// </summary>
public sealed class Loops
{
    /// <summary>From this gain on, dB, a loop is held until somebody allows it.</summary>
    public const double HeldFrom = -6;

    // What logarithms round.
    private const double Rounding = 1e-9;

    private readonly HashSet<(Point, Point)> _circling;

    private Loops(ImmutableArray<SoundLoop> all, HashSet<(Point, Point)> circling) => (All, _circling) = (all, circling);

    /// <summary>All loops that sound goes round in now.</summary>
    public ImmutableArray<SoundLoop> All { get; }

    /// <summary>True where a link lies on a circle, or would if all sounded: whoever changes its level changes a loop.</summary>
    public bool IsOnCircle((Point From, Point To) link) => _circling.Contains(link);

    /// <summary>The loops of a wiring.</summary>
    /// <param name="wiring">The wiring, with nothing held.</param>
    /// <param name="order">Its order.</param>
    /// <param name="before">What was found last: a loop in which nothing has changed need not be measured again.</param>
    public static Loops Of(Wiring wiring, RunOrder order, Loops? before = null)
    {
        ArgumentNullException.ThrowIfNull(wiring);
        ArgumentNullException.ThrowIfNull(order);
        if (!order.HasLate)
        {
            return new([], []);
        }

        var channels = new ChannelGraph(wiring, order);
        var circling = channels.Circles(flowing: false).SelectMany(c => c.Links).Select(l => wiring.Links[l].Identity).ToHashSet();
        if (circling.Count == 0)
        {
            return new([], circling);
        }

        var found = ImmutableArray.CreateBuilder<SoundLoop>();
        foreach (var circles in Joined(channels.Circles(flowing: true)))
        {
            var indices = circles.SelectMany(c => c.Links).Distinct().Order().ToArray();
            ImmutableArray<Link> links = [.. indices.Select(i => wiring.Links[i])];
            var known = before?.All.FirstOrDefault(l => l.Links.AsSpan().SequenceEqual(links.AsSpan()));
            var gain = known?.GainDecibels ?? 20 * Math.Log10(circles.Max(c => LoopGain.Of(channels, c)));
            ImmutableArray<Link> closing = [.. indices.Where(i => order.IsLate(i)).Select(i => wiring.Links[i])];
            var points = circles.SelectMany(c => c.Points).ToHashSet();
            ImmutableArray<Point> through = [.. order.Places.Where(points.Contains).Select(p => wiring.Points[p])];
            found.Add(new SoundLoop(
                through,
                gain,
                closing,
                gain < HeldFrom - Rounding ? [] : HeldOf(channels, indices))
            {
                Links = links,
                Names = [.. through.Select(wiring.NameOf).Distinct()],
            });
        }

        return new(found.ToImmutable(), circling);
    }

    /// <summary>The wiring with what is to be held, held.</summary>
    public Wiring Hold(Wiring wiring)
    {
        ArgumentNullException.ThrowIfNull(wiring);
        var held = All.SelectMany(l => l.Held).ToHashSet();
        return held.Count == 0 ? wiring : wiring.Held(held);
    }

    // What closes a loop is held, unless it is allowed. Where a link that nobody can hold closes it, another of its way is: the last that can be.
    private static ImmutableArray<Link> HeldOf(ChannelGraph channels, int[] loop)
    {
        var (links, order) = (channels.Wiring.Links, channels.Order);
        var held = loop.Where(i => order.IsLate(i) && links[i] is { Breaking: Breaking.Hold, LoopAllowed: false }).ToList();
        while (Array.Exists(loop, i => order.IsLate(i) && links[i].Breaking != Breaking.Hold))
        {
            var broken = loop.Where(i => held.Contains(i) || links[i] is { Breaking: Breaking.Hold, LoopAllowed: true }).ToHashSet();
            var more = channels.Circles(flowing: true, broken)
                .Where(c => c.Links.Overlaps(loop))
                .Select(c => (Circle: c, Last: c.Links.Where(i => links[i].Breaking == Breaking.Hold).DefaultIfEmpty(-1).Max()))
                .Where(c => c.Last >= 0 && 20 * Math.Log10(LoopGain.Of(channels, c.Circle)) >= HeldFrom - Rounding)
                .Select(c => c.Last)
                .ToList();
            if (more.Count == 0)
            {
                break;
            }

            held.AddRange(more);
        }

        return [.. held.Distinct().Order().Select(i => links[i])];
    }

    private static List<List<Circle>> Joined(IEnumerable<Circle> circles)
    {
        var groups = new List<List<Circle>>();
        foreach (var circle in circles)
        {
            var same = groups.Where(g => g.Exists(c => c.Links.Overlaps(circle.Links))).ToList();
            groups.RemoveAll(same.Contains);
            groups.Add([.. same.SelectMany(g => g), circle]);
        }

        return groups;
    }
}

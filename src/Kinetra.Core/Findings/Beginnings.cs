using System.Collections.Immutable;
using Kinetra.Core.Rigs;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Findings;

/// <summary>Where a source's sound begins, as far as it is there: so that ways around the source are seen too.</summary>
static class Beginnings
{
    /// <summary>The channels of devices and programs that a source takes, and itself as it comes in.</summary>
    public static ImmutableArray<Origin> Of(Source source, Situation s)
    {
        IEnumerable<Origin> own = source.Input switch
        {
            DeviceInput input => Channels(new DevicePoint(input.Device, Side.In), [input.Left, .. input.Right is { } right ? [right] : Array.Empty<int>()], s),
            AppInput { Port: { } port } input => Whole(new AppPoint(input.App, port), s),
            AppInput input => (s.Gear.Find(input.App)?.Ports ?? []).Where(p => p.Side == Side.Out).SelectMany(p => Whole(new AppPoint(input.App, p.Id), s)),
            EverythingElseInput => CatchAll.Of(s.Rig, s.Gear).SelectMany(p => Whole(p, s)),
            _ => [],
        };
        return [.. own.Concat(Whole(new SourcePoint(source.Id, Tap.Raw), s))];
    }

    private static IEnumerable<Origin> Whole(Point point, Situation s) => Enumerable.Range(0, s.Routed.Wiring.ChannelsOf(point)).Select(c => new Origin(point, c));

    // A device that others are joined into: from theirs on.
    private static IEnumerable<Origin> Channels(Point device, IEnumerable<int> channels, Situation s)
    {
        foreach (var channel in channels.Where(c => c < s.Routed.Wiring.ChannelsOf(device)))
        {
            yield return new Origin(device, channel);
            foreach (var link in s.Routed.Wiring.Links.Where(l => l.To == device && l.From is DevicePoint { Side: Side.In }))
            {
                foreach (var cell in link.Map.Cells.Where(c => c.To == channel && c.Gain != 0))
                {
                    yield return new Origin(link.From, cell.From);
                }
            }
        }
    }
}

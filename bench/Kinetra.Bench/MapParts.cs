using System.Collections.Immutable;
using System.Diagnostics;
using Kinetra.Core.Findings;
using Kinetra.Core.Maps;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;

namespace Kinetra.Bench;

/// <summary>What it costs to draw the map of all paths: to follow the links, and to lay tracks out so that no two lie on one place.</summary>
static class MapParts
{
    private static readonly int[] Parts = [1, 2, 4];

    /// <summary>A quarter, half and all of 64 sources, 32 programs, 16 cables and 16 mixes, every source in every mix.</summary>
    public static object[] Measure() =>
    [
        .. Parts.Select(part =>
        {
            var (rig, gear, _) = GearParts.Make(16 * part, 8 * part, 4 * part, 4 * part);
            var situation = new Situation(Routed.Of(rig, new Computer(ImmutableDictionary<SourceId, int>.Empty, gear)), []);
            Layout? layout = null;
            var times = Warm.Runs(21, () =>
            {
                var begun = Stopwatch.GetTimestamp();
                var diagram = Diagram.Of(situation);
                var followed = Stopwatch.GetElapsedTime(begun).TotalMilliseconds;
                begun = Stopwatch.GetTimestamp();
                layout = Layout.Of(diagram);
                return (Followed: followed, Laid: Stopwatch.GetElapsedTime(begun).TotalMilliseconds);
            });
            return (object)new
            {
                what = $"{rig.Sources.Length} sources, {gear.Apps.Length} programs, {rig.Cables.Length} cables, {rig.Mixes.Length} mixes",
                tracks = layout!.Tracks.Length,
                width = layout.Width,
                height = layout.Height,
                followMilliseconds = times.Select(t => t.Followed).Order().ElementAt(times.Length / 2),
                layoutMilliseconds = times.Select(t => t.Laid).Order().ElementAt(times.Length / 2),
            };
        }),
    ];
}

using System.Collections.Immutable;
using System.Diagnostics;
using Kinetra.Core.Findings;
using Kinetra.Core.Rigs;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;

namespace Kinetra.Bench;

/// <summary>What it costs to find out where every sound goes, and that it grows no faster than beginnings times links; and with ways without number.</summary>
static class AnalysisParts
{
    private static readonly int[] Parts = [1, 2, 4];

    /// <summary>A quarter, half and all of 64 sources, 32 programs, 16 cables and 16 mixes; and 16 cables that each play into all after them.</summary>
    public static object[] Measure() =>
    [
        .. Parts.Select(part =>
        {
            var share = part / 4.0;
            var (rig, gear, _) = GearParts.Make((int)(64 * share), (int)(32 * share), (int)(16 * share), (int)(16 * share));
            return Of($"{rig.Sources.Length} sources, {gear.Apps.Length} programs, {rig.Cables.Length} cables, {rig.Mixes.Length} mixes", rig, new Computer(ImmutableDictionary<SourceId, int>.Empty, gear));
        }),
        Of("16 cables, each into all after it", Dense(), Computer.Unknown),
    ];

    private static object Of(string what, Rig rig, Computer computer)
    {
        Routed? routed = null;
        Situation? situation = null;
        ImmutableArray<Finding> findings = [];
        var times = Warm.Runs(21, () =>
        {
            var begun = Stopwatch.GetTimestamp();
            routed = Routed.Of(rig, computer);
            var wired = Stopwatch.GetElapsedTime(begun).TotalMilliseconds;
            begun = Stopwatch.GetTimestamp();
            situation = new Situation(routed, []);
            var spread = Stopwatch.GetElapsedTime(begun).TotalMilliseconds;
            findings = Examination.Of(situation);
            return (Wired: wired, Spread: spread, Found: Stopwatch.GetElapsedTime(begun).TotalMilliseconds);
        });
        return new
        {
            what,
            links = routed!.Wiring.Links.Length,
            beginnings = situation!.Spread.Origins.Length,
            listeners = situation.Spread.Listeners.Length,
            findings = findings.Length,
            wiringMilliseconds = times.Select(t => t.Wired).Order().ElementAt(times.Length / 2),
            meetings = situation.Spread.Meetings.Length,
            spreadMilliseconds = times.Select(t => t.Spread).Order().ElementAt(times.Length / 2),
            analysisMilliseconds = times.Select(t => t.Found).Order().ElementAt(times.Length / 2),
        };
    }

    // 2^14 ways from the first to the last.
    private static Rig Dense()
    {
        const int cables = 16;
        return new Rig
        {
            Sources =
            [
                new Source { Id = new("in"), Name = "In", Kind = SourceKind.App, Input = new BrowserInput("c", "d", "l", 0) },
                new Source { Id = new("out"), Name = "Out", Kind = SourceKind.App, Input = new CableInput(new($"c{cables - 1}"), 0, 1) },
            ],
            Mixes = [new Mix { Id = new("m"), Name = "Mix", Purpose = MixPurpose.Viewers, Sends = [new Send { Source = new("in") }, new Send { Source = new("out") }] }],
            Cables =
            [
                .. Enumerable.Range(0, cables).Select(i => new Cable
                {
                    Id = new($"c{i}"),
                    Name = $"Cable {i}",
                    Feeds = [.. i == 0 ? [new CableFeed { From = new SourcePoint(new("in")) }] : Enumerable.Range(0, i).Select(j => new CableFeed { From = new CablePoint(new($"c{j}")), Gain = new(-6) })],
                }),
            ],
        };
    }
}

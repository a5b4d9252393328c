using System.Collections.Immutable;
using CsCheck;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;
using Kinetra.Core.Tests.Gear;

namespace Kinetra.Core.Tests.Routing;

public class ReachTests
{
    [Fact]
    public void Every_way_of_every_sound_to_every_point_is_found_with_its_gain_and_no_other_as_walking_all_of_them_tells()
    {
        Gen.Select(AnyComputers.State, AnyComputers.Rig).Sample(
            (gear, rig) =>
            {
                var routed = Routed.Of(rig, new Computer(new Dictionary<SourceId, int>(), gear));
                foreach (var from in routed.Wiring.Points.Where(p => p is SourcePoint { Tap: Tap.Raw } or AppPoint or DevicePoint { Side: Side.In }))
                {
                    var walked = new Dictionary<Point, List<(ImmutableArray<Link> Links, double Gain)>>();
                    var channels = routed.Wiring.ChannelsOf(from);
                    var unit = new double[channels, channels];
                    for (var c = 0; c < channels; c++)
                    {
                        unit[c, c] = 1;
                    }

                    Walk(routed.Wiring, from, unit, [], walked);
                    var reach = Reach.Of(routed, from);
                    foreach (var to in routed.Wiring.Points)
                    {
                        var (found, all) = (reach.At(to), walked.GetValueOrDefault(to) ?? []);
                        found.Count.ShouldBe(all.Count);
                        found.Paths.Length.ShouldBe(Math.Min(all.Count, Reach.MostPaths));
                        var loudest = all.OrderByDescending(w => w.Gain).Take(found.Paths.Length).ToList();
                        for (var i = 0; i < found.Paths.Length; i++)
                        {
                            found.Paths[i].GainDecibels.ShouldBe(loudest[i].Gain, 1e-6);
                            all.ShouldContain(w => w.Links.SequenceEqual(found.Paths[i].Links));
                        }

                        found.Paths.Select(p => string.Join(' ', p.Links.Select(l => l.Identity))).ShouldBeUnique();
                    }
                }
            },
            iter: 300);
    }

    [Fact]
    public void Of_millions_of_ways_the_strongest_are_listed_and_all_are_counted()
    {
        // Each cable plays into all after it: 2^(n−1) ways from the first to the last, and one link more makes a way 1 dB softer.
        const int cables = 16;
        var rig = new Rig
        {
            Sources = [new Source { Id = new("s"), Name = "S", Kind = SourceKind.App, Input = new BrowserInput("c", "d", "l", 0) }],
            Mixes = [new Mix { Id = Demo.Viewers, Name = "Viewers", Purpose = MixPurpose.Viewers, Sends = [new Send { Source = new("out") }] }],
            Cables =
            [
                .. Enumerable.Range(0, cables).Select(i => new Cable
                {
                    Id = new($"c{i}"),
                    Name = $"C{i}",
                    Feeds = i == 0
                        ? [new CableFeed { From = new SourcePoint(new("s")) }]
                        : [.. Enumerable.Range(0, i).Select(j => new CableFeed { From = new CablePoint(new($"c{j}")), Into = new(), Gain = new(-1) })],
                }),
            ],
        };
        rig = rig with { Sources = rig.Sources.Add(new Source { Id = new("out"), Name = "Out", Kind = SourceKind.App, Input = new CableInput(new($"c{cables - 1}"), 0, 1) }) };
        rig = rig with { Mixes = [rig.Mixes[0] with { Sends = [new Send { Source = new("s"), Heard = false }, new Send { Source = new("out") }] }] };
        var found = Reach.Of(Routed.Of(rig, Computer.Unknown with { Channels = new Dictionary<SourceId, int> { [new("s")] = 1 } }), new SourcePoint(new("s"), Tap.Raw)).At(new MixPoint(Demo.Viewers));
        found.Count.ShouldBe(Math.Pow(2, cables - 2));
        found.Paths.Length.ShouldBe(Reach.MostPaths);

        // The way straight from the first to the last; then those over one, then over two.
        found.Paths.Select(p => Math.Round(p.GainDecibels - found.Paths[0].GainDecibels, 6)).ShouldBe([0, .. Enumerable.Repeat(-1.0, cables - 2), .. Enumerable.Repeat(-2.0, Reach.MostPaths - cables + 1)]);
        found.MostDecibels.ShouldBeGreaterThan(found.Paths[0].GainDecibels);
    }

    [Fact]
    public void What_is_muted_docked_off_or_held_comes_to_nobody_and_a_way_says_how_late_it_is()
    {
        var (host, rig) = (new SourceId("host"), Demo.Rig("host"));
        var (source, mix) = (new SourcePoint(host, Tap.Raw), new MixPoint(Demo.Viewers));
        Arrivals Of(Rig changed) => Reach.Of(Routed.Of(changed, Computer.Unknown), source).At(mix);
        Of(rig).Count.ShouldBe(1);
        Of(rig.Apply(new Editing.SetSend(Demo.Viewers, host, Muted: true))).Count.ShouldBe(0);
        Of(rig.Apply(new Editing.SetSend(Demo.Viewers, host, Heard: false))).Count.ShouldBe(0);
        Of(rig.Apply(new Editing.SetSend(Demo.Viewers, host, Gain: Gain.Off))).Count.ShouldBe(0);
        var late = rig.Apply(new Editing.AddProcessor(new SourcePoint(host), Processor.Of(Delay.Type, ("time", 20))))
            .Apply(new Editing.AddProcessor(mix, Processor.Of(Limiter.Type, ("lookAhead", 3))));
        var waits = Routed.Of(late, Computer.Unknown).Alignment.LatencyOf(mix);
        waits.ShouldBeGreaterThan(0);
        (Of(late).Paths[0].DelayFrames - 960 - waits).ShouldBe(0);
        (Of(rig.Apply(new Editing.SetSend(Demo.Viewers, host, Gain: new(-4)))).Paths[0].GainDecibels - Of(rig).Paths[0].GainDecibels).ShouldBe(-4, 1e-9);
    }

    // Every sequence of links that sound takes, whatever becomes of it.
    private static void Walk(Wiring wiring, Point at, double[,] gains, ImmutableArray<Link> way, Dictionary<Point, List<(ImmutableArray<Link> Links, double Gain)>> walked)
    {
        var (rows, columns, power) = (gains.GetLength(0), gains.GetLength(1), 0.0);
        foreach (var gain in gains)
        {
            power += gain * gain;
        }

        if (power == 0)
        {
            return;
        }

        if (!walked.TryGetValue(at, out var all))
        {
            walked[at] = all = [];
        }

        all.Add((way, 10 * Math.Log10(power / columns)));
        foreach (var link in wiring.Links.Where(l => l.From == at && l.Use == LinkUse.Sound && l.State == LinkState.On))
        {
            var next = new double[link.Map.To, columns];
            foreach (var cell in link.Map.Cells)
            {
                for (var c = 0; c < columns; c++)
                {
                    next[cell.To, c] += cell.Gain * link.Gain * (cell.From < rows ? gains[cell.From, c] : 0);
                }
            }

            Walk(wiring, link.To, next, way.Add(link), walked);
        }
    }
}

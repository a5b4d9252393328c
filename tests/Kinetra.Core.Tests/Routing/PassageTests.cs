using CsCheck;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;
using Kinetra.Core.Tests.Gear;

namespace Kinetra.Core.Tests.Routing;

public class PassageTests
{
    // The judge lets the sound spread until nothing is new, channel by channel.
    [Fact]
    public void Whatever_comes_somewhere_however_softly_and_round_loops_too_passes_and_nothing_else_does() =>
        Gen.Select(AnyComputers.State, AnyComputers.Rig).Sample(
            (gear, rig) =>
            {
                var routed = Routed.Of(rig, new Computer(new Dictionary<SourceId, int>(), gear));
                var spread = Spread.Of(routed);
                var passage = new Passage(routed);
                foreach (var origin in spread.Origins)
                {
                    var wet = new HashSet<Origin> { origin };
                    while (routed.Wiring.Links.Where(l => l.Use == LinkUse.Sound && l.Factor != 0)
                        .SelectMany(l => l.Map.Cells.Where(c => c.Gain != 0 && wet.Contains(new(l.From, c.From))).Select(c => new Origin(l.To, c.To)))
                        .Where(o => !wet.Contains(o)).ToList() is { Count: > 0 } more)
                    {
                        wet.UnionWith(more);
                    }

                    foreach (var listener in spread.Listeners)
                    {
                        var comes = wet.Any(o => o.Point == listener);
                        var way = passage.Between([origin], listener);
                        (way is not null).ShouldBe(comes);
                        passage.Into(listener).Contains(origin).ShouldBe(comes && origin.Point != listener);
                        if (spread.Arrivals.Any(a => a.Origin == origin && a.Listener == listener))
                        {
                            comes.ShouldBeTrue();
                        }

                        if (way is { } links)
                        {
                            links[0].From.ShouldBe(origin.Point);
                            links[^1].To.ShouldBe(listener);
                            links.Zip(links.Skip(1)).ShouldAllBe(p => p.First.To == p.Second.From);
                        }
                    }
                }
            },
            iter: 2_000);
}

using CsCheck;
using Kinetra.Core.Editing;
using Kinetra.Core.Findings;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;
using Kinetra.Core.Tests.Gear;

namespace Kinetra.Core.Tests.Findings;

public class FixTests
{
    [Fact]
    public void Whatever_ends_a_finding_by_the_show_ends_it_on_any_computer() =>
        Gen.Select(AnyComputers.State, AnyComputers.Rig).Sample(
            (gear, rig) =>
            {
                var before = Of(rig, gear);
                foreach (var finding in Examination.Of(before))
                {
                    finding.Sentence.ShouldEndWith(".");
                    finding.Places.ShouldNotBeEmpty();
                    foreach (var fix in finding.Fixes.Where(f => f.Show is not null))
                    {
                        if (fix.Show!.Apply(rig) is CommandResult.Applied applied)
                        {
                            Consequences.Between(before, Of(applied.Rig, gear)).Ends.ShouldContain(finding.Key, $"{finding.Sentence} {fix.Label}");
                        }
                    }
                }

                Examination.Of(before).Select(f => f.Key).ShouldBeUnique();
            },
            iter: 3_000);

    [Fact]
    public void What_a_trace_says_would_open_a_way_does() =>
        Gen.Select(AnyComputers.State, AnyComputers.Rig).Sample(
            (gear, rig) =>
            {
                var before = Of(rig, gear);
                foreach (var listener in before.Spread.Listeners)
                {
                    foreach (var source in rig.Sources)
                    {
                        var trace = Trace.Of(before, source.Id, listener);
                        trace.Ways.IsEmpty.ShouldBe(trace.Count == 0);
                        foreach (var way in trace.Ways)
                        {
                            way.Hops.Sum(h => h.DelayFrames).ShouldBe(way.DelayFrames);
                            way.Hops.Sum(h => h.GainDecibels).ShouldBe(way.GainDecibels, 0.05);
                        }

                        if (trace.Open?.Show?.Apply(rig) is CommandResult.Applied applied)
                        {
                            trace.Ways.ShouldBeEmpty();
                            Trace.Of(Of(applied.Rig, gear), source.Id, listener).Sentence.ShouldNotContain("because");
                        }
                    }
                }
            },
            iter: 300);

    private static Situation Of(Core.Rigs.Rig rig, Core.Gear.GearState gear) => new(Routed.Of(rig, new Computer(new Dictionary<SourceId, int>(), gear)), []);
}

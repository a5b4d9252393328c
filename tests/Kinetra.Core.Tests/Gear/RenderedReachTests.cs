using CsCheck;
using Kinetra.Core.Engine;
using Kinetra.Core.Gear;
using Kinetra.Core.Rigs;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Gear;

/// <summary>What is said about ways, held against what the engine does: a click at one end, and when and how loud it comes to the other.</summary>
public class RenderedReachTests
{
    private const int Blocks = 14;
    private const int Frames = Blocks * AudioFormat.BlockFrames;
    private const int Click = AudioFormat.BlockFrames;

    [Fact]
    public void A_click_comes_to_every_point_when_and_as_loud_as_its_ways_say_and_nowhere_else()
    {
        var compared = 0;
        Gen.Select(AnyComputers.State, AnyComputers.Rig).Sample(
            (gear, rig) =>
            {
                // Of one channel: what each way does to it is one number for each side.
                var from = gear.Apps.Where(a => a.IsRunning).SelectMany(a => a.Ports.Where(p => p is { Side: Side.Out, Channels: 1 }).Select(p => new AppPoint(a.Id, p.Id))).FirstOrDefault();
                if (from is null)
                {
                    return;
                }

                var reach = Reach.Of(Routed.Of(rig, new Computer(new Dictionary<SourceId, int>(), gear)), from);
                var plan = EnginePlan.Build(rig, _ => throw new InvalidOperationException("Nothing gives samples."), null, gear: new RunningGear(gear, (point, _) => point == from ? new Clicks() : null));
                var engine = new MixEngine(plan);
                var taps = plan.Buses.Select(b => b.Point).Append(new MixPoint(new("m0"))).Where(p => plan.ChannelsOf(p) <= 2 && p != from).ToDictionary(p => p, p => engine.Hold(p));
                for (var b = 0; b < Blocks; b++)
                {
                    engine.ProcessBlock();
                }

                foreach (var (point, tap) in taps)
                {
                    var (left, right, position) = (new float[Frames], new float[Frames], 0L);
                    tap.Ring.Read(ref position, left, right, out _);
                    var arrivals = reach.At(point);
                    if (arrivals.Count > Reach.MostPaths)
                    {
                        continue;
                    }

                    var expected = arrivals.Paths.ToLookup(p => p.DelayFrames);
                    for (var n = 0; n < Frames; n++)
                    {
                        var power = ((double)left[n] * left[n]) + (plan.ChannelsOf(point) > 1 ? (double)right[n] * right[n] : 0);
                        var here = expected[n - Click].ToList();
                        if (here.Count == 0)
                        {
                            power.ShouldBeLessThan(1e-13, $"{point} at {n}");
                        }
                        else if (here.Count == 1 && here[0].GainDecibels > -90)
                        {
                            (10 * Math.Log10(power)).ShouldBe(here[0].GainDecibels + (20 * Math.Log10(Clicks.Height)), 0.05, $"{point} at {n}");
                            compared++;
                        }
                    }
                }
            },
            iter: 900,
            threads: 1);
        compared.ShouldBeGreaterThan(100);
    }

    private sealed class Clicks : IPortSound
    {
        // So soft that no device is driven beyond full scale.
        public const float Height = 0.05f;

        public void Process(long frame, float[][] block)
        {
            if (frame == Click)
            {
                block[0][0] += Height;
            }
        }
    }
}

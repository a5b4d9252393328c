using Kinetra.Core.Clocks;
using Kinetra.Core.Editing;
using Kinetra.Core.Gear;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Gear.Practice;

namespace Kinetra.Gear.Tests;

/// <summary>Joined devices over a simulated hour, sample by sample; what holds their latency is tried over ten hours in the core's tests.</summary>
public class JoinedForAnHourTests(MadeStandIns made) : IClassFixture<MadeStandIns>
{
    private const double Millisecond = AudioFormat.SampleRate / 1_000.0;

    [Fact]
    public void Joined_to_an_interface_that_gives_the_clock_devices_that_are_off_by_200_ppm_either_way_are_held_at_one_latency_for_an_hour_and_lose_nothing()
    {
        var (fast, slow, all, cables) = (new DeviceId("pier-mic"), new DeviceId("capture-box"), new DeviceId("all"), CablesNow.Of(Rig.Empty));
        SourceId[] sources = [new("fast"), new("slow")];
        var rig = new Rig
        {
            Sources = [.. sources.Select((s, i) => new Source { Id = s, Name = s.Value, Kind = SourceKind.Microphone, Input = new DeviceInput(all, i + 1) })],
        };
        var bench = new PracticeBench(
            made.All,
            rig,
            g =>
            {
                var clock = g.Find(PracticeCatalog.Interface)!;
                var box = g.Find(slow)!;
                var few = g with
                {
                    Apps = [],
                    Devices = [clock with { Inputs = clock.Inputs[..1] }, g.Find(fast)! with { Rate = 48_000, PartsPerMillion = 200 }, box with { Inputs = box.Inputs[..1], PartsPerMillion = -200 }],
                };
                return ((GearOutcome.Done)new JoinDevices(all, "All", [clock.Id, fast, slow]).Apply(few, cables, default)).State;
            });
        bench.Pass(40, () => { });
        DriftingInput[] drifts = [bench.Computer.DriftOf(fast)!, bench.Computer.DriftOf(slow)!];
        float[][] sounds = [made.All.Sound("host-mic").Left, made.All.Sound("console").Left];
        double[] held = [.. drifts.Select(d => d.Latency)];
        var before = Lags();
        bench.Pass(3_600, () =>
        {
            for (var i = 0; i < 2; i++)
            {
                Math.Abs(drifts[i].Latency - held[i]).ShouldBeLessThan(Millisecond);
            }
        });
        drifts.ShouldAllBe(d => d.Gaps == 0 && d.Lost == 0);
        drifts[0].PartsPerMillion.ShouldBe(200, 1);
        drifts[1].PartsPerMillion.ShouldBe(-200, 1);
        foreach (var (now, then) in Lags().Zip(before))
        {
            Math.Abs(now - then).ShouldBeLessThan((int)Millisecond);
        }

        // By how much what is heard lies behind the sound now: heard anew, since an hour of it are not kept.
        int[] Lags()
        {
            var taps = sources.Select(s => bench.Engine.Hold(new SourcePoint(s))).ToArray();
            var first = bench.Engine.Frame;
            bench.Pass(2, () => { });
            return [.. taps.Select((tap, i) =>
            {
                var (left, right, position) = (new float[96_000], new float[96_000], first);
                tap.Ring.Read(ref position, left, right, out _).ShouldBe(96_000);
                position.ShouldBe(first + 96_000);
                tap.Dispose();
                var loudest = Enumerable.Range(0, 3).Select(n => 2_400 + (24_000 * n)).MaxBy(n => left[n..(n + 24_000)].Sum(x => x * x));
                return Practice.LagOf(left, [.. Enumerable.Range(0, left.Length).Select(n => sounds[i][(int)((first + n) % sounds[i].Length)])], loudest);
            })];
        }
    }
}

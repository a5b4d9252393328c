using CsCheck;
using Kinetra.Core.Engine;
using Kinetra.Core.Gear;
using Kinetra.Core.Rigs;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Gear;

public class GearSoundTests
{
    private const int Blocks = 12;
    private const int Frames = Blocks * AudioFormat.BlockFrames;

    // −120 dBFS.
    private const double Least = 1e-6;

    [Fact]
    public void What_every_input_and_every_device_gets_is_the_plain_sum_over_all_ways()
    {
        Gen.Select(AnyComputers.State, AnyComputers.Rig).Sample(
            (gear, rig) =>
            {
                var noises = new Noises();
                var plan = EnginePlan.Build(rig, _ => throw new InvalidOperationException("Nothing gives samples."), null, gear: new RunningGear(gear, noises.Of));
                plan.Loops.ShouldBeEmpty();
                var engine = new MixEngine(plan);
                var points = plan.Buses.Select(b => b.Point).Where(p => p is AppPoint or DevicePoint).Append(new MixPoint(new("m0"))).ToList();
                var taps = points.ToDictionary(p => p, p => engine.Hold(p));
                for (var b = 0; b < Blocks; b++)
                {
                    engine.ProcessBlock();
                }

                var judge = new PlainComputer(gear, rig);
                foreach (var (point, tap) in taps)
                {
                    var (left, right) = (new float[Frames], new float[Frames]);
                    var position = 0L;
                    tap.Ring.Read(ref position, left, right, out _);
                    Compare(point, left, Meant(judge, noises, point, 0));
                    if (plan.ChannelsOf(point) > 1)
                    {
                        Compare(point, right, Meant(judge, noises, point, 1));
                    }
                }
            },
            iter: 150);
    }

    [Fact]
    public void A_catch_all_never_holds_a_sample_of_a_source_that_is_taken_elsewhere()
    {
        Gen.Select(AnyComputers.State, AnyComputers.Rig).Sample(
            (gear, rig) =>
            {
                rig = rig with { Sources = rig.Sources.SetItem(0, rig.Sources[0] with { Input = new EverythingElseInput(), Fold = false }) };
                var elsewhere = rig.Sources.Skip(1).Select(s => s.Input).ToList();
                var wiring = Resolve.Of(rig, new Computer(new Dictionary<SourceId, int>(), gear));
                var held = new HashSet<string>();
                Collect(wiring, new SourcePoint(rig.Sources[0].Id, Tap.Raw), held);
                foreach (var input in elsewhere)
                {
                    var taken = new HashSet<string>();
                    foreach (var point in wiring.Points.Where(p => input switch
                    {
                        AppInput tap => p is AppPoint app && app.Id == tap.App && (tap.Port is null ? app.Port.StartsWith("out", StringComparison.Ordinal) : app.Port == tap.Port),
                        DeviceInput device => p == new DevicePoint(device.Device, Side.In),
                        CableInput cable => p == new CablePoint(cable.Cable),
                        _ => false,
                    }))
                    {
                        taken.Add(point.ToString());
                    }

                    taken.Overlaps(held).ShouldBeFalse($"{string.Join(", ", taken)} and {string.Join(", ", held)}");
                }
            },
            iter: 1_000);
    }

    [Fact]
    public void No_block_allocates_with_devices_programs_and_destinations_at_work()
    {
        var gear = Small();
        var rig = new Rig
        {
            Sources =
            [
                new Source { Id = new("s"), Name = "Mic", Kind = SourceKind.Microphone, Input = new DeviceInput(new("mic"), 0), SyncDelay = 40 },
                new Source { Id = new("p"), Name = "Player", Kind = SourceKind.Music, Input = new AppInput(new("player"), StillPlays: true), Fold = true },
            ],
            Mixes =
            [
                new Mix
                {
                    Id = Demo.Viewers,
                    Name = "Viewers",
                    Purpose = MixPurpose.Viewers,
                    Sends = [new Send { Source = new("s") }, new Send { Source = new("p") }],
                    Destinations = [new Destination { Id = new("d"), End = new DeviceOutput(new("ears")) }],
                },
            ],
        };
        var noise = Signals.Noise(1, 48_000);
        var engine = new MixEngine(EnginePlan.Build(rig, _ => null!, null, gear: new RunningGear(gear, (point, _) => point is DevicePoint { Side: Side.In } or AppPoint ? new Playing(noise) : null)));
        for (var b = 0; b < 200; b++)
        {
            engine.ProcessBlock();
        }

        Allocations.Of(200, _ => engine.ProcessBlock()).ShouldBe(0);
    }

    [Fact]
    public void A_device_that_goes_and_comes_back_and_a_choice_that_changes_leave_no_click()
    {
        var sine = Signals.Sine(100, 0.25, 60 * AudioFormat.BlockFrames);
        var gear = Small();
        var rig = new Rig
        {
            Sources = [new Source { Id = new("s"), Name = "Mic", Kind = SourceKind.Microphone, Input = new DeviceInput(new("mic"), 0) }],
            Mixes = [new Mix { Id = Demo.Viewers, Name = "Viewers", Purpose = MixPurpose.Viewers, Sends = [new Send { Source = new("s") }], Destinations = [new Destination { Id = new("d"), End = new DeviceOutput(new("ears")) }] }],
            Cables = [new Cable { Id = new("c"), Name = "Cable" }],
        };
        IPortSound? Sounds(Point point, int channels) => point == new DevicePoint(new("mic"), Side.In) || point == new AppPoint(new("player"), "sound") ? new Playing(sine) : null;
        var plan = EnginePlan.Build(rig, _ => null!, null, gear: new RunningGear(gear, Sounds));
        var engine = new MixEngine(plan);
        using var ears = engine.Hold(new DevicePoint(new("ears"), Side.Out));
        var changes = new Queue<GearState>([
            gear.With(gear.Find(new AppId("player"))! with { Ports = [.. gear.Apps[0].Ports.Select(p => p with { Choice = new ChosenEnd(new CablePoint(new("c"))) })] }),
            gear.With(gear.Find(new DeviceId("ears"))! with { IsPresent = false }),
            gear,
            gear.With(gear.Apps[0] with { IsRunning = false }),
        ]);
        for (var b = 0; b < 60; b++)
        {
            if (b % 12 == 11 && changes.Count > 0)
            {
                plan = EnginePlan.Build(rig, _ => null!, plan, gear: new RunningGear(changes.Dequeue(), Sounds));
                engine.Post(plan);
            }

            engine.ProcessBlock();
        }

        var (left, right) = (new float[58 * AudioFormat.BlockFrames], new float[58 * AudioFormat.BlockFrames]);
        var position = 0L;
        ears.Ring.Read(ref position, left, right, out _);
        Signals.RmsAbove(5_000, left, 1_024, left.Length - 2_048).ShouldBeLessThan(-90);
    }

    [Fact]
    public void What_an_open_speaker_sends_round_is_a_loop_that_is_told_and_only_the_way_to_the_speaker_is_held()
    {
        var gear = Small().With(Small().Find(new DeviceId("ears"))! with { IsOpen = true });
        var rig = new Rig
        {
            Sources = [new Source { Id = new("s"), Name = "Mic", Kind = SourceKind.Microphone, Input = new DeviceInput(new("mic"), 0), Trim = new(10) }],
            Mixes = [new Mix { Id = Demo.Viewers, Name = "Viewers", Purpose = MixPurpose.Viewers, Gain = new(10), Sends = [new Send { Source = new("s") }], Destinations = [new Destination { Id = new("d"), End = new DeviceOutput(new("ears")) }] }],
        };
        var routed = Routed.Of(rig, new Computer(new Dictionary<SourceId, int>(), gear));
        var loop = routed.Loops.All.Single();
        loop.GainDecibels.ShouldBe(20 - 20 - 3.01 + 0, 0.02);
        loop.Held.Single().Via.ShouldBe(new DestinationPoint(Demo.Viewers, new("d")));
        routed.Wiring.Links.Single(l => l.From == new DevicePoint(new("ears"), Side.Out)).State.ShouldBe(LinkState.On);
    }

    [Fact]
    public void A_loop_that_something_closes_that_nobody_can_hold_is_held_on_its_way_until_that_is_allowed()
    {
        // The call's own voice goes by default into the cable that it hears: that way comes first, and leaves only the call to be late.
        var cable = new CablePoint(new("c"));
        var gear = Small() with
        {
            Apps =
            [
                new App
                {
                    Id = new("call"),
                    Name = "Call",
                    Kind = AppKind.Call,
                    IsRunning = true,
                    Ports = [new AppPort { Id = "voice", Name = "the guest", Side = Side.Out }, new AppPort { Id = "mic", Name = "him", Side = Side.In, Choice = new ChosenEnd(cable) }],
                    Passes = [new Pass("mic", "voice", Gain.Unity)],
                },
            ],
            Defaults = [cable, null, null, null],
        };
        Routed With(bool allowed) => Routed.Of(
            new Rig
            {
                Sources = [new Source { Id = new("s"), Name = "Guest", Kind = SourceKind.Call, Input = new AppInput(new("call"), "voice") { LoopAllowed = allowed } }],
                Mixes = [new Mix { Id = Demo.Viewers, Name = "Guest hears", Purpose = MixPurpose.Guest, Sends = [new Send { Source = new("s") }] }],
                Cables = [new Cable { Id = cable.Id, Name = "To the guest", Channels = 2, Feeds = [new CableFeed { From = new MixPoint(Demo.Viewers) }] }],
            },
            new Computer(new Dictionary<SourceId, int>(), gear));
        var loop = With(allowed: false).Loops.All.Single();
        loop.GainDecibels.ShouldBeGreaterThan(Loops.HeldFrom);
        loop.Held.Single().To.ShouldBe(new SourcePoint(new("s"), Tap.Raw));
        With(allowed: false).Wiring.Links.Single(l => l.To == new SourcePoint(new("s"), Tap.Raw)).State.ShouldBe(LinkState.Held);
        With(allowed: true).Loops.All.Single().Held.ShouldBeEmpty();
    }

    private static GearState Small() => new()
    {
        Devices =
        [
            new Device { Id = new("mic"), Name = "Mic", Kind = DeviceKind.Microphone, Inputs = [new DeviceInputChannel { Name = "1", Plugged = Plugged.Dynamic }] },
            new Device { Id = new("ears"), Name = "Ears", Kind = DeviceKind.Headset, Outputs = 2 },
        ],
        Apps = [new App { Id = new("player"), Name = "Player", Kind = AppKind.Music, IsRunning = true, Ports = [new AppPort { Id = "sound", Name = "its sound", Side = Side.Out }] }],
        Defaults = [new DevicePoint(new("ears"), Side.Out), new DevicePoint(new("mic"), Side.In), null, null],
    };

    // All points whose sound comes to one.
    private static void Collect(Wiring wiring, Point to, HashSet<string> held)
    {
        foreach (var link in wiring.Links.Where(l => l.To == to && l.Use == LinkUse.Sound))
        {
            if (held.Add(link.From.ToString()))
            {
                Collect(wiring, link.From, held);
            }
        }
    }

    private static double[] Meant(PlainComputer judge, Noises noises, Point point, int channel)
    {
        var sum = new double[Frames];
        foreach (var (sound, gain, delay) in point is MixPoint ? judge.Mix(channel) : judge.At(point.ToString(), channel))
        {
            var noise = noises.Samples(sound.Point, sound.Channel);
            for (var n = delay; n < Frames; n++)
            {
                sum[n] += gain * noise[n - delay];
            }
        }

        return sum;
    }

    private static void Compare(Point point, float[] heard, double[] meant)
    {
        for (var n = 0; n < Frames; n++)
        {
            Math.Abs(heard[n] - meant[n]).ShouldBeLessThan(Least, $"{point} at {n}");
        }
    }

    /// <summary>At each point that makes sound, noise of its own.</summary>
    private sealed class Noises
    {
        private readonly Dictionary<(string, int), float[]> _samples = [];

        public Playing? Of(Point point, int channels) => point is DevicePoint { Side: Side.In } or AppPoint && !point.ToString().Contains("/in0", StringComparison.Ordinal) && !point.ToString().Contains("/in1", StringComparison.Ordinal)
            ? new Playing([.. Enumerable.Range(0, channels).Select(c => Samples(point.ToString(), c))])
            : null;

        // So soft that no device is driven beyond full scale.
        public float[] Samples(string point, int channel)
        {
            if (!_samples.TryGetValue((point, channel), out var samples))
            {
                var seed = channel;
                foreach (var letter in point)
                {
                    seed = unchecked((seed * 31) + letter);
                }

                _samples[(point, channel)] = samples = Signals.Noise(seed, Frames, 0.01);
            }

            return samples;
        }
    }

    /// <summary>Plays samples by the engine's time.</summary>
    private sealed class Playing(params float[][] samples) : IPortSound
    {
        public void Process(long frame, float[][] block)
        {
            for (var c = 0; c < samples.Length; c++)
            {
                for (var n = 0; n < block[c].Length && frame + n < samples[c].Length; n++)
                {
                    block[c][n] += samples[c][frame + n];
                }
            }
        }
    }
}

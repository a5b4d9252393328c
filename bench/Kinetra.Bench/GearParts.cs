using System.Diagnostics;
using Kinetra.Core.Engine;
using Kinetra.Core.Gear;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Bench;

/// <summary>The computer around the desk at its largest: what programs, devices, cables and destinations cost, and that it grows with their number.</summary>
static class GearParts
{
    private const int Blocks = 350;
    private static readonly int[] Parts = [1, 2, 4];

    /// <summary>A quarter, half and all of 64 sources, 32 programs, 16 cables, and 16 mixes with three destinations each.</summary>
    public static object[] Measure() =>
    [
        .. Parts.Select(part =>
        {
            var share = part / 4.0;
            var (rig, gear, sounds) = Make((int)(64 * share), (int)(32 * share), (int)(16 * share), (int)(16 * share));
            var inlets = rig.Sources.Where(s => !s.Input.IsLinked).ToDictionary(s => s.Id, _ => (IInlet)new StandingInlet(Sound));
            var running = new RunningGear(gear, (point, _) => sounds(point));
            EnginePlan? plan = null;
            var build = Time(() => plan = EnginePlan.Build(rig, s => inlets[s.Id], null, gear: running));
            var again = Time(() => plan = EnginePlan.Build(rig, s => inlets[s.Id], plan, gear: running with { State = gear with { Defaults = gear.Defaults } }));
            var engine = new MixEngine(plan!);
            Warm.Up(engine.ProcessBlock);
            var ns = Enumerable.Range(0, 7).Select(_ => Time(() =>
            {
                for (var b = 0; b < Blocks / 7; b++)
                {
                    engine.ProcessBlock();
                }
            }) * 1e6 / (Blocks / 7 * AudioFormat.BlockFrames)).Order().ElementAt(3);
            var before = GC.GetAllocatedBytesForCurrentThread();
            engine.ProcessBlock();
            var bytes = GC.GetAllocatedBytesForCurrentThread() - before;
            return (object)new
            {
                sources = rig.Sources.Length,
                programs = gear.Apps.Length,
                cables = rig.Cables.Length,
                mixes = rig.Mixes.Length,
                destinations = rig.Mixes.Sum(m => m.Destinations.Length),
                nsPerFrame = ns,
                shareOfOneCore = ns * AudioFormat.SampleRate / 1e9,
                bytesPerBlock = bytes,
                buildMilliseconds = build,
                rebuildMilliseconds = again,
            };
        }),
    ];

    private static readonly SoundBuffer Sound = ReferenceRig.Sound(1, 4 * AudioFormat.SampleRate);

    // Half of the sources are inputs of devices, a quarter copies of programs, a quarter from cables; every program plays into a cable and hears another.
    public static (Rig Rig, GearState Gear, Func<Point, IPortSound?> Sounds) Make(int sources, int programs, int cables, int mixes)
    {
        var devices = Enumerable.Range(0, 8).Select(d => new Device
        {
            Id = new($"device-{d}"),
            Name = $"Device {d}",
            Kind = DeviceKind.Interface,
            Inputs = [.. Enumerable.Range(0, 8).Select(i => new DeviceInputChannel { Name = $"{i}", Plugged = Plugged.Line })],
            Outputs = 8,
        });
        var gear = new GearState
        {
            Devices = [.. devices],
            Apps =
            [
                .. Enumerable.Range(0, programs).Select(a => new App
                {
                    Id = new($"app-{a}"),
                    Name = $"App {a}",
                    Kind = AppKind.Player,
                    IsRunning = true,
                    Ports =
                    [
                        new AppPort { Id = "out", Name = "sound", Side = Side.Out, Choice = new ChosenEnd(new CablePoint(new($"cable-{a % cables}"))) },
                        new AppPort { Id = "in", Name = "sound", Side = Side.In, Choice = new ChosenEnd(new CablePoint(new($"cable-{(a + 1) % cables}"))) },
                    ],
                }),
            ],
        };
        var rig = new Rig
        {
            Sources =
            [
                .. Enumerable.Range(0, sources).Select(s => new Source
                {
                    Id = new($"source-{s}"),
                    Name = $"Source {s}",
                    Kind = SourceKind.App,
                    Input = (s % 4) switch
                    {
                        0 or 1 => new DeviceInput(new($"device-{s % 8}"), s / 8 % 8, (s + 1) / 8 % 8 == s / 8 % 8 ? null : (s / 8 % 8) ^ 1),
                        2 => new AppInput(new($"app-{s / 4 % programs}"), "out", StillPlays: true),
                        _ => new CableInput(new($"cable-{s / 4 % cables}"), 0, 1),
                    },
                }),
            ],
            Cables = [.. Enumerable.Range(0, cables).Select(c => new Cable { Id = new($"cable-{c}"), Name = $"Cable {c}" })],
        };
        rig = rig with
        {
            Mixes =
            [
                .. Enumerable.Range(0, mixes).Select(m => new Mix
                {
                    Id = new($"mix-{m}"),
                    Name = $"Mix {m}",
                    Purpose = MixPurpose.Other,
                    Sends = [.. rig.Sources.Select(s => new Send { Source = s.Id, Gain = new(-12) })],
                    Destinations = [.. Enumerable.Range(0, 3).Select(d => new Destination { Id = new($"to-{d}"), End = new DeviceOutput(new($"device-{(m + d) % 8}")), Gain = new(-6 * d), Into = new(2 * (m / 8 % 4), (2 * (m / 8 % 4)) + 1) })],
                }),
            ],
        };
        return (rig, gear, point => point is DevicePoint { Side: Side.In } or AppPoint { Port: "out" } ? new Playing() : null);
    }

    private static double Time(Action work)
    {
        var begun = Stopwatch.GetTimestamp();
        work();
        return Stopwatch.GetElapsedTime(begun).TotalMilliseconds;
    }

    private sealed class Playing : IPortSound
    {
        public void Process(long frame, float[][] block)
        {
            var at = (int)(frame % (Sound.Frames - AudioFormat.BlockFrames));
            for (var c = 0; c < block.Length; c++)
            {
                Core.Dsp.Mixdown.Add(block[c], (c % 2 == 0 ? Sound.Left : Sound.Right!).AsSpan(at, AudioFormat.BlockFrames), 0.1f);
            }
        }
    }
}

using System.Collections.Immutable;
using CsCheck;
using Kinetra.Core.Gear;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Gear;

/// <summary>Computers of all sorts with a show on each. Sound never goes round: a cable is heard only by programs that stand after all that play into it.</summary>
static class AnyComputers
{
    public const int Cables = 5;

    private static readonly Gen<Gain> AnyGain = Gen.OneOf(Gen.Const(Gain.Off), Gen.Double[-20, 0].Select(d => new Gain(d)));

    private static readonly Gen<Device> AnyDevice =
        from inputs in Gen.Int[0, 4]
        from outputs in Gen.Int[0, 4]
        from present in Gen.Int[0, 5]
        from monitors in Gen.Int[0, 3]
        select new Device
        {
            Id = new("x"),
            Name = "x",
            Kind = DeviceKind.Interface,
            Inputs = [.. Enumerable.Range(0, inputs).Select(i => new DeviceInputChannel { Name = $"{i}", Plugged = i % 2 == 0 ? Plugged.Dynamic : Plugged.Line })],
            Outputs = outputs,
            IsPresent = present > 0,
            BusyWith = present == 1 ? "Another" : null,
            IsMonitoring = monitors == 0,
        };

    private static Gen<EndChoice> ChoiceOf(int app, Side side) =>
        from what in Gen.Int[0, 9]
        from which in Gen.Int[0, 5]
        from left in Gen.Int[0, 3]
        from stereo in Gen.Int[0, 2]
        select what switch
        {
            0 => new NoEnd(),
            1 or 2 => (EndChoice)new DefaultEnd(what == 2),
            3 or 4 or 5 => new ChosenEnd(new DevicePoint(new($"d{which % 4}"), side), Some(left, stereo)),

            // What plays into cable j stands before whoever hears it.
            _ when side == Side.Out => new ChosenEnd(new CablePoint(new($"c{app + (which % 2)}")), Some(left, stereo)),
            _ => app == 0 ? new NoEnd() : new ChosenEnd(new CablePoint(new($"c{which % app}")), Some(left, stereo)),
        };

    private static CableChannels? Some(int left, int stereo) => stereo switch { 0 => null, 1 => new(left), _ => new(left, left == 1 ? 0 : 1) };

    private static Gen<App> AppAt(int index) =>
        from outs in Gen.Int[1, 2].SelectMany(n => PortAt(index, Side.Out).Array[n])
        from ins in Gen.Int[0, 2].SelectMany(n => PortAt(index, Side.In).Array[n])
        from passes in Gen.Select(Gen.Int[0, 1], Gen.Int[0, 1], AnyGain, Gen.Int[0, 600]).Array[0, 2]
        from running in Gen.Int[0, 6]
        from volume in AnyGain
        let ports = outs.Select((p, i) => p with { Id = $"out{i}" }).Concat(ins.Select((p, i) => p with { Id = $"in{i}" })).ToImmutableArray()
        select new App
        {
            Id = new($"a{index}"),
            Name = $"App {index}",
            Kind = AppKind.Player,
            Ports = ports,
            Passes =
            [
                .. passes.Select(p => new Pass($"in{p.Item1}", $"out{p.Item2}", p.Item3, p.Item4))
                    .Where(p => ports.Any(q => q.Id == p.From) && ports.Any(q => q.Id == p.To)).DistinctBy(p => (p.From, p.To)),
            ],
            IsRunning = running > 0,
            Volume = volume,
        };

    private static Gen<AppPort> PortAt(int app, Side side) =>
        from channels in Gen.Int[1, 4]
        from folded in Gen.Bool
        from choice in ChoiceOf(app, side)
        select new AppPort { Id = "x", Name = "sound", Side = side, Channels = channels, Intake = folded ? Intake.Folded : Intake.First, Choice = choice };

    public static readonly Gen<GearState> State =
        from devices in AnyDevice.Array[4]
        from apps in Gen.Select(AppAt(0), AppAt(1), AppAt(2), AppAt(3))
        from defaults in Gen.Int[0, 4].Array[4]
        select new GearState
        {
            Devices = [.. devices.Select((d, i) => d with { Id = new($"d{i}"), Name = $"Device {i}" })],
            Apps = [apps.Item1, apps.Item2, apps.Item3, apps.Item4],
            Defaults = [.. defaults.Select((d, i) => d == 4 ? null : (Point)new DevicePoint(new($"d{d}"), i % 2 == 0 ? Side.Out : Side.In))],
        };

    private static readonly Gen<SourceInput> AnyInput =
        from what in Gen.Int[0, 7]
        from which in Gen.Int[0, 3]
        from port in Gen.Int[0, 2]
        from left in Gen.Int[0, 3]
        from stereo in Gen.Bool
        from still in Gen.Bool
        select what switch
        {
            0 => new EverythingElseInput(still),
            1 or 2 or 3 => (SourceInput)new AppInput(new($"a{which}"), port == 2 ? null : $"out{port}", still),
            4 or 5 => new DeviceInput(new($"d{which}"), left, stereo ? (left + 1) % 4 : null),
            _ => new CableInput(new($"c{which % Cables}"), left, stereo ? (left + 1) % 4 : null),
        };

    public static readonly Gen<Rig> Rig =
        from sources in Gen.Select(AnyInput, Gen.Double[-12, 0], Gen.Bool, Gen.Int[0, 4]).Array[1, 4]
        from sends in AnyGain.Array[8]
        from ways in Gen.Select(Gen.Int[0, 3], Gen.Int[0, 3], AnyGain, Gen.Bool).Array[0, 3]
        select new Rig
        {
            Sources =
            [
                .. sources.Select((s, i) => new Source
                {
                    Id = new($"s{i}"), Name = $"Source {i}", Kind = SourceKind.App, Input = s.Item1, Trim = new(s.Item2), Inverted = s.Item3, Fold = s.Item4 == 0,
                }),
            ],
            Mixes =
            [
                new Mix
                {
                    Id = new("m0"),
                    Name = "Mix",
                    Purpose = MixPurpose.Other,
                    Sends = [.. sources.Select((_, i) => new Send { Source = new($"s{i}"), Gain = sends[i] })],
                    Destinations = [.. ways.Select((w, i) => new Destination { Id = new($"w{i}"), End = new DeviceOutput(new($"d{w.Item1}")), Into = new(w.Item2, (w.Item2 + 1) % 4), Gain = w.Item3, On = w.Item4 })],
                },
            ],
            Cables = [.. Enumerable.Range(0, Cables).Select(i => new Cable { Id = new($"c{i}"), Name = $"Cable {i}", Channels = 4, BufferFrames = 100 * i })],
        };
}

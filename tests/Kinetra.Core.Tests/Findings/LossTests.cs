using CsCheck;
using Kinetra.Core.Editing;
using Kinetra.Core.Findings;
using Kinetra.Core.Rigs;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;
using Kinetra.Core.Tests.Gear;

namespace Kinetra.Core.Tests.Findings;

public class LossTests
{
    [Fact]
    public void Whoever_would_hear_less_if_a_device_went_is_told_and_whom_nobody_hears_any_more_nobody_does() =>
        Gen.Select(AnyComputers.State.Select(Audible), AnyComputers.Rig.Select(Audible)).Sample(
            (gear, rig) =>
            {
                var before = Of(rig, gear);
                foreach (var device in gear.Devices.Where(d => d.IsUsable))
                {
                    var without = ((GearOutcome.Done)new SetDevice(device.Id, IsPresent: false).Apply(gear, CablesNow.Of(rig), default)).State;
                    var after = Of(rig, without);
                    var told = Losses.Between(before, after);
                    told.ShouldAllBe(t => t.EndsWith('.'));

                    // What a microphone or a program gives, by walking.
                    var sources = rig.Sources.Where(s => IsThere(s.Input, gear) && Walking.IsFed(s, before.Routed.Wiring)).ToList();
                    var heard = sources.ToDictionary(s => s.Id, s => Walking.IsFed(s, after.Routed.Wiring) && !(s.Input is DeviceInput input && input.Device == device.Id) ? Walking.From(s, after.Routed.Wiring).Where(p => p != new DevicePoint(device.Id, Side.Out)).ToHashSet() : []);
                    foreach (var source in sources.Where(s => before.Spread.Origins.Any(o => IsOf(s, o))))
                    {
                        foreach (var listener in Walking.From(source, before.Routed.Wiring).Where(p => IsThere(p, gear) && !heard[source.Id].Contains(p)))
                        {
                            var other = rig.Sources.Any(s => s.Id != source.Id && heard.TryGetValue(s.Id, out var where) && where.Contains(listener) && s.Input == source.Input);
                            if (!other)
                            {
                                told.ShouldContain(t => t.Contains(after.NameOf(listener)) || t.Contains(source.Name), $"{source.Name} at {after.NameOf(listener)}: {string.Join(" | ", told)}");
                            }
                        }
                    }

                    foreach (var name in told.Where(t => t.StartsWith("Nobody hears ", StringComparison.Ordinal)).SelectMany(t => t["Nobody hears ".Length..t.IndexOf(" any more", StringComparison.Ordinal)].Split(", ").SelectMany(n => n.Split(" and "))))
                    {
                        if (sources.FirstOrDefault(s => s.Name == name) is { } named)
                        {
                            heard[named.Id].Where(p => IsThere(p, without)).ShouldBeEmpty($"{name} ({named.Input}) of {device.Id}: {string.Join(" | ", told)}");
                        }
                    }
                }
            },
            iter: 600);

    [Fact]
    public void Nothing_is_lost_by_what_stays() =>
        Gen.Select(AnyComputers.State, AnyComputers.Rig).Sample((gear, rig) => Losses.Between(Of(rig, gear), Of(rig, gear)).ShouldBeEmpty(), iter: 50);

    // What is at nothing is a way that brings nothing.
    private static Gain Audible(Gain gain) => gain == Gain.Off ? new Gain(-30) : gain;

    private static Core.Gear.GearState Audible(Core.Gear.GearState gear) => gear with
    {
        Apps = [.. gear.Apps.Select(a => a with { Volume = Audible(a.Volume), Passes = [.. a.Passes.Select(p => p with { Gain = Audible(p.Gain) })] })],
    };

    private static Rig Audible(Rig rig) => rig with
    {
        Mixes =
        [
            .. rig.Mixes.Select(m => m with
            {
                Sends = [.. m.Sends.Select(s => s with { Gain = Audible(s.Gain) })],
                Destinations = [.. m.Destinations.Select(d => d with { Gain = Audible(d.Gain) })],
            }),
        ],
    };

    private static bool IsThere(SourceInput input, Core.Gear.GearState gear) => input switch
    {
        DeviceInput device => gear.Find(device.Device)!.IsUsable,
        AppInput { Port: not null } app => gear.Find(app.App)!.IsRunning,
        _ => false,
    };

    private static bool IsThere(Point listener, Core.Gear.GearState gear) => listener switch
    {
        MixPoint => true,
        DevicePoint device => gear.Find(device.Id)!.IsUsable,
        AppPoint app => gear.Find(app.Id)!.IsRunning,
        _ => false,
    };

    private static bool IsOf(Source source, Origin origin) => source.Input switch
    {
        DeviceInput input => origin.Point == new DevicePoint(input.Device, Side.In) && (origin.Channel == input.Left || origin.Channel == input.Right),
        AppInput { Port: { } port } input => origin.Point == new AppPoint(input.App, port),
        _ => false,
    };

    private static Situation Of(Rig rig, Core.Gear.GearState gear) => new(Routed.Of(rig, new Computer(new Dictionary<SourceId, int>(), gear)), []);
}

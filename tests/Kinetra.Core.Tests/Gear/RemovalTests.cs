using System.Text.Json;
using CsCheck;
using Kinetra.Core.Editing;
using Kinetra.Core.Gear;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Gear;

/// <summary>What is removed is gone everywhere.</summary>
public class RemovalTests
{
    private static readonly Gen<(GearState Gear, Rig Rig)> Wishful =
        from gear in AnyComputers.State
        from rig in AnyComputers.Rig
        from feeds in Gen.Int[0, AnyComputers.Cables - 1].Array[3]
        from role in Gen.Int[0, 4]
        from cable in Gen.Int[0, AnyComputers.Cables - 1]
        select (
            role < GearState.RoleCount ? gear.With((Role)role, new CablePoint(new($"c{cable}"))) : gear,
            rig with
            {
                Mixes = [rig.Mixes[0] with { Destinations = [.. rig.Mixes[0].Destinations.DistinctBy(d => (d.End, d.Into))] }],
                Cables = [.. rig.Cables.Select((c, i) => i > 0 && feeds.Contains(i) ? c with { Feeds = [new CableFeed { From = new CablePoint(new($"c{i - 1}")), Into = new() }] } : c)],
                Promises = role % 2 == 0 ? [new DefaultStays(new("p"), (Role)(role % GearState.RoleCount), new CablePoint(new($"c{cable}")))] : [],
                Wishes = rig.Wishes with
                {
                    Roles = [new((Role)(role % GearState.RoleCount), new CablePoint(new($"c{cable}")))],
                    Ports = [.. gear.Apps.Select(a => new PortWish(a.Id, a.Ports[0].Id, new ChosenEnd(new CablePoint(new($"c{(cable + 1) % AnyComputers.Cables}")))))],
                },
            });

    [Fact]
    public void Removing_a_cable_leaves_no_choice_no_default_no_wish_and_nothing_of_the_show_that_speaks_of_it_and_undo_brings_back_what_was_the_shows()
    {
        Gen.Select(Wishful, Gen.Int[0, AnyComputers.Cables - 1]).Sample((both, which) =>
        {
            var (gear, rig) = both;
            var id = new CableId($"c{which}");
            var told = CableLosses.Of(rig, gear, rig.Find(id)!);
            var removed = new RemoveCable(id).Apply(rig);
            (removed is CommandResult.Refused).ShouldBe(told.Obstacle is not null);
            if (removed is not CommandResult.Applied applied)
            {
                return;
            }

            var after = ((GearOutcome.Done)new CableGone(id).Apply(gear, CablesNow.Of(applied.Rig), default)).State;
            Text(applied.Rig, after).ShouldNotContain($"cable/{id}\"");
            Text(applied.Rig, after).ShouldNotContain($"\"{id}\"");
            Text(rig, gear).ShouldContain($"\"{id}\"");

            // Nobody loses anything unsaid, and nothing is said that nobody loses.
            told.Losses.IsEmpty.ShouldBe(Text(rig with { Cables = rig.Cables.Remove(rig.Find(id)!) }, gear) == Text(applied.Rig, after) && rig.Find(id)!.Feeds.IsEmpty);
            Text(((CommandResult.Applied)applied.Inverse.Apply(applied.Rig)).Rig, gear).ShouldBe(Text(rig, gear));
        });
    }

    [Fact]
    public void Taking_joined_devices_apart_leaves_no_choice_and_no_default_that_speaks_of_them()
    {
        Gen.Select(AnyComputers.State, Gen.Int[0, 3], Gen.Int[0, 3], Gen.Int[0, 15]).Sample((gear, one, other, set) =>
        {
            var cables = CablesNow.Of(Rig.Empty);
            var (id, members) = (new DeviceId("both"), new[] { new DeviceId($"d{one}"), new DeviceId($"d{other}") });
            if (new JoinDevices(id, "Both", [.. members]).Apply(gear, cables, default) is not GearOutcome.Done { State: var joined })
            {
                return;
            }

            foreach (var app in joined.Apps)
            {
                foreach (var port in app.Ports)
                {
                    joined = new SetPort(app.Id, port.Id, new ChosenEnd(new DevicePoint(id, port.Side))).Apply(joined, cables, default) is GearOutcome.Done done ? done.State : joined;
                }
            }

            for (var role = Role.Playback; role <= Role.CallsRecording; role++)
            {
                var side = role is Role.Playback or Role.CallsPlayback ? Side.Out : Side.In;
                joined = (set & (1 << (int)role)) != 0 && new SetDefault(role, new DevicePoint(id, side)).Apply(joined, cables, default) is GearOutcome.Done done ? done.State : joined;
            }

            var apart = ((GearOutcome.Done)new PartDevices(id).Apply(joined, cables, default)).State;
            Text(Rig.Empty, apart).ShouldNotContain("both");
            apart.Devices.Select(d => d.Id).ShouldBe(gear.Devices.Select(d => d.Id));
        });
    }

    // The show, and all that the computer is set to.
    private static string Text(Rig rig, GearState gear) =>
        JsonSerializer.Serialize(rig, RigJson.Options)
        + JsonSerializer.Serialize(gear.Apps.Select(a => a.Ports).ToList(), RigJson.Options)
        + JsonSerializer.Serialize(gear.Defaults, RigJson.Options);
}

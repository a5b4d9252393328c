using CsCheck;
using Kinetra.Core.Editing;
using Kinetra.Core.Gear;
using Kinetra.Core.Hands;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Hands;

public class ActionTests
{
    private static readonly Rig Show = Demo.Rig("voice", "music") with
    {
        Sources = [Demo.Source("voice") with { Name = "Host mic" }, Demo.Source("music") with { Name = "Record shelf (left)" }],
        PadSets =
        [
            new PadSet { Id = new("one"), Name = "One", Pads = [Pad("a", "Bell"), Pad("b", "Gulls")] },
            new PadSet { Id = new("two"), Name = "Two", Pads = [Pad("c", "Bell"), Pad("d", "Gulls")] },
        ],
    };

    private static readonly ActionScope Scope = ActionScope.Of(Show, new PadSetId("two"), GearState.Empty, []);

    [Theory]
    [InlineData("hush", "hush")]
    [InlineData("/hush/", "hush")]
    [InlineData("mix/viewers/source/host-mic/level", "mix/viewers/source/voice/level")]
    [InlineData("mix/Viewers/source/Host mic/level", "mix/viewers/source/voice/level")]
    [InlineData("MIX/viewers/SOURCE/voice/LEVEL", "mix/viewers/source/voice/level")]
    [InlineData("mix/my-ears/source/record-shelf-left/dock", "mix/ears/source/music/dock")]
    [InlineData("pad/bell/press", "pad/c/press")]
    [InlineData("pad/a/press", "pad/a/press")]
    public void An_address_by_names_or_ids_means_one_thing_and_of_equal_names_that_of_the_set_at_hand(string address, string meant)
    {
        var call = ActionCall.Find(Scope, address, out var problem);
        problem.ShouldBeNull();
        call!.Address.ShouldBe(meant);
    }

    [Theory]
    [InlineData("", "address")]
    [InlineData("nothing/of/this", "address")]
    [InlineData("mix/nobody/level", "mix")]
    [InlineData("mix/viewers/source/nobody/mute", "source")]
    [InlineData("pad//press", "pad")]
    [InlineData("palette", "address")]
    [InlineData("listen/viewers", "address")]
    public void An_address_that_means_nothing_here_is_told_with_what_there_is(string address, string where)
    {
        ActionCall.Find(Scope, address, out var problem).ShouldBeNull();
        problem!.Where.ShouldBe(where);
        problem.Allowed.ShouldNotBeEmpty();
    }

    [Fact]
    public void Two_of_one_name_are_told_apart_by_their_ids()
    {
        var scope = ActionScope.Of(Show, null, GearState.Empty, []);
        ActionCall.Find(scope, "pad/bell/press", out var problem).ShouldBeNull();
        problem!.Allowed.ShouldContain("a, c");
    }

    [Fact]
    public void Every_address_that_is_told_leads_back_to_its_action()
    {
        var calls = ActionCall.All(Scope).ToList();
        calls.Count.ShouldBeGreaterThan(40);
        calls.Select(c => c.Address).ShouldBeUnique();
        foreach (var call in calls)
        {
            ActionCall.Find(Scope, call.Address, out _)!.Address.ShouldBe(call.Address);
            call.Words.ShouldNotContain("{");
        }

        foreach (var call in calls.Where(c => !c.Type.Address.StartsWith("pad/", StringComparison.Ordinal)))
        {
            ActionCall.Find(Scope, call.NamedAddress, out _)!.Address.ShouldBe(call.Address);
        }
    }

    [Fact]
    public void No_two_actions_have_one_address_or_one_key_and_every_target_is_named_in_the_words()
    {
        ActionTable.All.Select(a => a.Address).ShouldBeUnique();
        ActionTable.All.SelectMany(a => a.Keys).ShouldBeUnique();
        foreach (var action in ActionTable.All)
        {
            foreach (var part in action.Parts.Where(p => ActionType.TargetOf(p) is not null))
            {
                action.Words.ShouldContain(part);
            }
        }
    }

    [Theory]
    [InlineData("hush", "on", true, null)]
    [InlineData("hush", "1", true, null)]
    [InlineData("hush", "0", false, null)]
    [InlineData("hush", null, null, null)]
    [InlineData("hush", "toggle", null, null)]
    [InlineData("undo", "1", null, null)]
    [InlineData("mix/viewers/level", "-6.5", null, -6.5)]
    [InlineData("mix/viewers/level", "−6.5", null, -6.5)]
    [InlineData("mix/viewers/level", "off", null, double.NegativeInfinity)]
    [InlineData("mix/viewers/step", "+3", null, 3.0)]
    public void What_is_told_is_understood(string address, string? value, bool? on, double? number)
    {
        var call = ActionCall.Find(Scope, address, out _)!;
        ActionInput.Read(call.Type, value, out var input).ShouldBeNull();
        input!.Value.On.ShouldBe(on);
        input.Value.Number.ShouldBe(number);
    }

    [Theory]
    [InlineData("hush", "perhaps")]
    [InlineData("mix/viewers/level", "")]
    [InlineData("mix/viewers/level", "on")]
    [InlineData("mix/viewers/level", "13")]
    [InlineData("mix/viewers/level", "NaN")]
    [InlineData("mix/viewers/step", "61")]
    [InlineData("mix/viewers/step", "off")]
    public void What_is_no_value_of_an_action_is_told_with_what_is_allowed(string address, string value)
    {
        var problem = ActionInput.Read(ActionCall.Find(Scope, address, out _)!.Type, value, out var input);
        problem!.Where.ShouldBe("value");
        problem.Allowed.ShouldNotBeEmpty();
        input.ShouldBeNull();
    }

    [Fact]
    public void A_button_that_is_let_go_does_not_do_a_thing_twice()
    {
        ActionInput.Read(ActionTable.All.First(a => a.Address == "undo"), "0", out var input).ShouldBeNull();
        input.ShouldBeNull();
    }

    [Fact]
    public void Whatever_is_written_is_an_action_or_told_to_be_none() => Gen.String.Select(Gen.String).Sample((address, value) =>
    {
        var call = ActionCall.Find(Scope, address, out var problem);
        (call is null).ShouldBe(problem is not null);
        if (call is not null && ActionInput.Read(call.Type, value, out var input) is not null)
        {
            input.ShouldBeNull();
        }
    });

    [Fact]
    public void What_a_switch_is_told_nothing_about_becomes_the_other_of_both_and_on_and_off_are_what_they_say()
    {
        var rig = Show;
        rig = Done(rig, "mix/viewers/source/voice/mute", null);
        rig.Find(Demo.Viewers, new("voice"))!.Muted.ShouldBeTrue();
        rig = Done(rig, "mix/viewers/source/voice/mute", true);
        rig.Find(Demo.Viewers, new("voice"))!.Muted.ShouldBeTrue();
        rig = Done(rig, "mix/viewers/source/voice/mute", null);
        rig.Find(Demo.Viewers, new("voice"))!.Muted.ShouldBeFalse();
        rig = Done(rig, "mix/viewers/source/voice/dock", true);
        rig.Find(Demo.Viewers, new("voice"))!.Heard.ShouldBeFalse();
        rig = Done(rig, "mix/viewers/source/voice/dock", null);
        rig.Find(Demo.Viewers, new("voice"))!.Heard.ShouldBeTrue();
    }

    [Fact]
    public void Steps_up_and_down_stay_within_what_is_allowed_and_what_is_off_goes_up_only() => Gen.Select(Gen.Double[-130, 20], Gen.Double[-60, 60].Array[1, 8]).Sample((from, steps) =>
    {
        var rig = Show.Apply(new SetMix(Demo.Viewers, Gain: from < -120 ? Gain.Off : new(Math.Min(from, 12))));
        foreach (var step in steps)
        {
            var before = rig.Find(Demo.Viewers)!.Gain;
            rig = rig.Apply(ActionCommands.Of(Call("mix/viewers/step"), new ActionInput(Number: step), rig, out _)!);
            var after = rig.Find(Demo.Viewers)!.Gain;
            after.IsAllowed.ShouldBeTrue();
            if (!before.IsOff)
            {
                after.Decibels.ShouldBe(Math.Clamp(before.Decibels + step, -120, 12), 0.01);
            }
            else if (step <= 0)
            {
                after.IsOff.ShouldBeTrue();
            }
        }
    });

    private static Pad Pad(string id, string name) => new() { Id = new(id), Name = name, Sound = new string('0', 64), Source = new("voice"), End = 100 };

    private static ActionCall Call(string address) => ActionCall.Find(Scope, address, out _)!;

    private static Rig Done(Rig rig, string address, bool? on) => rig.Apply(ActionCommands.Of(Call(address), new ActionInput(on), rig, out _)!);
}

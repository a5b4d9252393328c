using CsCheck;
using Kinetra.Core.Editing;
using Kinetra.Core.Engine;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Engine;

/// <summary>What changes levels alone goes to what runs, and sounds as if a plan had been built for it.</summary>
public class LevelChangeTests
{
    private static readonly CableId Wire = new("wire");
    private static readonly Processor Squeeze = Processor.Of(Compressor.Type, ("threshold", -30));

    private static readonly Gen<RigCommand> AnyLevel =
        from source in Gen.Int[0, 1].Select(i => new SourceId(i == 0 ? "one" : "two"))
        from mix in Gen.Int[0, 1].Select(i => i == 0 ? Demo.Ears : Demo.Viewers)
        from level in Gen.Double[-40, 6]
        from flag in Gen.Bool
        from kind in Gen.Int[0, 7]
        select (RigCommand)(kind switch
        {
            0 => new SetSend(mix, source, new Gain(level)),
            1 => new SetSend(mix, source, Muted: flag),
            2 => new SetSend(mix, source, Heard: flag),
            3 => new SetSend(mix, source, Pan: level / 40),
            4 => new SetSource(source, Trim: new Gain(level)),
            5 => new SetMix(mix, Gain: new Gain(level)),
            6 => new SetCableFeed(Wire, new SourcePoint(new("two")), Gain: new Gain(level), On: flag),
            _ => new SetProcessor(new SourcePoint(new("one")), Squeeze.Id, flag, Values("threshold", Math.Min(level, 0))),
        });

    [Fact]
    public void Whatever_level_is_changed_it_sounds_to_the_bit_as_with_another_plan()
    {
        AnyLevel.List[1, 12].Sample(
            commands =>
            {
                var (levels, plans) = (Start(), Start());
                foreach (var command in commands)
                {
                    plans.Post(command);
                    Post(levels, command).ShouldBeTrue(command.ToString());
                    levels.Run(5);
                    plans.Run(5);
                }

                levels.Left(Demo.Viewers).ShouldBe(plans.Left(Demo.Viewers));
                levels.Right(Demo.Ears).ShouldBe(plans.Right(Demo.Ears));
            },
            iter: 40);
    }

    [Fact]
    public void What_would_move_others_in_time_or_change_a_loop_takes_another_plan()
    {
        var gate = Processor.Of(Gate.Type);
        var bench = new Bench(Rig().Apply(new AddProcessor(new SourcePoint(new("two")), gate)), Inlets());
        Post(bench, new SetProcessor(new SourcePoint(new("two")), gate.Id, Values: Values("lookAhead", 7))).ShouldBeFalse();
        Post(bench, new SetProcessor(new SourcePoint(new("two")), gate.Id, Values: Values("threshold", -20))).ShouldBeTrue();
        var looped = new Bench(Rig().Apply(new AddCableFeed(Wire, new CableFeed { From = new MixPoint(Demo.Viewers), Gain = new(-20) })), Inlets());
        Post(looped, new SetMix(Demo.Viewers, Gain: new(5))).ShouldBeFalse();
        Post(looped, new SetMix(Demo.Ears, Gain: new(5))).ShouldBeTrue();
        new SetSend(Demo.Ears, new("one"), Tap: Tap.BeforeChain).Levels.ShouldBeNull();
        new SetSource(new("one"), Name: "Other").Levels!.Value.ShouldBeEmpty();
    }

    [Fact]
    public void On_a_circle_nothing_is_set_aside_and_made_louder_and_elsewhere_it_is()
    {
        var level = Processor.Of(Utility.Type, ("gain", -6));
        var open = Rig().Apply(new SetChain(new MixPoint(Demo.Viewers), [level]));
        var looped = open.Apply(new AddCableFeed(Wire, new CableFeed { From = new MixPoint(Demo.Viewers), Gain = new(-20) }));
        new Bench(open, Inlets()).Engine.Plan.Aside(new MixPoint(Demo.Viewers), null, 2).ShouldNotBeNull();
        var plan = new Bench(looped, Inlets()).Engine.Plan;
        plan.Aside(new MixPoint(Demo.Viewers), null, 2).ShouldBeNull();
        plan.Aside(new MixPoint(Demo.Viewers), level.Id, 2).ShouldBeNull();
        plan.Aside(new SourcePoint(new("one")), null, 2).ShouldNotBeNull();
        plan.Aside(new SourcePoint(new("one")), level.Id, 2).ShouldBeNull();
    }

    [Fact]
    public void What_a_level_change_makes_wrong_is_told_as_by_all_rules()
    {
        foreach (var command in new RigCommand[]
        {
            new SetSend(Demo.Viewers, new("two"), new Gain(13)),
            new SetSend(Demo.Viewers, new("two"), Pan: double.NaN),
            new SetSource(new("two"), Trim: new Gain(-300)),
            new SetMix(Demo.Viewers, Gain: new Gain(99)),
            new SetProcessor(new SourcePoint(new("one")), Squeeze.Id, Values: Values("ratio", 900)),
        })
        {
            var refused = command.Apply(Rig()).ShouldBeOfType<CommandResult.Refused>();
            refused.Problems.ShouldHaveSingleItem();

            // The same value by another way: the rig as a whole.
            var all = new Several([command, new AddMix(Demo.Mix(new("new"), "New", MixPurpose.Other))]).Apply(Rig()).ShouldBeOfType<CommandResult.Refused>();
            all.Problems.ShouldBe(refused.Problems);
        }
    }

    private static System.Collections.Immutable.ImmutableSortedDictionary<string, double> Values(string key, double value) =>
        System.Collections.Immutable.ImmutableSortedDictionary<string, double>.Empty.Add(key, value);

    // False where it takes another plan; then nothing was posted.
    private static bool Post(Bench bench, RigCommand command)
    {
        var rig = bench.Rig.Apply(command);
        var changes = command.Levels!.Value.Select(e => e.Processor is { } id ? bench.Engine.Plan.Turn(rig, e.From, id) : bench.Engine.Plan.Level(rig, (e.From, e.To))).ToList();
        if (changes.Contains(null))
        {
            return false;
        }

        changes.ForEach(c => bench.Engine.Post(c!));
        bench.Adopt(rig);
        return true;
    }

    private static Bench Start() => new Bench(Rig(), Inlets()).Run(5);

    private static Rig Rig() => Demo.Rig("one", "two")
        .Apply(new SetChain(new SourcePoint(new("one")), [Squeeze]))
        .Apply(new AddCable(new Cable { Id = Wire, Name = "Wire", Feeds = [new CableFeed { From = new SourcePoint(new("two")) }] }))
        .Apply(new AddSource(Demo.Source("recorder") with { Input = new CableInput(Wire, 0, 1) }));

    private static Dictionary<string, IInlet> Inlets() => new[] { "one", "two" }.Select((id, i) => (id, i)).ToDictionary(
        p => p.id, p => (IInlet)new StandingInlet(new SoundBuffer(Signals.Noise(p.i, 50_000, 0.3), p.i == 1 ? null : Signals.Noise(p.i + 9, 50_000, 0.3))));
}

using System.Collections.Immutable;
using Kinetra.Core.Editing;
using Kinetra.Core.Engine;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Core.Voice;

namespace Kinetra.Core.Tests.Voice;

/// <summary>What is shown of a processor that runs is what it does to the sound.</summary>
public class DynamicsViewTests
{
    private static readonly SourcePoint Voice = new(new SourceId("voice"));

    private const int Frames = 1_300 * 256;

    // Loud, quiet, loud …: a tone, so that the highest sample of a block says its level.
    private static float[] Swells() =>
        [.. Signals.Sine(750, 1, Frames).Select((x, n) => x * (float)(n / 12_000 % 3 == 0 ? 0.5 : n / 12_000 % 3 == 1 ? 0.05 : 0.002))];

    private static float[] Steady(double amplitude) => Signals.Sine(750, amplitude, Frames);

    public static TheoryData<string, int, int> Everyone => new()
    {
        { "compressor", 1, 1 },
        { "compressor", 2, 1 },
        { "compressor", 1, 5 },
        { "gate", 1, 1 },
        { "gate", 1, 5 },
        { "limiter", 2, 1 },
    };

    [Theory]
    [MemberData(nameof(Everyone))]
    public void The_reduction_that_is_shown_is_what_is_measured_between_in_and_out_whoever_is_computed_beside_it(string type, int channels, int sources)
    {
        var processor = type switch
        {
            "compressor" => Stage(Compressor.Type, ("threshold", -24), ("ratio", 4), ("attack", 1), ("release", 30)),
            "gate" => Stage(Gate.Type, ("threshold", -30), ("range", 20), ("lookAhead", 4), ("hold", 20), ("release", 50)),
            _ => Stage(Limiter.Type, ("ceiling", -12)),
        };
        var bench = Played(sources, channels, Swells(), Stage(Utility.Type, ("gain", 3)) with { Id = new("first") }, processor);
        using var view = new DynamicsView(bench.Engine, processor.Id);
        List<DynamicsBlock> seen = [];
        Watch(bench, view, 300, seen);
        seen.Count.ShouldBeGreaterThan(280);

        // Where it stands still from one block to the next, the highest of the block is what is applied to all of it.
        // With look-ahead it comes a little before its sound.
        var still = Enumerable.Range(20, seen.Count - 23).Where(i => Enumerable.Range(i - 1, 4).All(n => Math.Abs(seen[n].Reduction - seen[i].Reduction) < 0.01))
            .Select(i => seen[i]).Where(b => float.IsFinite(b.Gain)).ToList();
        still.Count.ShouldBeGreaterThan(60);
        still.ShouldAllBe(b => Math.Abs(b.Gain + b.Reduction) < 0.12);
        still.Select(b => b.Reduction).Max().ShouldBeGreaterThan(5);
    }

    [Theory]
    [InlineData(0.9)]
    [InlineData(0.1)]
    [InlineData(0.03)]
    [InlineData(0.004)]
    public void What_a_compressor_hears_and_gives_lies_on_its_curve(double amplitude)
    {
        var processor = Stage(Compressor.Type, ("threshold", -30), ("ratio", 3), ("attack", 0.1), ("release", 300), ("makeUp", 5));
        var bench = Played(1, 1, Steady(amplitude), processor);
        var curve = Compressor.Type.Curve(processor.ValuesOf(Compressor.Type)).Transfer!;
        using var view = new DynamicsView(bench.Engine, processor.Id);
        List<DynamicsBlock> seen = [];
        Watch(bench, view, 100, seen);
        seen[^1].Heard.ShouldBe((float)Signals.Db(amplitude), 0.05f);
        var drawn = curve.Out[(int)Math.Round((seen[^1].Heard - curve.In[0]) / TransferCurve.Step)];
        (seen[^1].Heard + seen[^1].Gain).ShouldBe((float)drawn, 0.4f);
    }

    [Fact]
    public void What_a_ducker_hears_is_its_key_and_not_its_own_sound()
    {
        var rig = Demo.Rig("voice", "music").Apply(new AddProcessor(
            new SourcePoint(new("music")), Stage(Ducker.Type, ("depth", 14), ("threshold", -40)) with { Keys = [Voice] }));
        var speech = Signals.Sine(500, 0.1, 300 * 256);
        var bench = new Bench(rig, new() { ["voice"] = new ArrayInlet(speech), ["music"] = new ArrayInlet(Signals.Noise(1, 300 * 256, 0.5)) });
        using var view = new DynamicsView(bench.Engine, new("looked"));
        List<DynamicsBlock> seen = [];
        Watch(bench, view, 290, seen);
        seen[^1].Heard.ShouldBe(-20, 0.5);
        seen[^1].Reduction.ShouldBe(14, 0.01);
        seen[^1].Gain.ShouldBe(-14, 0.05);
    }

    [Fact]
    public void It_follows_a_value_that_is_turned_a_move_and_a_bypass_and_says_when_there_is_none_any_more()
    {
        var processor = Stage(Compressor.Type, ("threshold", -40), ("ratio", 4), ("attack", 1), ("release", 10));
        var bench = Played(1, 1, Steady(0.5), processor, Stage(Utility.Type, ("gain", -6)) with { Id = new("other") });
        using var view = new DynamicsView(bench.Engine, processor.Id);
        List<DynamicsBlock> seen = [];
        Watch(bench, view, 40, seen);
        var (before, level) = (seen[^1].Reduction, seen[^1].In);
        bench.Post(new SetProcessor(Voice, processor.Id, Values: Turned("ratio", 2)));
        Watch(bench, view, 20, seen);

        // Half of what was over stays over instead of a quarter.
        seen[^1].Reduction.ShouldBe(before * 2 / 3, 0.5);
        bench.Post(new MoveProcessor(Voice, processor.Id, 1));
        Watch(bench, view, 20, seen);
        seen[^1].In.ShouldBe(level - 6, 0.1);
        bench.Post(new SetProcessor(Voice, processor.Id, Bypassed: true));
        Watch(bench, view, 20, seen);
        seen[^1].Reduction.ShouldBe(0);
        bench.Post(new RemoveProcessor(Voice, processor.Id));
        Watch(bench, view, 20, seen);
        view.Type.ShouldBeNull();
        view.Read(new DynamicsBlock[10]).ShouldBe(0);
    }

    [Fact]
    public void Who_has_not_looked_for_long_goes_on_with_the_newest()
    {
        var processor = Stage(Compressor.Type);
        var bench = Played(1, 1, Swells(), processor);
        using var view = new DynamicsView(bench.Engine, processor.Id);
        view.Read(new DynamicsBlock[10]);
        bench.Run(1_200);
        var blocks = new DynamicsBlock[500];
        view.Read(blocks).ShouldBeInRange((DynamicsView.MaxBacklog / 256) - 1, (DynamicsView.MaxBacklog / 256) + 1);
        view.Position.ShouldBe(1_200 * 256);
    }

    private static ImmutableSortedDictionary<string, double> Turned(string key, double value) => ImmutableSortedDictionary<string, double>.Empty.Add(key, value);

    private static void Watch(Bench bench, DynamicsView view, int blocks, List<DynamicsBlock> seen)
    {
        var room = new DynamicsBlock[16];
        for (var i = 0; i < blocks; i++)
        {
            bench.Run(1);
            seen.AddRange(room[..view.Read(room)]);
        }
    }

    private static Processor Stage(ProcessorType type, params ReadOnlySpan<(string Key, double Value)> values) => Processor.Of(type, values) with { Id = new("looked") };

    private static Bench Played(int sources, int channels, float[] sound, params Processor[] chain)
    {
        var names = Enumerable.Range(0, sources).Select(i => i == 0 ? "voice" : $"other{i}").ToArray();
        var rig = Demo.Rig(names);
        for (var i = 0; i < sources; i++)
        {
            rig = rig.Apply(new SetChain(new SourcePoint(new(names[i])), [.. chain.Select(p => i == 0 ? p : p with { Id = new($"{p.Id}-{i}") })]));
        }

        return new Bench(rig, names.ToDictionary(n => n, _ => (IInlet)(channels == 1 ? new ArrayInlet(sound) : new ArrayInlet(sound, [.. sound.Select(x => x / 2)]))));
    }
}

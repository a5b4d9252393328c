using System.Collections.Immutable;
using Kinetra.Core.Editing;
using Kinetra.Core.Engine;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Core.Tests.Processors;

namespace Kinetra.Core.Tests.Engine;

/// <summary>What leaves each processor of a chain can be heard and measured, and looking changes nothing.</summary>
public class StageTests
{
    private const int Blocks = 30;
    private static readonly ImmutableArray<Processor> Chain =
    [
        Stage("cut", Cuts.LowCut, ("frequency", 300)),
        Stage("gate", Gate.Type, ("threshold", -20), ("lookAhead", 5)),
        Stage("eq", Equaliser.Type, ("gain2", 9)) with { Bypassed = true },
        Stage("press", Compressor.Type, ("threshold", -30)),
        Stage("top", Limiter.Type, ("drive", 6)),
    ];

    [Theory]
    [InlineData(1)]
    [InlineData(5)]
    public void A_stage_is_what_the_processors_up_to_it_make_of_the_sound_to_the_bit(int sources)
    {
        var bench = Played(sources);
        var held = Chain.Select(p => bench.Engine.Hold(new StagePoint(p.Id))).ToList();
        bench.Run(Blocks);
        var sound = Sound(0);
        foreach (var (processor, tap) in Chain.Zip(held))
        {
            var type = ProcessorTypes.Find(processor.Type)!;
            sound = Rack.Run(new ChainSlot(type, new ProcessorSettings(1, processor.ValuesOf(type)), processor.Bypassed), sound).Left;

            // It begins with the second block: nobody had looked before the first was computed.
            tap.Ring.Beginning.ShouldBe(256);
            Read(tap.Ring, 256).ShouldBe(sound[256..(Blocks * 256)], processor.Id.Value);
        }

        Read(bench.Engine.RingOf(new SourcePoint(new("s0")))!, 256).ShouldBe(Read(held[^1].Ring, 256));
    }

    [Fact]
    public void Looking_into_a_chain_changes_no_sample_of_what_anybody_hears()
    {
        var (plain, looked) = (Played(4), Played(4));
        for (var i = 0; i < 6; i++)
        {
            var held = Chain.Select(p => looked.Engine.Hold(new StagePoint(p.Id))).ToList();
            plain.Run(5);
            looked.Run(5);
            held.ForEach(h => h.Dispose());
        }

        looked.Left(Demo.Viewers).ShouldBe(plain.Left(Demo.Viewers));
    }

    [Fact]
    public void Who_looks_again_begins_anew_and_hears_nothing_of_before()
    {
        var bench = Played(1);
        var first = bench.Engine.Hold(new StagePoint(new("eq")));
        bench.Run(10);
        first.Dispose();
        bench.Run(10);
        using var again = bench.Engine.Hold(new StagePoint(new("eq")));
        again.Ring.ShouldNotBe(first.Ring);
        bench.Run(10);
        again.Ring.Beginning.ShouldBe(21 * 256);
        first.Ring.End.ShouldBe(10 * 256);
        bench.Engine.RingOf(new SourcePoint(new("s0")))!.End.ShouldBe(30 * 256);
        Read(again.Ring, 21 * 256, 30)[..256].ShouldContain(x => x != 0);
    }

    [Fact]
    public void A_stage_is_late_by_the_look_ahead_of_all_before_it_and_its_own()
    {
        var plan = Played(1).Engine.Plan;
        plan.LatencyOf(new StagePoint(new("cut"))).ShouldBe(0);
        plan.LatencyOf(new StagePoint(new("gate"))).ShouldBe(240);
        plan.LatencyOf(new StagePoint(new("press"))).ShouldBe(240);
        plan.LatencyOf(new StagePoint(new("top"))).ShouldBe(plan.LatencyOf(new SourcePoint(new("s0"))));
        plan.LatencyOf(new StagePoint(new("nobody"))).ShouldBe(0);
        plan.ChannelsOf(new StagePoint(new("nobody"))).ShouldBe(0);
    }

    [Fact]
    public void A_processor_that_goes_leaves_silence_without_a_click_and_one_that_is_brought_back_goes_on()
    {
        var sine = new SoundBuffer(Signals.Sine(100, 0.5, Signals.Rate), null);
        var rig = Demo.Rig("app").Apply(new AddProcessor(new SourcePoint(new("app")), Stage("level", Utility.Type, ("gain", -3))));
        var bench = new Bench(rig, new() { ["app"] = new StandingInlet(sine) });
        using var held = bench.Engine.Hold(new StagePoint(new("level")));
        bench.Run(20);
        var remove = new RemoveProcessor(new SourcePoint(new("app")), new("level"));
        var back = ((CommandResult.Applied)remove.Apply(bench.Rig)).Inverse;
        bench.Post(remove);
        bench.Run(20);
        bench.Post(back);
        bench.Run(30);
        var heard = Read(held.Ring, 256, 70);
        heard[(29 * 256)..(37 * 256)].ShouldAllBe(x => x == 0);
        heard[(59 * 256)..].Max().ShouldBe(0.5f * (float)Math.Pow(10, -3 / 20.0), 1e-3f);
        Signals.RmsAbove(5_000, heard, 1_024, heard.Length - 512).ShouldBeLessThan(-75);
    }

    [Theory]
    [InlineData(1)]
    [InlineData(5)]
    public void A_chain_that_fails_gives_silence_at_its_stages_and_not_its_last_block_for_ever(int sources)
    {
        var bench = Played(sources);
        using var held = bench.Engine.Hold(new StagePoint(new("press")));
        bench.Run(10);
        bench.Engine.Plan.Chains.First(c => c.Place == new SourcePoint(new("s0"))).Failure = new InvalidOperationException("It broke.");
        bench.Run(10);
        var heard = Read(held.Ring, 256, 20);
        heard[..(9 * 256)].ShouldContain(x => x != 0);
        heard[(9 * 256)..].ShouldAllBe(x => x == 0);
    }

    [Fact]
    public void No_document_has_a_stage_in_it()
    {
        Point.Parse("stage/eq").ShouldBe(new StagePoint(new("eq")));
        Should.Throw<System.Text.Json.JsonException>(() => System.Text.Json.JsonSerializer.Deserialize<Point>("\"stage/eq\""));
    }

    private static Processor Stage(string id, ProcessorType type, params ReadOnlySpan<(string Key, double Value)> values) =>
        Processor.Of(type, values) with { Id = new(id) };

    private static float[] Sound(int source) => [.. Signals.Noise(source + 1, Blocks * 256).Select((x, n) => x * (n / 2_000 % 2 == 0 ? 0.5f : 0.05f))];

    private static Bench Played(int sources)
    {
        var names = Enumerable.Range(0, sources).Select(i => $"s{i}").ToArray();
        var rig = Demo.Rig(names);
        for (var i = 0; i < sources; i++)
        {
            var chain = Chain.Select(p => i == 0 ? p : p with { Id = new($"{p.Id}-{i}") });
            rig = rig.Apply(new SetChain(new SourcePoint(new(names[i])), [.. chain]));
        }

        return new Bench(rig, names.Select((n, i) => (n, i)).ToDictionary(n => n.n, n => (IInlet)new ArrayInlet(Sound(n.i))));
    }

    private static float[] Read(AudioRing ring, long from, int untilBlock = Blocks)
    {
        var left = new float[(untilBlock * 256) - from];
        ring.Read(ref from, left, new float[left.Length], out _).ShouldBe(left.Length);
        return left;
    }
}

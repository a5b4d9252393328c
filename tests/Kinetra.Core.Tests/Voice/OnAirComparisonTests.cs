using System.Collections.Immutable;
using Kinetra.Core.Editing;
using Kinetra.Core.Engine;
using Kinetra.Core.Metering;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Core.Voice;

namespace Kinetra.Core.Tests.Voice;

/// <summary>On air, without is what the chain gives bypassed, as loud as with it; with it again, nothing of it is left; and nobody is left without by accident.</summary>
public class OnAirComparisonTests
{
    private const int Blocks = 1_000;
    private static readonly SourcePoint Voice = new(new SourceId("voice"));

    private static readonly float[] Speech =
        [.. Signals.Noise(5, (2 * Blocks) * 256, 0.4).Select((x, n) => x * (float)(0.02 + Math.Pow(Math.Sin(n / 6_000.0), 2)))];

    [Theory]
    [InlineData(null)]
    [InlineData("eq")]
    [InlineData("press")]
    public void Without_on_air_it_is_what_the_chain_gives_bypassed_and_as_loud_as_with_it(string? id)
    {
        var (bench, plain) = (Played(), Played());
        using var compared = new OnAirComparison(bench.Engine, Wish(id));
        Run(bench, compared, 500);
        plain.Run(Blocks);
        compared.Without();
        compared.IsWithout.ShouldBeTrue();
        Run(bench, compared, 500);
        var bypassed = Played(p => p with { Bypassed = id is null || p.Id.Value == id });
        bypassed.Run(Blocks);

        var (from, until) = (510 * 256L, (Blocks - 5) * 256L);
        var (heard, without) = (Read(bench, from, until), Read(bypassed, from, until));
        var gain = heard.Zip(without, (a, b) => (double)a * b).Sum() / without.Sum(x => (double)x * x);
        Signals.Db(Math.Sqrt(heard.Zip(without, (a, b) => Math.Pow(a - (gain * b), 2)).Sum() / heard.Sum(x => (double)x * x))).ShouldBeLessThan(-35);
        Math.Abs(Loudness(Read(plain, from, until)) - Loudness(heard)).ShouldBeLessThan(0.2);
    }

    [Fact]
    public void Before_the_difference_is_known_all_hear_it_with_and_then_at_once_without()
    {
        var bench = Played();
        using var compared = new OnAirComparison(bench.Engine, Wish(null));
        compared.Without();
        (compared.IsWaiting, compared.IsWithout).ShouldBe((true, false));
        Run(bench, compared, 10);
        compared.IsWithout.ShouldBeFalse();
        Run(bench, compared, 150);
        (compared.IsWaiting, compared.IsWithout).ShouldBe((false, true));
        compared.Difference.ShouldNotBeNull();
    }

    [Theory]
    [InlineData("cut", double.NegativeInfinity)]
    [InlineData(null, -45)]
    public void With_it_again_all_is_as_if_nothing_had_been_compared(string? only, double residue)
    {
        // One filter alone heard the same all along. In a chain, what comes later heard what the bypassed ones before it let through: it settles.
        var (bench, plain) = (Played(only: only), Played(only: only));
        plain.Run(900);
        using (var compared = new OnAirComparison(bench.Engine, Wish(null)))
        {
            Run(bench, compared, 200);
            compared.Without();
            Run(bench, compared, 200);
            compared.IsWithout.ShouldBeTrue();
            compared.With();
            Run(bench, compared, 300);
            compared.Without();
            Run(bench, compared, 20);
            compared.IsWithout.ShouldBeTrue();
        }

        bench.Run(180);
        Residue(600, 698).ShouldBeLessThanOrEqualTo(residue);
        Residue(850, 895).ShouldBeLessThanOrEqualTo(residue);

        double Residue(int from, int until)
        {
            var (was, now) = (Read(plain, from * 256L, until * 256L), Read(bench, from * 256L, until * 256L));
            return Signals.Db(Math.Sqrt(was.Zip(now, (a, b) => Math.Pow(a - b, 2)).Sum() / was.Sum(x => (double)x * x)));
        }
    }

    [Fact]
    public void Going_over_and_back_makes_no_click()
    {
        var rig = Demo.Rig("voice").Apply(new SetChain(Voice, [Named("level", Utility.Type, ("gain", -9)), Named("late", Limiter.Type)]));
        var bench = new Bench(rig, new() { ["voice"] = new StandingInlet(new SoundBuffer(Signals.Sine(100, 0.3, Signals.Rate), null)) });
        using var compared = new OnAirComparison(bench.Engine, Wish(null));
        Run(bench, compared, 150);
        compared.Without();
        Run(bench, compared, 60);
        compared.With();
        Run(bench, compared, 150);
        var heard = Read(bench, 2_048, 355 * 256);
        Signals.RmsAbove(5_000, heard, 2_048, heard.Length - 512).ShouldBeLessThan(-75);
        compared.Difference!.Value.ShouldBe(-9, 0.2);
    }

    [Fact]
    public void Whoever_turns_the_chain_while_all_hear_it_without_has_it_heard_again_and_measured_anew()
    {
        var bench = Played();
        using var compared = new OnAirComparison(bench.Engine, Wish(null));
        Run(bench, compared, 200);
        compared.Without();
        bench.Post(new SetProcessor(Voice, new("press"), Values: ImmutableSortedDictionary<string, double>.Empty.Add("makeUp", 2)));
        Run(bench, compared, 3);
        (compared.IsWithout, compared.Difference).ShouldBe((false, null));
        Run(bench, compared, 200);
        compared.Difference.ShouldNotBeNull();
        bench.Engine.Plan.ChainOf(Voice).ShouldAllBe(p => !p.Slot.IsBypassed);
    }

    [Fact]
    public void What_is_compared_may_go_and_nothing_stays_aside()
    {
        var bench = Played();
        using var compared = new OnAirComparison(bench.Engine, Wish("eq"));
        Run(bench, compared, 200);
        compared.Without();
        bench.Post(new RemoveProcessor(Voice, new("eq")));
        Run(bench, compared, 20);
        (compared.IsOver, compared.IsWithout).ShouldBe((true, false));
        bench.Engine.Plan.ChainOf(Voice).ShouldAllBe(p => !p.Slot.IsBypassed);
        compared.Without();
        compared.IsWithout.ShouldBeFalse();
    }

    [Fact]
    public void A_processor_that_is_bypassed_in_the_show_stays_so_afterwards()
    {
        var bench = Played(p => p with { Bypassed = p.Id.Value == "eq" });
        using var compared = new OnAirComparison(bench.Engine, Wish(null));
        Run(bench, compared, 200);
        compared.Without();
        Run(bench, compared, 20);
        compared.With();
        Run(bench, compared, 20);
        bench.Engine.Plan.ChainOf(Voice).Where(p => p.Slot.IsBypassed).Select(p => p.Id.Value).ShouldBe(["eq"]);
    }

    [Fact]
    public void Only_with_and_without_what_is_there_can_be_compared()
    {
        var plan = Played().Engine.Plan;
        OnAirComparison.FitsIn(plan, Wish("eq")).ShouldBeTrue();
        OnAirComparison.FitsIn(plan, new AuditionWish(Voice, AuditionKind.Part, new("eq"), 1)).ShouldBeFalse();
        OnAirComparison.FitsIn(plan, Wish("nobody")).ShouldBeFalse();
        OnAirComparison.FitsIn(plan, new AuditionWish(new MixPoint(Demo.Viewers), AuditionKind.Without)).ShouldBeFalse();
    }

    private static AuditionWish Wish(string? id) => new(Voice, AuditionKind.Without, id is null ? null : new ProcessorId(id));

    private static Processor Named(string id, ProcessorType type, params ReadOnlySpan<(string Key, double Value)> values) => Processor.Of(type, values) with { Id = new(id) };

    private static Bench Played(Func<Processor, Processor>? change = null, string? only = null)
    {
        Processor[] chain =
        [
            Named("cut", Cuts.LowCut, ("frequency", 400)),
            Named("gate", Gate.Type, ("threshold", -50), ("lookAhead", 5)),
            Named("eq", Equaliser.Type, ("gain2", -12), ("frequency2", 2_000), ("q2", 0.4)),
            Named("press", Compressor.Type, ("threshold", -30), ("makeUp", 8)),
        ];
        var rig = Demo.Rig("voice").Apply(new SetChain(Voice, [.. chain.Where(p => only is null || p.Id.Value == only).Select(change ?? (p => p))]));
        return new Bench(rig, new() { ["voice"] = new ArrayInlet(Speech) });
    }

    private static void Run(Bench bench, OnAirComparison compared, int blocks)
    {
        for (var i = 0; i < blocks; i++)
        {
            bench.Run(1);
            compared.CatchUp();
        }
    }

    private static double Loudness(float[] mono)
    {
        var measured = new Measurement(1, 48_000);
        measured.Add([mono], mono.Length);
        return measured.Finish().IntegratedLufs!.Value;
    }

    private static float[] Read(Bench bench, long from, long until)
    {
        var left = new float[until - from];
        bench.Engine.RingOf(Voice)!.Read(ref from, left, new float[left.Length], out var lost).ShouldBe(left.Length);
        lost.ShouldBe(0);
        return left;
    }
}

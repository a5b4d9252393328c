using Kinetra.Core.Editing;
using Kinetra.Core.Engine;
using Kinetra.Core.Metering;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Core.Voice;

namespace Kinetra.Core.Tests.Voice;

/// <summary>What one person auditions is what it is said to be, as loud as what it is compared with, and nobody else hears any of it.</summary>
public class AuditionTests
{
    private const int Blocks = 1_000;
    private static readonly SourcePoint Voice = new(new SourceId("voice"));

    // Swells of noise: syllables and pauses.
    private static readonly float[] Speech =
        [.. Signals.Noise(5, (Blocks + 10) * 256, 0.4).Select((x, n) => x * (float)(0.02 + Math.Pow(Math.Sin(n / 6_000.0), 2)))];

    private static Processor[] Chain() =>
    [
        Named("cut", Cuts.LowCut, ("frequency", 400)),
        Named("gate", Gate.Type, ("threshold", -30), ("lookAhead", 5)),
        Named("eq", Equaliser.Type, ("gain2", -12), ("frequency2", 2_000), ("q2", 0.4)),
        Named("press", Compressor.Type, ("threshold", -30), ("makeUp", 8)),
    ];

    [Theory]
    [InlineData(null)]
    [InlineData("eq")]
    [InlineData("press")]
    [InlineData("gate")]
    public void Without_something_it_is_what_the_chain_gives_with_that_bypassed_at_the_same_time_and_as_loud_as_with_it(string? id)
    {
        var bench = Played();
        using var audition = new Audition(bench.Engine, new AuditionWish(Voice, AuditionKind.Without, id is null ? null : new ProcessorId(id)));
        Run(bench, audition, Blocks);
        var bypassed = Played(p => p with { Bypassed = id is null || p.Id.Value == id });
        bypassed.Run(Blocks);

        // The last two seconds: what was measured hardly moves any more.
        var (from, until) = ((Blocks - 380) * 256L, (Blocks - 5) * 256L);
        var (heard, without) = (Read(audition.Ring, from, until), Read(bypassed, from, until));
        var gain = heard.Zip(without, (a, b) => (double)a * b).Sum() / without.Sum(x => (double)x * x);
        var residue = heard.Zip(without, (a, b) => Math.Pow(a - (gain * b), 2)).Sum();
        Signals.Db(Math.Sqrt(residue / heard.Sum(x => (double)x * x))).ShouldBeLessThan(-35);
        Signals.Db(gain).ShouldBe(audition.Difference!.Value, 0.3);

        // Judged over the whole time by the meter of programme loudness, which is not what matches it.
        var judged = Loudness(Read(bench, from, until)) - Loudness(heard);
        Math.Abs(judged).ShouldBeLessThan(id == "gate" ? 0.3 : 0.2);
    }

    [Fact]
    public void Only_what_a_processor_changes_and_what_it_leaves_add_up_to_what_it_gives()
    {
        var exciter = Named("air", Exciter.Type, ("highAmount", 60));
        var bench = Played(only: exciter);
        using var added = new Audition(bench.Engine, new AuditionWish(Voice, AuditionKind.Change, exciter.Id));
        Run(bench, added, 200);
        var neutral = Played(only: Named("air", Exciter.Type, ("highAmount", 0)));
        neutral.Run(200);
        var (from, until) = (50 * 256L, 195 * 256L);
        var sum = Read(added.Ring, from, until).Zip(Read(neutral, from, until), (a, b) => a + b).ToArray();
        var given = Read(bench, from, until);
        sum.Zip(given, (a, b) => Math.Abs(a - b)).Max().ShouldBeLessThan(1e-6f);
        Read(added.Ring, from, until).Max().ShouldBeGreaterThan(0.001f);
        added.Difference.ShouldBeNull();
    }

    [Fact]
    public void One_band_alone_is_what_lies_there()
    {
        var equaliser = Named("eq", Equaliser.Type, ("frequency3", 3_000), ("q3", 3), ("gain3", 6));
        foreach (var (hertz, least, most) in new[] { (3_000.0, -0.2, 0.2), (300, -90, -25), (12_000, -90, -20) })
        {
            var sound = Signals.Sine(hertz, 0.2, 300 * 256);
            var rig = Demo.Rig("voice").Apply(new SetChain(Voice, [equaliser]));
            var bench = new Bench(rig, new() { ["voice"] = new ArrayInlet(sound) });
            using var band = new Audition(bench.Engine, new AuditionWish(Voice, AuditionKind.Part, equaliser.Id, 2));
            Run(bench, band, 200);
            Signals.Db(Read(band.Ring, 100 * 256, 190 * 256).Max() / 0.2).ShouldBeInRange(least, most, $"{hertz} Hz");
        }
    }

    [Fact]
    public void Whatever_one_person_auditions_leaves_everybody_elses_samples_as_they_are_to_the_bit()
    {
        var (plain, looked) = (Played(), Played());
        plain.Run(300);
        foreach (var wish in new AuditionWish[]
        {
            new(Voice, AuditionKind.Without),
            new(Voice, AuditionKind.Without, new("press")),
            new(Voice, AuditionKind.Change, new("gate")),
            new(Voice, AuditionKind.Part, new("eq"), 1),
        })
        {
            using var audition = new Audition(looked.Engine, wish);
            Run(looked, audition, 75);
        }

        looked.Left(Demo.Viewers).ShouldBe(plain.Left(Demo.Viewers));
        looked.Left(Demo.Ears).ShouldBe(plain.Left(Demo.Ears));
    }

    [Fact]
    public void A_chain_that_changes_under_it_makes_no_click_and_what_is_gone_is_silence()
    {
        var sine = new SoundBuffer(Signals.Sine(100, 0.3, Signals.Rate), null);
        var rig = Demo.Rig("voice").Apply(new SetChain(Voice, [Named("first", Utility.Type, ("gain", -3)), Named("second", Utility.Type, ("gain", -3))]));
        var bench = new Bench(rig, new() { ["voice"] = new StandingInlet(sine) });
        using var audition = new Audition(bench.Engine, new AuditionWish(Voice, AuditionKind.Without, new("second")));
        Run(bench, audition, 200);
        bench.Post(new MoveProcessor(Voice, new("second"), 0));
        Run(bench, audition, 100);
        bench.Post(new RemoveProcessor(Voice, new("first")));
        Run(bench, audition, 100);
        var heard = Read(audition.Ring, 2_048, 395 * 256);
        Signals.RmsAbove(5_000, heard, 2_048, heard.Length - 512).ShouldBeLessThan(-75);
        bench.Post(new RemoveProcessor(Voice, new("second")));
        Run(bench, audition, 100);
        audition.Wish.FitsIn(bench.Engine.Plan).ShouldBeFalse();
    }

    [Fact]
    public void What_is_turned_while_it_is_auditioned_is_matched_anew_and_not_averaged_with_before()
    {
        var level = Named("level", Utility.Type, ("gain", -12));
        var bench = Played(only: level);
        using var audition = new Audition(bench.Engine, new AuditionWish(Voice, AuditionKind.Without));
        Run(bench, audition, 500);
        audition.Difference!.Value.ShouldBe(-12, 0.05);
        bench.Post(new SetProcessor(Voice, level.Id, Values: System.Collections.Immutable.ImmutableSortedDictionary<string, double>.Empty.Add("gain", 6)));

        // Before enough of it was heard, what was known counts; then the new difference alone does. Twice 400 ms: the swells have pauses.
        Run(bench, audition, 2);
        audition.Difference!.Value.ShouldBe(-12, 0.05);
        Run(bench, audition, 150);
        audition.Difference!.Value.ShouldBe(6, 0.2);
    }

    [Fact]
    public void A_sync_delay_is_no_part_of_what_is_compared_whoever_else_has_one()
    {
        var rig = Demo.Rig("voice", "other").Apply(new SetChain(Voice, [Named("level", Utility.Type, ("gain", -6))]))
            .Apply(new SetSource(Voice.Id, SyncDelay: 100)).Apply(new SetSource(new("other"), SyncDelay: 250));
        var bench = new Bench(rig, new() { ["voice"] = new ArrayInlet(Speech), ["other"] = new ArrayInlet(Speech) });
        using var audition = new Audition(bench.Engine, new AuditionWish(Voice, AuditionKind.Without));
        Run(bench, audition, 500);
        var (from, until) = (300 * 256L, 490 * 256L);
        var (heard, with) = (Read(audition.Ring, from, until), Read(bench, from, until));
        heard.Zip(with, (a, b) => Math.Abs(a - b)).Max().ShouldBeLessThan(0.005f);
        audition.Difference!.Value.ShouldBe(-6, 0.05);
        new AuditionWish(new SourcePoint(new("other")), AuditionKind.Without).FitsIn(bench.Engine.Plan).ShouldBeFalse();
        new AuditionWish(Voice, AuditionKind.Without, Source.SyncDelayId).FitsIn(bench.Engine.Plan).ShouldBeFalse();
        bench.Engine.Plan.LatencyOf(new StagePoint(Source.SyncDelayId)).ShouldBe(0);
    }

    [Fact]
    public void What_a_chain_does_not_have_cannot_be_auditioned()
    {
        var plan = Played().Engine.Plan;
        new AuditionWish(Voice, AuditionKind.Without).FitsIn(plan).ShouldBeTrue();
        new AuditionWish(Voice, AuditionKind.Part, new("eq"), 3).FitsIn(plan).ShouldBeTrue();
        foreach (var wish in new AuditionWish[]
        {
            new(Voice, AuditionKind.Change),
            new(Voice, AuditionKind.Without, new("nobody")),
            new(Voice, AuditionKind.Part, new("eq"), 4),
            new(Voice, AuditionKind.Part, new("eq"), -1),
            new(Voice, AuditionKind.Part, new("gate")),
            new(Voice, AuditionKind.Change, new("cut")),
            new(Voice with { Tap = Tap.Raw }, AuditionKind.Without),
            new(new MixPoint(Demo.Viewers), AuditionKind.Without),
            new(new SourcePoint(new("nobody")), AuditionKind.Without),
        })
        {
            wish.FitsIn(plan).ShouldBeFalse(wish.ToString());
        }
    }

    [Fact]
    public void A_gate_that_shuts_in_pauses_does_not_count_as_quieter()
    {
        var match = new LoudnessMatch();
        var loud = Signals.Noise(1, 48_000, 0.2);
        for (var second = 0; second < 8; second++)
        {
            var isPause = second % 2 == 1;
            float[] room = [.. loud.Select(x => x * 0.01f)];
            var (with, without) = isPause ? (new float[48_000], room) : (loud, loud);
            for (var at = 0; at + 256 <= 48_000; at += 256)
            {
                match.Add(with.AsSpan(at, 256), with.AsSpan(at, 256), without.AsSpan(at, 256), without.AsSpan(at, 256));
            }
        }

        match.Difference!.Value.ShouldBe(0, 0.05);
    }

    private static Processor Named(string id, ProcessorType type, params ReadOnlySpan<(string Key, double Value)> values) => Processor.Of(type, values) with { Id = new(id) };

    private static Bench Played(Func<Processor, Processor>? change = null, Processor? only = null)
    {
        var chain = only is null ? Chain() : [only];
        var rig = Demo.Rig("voice").Apply(new SetChain(Voice, [.. chain.Select(change ?? (p => p))]));
        return new Bench(rig, new() { ["voice"] = new ArrayInlet(Speech) });
    }

    private static void Run(Bench bench, Audition audition, int blocks)
    {
        for (var i = 0; i < blocks; i++)
        {
            bench.Run(1);
            audition.CatchUp();
        }
    }

    private static double Loudness(float[] mono)
    {
        var measured = new Measurement(1, 48_000);
        measured.Add([mono], mono.Length);
        return measured.Finish().IntegratedLufs!.Value;
    }

    private static float[] Read(Bench bench, long from, long until) => Read(bench.Engine.RingOf(Voice)!, from, until);

    private static float[] Read(AudioRing ring, long from, long until)
    {
        var left = new float[until - from];
        ring.Read(ref from, left, new float[left.Length], out var lost).ShouldBe(left.Length);
        lost.ShouldBe(0);
        return left;
    }
}

using System.Collections.Immutable;
using CsCheck;
using Kinetra.Core.Engine;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Engine;

/// <summary>Whoever else is in the show, and computed beside it, a source sounds as it would alone.</summary>
public class SideBySideTests
{
    private const int Blocks = 24;
    private static readonly ImmutableArray<ProcessorType> Joining = [Cuts.LowCut, Gate.Type, Equaliser.Type, DeEsser.Type, Compressor.Type, Cuts.HighCut];

    private static readonly Gen<Processor> AnyProcessor =
        from kind in Gen.Int[0, Joining.Length]
        from shares in Gen.Double[0, 1].Array[16]
        from bypassed in Gen.Int[0, 9]
        select Drawn(kind == Joining.Length ? Utility.Type : Joining[kind], shares) with { Bypassed = bypassed == 0 };

    // Mostly the chain of a voice, so that many come to one type at once; with one left out, or another in front.
    private static readonly Gen<ImmutableArray<Processor>> AnyChain =
        from shares in Gen.Double[0, 1].Array[16].Array[5]
        from missing in Gen.Int[0, 9]
        from more in AnyProcessor.Array[0, 1]
        select Joining[..5].Select((t, i) => Drawn(t, shares[i])).Where((_, i) => i != missing).Concat(more).ToImmutableArray();

    private static readonly Gen<Rig> AnyRig =
        from voices in (
            from chain in AnyChain
            from later in AnyChain
            from stereo in Gen.Bool
            select (chain, later, stereo)).Array[3, 11]
        select new Rig
        {
            Sources = [.. voices.Select((v, i) => new Source
            {
                Id = new($"s{i}{(v.stereo ? "-stereo" : "")}"),
                Name = $"Source {i}",
                Kind = SourceKind.Microphone,
                Input = Demo.Given("s"),
                Chain = Named(v.chain, $"s{i}"),
            })],
            Mixes = [],
        };

    [Fact]
    public void A_source_sounds_the_same_to_the_bit_whoever_is_computed_beside_it()
    {
        Gen.Select(AnyRig, AnyChain.Array[11]).Sample(
            (rig, later) =>
            {
                var then = rig with { Sources = [.. rig.Sources.Select((s, i) => s with { Chain = Changed(s.Chain, later[i]) })] };
                var all = Played(rig, then);
                for (var s = 0; s < rig.Sources.Length; s++)
                {
                    var alone = Played(rig with { Sources = [rig.Sources[s]] }, then with { Sources = [then.Sources[s]] })[0];
                    Same(all[s], alone, rig.Sources[s]);
                }
            },
            iter: 40);
    }

    [Fact]
    public void Its_meters_read_the_same_whoever_is_measured_beside_it()
    {
        AnyRig.Sample(
            rig =>
            {
                var all = Meters(rig);
                for (var s = 0; s < rig.Sources.Length; s++)
                {
                    var alone = Meters(rig with { Sources = [rig.Sources[s]] });
                    for (var v = 0; v < MeterLayout.SourceValues; v++)
                    {
                        var (one, other) = (all[(s * MeterLayout.SourceValues) + v], alone[v]);
                        (one == other || Math.Abs(one - other) < 1e-4).ShouldBeTrue($"value {v}: {one}, alone {other}");
                    }
                }
            },
            iter: 20);
    }

    private static float[][] Played(Rig rig, Rig then)
    {
        var inlets = Inlets(rig);
        var plan = EnginePlan.Build(rig, s => inlets[s.Id], null);
        var engine = new MixEngine(plan);
        Process(engine, Blocks);
        engine.Post(EnginePlan.Build(then, s => inlets[s.Id], plan), engine.Frame);
        Process(engine, Blocks);
        return [.. plan.Sources.Select(s =>
        {
            var (left, right) = (new float[engine.Frame], new float[engine.Frame]);
            long position = 0;
            engine.RingOf(new SourcePoint(s.Id))!.Read(ref position, left, right, out var _).ShouldBe(left.Length);
            return left.Concat(right).ToArray();
        })];
    }

    private static float[] Meters(Rig rig)
    {
        var inlets = Inlets(rig);
        var plan = EnginePlan.Build(rig, s => inlets[s.Id], null);
        Process(new MixEngine(plan), 4 * Blocks);
        var values = new float[plan.Meters.Layout.Length];
        plan.Meters.Read(values);
        return values;
    }

    private static void Process(MixEngine engine, int blocks)
    {
        for (var b = 0; b < blocks; b++)
        {
            engine.ProcessBlock();
        }
    }

    // A voice that comes and goes, with a hiss, so that gates and de-essers have something to do.
    private static Dictionary<SourceId, IInlet> Inlets(Rig rig) => rig.Sources.ToDictionary(s => s.Id, s =>
    {
        var seed = s.Id.Value.Sum(c => c);
        var isStereo = s.Id.Value.Contains('-', StringComparison.Ordinal);
        var (left, right) = (Signals.Noise(seed, 9_000, 0.5), Signals.Noise(seed + 1, 9_000, 0.3));
        for (var n = 0; n < left.Length; n++)
        {
            var syllable = n / 2_000 % 2 == 0 ? 1 : 0.001f;
            (left[n], right[n]) = (left[n] * syllable, right[n] * syllable);
        }

        return (IInlet)new SoundInlet(new SoundBuffer(left, isStereo ? right : null), loop: true, beginsWithSource: true);
    });

    private static void Same(float[] one, float[] other, Source source)
    {
        var at = one.AsSpan().CommonPrefixLength(other);
        if (at < one.Length)
        {
            throw new ShouldAssertException($"{source.Name}, {string.Join(", ", source.Chain.Select(p => p.Type))}: sample {at} is {one[at]:R}, alone {other[at]:R}");
        }
    }

    private static Processor Drawn(ProcessorType type, double[] shares) => Processor.Of(type, [.. type.Parameters.Select((p, i) =>
    {
        var value = p.Min + ((p.Max - p.Min) * shares[i % shares.Length]);
        return (p.Key, p.Scale == ParameterScale.Choice ? Math.Round(value) : value);
    })]);

    private static ImmutableArray<Processor> Named(ImmutableArray<Processor> chain, string source) => [.. chain.Select((p, i) => p with { Id = new($"{source}-{i}-{p.Type}") })];

    // The same processors, some with other values.
    private static ImmutableArray<Processor> Changed(ImmutableArray<Processor> chain, ImmutableArray<Processor> later) =>
        [.. chain.Select(p => later.FirstOrDefault(l => l.Type == p.Type) is { } other ? other with { Id = p.Id } : p)];
}
